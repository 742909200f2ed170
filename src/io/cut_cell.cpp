// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/cut_cell.h"

#include "io/cell_text.h"
#include "io/headings.h"

#include <algorithm>
#include <span>

namespace jointer::io {

namespace {

constexpr std::size_t kLooked = 40;                         // cells above that tell the form
constexpr std::size_t kEnoughDates = 2, kEnoughNumbers = 5; // that must agree

// Figures and what stands between them: "2031-05-12 10:20" has five groups.
struct Shape {
    std::vector<std::size_t> figures; // in each group
    std::vector<std::string> between; // before each group but the first
    bool plain = true;                // begins and ends with figures, but for a sign
};

Shape shapeOf(std::string_view text) {
    Shape s;
    std::string gap;
    if (text.starts_with('-') || text.starts_with('+')) text.remove_prefix(1);
    bool inside = false;
    for (char c : text) {
        if (!isDigit(c)) {
            gap += c;
            inside = false;
            continue;
        }
        if (!inside) {
            if (s.figures.empty())
                s.plain = gap.empty();
            else
                s.between.push_back(gap);
            s.figures.push_back(0);
            gap.clear();
        }
        inside = true;
        ++s.figures.back();
    }
    s.plain = s.plain && gap.empty() && !s.figures.empty();
    return s;
}

// The last lines, the very last one first.
std::vector<std::string_view> lastLines(std::string_view body, std::size_t most) {
    std::vector<std::string_view> lines;
    while (!body.empty() && lines.size() < most) {
        const std::size_t end = body.find_last_of("\n\r");
        const std::size_t from = end == body.npos ? 0 : end + 1;
        lines.push_back(body.substr(from));
        body = end == body.npos ? std::string_view() : body.substr(0, end);
        if (body.ends_with('\r') && lines.back().empty()) lines.pop_back(); // of CRLF
    }
    return lines;
}

// Whether a cell begins like all the others and ends too early.
bool endsTooEarly(const std::string& cell, const std::vector<Shape>& others) {
    Shape s = shapeOf(cell);
    const Shape& like = others.front();
    const bool alike =
        std::ranges::all_of(others, [&](const Shape& o) { return o.plain && o.between == like.between; });
    if (!alike || s.figures.empty() || like.between.empty()) return false;
    if (s.figures.size() > like.figures.size() ||
        !std::ranges::equal(s.between, std::span(like.between).first(s.between.size())))
        return false;
    const std::size_t last = s.figures.size() - 1;
    const bool number = like.figures.size() == 2 && (like.between[0] == "." || like.between[0] == ",");
    if (number && !std::ranges::all_of(others, [&](const Shape& o) {
            return o.figures[1] == like.figures[1] && o.figures[1] > 1;
        }))
        return false; // decimals come as they need
    if (last + 1 < like.figures.size()) return true;
    return s.figures[last] < std::ranges::min(
                                 others, {}, [&](const Shape& o) { return o.figures[last]; })
                                 .figures[last];
}

} // namespace

std::optional<CutCell> cutCell(std::string_view body, const Dialect& d) {
    const auto lines = lastLines(body, kLooked + 1);
    if (lines.size() < kEnoughDates + 1 || lines[0].contains('"')) return std::nullopt;
    const auto cells = fieldsOfLine(lines[0], d);
    if (cells.empty() || cells.size() > d.columns || cells.back().empty()) return std::nullopt;
    std::vector<Shape> others;
    for (std::string_view line : std::span(lines).subspan(1)) {
        const auto above = fieldsOfLine(line, d);
        if (above.size() < cells.size() || above[cells.size() - 1].empty()) continue;
        Shape s = shapeOf(above[cells.size() - 1]);
        if (!s.plain) break; // headings, words
        others.push_back(std::move(s));
    }
    if (others.empty()) return std::nullopt;
    const bool date = others.front().figures.size() > 2 ||
                      (!others.front().between.empty() && others.front().between[0] == ":");
    if (others.size() < (date ? kEnoughDates : kEnoughNumbers) || !endsTooEarly(cells.back(), others))
        return std::nullopt;
    return CutCell{.column = cells.size() - 1, .text = cells.back()};
}

} // namespace jointer::io
