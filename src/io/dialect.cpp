// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/dialect.h"

#include "base/text.h"
#include "io/assess.h"
#include "io/cell_text.h"
#include "io/declared_columns.h"
#include "io/fixed_width.h"
#include "io/headings.h"
#include "io/key_value.h"
#include "io/moment_text.h"
#include "io/number_text.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace jointer::io {

namespace {

constexpr std::size_t kLooked = 400; // lines that the guess is made from
const double kNear = std::getenv("KNEAR")
                         ? atof(getenv("KNEAR"))
                         : 6; // bits by which another reading may explain the lines less well

using Lines = std::vector<std::string_view>;

// "%  °C  s": a line of units, not a comment.
bool isUnitsOnly(std::string_view line) {
    for (const char separator : {',', ';', '\t', kBlanks}) {
        const auto fields = fieldTexts(line, separator);
        if (std::ranges::all_of(fields,
                                [](const std::string& f) { return f.empty() || f == "-" || isUnitText(f); }))
            return true;
    }
    return false;
}

// The prefix that starts some lines, but not most of them (those would be names such as "#12"). Without any,
// "#" still marks the comments that an instrument may write further down.
std::string guessComment(const Lines& lines) {
    const auto used = std::ranges::count_if(lines, [](std::string_view l) { return !isBlankLine(l); });
    for (std::string_view prefix : {"#", "%", "//", "!", "*", "'", ";"}) {
        const bool rare = prefix == "*" || prefix == "'" || prefix == ";";
        const auto marked = std::ranges::count_if(lines, [&](std::string_view l) {
            if (!isComment(l, prefix)) return false;
            const std::string_view rest = trimmed(trimmed(l).substr(prefix.size()));
            if (prefix == "%" && isUnitsOnly(l)) return false;
            return !rare ||
                   (rest.size() > 2 && rest.find_first_of(prefix) == rest.npos && rest.front() != ';');
        });
        // "!" and its kin are comments only above the data or between whole words.
        if (rare && marked > 0 && !(lines.size() > 1 && isComment(lines[0], prefix))) continue;
        const bool opens = !lines.empty() && isComment(lines[0], prefix) && marked < used;
        if (marked > 0 && (10 * marked <= 7 * used || opens)) return std::string(prefix);
        if (marked > 0) return {};
    }
    return "#";
}

// "sep=;" as the first line.
char declaredSeparator(const Lines& lines) {
    if (lines.empty()) return 0;
    std::string_view t = trimmed(lines[0]);
    if (t.size() >= 2 && t.front() == '"' && t.back() == '"') t = t.substr(1, t.size() - 2);
    const std::string lower = lowerAscii(t.substr(0, 4));
    if (lower != "sep=") return 0;
    if (lines[0].ends_with('\t')) return '\t';
    return t.size() == 5 ? t[4] : t.size() == 4 ? '\t' : '\0';
}

// Lines between bars, with bars around them too.
bool looksPiped(const Lines& lines) {
    std::size_t used = 0, piped = 0;
    for (std::string_view line : lines) {
        const std::string_view t = trimmed(line);
        if (t.empty() || isRuleLine(t)) continue;
        ++used;
        piped += t.size() > 2 && t.front() == '|' && t.back() == '|';
    }
    return piped > 1 && 10 * piped >= 6 * used;
}

bool anyPiped(const Lines& lines) {
    return std::ranges::any_of(lines, [](std::string_view line) {
        const std::string_view t = trimmed(line);
        return t.size() > 2 && t.front() == '|' && t.back() == '|' && !isRuleLine(t);
    });
}

// Decimal commas in a file with commas between fields can only be where quotes tell them apart, and where
// not all of them could divide groups of three digits.
bool quotesTellCommasApart(const Lines& lines) {
    std::size_t decimal = 0, grouping = 0;
    for (std::string_view line : lines) {
        for (std::size_t at = 0; (at = line.find('"', at)) != std::string_view::npos;) {
            const std::size_t end = line.find('"', at + 1);
            if (end == std::string_view::npos) break;
            const std::string_view inside = line.substr(at + 1, end - at - 1);
            at = end + 1;
            const std::size_t comma = inside.find(',');
            if (comma == inside.npos || !numberOf(inside, ',')) continue;
            const bool group =
                inside.size() - comma - 1 == 3 && comma <= 3 + (inside[0] == '-') && inside[0] != '0';
            ++(group ? grouping : decimal);
        }
    }
    return decimal > 0 && decimal >= grouping;
}

// The lines that fixed columns are looked for in: those with figures from the first such one on.
Lines bodyOf(const Lines& lines, const std::string& comment) {
    Lines body;
    for (std::string_view line : lines)
        if (!isBlankLine(line) && !isRuleLine(line) && !isComment(line, comment)) body.push_back(line);
    return body;
}

Reading bestFixed(const Lines& lines, char decimal, const std::string& comment) {
    Lines body = bodyOf(lines, comment);
    Reading best;
    // Lines above the data may be prose: the borders must hold from some line on.
    for (std::size_t skip = 0; skip < std::min<std::size_t>(body.size(), 30); ++skip) {
        const Lines rest(body.begin() + static_cast<std::ptrdiff_t>(skip), body.end());
        Reading r{.form = Form::Fixed,
                  .separator = kUnitSeparator,
                  .decimal = decimal,
                  .borders = guessBorders(rest, decimal)};
        if (r.borders.size() < 2) continue;
        r = assessed(lines, std::move(r), comment);
        r.columns = r.borders.size();
        if (r.bits < best.bits - 2) best = std::move(r);
    }
    return best;
}

// What was weighed, and what explains the lines best.
class Candidates {
public:
    void add(Reading r) {
        if (r.bits < best_.bits) std::swap(best_, r);
        if (r.bits < Reading::kNever) others_.push_back(std::move(r));
    }
    const Reading& best() const { return best_; }
    void fallBack(char separator, char decimal) { best_ = {.separator = separator, .decimal = decimal}; }
    // The next one that gives other cells of the lines; nothing where none is near.
    std::optional<Reading> near(const Lines& lines, double margin) const {
        const Reading* found = nullptr;
        for (const Reading& r : others_)
            if (r.bits < best_.bits + margin && (!found || r.bits < found->bits) && givesOtherCells(lines, r))
                found = &r;
        return found ? std::optional(*found) : std::nullopt;
    }

private:
    bool givesOtherCells(const Lines& lines, const Reading& r) const {
        const bool sameCut =
            r.form == best_.form && r.separator == best_.separator && r.borders == best_.borders;
        if (best_.firstIndex >= lines.size()) return false; // no rows
        if (!sameCut) return r.columns != best_.columns;
        const Dialect d{.form = r.form, .separator = r.separator, .columns = r.columns, .borders = r.borders};
        for (std::size_t i = best_.firstIndex; i < lines.size(); ++i)
            for (const std::string& f : fieldsOfLine(lines[i], d))
                if (numberOf(f, '.') != numberOf(f, ',')) return true;
        return false;
    }
    Reading best_;
    std::vector<Reading> others_;
};

// Columns at fixed places, where that was told; without any where none are found.
Reading toldFixed(const Lines& lines, const std::vector<char>& decimals, const std::string& widths,
                  const std::string& comment) {
    Reading fixed{.form = Form::Fixed, .separator = kUnitSeparator, .borders = bordersFromWidths(widths)};
    Reading best;
    for (char decimal : decimals) {
        fixed.decimal = decimal;
        Reading r =
            fixed.borders.empty() ? bestFixed(lines, decimal, comment) : assessed(lines, fixed, comment);
        r.columns = std::max<std::size_t>(1, r.borders.size());
        if (r.bits < best.bits) best = std::move(r);
    }
    return best;
}

Candidates weighed(const Lines& lines, const Settings& told, const std::string& comment) {
    const std::string toldSeparator = told.text("separator"), widths = told.text("widths");
    std::vector<char> separators = {',', '\t', ';', '|', kBlanks, kWideBlanks}, decimals = {'.', ','};
    if (const char declared = declaredSeparator(lines)) separators = {declared};
    if (!toldSeparator.empty() && toldSeparator != "fixed") separators = {separatorFromText(toldSeparator)};
    if (told.has("decimal")) decimals = {told.text("decimal", ".")[0]};
    Candidates all;
    if (!widths.empty() || toldSeparator == "fixed")
        if (Reading fixed = toldFixed(lines, decimals, widths, comment); !fixed.borders.empty()) {
            all.add(std::move(fixed));
            return all;
        }
    const bool piped = toldSeparator.empty() && looksPiped(lines);
    if (piped) separators = {'|'};
    auto weigh = [&](Form form, char separator, char decimal) {
        all.add(assessed(lines, {.form = form, .separator = separator, .decimal = decimal}, comment));
    };
    for (char separator : separators)
        for (char decimal : decimals) {
            if (separator == ',' && decimal == ',' && !told.has("decimal") && !quotesTellCommasApart(lines))
                continue;
            weigh(piped                      ? Form::Piped
                  : separator == kWideBlanks ? Form::Wide
                                             : Form::Separated,
                  separator, decimal);
        }
    if (!piped && toldSeparator.empty() && anyPiped(lines)) // with much prose around
        for (char decimal : decimals) weigh(Form::Piped, '|', decimal);
    const Reading& best = all.best();
    const bool byBlanks = best.separator == kBlanks || best.form == Form::Wide || best.columns == 1;
    const auto quoted =
        std::ranges::count_if(lines, [](std::string_view l) { return l.find('"') != l.npos; });
    if (byBlanks && toldSeparator.empty() && 2 * quoted < std::ssize(lines))
        all.add(bestFixed(lines, best.decimal, comment));
    if (best.bits == Reading::kNever) all.fallBack(separators[0], decimals[0]);
    return all;
}

// A reading in words, and what leads to it.
Alternative alternative(const Reading& r) {
    Alternative other;
    const std::string columns = counted(static_cast<long long>(r.columns), "column");
    std::string separator = std::string(1, r.separator), said = "“" + separator + "”";
    if (r.separator == '\t') separator = "tab", said = "tabs";
    if (r.separator == kBlanks) separator = "space", said = "blanks";
    if (r.form == Form::Fixed) separator = "fixed", said = "fixed places";
    if (r.form == Form::Wide) separator = "space", said = "blanks";
    other.words = r.columns == 1 ? "one column" : columns + " by " + said;
    other.words += r.decimal == ',' ? ", decimal comma" : ", decimal point";
    other.told.set("separator", Value(separator));
    other.told.set("decimal", Value(std::string(1, r.decimal)));
    return other;
}

bool isOpenGroup(std::string_view field) {
    const std::size_t comma = field.find(',');
    if (comma == field.npos || field.find(',', comma + 1) != field.npos) return false;
    const std::string_view whole = field.substr(field[0] == '-' ? 1 : 0, comma - (field[0] == '-' ? 1 : 0));
    return field.size() - comma - 1 == 3 && !whole.empty() && whole.size() <= 3 && whole[0] != '0' &&
           numberOf(field, ',');
}

// Whether every number with a comma could as well be grouped digits.
bool isDecimalOpen(const Lines& lines, const Dialect& d) {
    if (d.decimal != ',') return false;
    std::size_t open = 0;
    for (std::size_t i = static_cast<std::size_t>(d.first) - 1; i < lines.size(); ++i)
        for (const std::string& f : fieldsOfLine(lines[i], d)) {
            if (f.find(',') == std::string::npos || !numberOf(f, ',')) continue;
            if (!isOpenGroup(f)) return false;
            ++open;
        }
    return open > 0;
}

// Whether two columns of whole numbers without headings could as well be one with decimal commas.
bool isCommaOpen(const Lines& lines, const Dialect& d) {
    if (d.separator != ',' || d.columns != 2 || d.heading > 0 || d.form != Form::Separated) return false;
    std::size_t rows = 0;
    for (std::size_t i = static_cast<std::size_t>(d.first) - 1; i < lines.size(); ++i) {
        if (isBlankLine(lines[i]) || isComment(lines[i], d.comment)) continue;
        const std::string_view line = trimmed(lines[i]);
        const bool one = numberOf(line, ',') && line.find_first_of(". ") == line.npos;
        if (!one) return false;
        ++rows;
    }
    return rows > 0;
}

// Each line is a variable: a word and many numbers, more of them than there are lines, and no heading.
bool looksAlongLines(const Lines& lines, const DialectGuess& g) {
    const Dialect& d = g.dialect;
    if (lines.size() >= kLooked || d.columns < 4 || d.form == Form::Fixed || d.form == Form::Piped)
        return false;
    std::set<std::string> labels;
    std::size_t rows = 0, values = 0, cells = 0;
    for (std::string_view line : lines) {
        if (isBlankLine(line) || isComment(line, d.comment)) continue;
        const auto fields = fieldsOfLine(line, d);
        if (fields.size() < 3) {
            if (rows > 0) return false;
            continue; // preamble
        }
        if (fields[0].empty() || valueWeight(fields[0], d.decimal) > 0 || !labels.insert(fields[0]).second)
            return false;
        for (std::size_t c = 1; c < fields.size(); ++c)
            values += valueWeight(fields[c], d.decimal) > 0 || isMissing(fields[c], {});
        cells += fields.size() - 1;
        ++rows;
    }
    const bool named =
        std::ranges::any_of(labels, [](const std::string& l) { return !nameAndUnit(l).second.empty(); });
    const std::size_t wanted = named ? 6 : 8, times = named ? 2 : 3; // a label with a unit is plainly a name
    return rows >= 2 && rows <= 30 && d.columns >= wanted && times * rows < d.columns &&
           10 * values >= 9 * cells;
}

void classify(const Lines& lines, DialectGuess& g) {
    Dialect& d = g.dialect;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const long line = static_cast<long>(i) + 1;
        LineKind kind = line < d.first ? LineKind::Preamble : LineKind::Data;
        if (line == d.heading)
            kind = LineKind::Heading;
        else if (line == d.units)
            kind = LineKind::Units;
        else if (isBlankLine(lines[i]))
            kind = LineKind::Blank;
        else if (isComment(lines[i], d.comment) || line == d.remarks || isRuleLine(lines[i]))
            kind = LineKind::Comment;
        const bool declares = i == 0 && declaredSeparator(lines) != 0;
        const bool declared = line >= g.declaredFrom && line <= g.declaredTo;
        const bool above =
            line < d.first && line != d.remarks && !declares && !declared && !isRuleLine(lines[i]);
        if ((kind == LineKind::Preamble || kind == LineKind::Comment) && above) {
            const std::string_view text = withoutComment(lines[i], d.comment);
            if (const auto name = sectionName(text); !name.empty())
                g.section = name;
            else
                takeMetadata(text, d.separator, g.metadata);
            takeMissingMarkers(text, d.missing);
        }
        g.lineKinds.push_back(kind);
    }
}

} // namespace

char separatorFromText(const std::string& text) {
    if (text == "tab" || text == "\\t" || text == "\t") return '\t';
    if (text == "space" || text == "whitespace" || text == " ") return kBlanks;
    return text.empty() ? ',' : text[0];
}

DialectGuess guessDialect(std::string_view text, const Settings& told) {
    const auto lines = wholeLines(firstLines(text, kLooked));
    DialectGuess g;
    Dialect& d = g.dialect;
    d.comment = told.has("comment") ? told.text("comment") : guessComment(lines);
    const std::string markers = told.text("missing"); // outlives the pieces
    for (std::string_view marker : split(markers, ','))
        if (!trimmed(marker).empty()) d.missing.emplace_back(trimmed(marker));
    if (told.flag("key-value") || (!told.has("separator") && looksLikeKeyValues(lines, d.comment))) {
        d.form = Form::KeyValue;
        d.separator = kUnitSeparator;
        d.decimal = told.text("decimal", ".")[0];
        g.names = keysOf(text, d.comment);
        d.columns = std::max<std::size_t>(1, g.names.size());
        g.names.resize(d.columns);
        g.unitTexts.resize(d.columns);
        g.remarkTexts.resize(d.columns);
        for (std::string_view line : lines)
            g.lineKinds.push_back(isBlankLine(line)            ? LineKind::Blank
                                  : isComment(line, d.comment) ? LineKind::Comment
                                                               : LineKind::Data);
        return g;
    }
    Lines looked = lines;
    for (std::size_t i : describingLines(lines, d.comment)) looked[i] = {};
    const Candidates all = weighed(looked, told, d.comment);
    const Reading& r = all.best();
    if (const auto near = all.near(looked, kNear)) g.near = alternative(*near);
    d.form = r.form;
    d.separator = r.separator;
    d.decimal = r.decimal;
    d.borders = r.borders;
    d.columns = std::max<std::size_t>(r.columns, 1);
    d.first = static_cast<long>(r.firstIndex) + 1;
    if (told.has("first")) {
        d.first = std::max(1L, static_cast<long>(told.number("first", 1)));
        const std::size_t index = static_cast<std::size_t>(d.first) - 1;
        if (index < lines.size()) d.columns = std::max<std::size_t>(1, fieldsOfLine(lines[index], d).size());
    }
    g.names.resize(d.columns);
    g.unitTexts.resize(d.columns);
    g.remarkTexts.resize(d.columns);
    if (!told.has("heading") && !told.has("first") && !told.has("units")) {
        auto lineOf = [](std::size_t index) {
            return index == Reading::kNone ? 0L : static_cast<long>(index) + 1;
        };
        d.heading = lineOf(r.headingIndex);
        d.units = lineOf(r.unitsIndex);
        d.remarks = lineOf(r.remarksIndex);
        takeHeadings(lines, g, told);
    } else
        findHeadings(lines, g, told);
    if (!told.has("heading") && !told.has("first")) takeDeclared(lines, g);
    // Headings told to stand at or below the guessed data push the data down.
    d.first = std::max({d.first, d.heading + 1, d.units + 1});
    g.decimalIsOpen = !told.has("decimal") && isDecimalOpen(lines, d);
    g.commaIsOpen =
        g.declaredFrom == 0 && !told.has("separator") && !told.has("decimal") && isCommaOpen(lines, d);
    classify(lines, g);
    const bool free = !told.has("heading") && !told.has("first") && !told.has("transpose");
    if (told.flag("transpose") || (free && d.heading == 0 && looksAlongLines(lines, g)))
        d.form = Form::AlongLines;
    return g;
}

} // namespace jointer::io
