// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/odd_cells.h"

#include "base/text.h"
#include "io/cell_text.h"
#include "io/number_text.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <limits>

namespace jointer::io {

namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();

std::string_view withoutQuotes(std::string_view t) {
    return t.size() >= 2 && t.front() == '"' && t.back() == '"' ? t.substr(1, t.size() - 2) : t;
}

bool isPartOfTime(std::string_view name) {
    static constexpr std::array<std::string_view, 14> parts = {
        "hour", "hours", "hh",    "h",    "minute", "minutes", "mm",
        "min",  "day",   "month", "year", "second", "seconds", "ss"};
    return std::ranges::find(parts, lowerAscii(name)) != parts.end();
}

} // namespace

void OddCells::settle() {
    for (const Chunk& c : parser_->chunks())
        for (const Odd& odd : c.odd) settle(odd);
}

bool OddCells::isReallyText(std::size_t column, std::string_view name) const {
    const Cells& cells = parser_->cells()[column];
    if (cells.numbers.empty()) return false;
    const auto numbers = static_cast<std::size_t>(
        std::ranges::count_if(cells.numbers, [](double v) { return !std::isnan(v); }));
    const bool whole =
        std::ranges::all_of(cells.numbers, [](double v) { return std::isnan(v) || v == std::floor(v); });
    if (of_[column].leadingZeros > 0 && whole && !isPartOfTime(name)) return true;
    return of_[column].words > 0 && 2 * of_[column].words > numbers;
}

void OddCells::report(const std::vector<std::string>& names, std::vector<Issue>& issues) const {
    for (std::size_t c = 0; c < d_->columns; ++c) {
        if (parser_->cells()[c].numbers.empty()) continue;
        const Count& n = of_[c];
        auto others = [](std::size_t count) {
            return count == 1 ? std::string()
                              : fmt::format(" The same holds for {} in this column.",
                                            counted(static_cast<long long>(count) - 1, "further cell"));
        };
        if (n.words > 0)
            issues.push_back({"unparsed-cells",
                              fmt::format("“{}” is not a number. Taken as missing.{}",
                                          withoutQuotes(n.firstWord.text), others(n.words)),
                              {.line = parser_->lineOf(n.firstWord.row), .column = names[c]}});
        if (n.rounded > 0)
            issues.push_back(
                {"precision-loss",
                 fmt::format("“{}” has more digits than a number can hold here and is rounded.{}",
                             withoutQuotes(n.firstRounded.text), others(n.rounded)),
                 {.line = parser_->lineOf(n.firstRounded.row), .column = names[c]}});
    }
}

void OddCells::settle(const Odd& odd) {
    Cells& cells = parser_->cells()[odd.column];
    Count& count = of_[odd.column];
    const std::string_view text = withoutQuotes(odd.text);
    if (isMissing(text, d_->missing)) return void(cells.numbers[odd.row] = kNaN);
    if (const auto number = readRichNumber(text, d_->decimal); number && number->suffix.empty()) {
        cells.numbers[odd.row] = number->value;
        if (number->rounded && count.rounded++ == 0) count.firstRounded = odd;
        count.leadingZeros += hasLeadingZero(text);
        return;
    }
    if (cells.states.empty()) {
        cells.states.resize(parser_->rows());
        for (std::size_t i = 0; i < parser_->rows(); ++i)
            cells.states[i] = std::isnan(cells.numbers[i]) ? CellState::Missing : CellState::Fine;
    }
    const auto limit = limitOf(text, d_->decimal);
    cells.states[odd.row] = limit ? limit->side : CellState::Unreadable;
    cells.originals[static_cast<std::uint32_t>(odd.row)] = std::string(text);
    if (!limit && count.words++ == 0) count.firstWord = odd;
}

void reportRagged(const DelimitedParser& parser, const Dialect& d, bool cutLine, std::vector<Issue>& issues) {
    std::size_t ragged = 0, joined = 0;
    long line = 0, joinedLine = 0;
    for (const Chunk& c : parser.chunks()) {
        if (ragged == 0 && c.ragged > 0) line = c.raggedLine;
        if (joined == 0 && c.joined > 0) joinedLine = c.joinedLine;
        ragged += c.ragged;
        joined += c.joined;
    }
    if (joined > 0)
        issues.push_back(
            {"ragged-rows",
             fmt::format(
                 "{} more cells than the {} of the table, first here. They are joined in the last column.",
                 joined == 1 ? "1 line has" : fmt::format("{} lines have", joined), d.columns),
             {.line = joinedLine}});
    if (ragged == 0) return;
    const bool onlyLast =
        ragged == 1 && parser.rows() > 1 && line == parser.lineOf(parser.rows() - 1) && cutLine;
    if (onlyLast)
        issues.push_back({"truncated-last-line",
                          "The last line is cut short: its missing cells are empty.",
                          {.line = line}});
    else
        issues.push_back(
            {"ragged-rows",
             fmt::format("{} another number of cells than the {} of the table, first here. Missing cells are "
                         "empty, further ones left out.",
                         ragged == 1 ? "1 line has" : fmt::format("{} lines have", ragged), d.columns),
             {.line = line}});
}

} // namespace jointer::io
