// SPDX-License-Identifier: GPL-3.0-or-later
// A table as text on a page, by the rules of good typesetting: three lines and none upright, words to the
// left, numbers with their decimal points below each other, units in the headings.
#pragma once

#include "draw/markup.h"

namespace jointer::figure {

struct TableColumn {
    std::string head;
    std::vector<std::string> cells; // markup
    bool words = false;             // not numbers
};

class SetTable {
public:
    SetTable(std::vector<TableColumn> columns, const draw::TextStyle& style, bool hasHeads = true);
    double width() const { return width_; }
    double height() const { return rowHeight_ * static_cast<double>(rows_ + (hasHeads_ ? 1 : 0)); }
    // From its upper left corner on.
    void draw(draw::Point at, bool rules, std::vector<draw::Item>& into) const;

private:
    struct Laid {
        double left, width;
        double point = 0; // where decimal points stand
    };
    std::vector<TableColumn> columns_;
    draw::TextStyle style_;
    std::vector<Laid> laid_;
    std::size_t rows_ = 0;
    double rowHeight_, width_ = 0;
    bool hasHeads_;
};

} // namespace jointer::figure
