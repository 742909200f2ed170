// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/page/set_table.h"

#include "figure/kinds.h"

#include <algorithm>

namespace jointer::figure {

using namespace draw;

namespace {

constexpr double kGap = 1.3; // between columns, in sizes of the text
constexpr double kHeavy = 0.08,
                 kLight = 0.05; // lines at the ends and below the headings, in sizes of the text

struct Cell {
    std::string before, after; // of the decimal point, the point with what follows
};

Cell cellOf(const std::string& text) {
    const std::size_t point = std::min(text.find('.'), text.size());
    // Without a point all digits stand before it, what is no number (an error, a unit) after.
    std::size_t end = point;
    if (point == text.size()) {
        end = 0;
        while (end < text.size() &&
               (std::isdigit(static_cast<unsigned char>(text[end])) || text.substr(end).starts_with("−") ||
                (static_cast<unsigned char>(text[end]) & 0xC0) == 0x80))
            ++end;
    }
    return {text.substr(0, end), text.substr(end)};
}

} // namespace

SetTable::SetTable(std::vector<TableColumn> columns, const TextStyle& style, bool hasHeads)
    : columns_(std::move(columns)), style_(style), rowHeight_(tableRowMm(style.sizePt)), hasHeads_(hasHeads) {
    const double gap = kGap * style.sizePt * kMmPerPt;
    const auto widthOf = [&](const std::string& words) { return setText(words, style_).widthMm; };
    for (const TableColumn& c : columns_) {
        rows_ = std::max(rows_, c.cells.size());
        double before = 0, after = 0;
        for (const std::string& text : c.cells) {
            const Cell cell = c.words ? Cell{text, {}} : cellOf(text);
            before = std::max(before, widthOf(cell.before));
            after = std::max(after, widthOf(cell.after));
        }
        Laid laid{.left = laid_.empty() ? 0 : width_ + gap,
                  .width = std::max(hasHeads ? widthOf(c.head) : 0, before + after)};
        laid.point = laid.left + (laid.width - before - after) / 2 + before;
        width_ = laid.left + laid.width;
        laid_.push_back(laid);
    }
}

void SetTable::draw(Point at, bool rules, std::vector<Item>& into) const {
    const auto put = [&](const std::string& words, double x, double row, HAlign h) {
        for (Item& part :
             placed(setText(words, style_), {at.x + x, at.y + rowHeight_ * (row + 0.5)}, h, VAlign::Middle))
            into.push_back(std::move(part));
    };
    const double first = hasHeads_ ? 1 : 0;
    for (std::size_t c = 0; c < columns_.size(); ++c) {
        const Laid& laid = laid_[c];
        const TableColumn& column = columns_[c];
        if (hasHeads_ && !column.head.empty()) {
            if (column.words)
                put(column.head, laid.left, 0, HAlign::Left);
            else
                put(column.head, laid.left + laid.width / 2, 0, HAlign::Centre);
        }
        for (std::size_t r = 0; r < column.cells.size(); ++r) {
            const double row = static_cast<double>(r) + first;
            if (column.words) {
                put(column.cells[r], laid.left, row, HAlign::Left);
                continue;
            }
            const Cell cell = cellOf(column.cells[r]);
            put(cell.before, laid.point, row, HAlign::Right);
            put(cell.after, laid.point, row, HAlign::Left);
        }
    }
    if (!rules) return;
    const double em = style_.sizePt * kMmPerPt;
    const auto rule = [&](double y, double width) {
        into.push_back({{},
                        Path{.lines = {{{{at.x, at.y + y}, {at.x + width_, at.y + y}}}},
                             .stroke = Stroke{.widthMm = width * em, .colour = style_.colour},
                             .fill = {}}});
    };
    rule(0, kHeavy);
    if (hasHeads_) rule(rowHeight_, kLight);
    rule(height(), kHeavy);
}

} // namespace jointer::figure
