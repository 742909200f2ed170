// SPDX-License-Identifier: GPL-3.0-or-later
// How much is drawn where: for finding a place where a legend or a note hides little.
#pragma once

#include "draw/display_list.h"

#include <vector>

namespace jointer::figure {

// Counts points of what is drawn in cells of half a millimetre; then the count in a rectangle costs nothing.
class Crowd {
public:
    explicit Crowd(const draw::Rect& area);

    // Symbols, and points along lines about a millimetre apart; what lies outside the area is passed over.
    void add(const draw::Group& drawn);
    void sum(); // once, when all is added

    // Requires: sum() was called.
    long within(const draw::Rect& r) const;

private:
    void add(const draw::Point& p);
    void add(const draw::Polyline& line);
    std::size_t column(double x) const;
    std::size_t row(double y) const;
    std::size_t place(std::size_t c, std::size_t r) const { return r * (columns_ + 1) + c; }

    draw::Rect area_;
    std::size_t columns_, rows_;
    std::vector<long> sums_;
};

} // namespace jointer::figure
