// SPDX-License-Identifier: GPL-3.0-or-later
#include "table_generator.h"

#include "base/text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <functional>

namespace jointer::test {

namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();

class Dice {
public:
    explicit Dice(unsigned seed) : engine_(seed) {}
    int below(int n) { return std::uniform_int_distribution<int>(0, n - 1)(engine_); }
    bool chance(double p) { return real(0, 1) < p; }
    double real(double a, double b) { return std::uniform_real_distribution<double>(a, b)(engine_); }
    template <class T> const T& of(const std::vector<T>& list) {
        return list[static_cast<std::size_t>(below(static_cast<int>(list.size())))];
    }

private:
    std::mt19937 engine_;
};

const std::vector<std::string> kNames = {
    "depth",    "Temp",    "pH",   "signal",     "Counts",   "conc",    "x",         "y",   "t",
    "Salinity", "mass",    "Area", "Absorbance", "q",        "I",       "turbidity", "n",   "oxygen",
    "NO3",      "width_1", "Flow", "dose",       "response", "channel", "λ",         "Höhe"};
const std::vector<std::string> kLongNames = {"water depth",  "Shell mass",  "Dissolved oxygen", "mean count",
                                             "peak area",    "Growth rate", "sensor A",         "North pan",
                                             "ring 2 width", "salt content"};
const std::vector<std::string> kUnits = {"m",   "cm", "mg/L", "°C", "s", "µm",
                                         "kPa", "mV", "%",    "nm", "g", "h"};
const std::vector<std::string> kWords = {"north", "south", "pan",  "creek", "mud",   "sand", "shell",
                                         "A12",   "B07",   "reed", "blank", "rinse", "ebb",  "flood"};
const std::vector<std::string> kProse = {"Pond survey of Tern Sands",
                                         "Measured by the spring party after the storm",
                                         "All values were checked twice", "Exported from the station logger",
                                         "Second visit to the marsh, calm weather"};
const std::vector<std::string> kFacts = {
    "Site: North pan",  "Operator: K. Ives", "Run: 17",   "Instrument = logger 4",
    "Date: 2031-05-02", "Interval: 10 s",    "Lamp = 3.2"};

std::string numberText(Dice& d, int style) {
    switch (style) {
    case 0:
        return fmt::format("{}", d.below(1000));
    case 1:
        return fmt::format("{:.1f}", d.real(-50, 50));
    case 2:
        return fmt::format("{:.3f}", d.real(0, 10));
    case 3:
        return fmt::format("{:.4e}", d.real(1, 10) * std::pow(10.0, d.below(20) - 10));
    case 4:
        return fmt::format("{:.2f}", d.real(1000, 90000));
    default:
        return fmt::format("{:.5g}", d.real(-1, 1) * std::pow(10.0, d.below(6) - 2));
    }
}

struct Day {
    int y, m, d;
};
double secondsOf(const Day& day, int hour = 0, int minute = 0) {
    // Days of the civil calendar. Source: the usual count by eras of 400 years.
    const int y = day.m <= 2 ? day.y - 1 : day.y, era = y / 400, yoe = y - era * 400;
    const int doy = (153 * (day.m + (day.m > 2 ? -3 : 9)) + 2) / 5 + day.d - 1;
    const long days = era * 146097L + (yoe * 365 + yoe / 4 - yoe / 100 + doy) - 719468L;
    return static_cast<double>(days) * 86400 + hour * 3600 + minute * 60;
}

void fillTimes(Dice& d, MadeColumn& c, std::size_t rows) {
    const int pattern = d.below(4); // ISO, day first with points, day first with slashes, month first
    const int year = 1995 + d.below(40);
    for (std::size_t i = 0; i < rows; ++i) {
        const Day day{year, 1 + d.below(12), 1 + d.below(28)};
        const int hour = d.below(24), minute = d.below(60);
        const std::string date = pattern == 0   ? fmt::format("{:04}-{:02}-{:02}", day.y, day.m, day.d)
                                 : pattern == 1 ? fmt::format("{:02}.{:02}.{:04}", day.d, day.m, day.y)
                                 : pattern == 2 ? fmt::format("{:02}/{:02}/{:04}", day.d, day.m, day.y)
                                                : fmt::format("{:02}/{:02}/{:04}", day.m, day.d, day.y);
        const std::string time = fmt::format("{:02}:{:02}", hour, minute);
        if (c.kind == CellKind::TimeOfDay) {
            c.cells.push_back(time);
            c.numbers.push_back(hour * 3600 + minute * 60);
        } else if (c.kind == CellKind::Date) {
            c.cells.push_back(date);
            c.numbers.push_back(secondsOf(day));
        } else {
            c.cells.push_back(date + (pattern == 0 && d.chance(0.5) ? "T" : " ") + time);
            c.numbers.push_back(secondsOf(day, hour, minute));
        }
    }
}

MadeColumn column(Dice& d, CellKind kind, std::size_t rows, bool bySpaces) {
    MadeColumn c{.kind = kind};
    if (kind == CellKind::Number) {
        const int style = d.below(6);
        for (std::size_t i = 0; i < rows; ++i) {
            c.cells.push_back(numberText(d, style));
            c.numbers.push_back(std::strtod(c.cells.back().c_str(), nullptr));
        }
    } else if (kind == CellKind::Text) {
        const bool two = !bySpaces && d.chance(0.3);
        for (std::size_t i = 0; i < rows; ++i)
            c.cells.push_back(two ? d.of(kWords) + " " + d.of(kWords) : d.of(kWords));
        c.numbers.assign(rows, kNaN);
    } else if (kind == CellKind::YesNo) {
        for (std::size_t i = 0; i < rows; ++i) {
            c.cells.push_back(d.chance(0.5) ? "yes" : "no");
            c.numbers.push_back(c.cells.back() == "yes");
        }
    } else
        fillTimes(d, c, rows);
    return c;
}

// "12/05/2031" throughout, without a day above 12, can be read both ways.
bool isOpenOrder(const MadeColumn& c) {
    if (c.kind != CellKind::Date && c.kind != CellKind::DateTime) return false;
    bool any = false;
    for (const std::string& cell : c.cells) {
        if (cell.size() < 10 || cell[2] != '/') continue;
        any |= cell.substr(0, 2) != cell.substr(3, 2); // 09/09 reads one way only
        if (std::stoi(cell.substr(0, 2)) > 12 || std::stoi(cell.substr(3, 2)) > 12) return false;
    }
    return any;
}

std::string unitInHeading(const std::string& name, const std::string& unit, char style) {
    if (unit.empty()) return name;
    if (style == '/') return name + " / " + unit;
    return style == '[' ? name + " [" + unit + "]" : name + " (" + unit + ")";
}

bool isBlanks(char separator) {
    return separator == kAligned || separator == kOneBlank;
}

class Writer {
public:
    explicit Writer(const MadeTable& t) : t_(t) {
        if (t_.separator == kAligned)
            for (std::size_t c = 0; c < t_.columns.size(); ++c) {
                std::size_t width = heading(c).size();
                for (std::size_t r = 0; r < t_.rows; ++r) width = std::max(width, cell(r, c).size());
                if (hasUnitsLine()) width = std::max(width, unit(c).size());
                widths_.push_back(width + 2);
            }
    }

    std::string write() {
        for (const std::string& line : t_.preambleLines)
            add(t_.preamble == Preamble::FactCells ? inCells(line) : line);
        if (t_.blankAfterPreamble && !t_.preambleLines.empty()) add("");
        if (t_.headings) addHeadings();
        if (t_.declared == Declared::List) addList();
        if (t_.declared == Declared::Numbered) addNumbered();
        for (std::size_t r = 0; r < t_.rows; ++r) {
            if (t_.headings && t_.repeatEvery > 0 && r > 0 && r % t_.repeatEvery == 0) addHeadings();
            if (t_.commentBefore > 0 && r == t_.commentBefore) add("# paused for the tide");
            std::vector<std::string> cells;
            for (std::size_t c = 0; c < t_.columns.size(); ++c) cells.push_back(cell(r, c));
            add(line(cells, false));
        }
        if (!t_.footer.empty()) add(t_.footer);
        if (!t_.lastLineEnds) out_.resize(out_.size() - t_.lineEnd.size());
        return std::move(out_);
    }

private:
    bool hasUnitsLine() const { return t_.units == UnitsIn::Line || t_.units == UnitsIn::BracketedLine; }

    std::string heading(std::size_t c) const {
        const MadeColumn& m = t_.columns[c];
        return t_.units == UnitsIn::Headings ? unitInHeading(m.name, m.unit, t_.unitStyle) : m.name;
    }
    std::string unit(std::size_t c) const {
        const std::string& u = t_.columns[c].unit;
        if (u.empty() && isBlanks(t_.separator)) return "-";
        return t_.units == UnitsIn::BracketedLine && !u.empty() ? "[" + u + "]" : u;
    }

    // "Site: North pan" as two cells of the table, as a spreadsheet saves it.
    std::string inCells(const std::string& fact) const {
        const std::size_t at = fact.find_first_of(":=");
        const std::string key = fact.substr(0, fact[at - 1] == ' ' ? at - 1 : at);
        const std::size_t further = t_.wideFacts && t_.columns.size() > 2 ? t_.columns.size() - 2 : 0;
        return key + t_.separator + fact.substr(at + 2) + std::string(further, t_.separator);
    }

    void addHeadings() {
        std::vector<std::string> names, units;
        for (std::size_t c = 0; c < t_.columns.size(); ++c) {
            names.push_back(heading(c));
            units.push_back(unit(c));
        }
        const std::string mark = t_.commentedHeadings ? "# " : "";
        add(mark + line(names, true));
        if (hasUnitsLine()) add(mark + line(units, true));
        if (t_.ruleBelow && t_.separator == kAligned) {
            std::vector<std::string> rules;
            for (std::size_t width : widths_) rules.emplace_back(width - 2, '-');
            add(line(rules, true));
        }
        if (t_.separator == kRuledPipes) {
            std::string rule = "|";
            for (std::size_t c = 0; c < t_.columns.size(); ++c) rule += "---|";
            add(rule);
        }
    }

    void addList() {
        std::string list;
        for (std::size_t c = 0; c < t_.columns.size(); ++c) list += (c ? ", " : "") + heading(c);
        add("# columns: " + list);
    }
    void addNumbered() {
        for (std::size_t c = 0; c < t_.columns.size(); ++c)
            add(fmt::format("# {}{} {}", c + 1, t_.unitStyle == '[' ? "" : ".", heading(c)));
    }

    std::string cell(std::size_t r, std::size_t c) const {
        const MadeColumn& m = t_.columns[c];
        std::string text = m.cells[r];
        if (text.empty()) return t_.missing;
        if (m.kind == CellKind::Number && t_.decimal == ',') std::ranges::replace(text, '.', ',');
        return text;
    }

    std::string quoted(const std::string& text, bool isWord) const {
        const bool must = !isBlanks(t_.separator) && t_.separator != kRuledPipes &&
                          text.find(t_.separator) != std::string::npos;
        const bool blank = t_.separator == kOneBlank && text.find(' ') != std::string::npos;
        if (t_.quoting == Quoting::All || must || blank || (t_.quoting == Quoting::Texts && isWord))
            return "\"" + text + "\"";
        return text;
    }

    std::string line(const std::vector<std::string>& cells, bool words) const {
        std::string out;
        for (std::size_t c = 0; c < cells.size(); ++c) {
            const bool word = words || (t_.columns[c].kind != CellKind::Number);
            if (t_.separator == kAligned) {
                const bool right = t_.columns[c].kind == CellKind::Number;
                const std::size_t fill = widths_[c] - std::min(widths_[c], cells[c].size());
                out += right ? std::string(fill, ' ') + cells[c]
                             : (c ? "  " : "") + cells[c] +
                                   std::string(fill > (c ? 2 : 0) ? fill - (c ? 2 : 0) : 0, ' ');
            } else if (t_.separator == kRuledPipes)
                out += (c ? " | " : "| ") + cells[c];
            else
                out += (c ? std::string(1, t_.separator) + (t_.padded ? " " : "") : "") +
                       (cells[c].empty() ? "" : quoted(cells[c], word));
        }
        if (t_.separator == kRuledPipes) out += " |";
        if (t_.trailingSeparator) out += t_.separator;
        return out;
    }

    void add(const std::string& line) { out_ += line + t_.lineEnd; }

    const MadeTable& t_;
    std::vector<std::size_t> widths_;
    std::string out_;
};

std::string latin1(const std::string& utf8) {
    std::string out;
    for (std::size_t i = 0; i < utf8.size(); ++i) {
        const auto c = static_cast<unsigned char>(utf8[i]);
        if (c < 0x80)
            out += utf8[i];
        else if (c < 0xC4 && i + 1 < utf8.size())
            out += static_cast<char>(((c & 3) << 6) | (static_cast<unsigned char>(utf8[++i]) & 0x3F));
    }
    return out;
}

std::string utf16le(const std::string& utf8) {
    std::string out = "\xFF\xFE";
    for (std::size_t i = 0; i < utf8.size(); ++i) {
        unsigned code = static_cast<unsigned char>(utf8[i]);
        if (code >= 0xC0) {
            const int more = code >= 0xE0 ? 2 : 1;
            code &= more == 2 ? 0x0F : 0x1F;
            for (int k = 0; k < more; ++k)
                code = (code << 6) | (static_cast<unsigned char>(utf8[++i]) & 0x3F);
        }
        out += static_cast<char>(code & 0xFF);
        out += static_cast<char>(code >> 8);
    }
    return out;
}

// What a dialect makes unreadable for people too is not asked of the reader.
void makeFair(MadeTable& t, Dice& d) {
    if (t.separator == ',' && t.decimal == ',') t.decimal = '.';
    const bool blanks = isBlanks(t.separator);
    if (t.missing.empty() && (blanks || t.columns.size() == 1)) t.missing = "NA";
    if (t.separator == kOneBlank || blanks || t.separator == kRuledPipes) t.trailingSeparator = false;
    if (t.columns.size() == 1) t.trailingSeparator = false;
    if (blanks || t.separator == kRuledPipes) {
        t.padded = false;
        t.quoting = Quoting::None;
    }
    if (t.separator == kRuledPipes)
        t.headings = true, t.commentedHeadings = false,
        t.units = t.units == UnitsIn::Headings ? t.units : UnitsIn::Nowhere;
    if (t.commentedHeadings && t.quoting != Quoting::None) t.commentedHeadings = false;
    // Names with blanks in a blank-separated table, and moments with one, cannot be told apart.
    if (blanks)
        for (MadeColumn& c : t.columns) {
            if (t.separator == kOneBlank) std::ranges::replace(c.name, ' ', '_');
            for (std::string& cell : c.cells)
                std::ranges::replace(cell, ' ', c.kind == CellKind::DateTime ? 'T' : '_');
        }
    if (t.separator == kOneBlank && t.units == UnitsIn::Headings) t.units = UnitsIn::Line;
    if (t.units != UnitsIn::Nowhere && !t.named()) t.units = UnitsIn::Nowhere;
    if (t.units != UnitsIn::Nowhere && !t.headings) t.units = UnitsIn::Headings;
    if (t.units == UnitsIn::Nowhere)
        for (MadeColumn& c : t.columns) c.unit.clear();
    const bool anyUnit = std::ranges::any_of(t.columns, [](const MadeColumn& c) { return !c.unit.empty(); });
    if (!anyUnit) t.units = UnitsIn::Nowhere;
    if (!t.headings) {
        t.repeatEvery = 0;
        t.commentedHeadings = false;
        for (std::size_t c = 0; c < t.columns.size() && !t.named(); ++c)
            t.columns[c].name = fmt::format("column {}", c + 1);
    }
    // Words under words without a number anywhere: nothing tells the headings.
    const bool anyValue =
        std::ranges::any_of(t.columns, [](const MadeColumn& c) { return c.kind != CellKind::Text; });
    if (!anyValue) {
        t.columns.push_back(column(d, CellKind::Number, t.rows, blanks));
        t.columns.back().name = t.named() ? "value" : fmt::format("column {}", t.columns.size());
    }
    if (t.encoding == "iso-8859-1")
        for (MadeColumn& c : t.columns) {
            if (c.name == "λ") c.name = "wave";
            if (c.unit == "µm") c.unit = "µm";
        }
}

void punchHoles(MadeTable& t, Dice& d) {
    if (!d.chance(0.35) || t.rows < 3) return;
    for (MadeColumn& c : t.columns)
        for (std::size_t r = 0; r < t.rows; ++r)
            if (d.chance(0.08)) {
                c.cells[r].clear();
                c.numbers[r] = kNaN;
            }
    // A row without any value is none, and a column without any has no kind.
    for (std::size_t r = 0; r < t.rows; ++r)
        if (t.columns[0].cells[r].empty()) {
            MadeColumn fresh = column(d, t.columns[0].kind, 1, isBlanks(t.separator));
            if (t.columns[0].kind == CellKind::Number || t.columns[0].kind == CellKind::Text) {
                t.columns[0].cells[r] = fresh.cells[0];
                t.columns[0].numbers[r] = fresh.numbers[0];
            } else {
                // Of the pattern that the column has: another of its cells.
                const auto other =
                    std::ranges::find_if(t.columns[0].cells, [](const std::string& s) { return !s.empty(); });
                const auto from = static_cast<std::size_t>(other - t.columns[0].cells.begin());
                const bool any = other != t.columns[0].cells.end();
                t.columns[0].cells[r] = any ? *other : fresh.cells[0];
                t.columns[0].numbers[r] = any ? t.columns[0].numbers[from] : fresh.numbers[0];
            }
        }
    for (MadeColumn& c : t.columns)
        if (std::ranges::all_of(c.cells, [](const std::string& s) { return s.empty(); })) {
            const MadeColumn fresh = column(d, c.kind, t.rows, isBlanks(t.separator));
            c.cells = fresh.cells;
            c.numbers = fresh.numbers;
        }
}

} // namespace

std::string MadeTable::text() const {
    return Writer(*this).write();
}

std::string MadeTable::bytes() const {
    const std::string utf8 = text();
    if (encoding == "utf-8-bom") return "\xEF\xBB\xBF" + utf8;
    if (encoding == "iso-8859-1") return latin1(utf8);
    if (encoding == "utf-16le") return utf16le(utf8);
    return utf8;
}

std::set<std::string> MadeTable::warned() const {
    std::set<std::string> codes;
    if (repeatEvery > 0 && repeatEvery < rows) codes.insert("repeated-heading");
    if (!footer.empty()) codes.insert("skipped-footer");
    if (std::ranges::any_of(columns, isOpenOrder)) codes.insert("ambiguous-date-order");
    return codes;
}

MadeTable madeTable(unsigned seed) {
    Dice d(seed);
    MadeTable t;
    t.rows =
        d.chance(0.25) ? static_cast<std::size_t>(1 + d.below(4)) : static_cast<std::size_t>(5 + d.below(40));
    t.separator = d.of(
        std::vector<char>{',', ',', ';', ';', '\t', '\t', '|', kOneBlank, kAligned, kAligned, kRuledPipes});
    t.decimal = d.chance(0.3) ? ',' : '.';
    t.quoting = d.chance(0.7) ? Quoting::None : d.chance(0.5) ? Quoting::Texts : Quoting::All;
    t.headings = d.chance(0.85);
    if (!t.headings && t.separator != kRuledPipes)
        t.declared = d.of(std::vector<Declared>{Declared::Nowhere, Declared::List, Declared::Numbered});
    t.commentedHeadings = d.chance(0.08);
    t.ruleBelow = d.chance(0.3);
    t.units = d.chance(0.5) ? UnitsIn::Nowhere
                            : d.of(std::vector<UnitsIn>{UnitsIn::Headings, UnitsIn::Headings, UnitsIn::Line,
                                                        UnitsIn::BracketedLine});
    t.unitStyle = d.of(std::vector<char>{'(', '[', '/'});
    t.missing = d.of(std::vector<std::string>{"", "", "NA", "NaN", "-", "n/a"});
    t.lineEnd = d.of(std::vector<std::string>{"\n", "\n", "\n", "\r\n", "\r\n", "\r"});
    t.encoding =
        d.of(std::vector<std::string>{"utf-8", "utf-8", "utf-8", "utf-8-bom", "iso-8859-1", "utf-16le"});
    t.lastLineEnds = d.chance(0.8);
    t.padded = d.chance(0.15);
    t.trailingSeparator = d.chance(0.07);
    if (d.chance(0.06)) t.repeatEvery = static_cast<std::size_t>(3 + d.below(10));
    if (d.chance(0.06)) t.commentBefore = static_cast<std::size_t>(1 + d.below(6));
    if (d.chance(0.05))
        t.footer = d.of(std::vector<std::string>{"End of data", "Checked by the second party", "-- end --"});

    std::set<std::string> names;
    const int count = d.chance(0.07) ? 1 : 2 + d.below(6);
    for (int k = 0; k < count; ++k) {
        const double p = d.real(0, 1);
        CellKind kind = p < 0.72 ? CellKind::Number : p < 0.86 ? CellKind::Text : CellKind::YesNo;
        if (k == 0 && d.chance(0.25))
            kind = d.of(std::vector<CellKind>{CellKind::DateTime, CellKind::Date, CellKind::TimeOfDay});
        if (count == 1) kind = CellKind::Number;
        MadeColumn c = column(d, kind, t.rows, isBlanks(t.separator));
        do c.name = d.chance(0.75) ? d.of(kNames) : d.of(kLongNames);
        while (!names.insert(c.name).second);
        if (kind == CellKind::Number && d.chance(0.7)) c.unit = d.of(kUnits);
        t.columns.push_back(std::move(c));
    }
    if (d.chance(0.4)) {
        t.preamble = d.of(std::vector<Preamble>{Preamble::Title, Preamble::Prose, Preamble::Facts,
                                                Preamble::Facts, Preamble::CommentedFacts,
                                                Preamble::CommentedProse, Preamble::FactCells});
        const int lines = t.preamble == Preamble::Title ? 1 : 1 + d.below(4);
        // Two cells above rows of two cells are rows as well.
        if (isBlanks(t.separator) || t.separator == kRuledPipes || count < 3)
            if (t.preamble == Preamble::FactCells) t.preamble = Preamble::Facts;
        t.wideFacts = d.chance(0.7);
        const bool facts = t.preamble == Preamble::Facts || t.preamble == Preamble::CommentedFacts ||
                           t.preamble == Preamble::FactCells;
        const bool comments =
            t.preamble == Preamble::CommentedFacts || t.preamble == Preamble::CommentedProse;
        std::set<std::string> said; // nobody writes the same twice
        while (static_cast<int>(said.size()) < lines) {
            const std::string words = d.of(facts ? kFacts : kProse);
            if (said.insert(words).second) t.preambleLines.push_back((comments ? "# " : "") + words);
        }
        t.blankAfterPreamble = d.chance(0.4);
    }
    makeFair(t, d);
    punchHoles(t, d);
    return t;
}

namespace {

std::string whyWrong(const MadeTable& made, const io::ReadResult& read) {
    if (read.tables.size() != 1) return fmt::format("{} tables", read.tables.size());
    const Table& t = read.tables[0].table;
    if (t.rowCount() != made.rows) return fmt::format("{} rows, not {}", t.rowCount(), made.rows);
    if (t.columns.size() != made.columns.size())
        return fmt::format("{} columns, not {}", t.columns.size(), made.columns.size());
    for (std::size_t c = 0; c < t.columns.size(); ++c) {
        const Column& got = t.columns[c];
        const MadeColumn& want = made.columns[c];
        if (got.name != want.name) return fmt::format("name “{}”, not “{}”", got.name, want.name);
        if (got.unit != want.unit)
            return fmt::format("unit “{}” of {}, not “{}”", got.unit, want.name, want.unit);
        const ColumnKind kinds[] = {ColumnKind::Number, ColumnKind::Text,      ColumnKind::DateTime,
                                    ColumnKind::Date,   ColumnKind::TimeOfDay, ColumnKind::Boolean};
        if (got.kind != kinds[static_cast<int>(want.kind)])
            return fmt::format("{} is {}", want.name, kindKey(got.kind));
        // Where the order of dates is open, either is right.
        for (std::size_t r = 0; r < made.rows && !isOpenOrder(want); ++r) {
            const bool same = got.isNumeric()
                                  ? (std::isnan(want.numbers[r]) ? std::isnan(got.numbers()[r])
                                                                 : got.numbers()[r] == want.numbers[r])
                                  : got.cells->texts[r] == want.cells[r];
            if (!same)
                return fmt::format("cell {} of {} is {}, not “{}”", r + 1, want.name, cellText(got, r),
                                   want.cells[r]);
        }
    }
    return {};
}

} // namespace

Judged judged(const MadeTable& made) {
    const auto read = io::read(made.bytes(), "made.txt", {});
    if (!read) return {Outcome::WrongWarned, read.error().text};
    const auto expected = made.warned();
    const bool openOrder = expected.contains("ambiguous-date-order");
    std::string said;
    bool openSaid = false;
    for (const Issue& issue : read->issues) {
        if (!expected.contains(issue.code)) said = issue.code;
        openSaid |= issue.code == "ambiguous-date-order";
    }
    const std::string why = whyWrong(made, *read);
    if (!why.empty()) return {said.empty() && !openSaid ? Outcome::WrongSilently : Outcome::WrongWarned, why};
    if (openOrder && !openSaid)
        return {Outcome::WrongSilently, "the order of dates is open, and nothing says so"};
    return said.empty() ? Judged{} : Judged{Outcome::RightButWarned, said};
}

namespace {

// Whether a person could tell what is meant: every column holds something.
bool isFair(const MadeTable& t) {
    return std::ranges::all_of(t.columns, [](const MadeColumn& c) {
        return std::ranges::any_of(c.cells, [](const std::string& s) { return !s.empty(); });
    });
}

} // namespace

MadeTable shrunk(MadeTable table, Outcome outcome) {
    using Change = std::function<bool(MadeTable&)>;
    auto dropRow = [](MadeTable& t, std::size_t row) {
        for (MadeColumn& c : t.columns) {
            c.cells.erase(c.cells.begin() + static_cast<std::ptrdiff_t>(row));
            c.numbers.erase(c.numbers.begin() + static_cast<std::ptrdiff_t>(row));
        }
        --t.rows;
    };
    bool smaller = true;
    while (smaller) {
        smaller = false;
        std::vector<Change> changes;
        if (table.rows > 2)
            changes.push_back([&](MadeTable& t) {
                for (std::size_t k = t.rows / 2; k > 0; --k) dropRow(t, t.rows - 1);
                return true;
            });
        for (std::size_t r = 0; r < table.rows && table.rows > 1; ++r)
            changes.push_back([&, r](MadeTable& t) { return dropRow(t, r), true; });
        for (std::size_t c = 0; c < table.columns.size() && table.columns.size() > 1; ++c)
            changes.push_back([c](MadeTable& t) {
                t.columns.erase(t.columns.begin() + static_cast<std::ptrdiff_t>(c));
                if (!t.named())
                    for (std::size_t k = 0; k < t.columns.size(); ++k)
                        t.columns[k].name = fmt::format("column {}", k + 1);
                return std::ranges::any_of(t.columns,
                                           [](const MadeColumn& m) { return m.kind != CellKind::Text; });
            });
        for (std::size_t k = 0; k < table.preambleLines.size(); ++k)
            changes.push_back([k](MadeTable& t) {
                t.preambleLines.erase(t.preambleLines.begin() + static_cast<std::ptrdiff_t>(k));
                return true;
            });
        auto plain = [&](auto member, auto value) {
            if (table.*member != value)
                changes.push_back([member, value](MadeTable& t) { return t.*member = value, true; });
        };
        plain(&MadeTable::quoting, Quoting::None);
        plain(&MadeTable::repeatEvery, std::size_t{0});
        plain(&MadeTable::commentBefore, std::size_t{0});
        plain(&MadeTable::footer, std::string());
        plain(&MadeTable::trailingSeparator, false);
        plain(&MadeTable::blankAfterPreamble, false);
        plain(&MadeTable::padded, false);
        plain(&MadeTable::ruleBelow, false);
        plain(&MadeTable::lastLineEnds, true);
        plain(&MadeTable::lineEnd, std::string("\n"));
        plain(&MadeTable::encoding, std::string("utf-8"));
        plain(&MadeTable::commentedHeadings, false);
        changes.push_back([](MadeTable& t) {
            if (t.units == UnitsIn::Nowhere) return false;
            t.units = UnitsIn::Nowhere;
            for (MadeColumn& c : t.columns) c.unit.clear();
            return true;
        });
        for (const Change& change : changes) {
            MadeTable trial = table;
            if (!change(trial) || !isFair(trial) || judged(trial).outcome != outcome) continue;
            table = std::move(trial);
            smaller = true;
            break;
        }
    }
    return table;
}

} // namespace jointer::test
