// SPDX-License-Identifier: GPL-3.0-or-later
// Interpolation through given points: straight pieces and the natural cubic spline.
#pragma once

#include <span>
#include <vector>

namespace jointer::numerics {

// Straight pieces through (xs, ys), xs strictly ascending; the end pieces are continued outside.
// Requires: at least one point; one point gives a constant.
double interpolateLinear(std::span<const double> xs, std::span<const double> ys, double x);

// Natural cubic spline (second derivative zero at both ends), continued straight outside.
// Source: de Boor, A Practical Guide to Splines (1978), ch. IV; tridiagonal solution by elimination.
class NaturalSpline {
public:
    // Requires: xs strictly ascending, same length as ys, at least one point.
    NaturalSpline(std::span<const double> xs, std::span<const double> ys);
    double operator()(double x) const;
    double slope(double x) const;

private:
    std::vector<double> xs_, ys_, second_; // second derivatives at the knots
};

// Cubic pieces that keep the shape: where the points rise or fall, so does the curve, and it never goes
// beyond them. Continued straight outside. Source: F. N. Fritsch, R. E. Carlson, SIAM J. Numer. Anal. 17
// (1980) 238; slopes by F. N. Fritsch, J. Butland, SIAM J. Sci. Stat. Comput. 5 (1984) 300.
class ShapePreservingSpline {
public:
    // Requires: xs strictly ascending, same length as ys, at least one point.
    ShapePreservingSpline(std::span<const double> xs, std::span<const double> ys);
    double operator()(double x) const;

private:
    std::vector<double> xs_, ys_, slopes_;
};

} // namespace jointer::numerics
