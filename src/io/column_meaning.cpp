// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/column_meaning.h"

#include "base/text.h"
#include "data/companion_names.h"
#include "io/cell_text.h"
#include "io/companions.h"
#include "io/number_text.h"
#include "io/unit_text.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <limits>
#include <map>
#include <set>

namespace jointer::io {

namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();

bool isUnreadableWord(std::string_view text) {
    return isOverflowWord(text) || isSheetError(text);
}

// One attempt at the texts of a column: how many cells fit, and the cells that it yields.
class Attempt {
public:
    Attempt(const Column& column, const CellRules& rules) : column_(column), rules_(rules) {
        out_.numbers.assign(texts().size(), kNaN);
    }

    const std::vector<std::string>& texts() const { return column_.cells->texts; }
    void set(std::size_t row, double value) { out_.numbers[row] = value; }

    void mark(std::size_t row, CellState state) {
        if (out_.states.empty()) out_.states.resize(texts().size(), CellState::Missing);
        out_.states[row] = state;
        out_.originals[static_cast<std::uint32_t>(row)] = texts()[row];
        if (state == CellState::Unreadable && unreadable_++ == 0) firstUnreadable_ = row;
    }

    // Makes the column of the kind and says what did not fit.
    void become(ColumnKind kind, Column& column, std::string_view wanted, std::vector<Issue>& issues) {
        for (std::size_t i = 0; i < out_.states.size(); ++i)
            if (!std::isnan(out_.numbers[i])) out_.states[i] = CellState::Fine;
        if (unreadable_ > 0)
            issues.push_back(
                {"unparsed-cells",
                 fmt::format("“{}” is no {}. Taken as missing.{}", texts()[firstUnreadable_], wanted,
                             unreadable_ == 1 ? ""
                                              : fmt::format(" The same holds for {} in this column.",
                                                            counted(static_cast<long long>(unreadable_) - 1,
                                                                    "further cell"))),
                 {.line = rules_.lineOf(firstUnreadable_), .column = column.name}});
        column.kind = kind;
        column.cells = std::make_shared<Cells>(std::move(out_));
    }

private:
    const Column& column_;
    const CellRules& rules_;
    Cells out_;
    std::size_t unreadable_ = 0, firstUnreadable_ = 0;
};

// Whether at least a third of some cells from all over the column fit: what fails here is not worth the
// whole.
template <class Fits>
bool isWorthTrying(const std::vector<std::string>& texts, const CellRules& rules, Fits fits) {
    const std::size_t step = texts.size() / 300 + 1;
    std::size_t filled = 0, fit = 0;
    for (std::size_t i = 0; i < texts.size(); i += step) {
        if (isMissing(texts[i], rules.missing)) continue;
        ++filled;
        fit += fits(texts[i]);
    }
    return 3 * fit >= filled;
}

// The suffix that most numbers of the column carry.
std::string commonSuffix(const std::vector<std::string>& texts, const CellRules& rules) {
    std::map<std::string, std::size_t, std::less<>> counts;
    for (const std::string& t : texts)
        if (const auto n = readRichNumber(t, rules.decimal); n && !n->suffix.empty())
            ++counts[std::string(n->suffix)];
    const auto most = std::ranges::max_element(counts, {}, [](const auto& e) { return e.second; });
    if (most == counts.end()) return {};
    const bool plausible = isUnitText(most->first) || most->first == "\"" || counts.size() == 1;
    return plausible ? most->first : std::string();
}

// Units of different size must not be mixed: such columns stay texts.
bool tryNumbers(Column& column, const CellRules& rules, std::vector<Issue>& issues) {
    const auto held = column.cells; // the column gets other cells below
    const auto& texts = held->texts;
    if (!isWorthTrying(texts, rules, [&](const std::string& t) {
            return readRichNumber(t, rules.decimal) || limitOf(t, rules.decimal) || isUnreadableWord(t);
        }))
        return false;
    const std::string suffix = commonSuffix(texts, rules);
    std::size_t filled = 0, fit = 0, identifiers = 0, decimals = 0, otherUnits = 0, suffixed = 0;
    for (const std::string& t : texts) {
        if (isMissing(t, rules.missing) || isUnreadableWord(t)) continue;
        ++filled;
        if (hasLeadingZero(trimmed(t))) ++identifiers;
        const auto n = readRichNumber(t, rules.decimal);
        if (n && n->suffix == suffix) ++suffixed;
        if ((n && (n->suffix.empty() || n->suffix == suffix)) || limitOf(t, rules.decimal))
            ++fit;
        else if (n)
            ++otherUnits;
        decimals += t.find_first_of(".,") != std::string::npos;
    }
    const bool named = !suffix.empty() && suffixed == fit && fit < 3 && !isUnitText(suffix);
    if (fit == 0 || 3 * fit < 2 * filled || otherUnits > 0 || named) return false;
    if (identifiers > 0 && decimals == 0 && suffix.empty()) return false;
    Attempt a(column, rules);
    std::size_t rounded = 0, firstRounded = 0;
    for (std::size_t i = 0; i < texts.size(); ++i) {
        if (isMissing(texts[i], rules.missing)) continue;
        const auto n = readRichNumber(texts[i], rules.decimal);
        if (n && (n->suffix.empty() || n->suffix == suffix)) {
            a.set(i, n->value);
            if (n->rounded && rounded++ == 0) firstRounded = i;
        } else if (const auto limit = limitOf(texts[i], rules.decimal))
            a.mark(i, limit->side);
        else
            a.mark(i, CellState::Unreadable);
    }
    a.become(ColumnKind::Number, column, "number", issues);
    if (column.unit.empty() && !suffix.empty())
        column.unit = suffix == "\"" ? "in" : suffix == "'" ? "ft" : suffix;
    if (rounded > 0)
        issues.push_back({"precision-loss",
                          "Whole numbers beyond 2⁵³ are rounded here; write them in quotes with a letter to "
                          "keep them as texts.",
                          {.line = rules.lineOf(firstRounded), .column = column.name}});
    return true;
}

struct OrderChoice {
    DateOrder order = DateOrder::DayMonthYear;
    bool open = false;
};

// By the evidence of all cells. Where it stays open, the reading with the steadier steps is taken.
OrderChoice chooseOrder(const std::vector<std::string>& texts, const CellRules& rules) {
    std::array<std::size_t, 3> allowed{};
    std::size_t counted = 0;
    char mark = 0;
    for (const std::string& t : texts) {
        if (isMissing(t, rules.missing)) continue;
        const auto e = orderEvidence(t);
        if (!e) continue;
        ++counted;
        mark = e->mark;
        allowed[0] += e->dayMonth;
        allowed[1] += e->monthDay;
        allowed[2] += e->yearFirst;
    }
    if (counted == 0) return {};
    const std::size_t best = std::max(allowed[0], allowed[1]);
    if (allowed[2] > best) return {DateOrder::YearMonthDay};
    if (mark == '.' && allowed[0] == best) return {DateOrder::DayMonthYear}; // points stand in no other order
    if (allowed[0] != allowed[1])
        return {allowed[0] > allowed[1] ? DateOrder::DayMonthYear : DateOrder::MonthDayYear};
    auto roughness = [&](DateOrder order) {
        double last = kNaN, sum = 0;
        for (const std::string& t : texts)
            if (const auto m = momentOf(t, order)) {
                if (!std::isnan(last)) sum += std::abs(m->seconds - last);
                last = m->seconds;
            }
        return sum;
    };
    const bool steady = roughness(DateOrder::DayMonthYear) <= roughness(DateOrder::MonthDayYear);
    const bool same = std::ranges::all_of(texts, [&](const std::string& t) { // 05/05/2031 reads one way only
        const auto a = momentOf(t, DateOrder::DayMonthYear), b = momentOf(t, DateOrder::MonthDayYear);
        return a && b ? a->seconds == b->seconds : !a && !b;
    });
    return {steady ? DateOrder::DayMonthYear : DateOrder::MonthDayYear, !same};
}

bool saysDuration(std::string_view name) {
    const std::string n = lowerAscii(name);
    for (std::string_view word :
         {"duration", "elapsed", "run time", "runtime", "time since", "time after", "interval"})
        if (n.find(word) != std::string::npos) return true;
    return false;
}

// Whether enough of the texts are moments for the column to be one of times.
bool areMoments(const std::vector<std::string>& texts, const CellRules& rules) {
    const auto isMoment = [](const std::string& t) {
        return momentOf(t, DateOrder::DayMonthYear) || momentOf(t, DateOrder::MonthDayYear) ||
               momentOf(t, DateOrder::YearMonthDay);
    };
    if (!isWorthTrying(texts, rules, isMoment)) return false;
    std::size_t filled = 0, fit = 0;
    for (const std::string& t : texts) {
        if (isMissing(t, rules.missing)) continue;
        ++filled;
        fit += isMoment(t);
    }
    return fit > 0 && 3 * (filled - fit) <= filled;
}

ColumnKind kindAmong(const std::set<ColumnKind>& kinds, std::string_view name) {
    if (kinds.contains(ColumnKind::DateTime)) return ColumnKind::DateTime; // dates among them are midnights
    if (kinds.contains(ColumnKind::Duration) || (kinds.contains(ColumnKind::TimeOfDay) && saysDuration(name)))
        return ColumnKind::Duration;
    return *kinds.rbegin();
}

void tellOpenOrder(DateOrder order, std::size_t row, const Column& column, const CellRules& rules,
                   std::vector<Issue>& issues) {
    const bool dayFirst = order == DateOrder::DayMonthYear;
    if (rules.onOpenOrder)
        rules.onOpenOrder(dayFirst ? DateOrder::MonthDayYear : DateOrder::DayMonthYear);
    issues.push_back(
        {"ambiguous-date-order",
         fmt::format("Day and month could be the other way round: no day is above 12. Read as {}; "
                     "choose the order of dates if that is wrong.",
                     dayFirst ? "day, month, year" : "month, day, year"),
         {.line = rules.lineOf(row), .column = column.name}});
}

bool tryMoments(Column& column, const CellRules& rules, std::vector<Issue>& issues) {
    const auto held = column.cells; // the column gets other cells below
    const auto& texts = held->texts;
    if (!areMoments(texts, rules)) return false;
    const OrderChoice chosen = rules.dateOrder ? OrderChoice{*rules.dateOrder} : chooseOrder(texts, rules);
    Attempt a(column, rules);
    std::set<ColumnKind> kinds;
    std::size_t firstOrdered = texts.size();
    bool utc = false;
    for (std::size_t i = 0; i < texts.size(); ++i) {
        if (isMissing(texts[i], rules.missing)) continue;
        const auto m = momentOf(texts[i], chosen.order);
        if (!m) {
            a.mark(i, CellState::Unreadable);
            continue;
        }
        a.set(i, m->seconds);
        kinds.insert(m->kind);
        utc = utc || m->utc;
        if (m->ordered) firstOrdered = std::min(firstOrdered, i);
    }
    if (kinds.empty()) return false;
    const ColumnKind kind = kindAmong(kinds, column.name);
    column.utc = utc;
    a.become(kind, column, kind == ColumnKind::Duration ? "duration" : "date or time", issues);
    if (chosen.open && firstOrdered < texts.size())
        tellOpenOrder(chosen.order, firstOrdered, column, rules, issues);
    return true;
}

bool tryYesNo(Column& column, const CellRules& rules) {
    const auto& texts = column.cells->texts;
    std::size_t fit = 0;
    for (const std::string& t : texts) {
        if (isMissing(t, rules.missing)) continue;
        if (!isYesNo(t)) return false;
        ++fit;
    }
    if (fit == 0) return false;
    Cells out;
    for (const std::string& t : texts) {
        const auto value = isYesNo(t);
        out.numbers.push_back(value ? (*value ? 1.0 : 0.0) : kNaN);
    }
    column.kind = ColumnKind::Boolean;
    column.cells = std::make_shared<Cells>(std::move(out));
    return true;
}

// In texts only what can mean nothing else stands for a missing cell, and the markers that were told.
void dropMarkers(Column& column, const CellRules& rules) {
    const auto& texts = column.cells->texts;
    const bool signs = std::ranges::find(texts, "+") != texts.end(); // "+" and "-" are answers
    const auto marked = [&](const std::string& t) {
        if (t.size() > 4 && rules.missing.empty()) return false;
        if ((t == "-" || t == "–" || t == "—" || t == "--") && !signs) return true;
        const std::string lower = lowerAscii(t);
        return lower == "na" || lower == "n/a" || lower == "#n/a" || lower == "nan" || lower == "null" ||
               std::ranges::find(rules.missing, t) != rules.missing.end();
    };
    if (std::ranges::none_of(column.cells->texts, marked)) return;
    Cells cells = *column.cells;
    for (std::string& t : cells.texts)
        if (marked(t)) t.clear();
    column.cells = std::make_shared<Cells>(std::move(cells));
}

} // namespace

void interpretTexts(Column& column, const CellRules& rules, std::vector<Issue>& issues) {
    if (tryNumbers(column, rules, issues) || tryMoments(column, rules, issues) || tryYesNo(column, rules))
        return;
    dropMarkers(column, rules);
}

void interpretCompactDates(Column& column) {
    const std::string name = lowerAscii(column.name);
    if (name.find("date") == std::string::npos && name.find("day") == std::string::npos) return;
    Cells out;
    for (double v : column.numbers()) {
        if (std::isnan(v)) {
            out.numbers.push_back(kNaN);
            continue;
        }
        const bool eight = v == std::floor(v) && v >= 10000000 && v <= 99999999;
        const auto m = eight ? momentOf(fmt::format("{:.0f}", v), DateOrder::YearMonthDay) : std::nullopt;
        if (!m) return;
        out.numbers.push_back(m->seconds);
    }
    if (std::ranges::all_of(out.numbers, [](double v) { return std::isnan(v); })) return;
    column.kind = ColumnKind::Date;
    column.cells = std::make_shared<Cells>(std::move(out));
}

Result<Column> joinedMoments(const Column& date, const Column& time) {
    if (date.kind != ColumnKind::Date ||
        (time.kind != ColumnKind::TimeOfDay && time.kind != ColumnKind::Duration))
        return failure("join", fmt::format("“{}” must hold dates and “{}” times of day to be joined.",
                                           date.name, time.name));
    Column joined = date;
    joined.kind = ColumnKind::DateTime;
    Cells cells;
    for (std::size_t i = 0; i < date.numbers().size(); ++i)
        cells.numbers.push_back(date.numbers()[i] + (i < time.numbers().size() ? time.numbers()[i] : kNaN));
    joined.cells = std::make_shared<Cells>(std::move(cells));
    return joined;
}

void makeNamesUnique(std::vector<std::string>& names, std::vector<Issue>& issues) {
    std::set<std::string> taken;
    for (std::size_t i = 0; i < names.size(); ++i) {
        if (names[i].empty()) names[i] = fmt::format("column {}", i + 1);
        const std::string wanted = names[i];
        for (int k = 2; taken.contains(names[i]); ++k) names[i] = fmt::format("{} {}", wanted, k);
        if (names[i] != wanted)
            issues.push_back(
                {"duplicate-names",
                 fmt::format("Two columns are called “{}”; this one is now “{}”.", wanted, names[i]),
                 {.column = names[i]}});
        taken.insert(names[i]);
    }
}

namespace {

// "dI", "ΔI", "sigma_I" beside "I".
bool isDeviationOf(std::string_view name, std::string_view of) {
    if (of.empty() || name.size() <= of.size() || !name.ends_with(of)) return false;
    static constexpr std::string_view kBefore[] = {"d",     "D",      "Δ",   "δ",   "σ",   "s",
                                                   "sigma", "sigma_", "sig", "err", "err_"};
    return std::ranges::find(kBefore, name.substr(0, name.size() - of.size())) != std::end(kBefore);
}

} // namespace

void suggestRoles(Table& table) {
    bool haveX = false, haveY = false;
    std::string q, intensity; // names of a curve of scattering, where "d" before a name is its deviation
    for (Column& c : table.columns) {
        const std::string name = lowerAscii(c.name);
        const bool error = name == "sd" || name == "se" || name == "sem" || name == "err" ||
                           name == "error" || name == "sigma" || name == "u" || name.starts_with("±") ||
                           name.ends_with(" sd") || name.ends_with("_sd") || name.ends_with(" error") ||
                           name.ends_with("_err") || name.starts_with("sd ") || name.starts_with("sd_");
        const bool empty = c.isNumeric() && !c.numbers().empty() &&
                           std::ranges::all_of(c.numbers(), [](double v) { return std::isnan(v); });
        const bool factor = haveY && (name.starts_with("dilut") || name.ends_with("dilution")); // of what was read
        if (c.kind == ColumnKind::Boolean || empty || factor)
            c.role = Role::None;
        else if (!c.isNumeric())
            c.role = Role::Label;
        else if (!haveX)
            c.role = Role::X, haveX = true, q = name == "q" ? c.name : "";
        else if (isDeviationOf(c.name, q))
            c.role = Role::Resolution;
        else if (isDeviationOf(c.name, intensity))
            c.role = Role::YError;
        else
            c.role = error ? Role::YError : haveY && companionKind(name) ? Role::Companion : Role::Y;
        haveY |= c.role == Role::Y;
        if (c.role == Role::Y && !q.empty()) intensity = c.name;
    }
    findParts(table);
    // One number for each name is what was measured of it.
    auto withRole = [&](Role role) { return std::ranges::count(table.columns, role, &Column::role); };
    if (withRole(Role::X) == 1 && withRole(Role::Y) == 0 && withRole(Role::Label) > 0)
        std::ranges::find(table.columns, Role::X, &Column::role)->role = Role::Y;
    // A time column is x even when it is not the first one.
    const auto time = std::ranges::find_if(table.columns, [](const Column& c) {
        return c.kind == ColumnKind::DateTime || c.kind == ColumnKind::Date;
    });
    if (time == table.columns.end()) return;
    for (Column& c : table.columns)
        if (c.role == Role::X) c.role = Role::Y;
    time->role = Role::X;
}

} // namespace jointer::io
