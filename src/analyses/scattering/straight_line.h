// SPDX-License-Identifier: GPL-3.0-or-later
// Inside of analyses of scattering: straight lines with errors, in coordinates in which a law is one.
#pragma once

#include <cstddef>
#include <vector>

namespace jointer::analyses {

struct Coordinates {
    std::vector<double> x, y, sigma, q; // sigma of y; q of each point
    std::size_t size() const { return x.size(); }
};

// y = intercept + slope·x, with the covariance of both.
struct Line {
    double intercept = 0, slope = 0, interceptSe = 0, slopeSe = 0, covariance = 0, chi2 = 0;
    std::size_t n = 0;
};

// By weighted least squares over the points from `from` to before `to`. Errors are scaled by the scatter
// unless sigma is absolute. Requires: two points of different x.
Line lineThrough(const Coordinates& points, std::size_t from, std::size_t to, bool absolute);

} // namespace jointer::analyses
