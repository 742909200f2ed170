// SPDX-License-Identifier: GPL-3.0-or-later
// What start-value rules share: the points that count in order of x, straight lines, heights over a base.
#pragma once

#include "data/curve.h"

#include <optional>
#include <vector>

namespace jointer::models {

struct SortedPoints {
    std::vector<double> x, y;
    std::size_t size() const { return x.size(); }
};

// The points that count, by ascending x, the y of equal x averaged.
SortedPoints sortedPoints(const Curve& curve);

struct StraightLine {
    double intercept = 0, slope = 0;
};
// Least squares. Requires: at least one point; equal x give slope 0.
StraightLine straightLine(const std::vector<double>& x, const std::vector<double>& y);

// Mean of a few points at either end, robust against one outlier.
double endLevel(const std::vector<double>& y, bool first);

// Running median over 2·half+1 points, shorter at the ends.
std::vector<double> runningMedian(const std::vector<double>& y, std::size_t half);

} // namespace jointer::models
