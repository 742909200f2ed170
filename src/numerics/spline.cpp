// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/spline.h"

#include <algorithm>
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

} // namespace jointer::numerics
