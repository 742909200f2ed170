// SPDX-License-Identifier: GPL-3.0-or-later
// Inside of the finding of peaks: a curve as points at even distances.
#pragma once

#include <span>
#include <vector>

namespace jointer::fit {

// Points at even distances: the curve itself where it has them, else between its neighbours.
struct Even {
    double first = 0, step = 1;
    std::vector<double> y;
    double noise = 0; // of the points themselves
    double at(double place) const { return first + place * step; }
};

// Of places in ascending order. Missing values are left out, of equal places the first is taken. Empty: fewer
// than two points.
Even evenOf(std::span<const double> x, std::span<const double> y);

} // namespace jointer::fit
