// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/spline.h"

#include <algorithm>
#include <cmath>
#include <cstddef>

namespace jointer::numerics {

namespace {
// The piece [i, i+1] in which x lies, or the end piece next to it.
std::size_t pieceOf(std::span<const double> xs, double x) {
    const auto at = std::upper_bound(xs.begin(), xs.end(), x) - xs.begin();
    return static_cast<std::size_t>(
        std::clamp<std::ptrdiff_t>(at - 1, 0, static_cast<std::ptrdiff_t>(xs.size()) - 2));
}
} // namespace

double interpolateLinear(std::span<const double> xs, std::span<const double> ys, double x) {
    if (xs.size() == 1) return ys[0];
    const std::size_t i = pieceOf(xs, x);
    const double t = (x - xs[i]) / (xs[i + 1] - xs[i]);
    return ys[i] + t * (ys[i + 1] - ys[i]);
}

NaturalSpline::NaturalSpline(std::span<const double> xs, std::span<const double> ys)
    : xs_(xs.begin(), xs.end()), ys_(ys.begin(), ys.end()), second_(xs.size(), 0.0) {
    const std::size_t n = xs_.size();
    if (n < 3) return;
    std::vector<double> upper(n, 0.0);
    for (std::size_t i = 1; i + 1 < n; ++i) {
        const double left = xs_[i] - xs_[i - 1], right = xs_[i + 1] - xs_[i];
        const double slopes = (ys_[i + 1] - ys_[i]) / right - (ys_[i] - ys_[i - 1]) / left;
        const double pivot = 2 * (left + right) - left * upper[i - 1];
        upper[i] = right / pivot;
        second_[i] = (6 * slopes - left * second_[i - 1]) / pivot;
    }
    for (std::size_t i = n - 2; i > 0; --i) second_[i] -= upper[i] * second_[i + 1];
}

double NaturalSpline::operator()(double x) const {
    if (xs_.size() == 1) return ys_[0];
    const std::size_t i = pieceOf(xs_, x);
    const double h = xs_[i + 1] - xs_[i];
    const double chord = (ys_[i + 1] - ys_[i]) / h;
    if (x < xs_.front()) return ys_[0] + (x - xs_[0]) * (chord - h / 6 * (2 * second_[0] + second_[1]));
    if (x > xs_.back())
        return ys_[i + 1] + (x - xs_[i + 1]) * (chord + h / 6 * (second_[i] + 2 * second_[i + 1]));
    const double b = (x - xs_[i]) / h, a = 1 - b;
    return a * ys_[i] + b * ys_[i + 1] +
           ((a * a * a - a) * second_[i] + (b * b * b - b) * second_[i + 1]) * h * h / 6;
}

double NaturalSpline::slope(double x) const {
    if (xs_.size() == 1) return 0;
    const std::size_t i = pieceOf(xs_, x);
    const double h = xs_[i + 1] - xs_[i];
    const double b = std::clamp((x - xs_[i]) / h, 0.0, 1.0), a = 1 - b; // straight outside
    return (ys_[i + 1] - ys_[i]) / h +
           ((3 * b * b - 1) * second_[i + 1] - (3 * a * a - 1) * second_[i]) * h / 6;
}

namespace {

// The slope at an end, by three points, kept from turning.
double endSlope(double step, double next, double slope, double slopeNext) {
    const double d = ((2 * step + next) * slope - step * slopeNext) / (step + next);
    if (d * slope <= 0) return 0;
    return slope * slopeNext <= 0 && std::abs(d) > 3 * std::abs(slope) ? 3 * slope : d;
}

} // namespace

ShapePreservingSpline::ShapePreservingSpline(std::span<const double> xs, std::span<const double> ys)
    : xs_(xs.begin(), xs.end()), ys_(ys.begin(), ys.end()), slopes_(xs.size(), 0.0) {
    const std::size_t n = xs_.size();
    auto step = [&](std::size_t i) { return xs_[i + 1] - xs_[i]; };
    auto secant = [&](std::size_t i) { return (ys_[i + 1] - ys_[i]) / step(i); };
    if (n == 2) slopes_.assign(2, secant(0));
    if (n < 3) return;
    for (std::size_t i = 1; i + 1 < n; ++i) {
        const double left = secant(i - 1), right = secant(i);
        if (left * right <= 0) continue;
        const double a = 2 * step(i) + step(i - 1), b = step(i) + 2 * step(i - 1);
        slopes_[i] = (a + b) / (a / left + b / right);
    }
    slopes_[0] = endSlope(step(0), step(1), secant(0), secant(1));
    slopes_[n - 1] = endSlope(step(n - 2), step(n - 3), secant(n - 2), secant(n - 3));
}

double ShapePreservingSpline::operator()(double x) const {
    if (xs_.size() == 1) return ys_[0];
    if (x < xs_.front()) return ys_.front() + slopes_.front() * (x - xs_.front());
    if (x > xs_.back()) return ys_.back() + slopes_.back() * (x - xs_.back());
    const std::size_t i = pieceOf(xs_, x);
    const double h = xs_[i + 1] - xs_[i], t = (x - xs_[i]) / h, u = 1 - t;
    return ys_[i] * u * u * (1 + 2 * t) + slopes_[i] * h * u * u * t + ys_[i + 1] * t * t * (3 - 2 * t) -
           slopes_[i + 1] * h * t * t * u;
}

} // namespace jointer::numerics
