// SPDX-License-Identifier: GPL-3.0-or-later
// Medians and extremes over a window that runs along a list. At the ends the window shrinks symmetrically
// about its point, or, where said, only on the side that is missing.
#pragma once

#include <cstddef>
#include <span>
#include <vector>

namespace jointer::numerics {

struct RunningMedian {
    std::vector<double> median;
    std::vector<double> scatter; // median of |v − median| over the same window; empty: not asked for
};

// Shape: as long as the values. Requires: no NaN; window odd, at least 1. Cost: n·window at worst, with a
// very small factor (a sorted window that is kept up).
RunningMedian runningMedian(std::span<const double> values, std::size_t window, bool withScatter = false);

// The median over all points whose x is within half the width; towards the ends the window shrinks as above.
// Requires: x in ascending order, as long as the values; no NaN. Cost: n·log n, whatever the width.
std::vector<double> runningMedianWithin(std::span<const double> x, std::span<const double> values,
                                        double width);

// The smallest and the largest value within `half` points on both sides, as far as there are any.
// Cost: linear, whatever the window.
std::vector<double> runningMinimum(std::span<const double> values, std::size_t half);
std::vector<double> runningMaximum(std::span<const double> values, std::size_t half);

// The mean over the window of `half` points on both sides, as far as there are any. Cost: linear.
std::vector<double> runningMean(std::span<const double> values, std::size_t half);

} // namespace jointer::numerics
