// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/dialect.h"

#include "base/text.h"
#include "io/cell_text.h"
#include "io/declared_columns.h"
#include "io/doubts.h"
#include "io/headings.h"
#include "io/key_value.h"
#include "io/moment_text.h"
#include "io/told_settings.h"
#include "io/weighing.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace jointer::io {

namespace {

constexpr std::size_t kLooked = 400; // lines that the guess is made from
constexpr double kNear = 6;          // bits by which another reading may explain the lines less well

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
        if (line == d.heading || (line == g.groups && line > 0))
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

DialectGuess keyValueGuess(std::string_view text, const Lines& lines, const Settings& told, DialectGuess g) {
    Dialect& d = g.dialect;
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

// The cut of the lines into cells that was found best, and where the data begin, unless that was told.
void takeCut(const Reading& r, const Lines& lines, const Settings& told, Dialect& d) {
    d.form = r.form;
    d.separator = r.separator;
    d.decimal = r.decimal;
    d.borders = r.borders;
    d.columns = std::max<std::size_t>(r.columns, 1);
    d.first = static_cast<long>(r.firstIndex) + 1;
    if (!told.has("first")) return;
    d.first = std::max(1L, static_cast<long>(told.number("first", 1)));
    const std::size_t index = static_cast<std::size_t>(d.first) - 1;
    if (index < lines.size()) d.columns = std::max<std::size_t>(1, fieldsOfLine(lines[index], d).size());
}

void takeNames(const Reading& r, const Lines& lines, const Settings& told, DialectGuess& g) {
    Dialect& d = g.dialect;
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
    d.missing = missingTold(told);
    if (told.flag("key-value") || (!told.has("separator") && looksLikeKeyValues(lines, d.comment)))
        return keyValueGuess(text, lines, told, std::move(g));
    Lines looked = lines;
    for (std::size_t i : describingLines(lines, d.comment)) looked[i] = {};
    const Candidates all = weighed(looked, told, d.comment);
    if (const auto near = all.near(looked, kNear)) g.near = alternative(*near);
    takeCut(all.best(), lines, told, d);
    takeNames(all.best(), lines, told, g);
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
