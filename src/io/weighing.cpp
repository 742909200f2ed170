// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/weighing.h"

#include "base/text.h"
#include "io/cell_text.h"
#include "io/fixed_width.h"
#include "io/headings.h"
#include "io/number_text.h"

#include <algorithm>

namespace jointer::io {

namespace {

using Lines = std::vector<std::string_view>;

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

} // namespace

void Candidates::add(Reading r) {
    if (r.bits < best_.bits) std::swap(best_, r);
    if (r.bits < Reading::kNever) others_.push_back(std::move(r));
}

std::optional<Reading> Candidates::near(const Lines& lines, double margin) const {
    const Reading* found = nullptr;
    for (const Reading& r : others_)
        if (r.bits < best_.bits + margin && (!found || r.bits < found->bits) && givesOtherCells(lines, r))
            found = &r;
    return found ? std::optional(*found) : std::nullopt;
}

bool Candidates::givesOtherCells(const Lines& lines, const Reading& r) const {
    const bool sameCut = r.form == best_.form && r.separator == best_.separator && r.borders == best_.borders;
    if (best_.firstIndex >= lines.size()) return false; // no rows
    if (!sameCut) return r.columns != best_.columns;
    const Dialect d{.form = r.form, .separator = r.separator, .columns = r.columns, .borders = r.borders};
    for (std::size_t i = best_.firstIndex; i < lines.size(); ++i)
        for (const std::string& f : fieldsOfLine(lines[i], d))
            if (numberOf(f, '.') != numberOf(f, ',')) return true;
    return false;
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

} // namespace jointer::io
