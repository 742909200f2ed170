// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/headings.h"

#include "base/text.h"
#include "io/cell_text.h"
#include "io/declared_columns.h"
#include "io/fixed_width.h"
#include "io/moment_text.h"

#include <algorithm>
#include <set>
#include <tuple>

namespace jointer::io {

namespace {

std::size_t filledCount(const std::vector<std::string>& fields) {
    return static_cast<std::size_t>(
        std::ranges::count_if(fields, [](const std::string& f) { return !f.empty(); }));
}

// Units, each of them; in wide tables a few may be other short words.
bool isUnitLine(const std::vector<std::string>& fields) {
    std::size_t units = 0, others = 0;
    for (const std::string& f : fields) {
        if (f.empty()) continue;
        const bool unit = isBracketed(f) || isUnitText(f);
        if (!unit && f.size() > 8) return false;
        ++(unit ? units : others);
    }
    return units > 0 && others <= (units + others) / 4;
}

// "North pan,,South pan," over "Depth,Mass,Depth,Mass": the upper of two levels leaves gaps. "Site,North
// pan,,," over names that all differ is a fact.
bool isUpperLevel(const std::vector<std::string>& upper, const std::vector<std::string>& names) {
    const std::size_t filled = filledCount(upper);
    if (upper.size() > names.size() || filled == 0 || filledCount(names) < names.size()) return false;
    // A note or a fact above the names is none.
    for (const std::string& f : upper)
        if (f.find_first_of(":=") != std::string::npos || std::ranges::count(f, ' ') > 3) return false;
    const std::set<std::string> distinct(names.begin(), names.end());
    const bool repeats = distinct.size() < names.size();
    const bool isPair = filled == 2 && !upper[0].empty() && !upper[1].empty();
    if (isPair && !repeats && !names[0].empty()) return false;
    return filled > 1 && filled < names.size() && (repeats || 2 * filled <= names.size() + 1);
}

class Headings {
public:
    Headings(const std::vector<std::string_view>& lines, DialectGuess& guess, const Settings& told)
        : lines_(lines), g_(guess), d_(guess.dialect), told_(told) {}

    void find() {
        if (told_.has("heading")) d_.heading = lineOf("heading");
        if (told_.has("units")) d_.units = lineOf("units");
        if (!told_.has("heading") && d_.heading == 0) guess();
        if (d_.heading > 0) takeNames();
    }

    void take() {
        const bool remark = d_.heading == 0 || isComment(text(d_.heading), d_.comment);
        if (remark && dataBeginWithNames()) d_.heading = d_.first++;
        if (d_.heading > 0) takeNames();
    }

private:
    long lineOf(const char* key) const {
        const Value* v = told_.find(key);
        if (const double* n = std::get_if<double>(v)) return static_cast<long>(*n);
        const auto n = parseNumber(told_.text(key));
        return n ? static_cast<long>(*n) : 0;
    }

    std::string_view text(long line) const { // empty where a line was told that is not there
        return line >= 1 && line <= static_cast<long>(lines_.size())
                   ? lines_[static_cast<std::size_t>(line) - 1]
                   : std::string_view();
    }

    std::vector<std::string> fieldsOf(long line) const {
        return text(line).empty() ? std::vector<std::string>{} : fieldsOfLine(text(line), d_);
    }

    // The nearest line above that is neither blank nor a rule; 0 beyond the first.
    long above(long line) const {
        do --line;
        while (line >= 1 && (isBlankLine(text(line)) || isRuleLine(text(line))));
        return std::max(line, 0L);
    }

    bool namesHere(long line) const {
        return line >= 1 && sectionName(text(line)).empty() && isHeadingLine(fieldsOf(line), d_);
    }
    bool unitsHere(long line) const {
        if (line < 1 || told_.has("units")) return line >= 1 && line == d_.units;
        if (d_.columns > 1 && !sectionName(text(line)).empty()) return false;
        const auto fields = fieldsOf(line);
        return isUnitLine(fields) && fields.size() <= d_.columns + 1;
    }

    // "Shift, 7 d, 28 d" over nothing but numbers: names, though they begin like quantities.
    bool dataBeginWithNames() const {
        const auto names = fieldsOf(d_.first);
        if (names.size() != d_.columns || d_.columns < 2) return false;
        auto hasLetter = [](const std::string& f) {
            return std::ranges::any_of(f, [](unsigned char c) { return std::isalpha(c); });
        };
        for (const std::string& f : names)
            if (!hasLetter(f) || isMissing(f, d_.missing) || numberOf(f, d_.decimal)) return false;
        int seen = 0;
        for (long line = d_.first + 1; line <= static_cast<long>(lines_.size()) && seen < 8; ++line) {
            if (isBlankLine(text(line)) || isComment(text(line), d_.comment)) continue;
            const auto fields = fieldsOf(line);
            if (fields.size() != d_.columns) return false;
            for (const std::string& f : fields)
                if (!numberOf(f, d_.decimal)) return false;
            ++seen;
        }
        return seen > 1;
    }

    void guess() {
        const long nearest = above(std::min(d_.first, static_cast<long>(lines_.size()) + 1));
        if (nearest < 1) return;
        const long second = above(nearest), third = second >= 1 ? above(second) : 0;
        const bool several = d_.columns > 1;
        if (unitsHere(nearest) && namesHere(second)) {
            d_.units = nearest;
            d_.heading = second;
        } else if (several && unitsHere(second) && namesHere(third) &&
                   namesHere(nearest)) { // names, units, remarks
            d_.heading = third;
            d_.units = second;
            d_.remarks = nearest;
        } else if (several && unitsHere(second) && namesHere(nearest) && !unitsHere(nearest)) {
            d_.heading = nearest;
            d_.units = second;
        } else if (namesHere(nearest))
            d_.heading = nearest;
        else if (isComment(text(nearest), d_.comment) && namesHere(second) && fieldsOf(second).size() > 1)
            d_.heading = second;
    }

    // Without a name for the first column when the data have one more and it counts or labels the rows.
    bool indexIsUnnamed(const std::vector<std::string>& names) const {
        if (names.size() + 1 != d_.columns) return false;
        double last = 0;
        std::set<std::string> labels;
        int seen = 0;
        bool counts = true, words = true;
        for (long line = d_.first; line <= static_cast<long>(lines_.size()) && seen < 20; ++line) {
            if (isBlankLine(text(line))) continue;
            const auto fields = fieldsOf(line);
            if (fields.size() < d_.columns) continue;
            if (seen == 0 && fields.back().empty())
                return false; // the last column is what a trailing separator leaves
            const auto n = numberOf(fields[0], d_.decimal);
            words = words && !n && labels.insert(fields[0]).second;
            counts = counts && n && (seen == 0 ? *n == 0 || *n == 1 : *n == last + 1);
            last = n.value_or(0);
            ++seen;
        }
        return seen > 0 && (words || (counts && seen > 2));
    }

    void takeNames() {
        if (const auto declared = columnsInLine(withoutComment(text(d_.heading), d_.comment), d_.columns);
            !declared.empty())
            return take(declared);
        auto names = fieldsOf(d_.heading);
        auto units = d_.units > 0 ? fieldsOf(d_.units) : std::vector<std::string>{};
        auto remarks = d_.remarks > 0 ? fieldsOf(d_.remarks) : std::vector<std::string>{};
        if (indexIsUnnamed(names)) {
            names.insert(names.begin(), "");
            if (units.size() + 1 == d_.columns) units.insert(units.begin(), "");
        }
        for (std::size_t c = d_.columns; c < names.size(); ++c)
            if (!names[c].empty()) g_.surplusNames.push_back(names[c]);
        const auto groups = groupsAbove(names);
        if (!groups.empty()) g_.groups = above(d_.heading);
        for (std::size_t c = 0; c < d_.columns; ++c) {
            auto [name, unit] = nameAndUnit(c < names.size() ? names[c] : "");
            if (c < units.size() && !units[c].empty()) unit = bareUnit(units[c]);
            if (c < groups.size() && !groups[c].empty())
                name = name.empty() ? groups[c] : groups[c] + " " + name;
            g_.names[c] = std::move(name);
            g_.unitTexts[c] = unit == "-" ? "" : std::move(unit);
            if (c < remarks.size()) g_.remarkTexts[c] = remarks[c];
        }
    }

    void take(const std::vector<DeclaredColumn>& declared) {
        for (std::size_t c = 0; c < d_.columns; ++c)
            std::tie(g_.names[c], g_.unitTexts[c], g_.remarkTexts[c]) =
                std::tie(declared[c].name, declared[c].unit, declared[c].remark);
    }

    // The names of the upper level, repeated over the columns that they hold for.
    std::vector<std::string> groupsAbove(const std::vector<std::string>& names) const {
        if (told_.has("heading") || d_.columns < 3) return {};
        const long line = above(d_.heading);
        if (line < 1 || (line + 1 < d_.heading && isBlankLine(text(d_.heading - 1)))) return {};
        if (d_.form == Form::Separated && d_.separator == kBlanks) return {};
        if (isComment(text(line), d_.comment) != isComment(text(d_.heading), d_.comment)) return {};
        std::vector<std::string> upper = fieldsOf(line);
        while (upper.size() > names.size() && upper.back().empty()) upper.pop_back();
        if (cutsWords(text(line), d_.borders)) return {};
        if (upper.size() != names.size() || !isUpperLevel(upper, names)) return {};
        upper.resize(d_.columns);
        for (std::size_t c = 1; c < upper.size(); ++c)
            if (upper[c].empty()) upper[c] = upper[c - 1];
        return upper;
    }

    const std::vector<std::string_view>& lines_;
    DialectGuess& g_;
    Dialect& d_;
    const Settings& told_;
};

} // namespace

std::vector<std::string> fieldsOfLine(std::string_view line, const Dialect& d) {
    if (d.form == Form::Fixed) {
        std::vector<std::string> cells;
        for (std::string_view cell : cutAt(line, d.borders)) cells.emplace_back(trimmed(cell));
        if (!cells.empty() && isComment(cells[0], d.comment)) cells[0] = withoutComment(cells[0], d.comment);
        return cells;
    }
    // What separates at the beginning of a line is no blank around it: the first field is empty.
    const bool byTabs = d.form == Form::Separated && d.separator == '\t';
    if (!byTabs)
        line = withoutComment(line, d.comment);
    else if (isComment(line, d.comment)) {
        line.remove_prefix(line.find(d.comment) + d.comment.size());
        while (line.starts_with(' ')) line.remove_prefix(1);
    }
    if (d.form == Form::Piped) {
        line = trimmed(line);
        if (line.starts_with('|')) line.remove_prefix(1);
        if (line.ends_with('|')) line.remove_suffix(1);
    }
    auto fields = fieldTexts(line, d.form == Form::Wide ? kWideBlanks : d.separator);
    // Names may hold single blanks where numbers are far apart.
    if (d.separator == kBlanks && d.form == Form::Separated && fields.size() != d.columns)
        if (auto wide = fieldTexts(line, kWideBlanks); wide.size() == d.columns && d.columns > 1) return wide;
    return fields;
}

bool isHeadingLine(const std::vector<std::string>& fields, const Dialect& d) {
    const std::size_t n = fields.size();
    const bool trailing = n == d.columns + 1 && fields.back().empty();
    if (n != d.columns && n + 1 != d.columns && !trailing) return false;
    if (n == 1 && d.columns == 2 && fields[0].find_first_of(":=. ") != std::string::npos) return false;
    const auto words = static_cast<std::size_t>(std::ranges::count_if(fields, [&](const std::string& f) {
        return !f.empty() && !isMissing(f, d.missing) && !numberOf(f, d.decimal) && !looksLikeMoment(f);
    }));
    const bool title = n == 2 && d.separator == kBlanks && words < 2; // "Scan 2"
    return words > 0 && 2 * words >= filledCount(fields) && !title;
}

namespace {

// Whether the last column is only what separators at the ends of lines leave.
bool endsInSeparators(const std::vector<std::string_view>& lines, const Dialect& d) {
    if (d.columns < 2) return false;
    for (auto i = static_cast<std::size_t>(d.first) - 1; i < lines.size(); ++i) {
        if (isBlankLine(lines[i]) || isComment(lines[i], d.comment)) continue;
        const auto fields = fieldsOfLine(lines[i], d);
        if (fields.size() == d.columns && !fields.back().empty()) return false;
    }
    return true;
}

} // namespace

void takeDeclared(const std::vector<std::string_view>& lines, DialectGuess& g) {
    const Dialect& d = g.dialect;
    const std::size_t end = std::min(static_cast<std::size_t>(d.first) - 1, lines.size());
    const std::vector<std::string_view> above(lines.begin(),
                                              lines.begin() + static_cast<std::ptrdiff_t>(end));
    Declaration found = declaredAbove(above, d.columns, d.comment);
    if (found.columns.empty() && endsInSeparators(lines, d)) {
        found = declaredAbove(above, d.columns - 1, d.comment);
        if (!found.columns.empty()) found.columns.emplace_back();
    }
    if (found.columns.empty()) return;
    g.declaredFrom = static_cast<long>(found.firstLine) + 1;
    g.declaredTo = static_cast<long>(found.lastLine) + 1;
    const long heading = d.heading;
    // A line of words above the list is a title; one below it names the columns.
    const bool own =
        heading > g.declaredTo && !isComment(lines[static_cast<std::size_t>(heading) - 1], d.comment);
    for (std::size_t c = 0; c < d.columns; ++c) {
        if (!own) g.names[c] = found.columns[c].name;
        if (!own || g.unitTexts[c].empty()) g.unitTexts[c] = found.columns[c].unit;
        if (!own || g.remarkTexts[c].empty()) g.remarkTexts[c] = found.columns[c].remark;
    }
    if (own) return;
    g.dialect.heading = found.isList ? g.declaredFrom : 0;
    g.dialect.units = g.dialect.remarks = 0;
}

void takeHeadings(const std::vector<std::string_view>& lines, DialectGuess& guess, const Settings& told) {
    Headings(lines, guess, told).take();
}

void findHeadings(const std::vector<std::string_view>& lines, DialectGuess& guess, const Settings& told) {
    Headings(lines, guess, told).find();
}

} // namespace jointer::io
