// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/fixed_width.h"

#include "base/text.h"
#include "io/cell_text.h"

#include <algorithm>

namespace jointer::io {

namespace {

bool isStartOfLetter(char c) {
    return (c & 0xC0) != 0x80;
}

// The length in code points without blanks at the end.
std::size_t lengthOf(std::string_view line) {
    while (!line.empty() && (line.back() == ' ' || line.back() == '\t')) line.remove_suffix(1);
    return static_cast<std::size_t>(std::ranges::count_if(line, isStartOfLetter));
}

// One character for each code point, so that places can be compared.
std::string flat(std::string_view line) {
    std::string out;
    for (char c : line)
        if (isStartOfLetter(c)) out += static_cast<unsigned char>(c) < 0x80 ? c : 'x';
    return out;
}

// Within [from, to) numbers that touch are told apart by their decimal marks: each has as many decimals as
// the last one.
void cutByMarks(const std::vector<std::string>& lines, std::size_t from, std::size_t to, char decimal,
                std::vector<std::size_t>& borders) {
    std::vector<std::size_t> marks;
    for (std::size_t at = from; at < to; ++at) {
        const bool all = std::ranges::all_of(lines, [&](const std::string& l) {
            return at >= l.size() || l[at] == decimal || l.size() <= from;
        });
        const bool any = std::ranges::any_of(
            lines, [&](const std::string& l) { return at < l.size() && l[at] == decimal; });
        if (all && any) marks.push_back(at);
    }
    if (marks.size() < 2) return;
    const std::size_t decimals = to - marks.back() - 1;
    for (std::size_t k = 0; k + 1 < marks.size(); ++k) {
        std::size_t end = marks[k] + 1;
        auto digitsEverywhere = [&](std::size_t at) {
            return std::ranges::all_of(
                lines, [&](const std::string& l) { return at >= l.size() || isDigit(l[at]); });
        };
        while (end < marks[k + 1] && digitsEverywhere(end) && end - marks[k] - 1 < decimals) ++end;
        borders.push_back(end);
    }
}

// Whether something in [from, to) begins with neither a figure nor a sign.
bool holdsWords(const std::vector<std::string>& lines, std::size_t from, std::size_t to) {
    return std::ranges::any_of(lines, [&](const std::string& l) {
        std::size_t at = from;
        while (at < std::min(to, l.size()) && l[at] == ' ') ++at;
        return at < std::min(to, l.size()) && !isDigit(l[at]) && l[at] != '-' && l[at] != '+' && l[at] != '.';
    });
}

} // namespace

std::vector<std::size_t> guessBorders(const std::vector<std::string_view>& given, char decimal) {
    std::vector<std::string> lines;
    std::size_t width = 0;
    for (std::string_view line : given) {
        if (line.find('\t') != std::string_view::npos) return {};
        lines.push_back(flat(line.substr(0, 4000)));
        width = std::max(width, lengthOf(line.substr(0, 4000)));
    }
    if (lines.size() < 2 || width < 3) return {};
    std::vector<bool> blank(width, true);
    for (const std::string& line : lines)
        for (std::size_t at = 0; at < std::min(width, line.size()); ++at)
            if (line[at] != ' ') blank[at] = false;
    std::vector<std::size_t> borders;
    for (std::size_t at = 0; at < width;) {
        while (at < width && blank[at]) ++at;
        if (at == width) break;
        const std::size_t from = at;
        while (at < width && !blank[at]) ++at;
        // Words one blank apart are one cell.
        const bool joined = !borders.empty() && from == borders.back() + 1 && lines.size() > 1 &&
                            holdsWords({lines.begin() + 1, lines.end()}, from, at);
        if (joined) borders.pop_back();
        cutByMarks(lines, from, at, decimal, borders);
        borders.push_back(at);
    }
    return borders;
}

std::vector<std::size_t> bordersFromWidths(std::string_view widths) {
    std::vector<std::size_t> borders;
    std::size_t at = 0;
    for (std::string_view part : split(widths, ',')) {
        const auto n = parseNumber(part);
        if (!n || *n < 1 || *n > 10000) return {};
        borders.push_back(at += static_cast<std::size_t>(*n));
    }
    return borders;
}

std::vector<std::string_view> cutAt(std::string_view line, const std::vector<std::size_t>& borders) {
    std::vector<std::string_view> cells;
    std::size_t byte = 0, point = 0;
    for (std::size_t k = 0; k < borders.size(); ++k) {
        const std::size_t from = byte;
        const bool last = k + 1 == borders.size();
        while (byte < line.size() && (last || point < borders[k])) {
            ++byte;
            while (byte < line.size() && !isStartOfLetter(line[byte])) ++byte;
            ++point;
        }
        cells.push_back(line.substr(from, byte - from));
    }
    return cells;
}

bool cutsWords(std::string_view line, const std::vector<std::size_t>& borders) {
    for (std::size_t border : borders) {
        const auto cells = cutAt(line, {border, border + 1});
        if (cells[0].empty() || cells[1].empty() || border == borders.back()) continue;
        if (cells[0].back() != ' ' && cells[1].front() != ' ') return true;
    }
    return false;
}

} // namespace jointer::io
