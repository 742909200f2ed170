// SPDX-License-Identifier: GPL-3.0-or-later
#include "steps/interpolation.h"

#include <algorithm>
#include <cmath>

namespace jointer::steps {

namespace {

Knots knotsOf(const Curve& curve, const List& column, bool withVariance) {
    Knots k;
    const auto places = countingPlaces(curve, column);
    for (std::size_t i = 0; i < places.size();) {
        double sum = 0, variance = 0;
        std::size_t n = 0;
        const double x = curve.x[places[i]];
        for (; i < places.size() && curve.x[places[i]] == x; ++i, ++n) {
            sum += column[places[i]];
            if (withVariance) variance += curve.sigma[places[i]] * curve.sigma[places[i]];
        }
        const auto count = static_cast<double>(n);
        k.x.push_back(x);
        k.y.push_back(sum / count);
        if (withVariance) k.variance.push_back(variance / (count * count));
    }
    return k;
}

} // namespace

Knots knotsOf(const Curve& curve) {
    return knotsOf(curve, curve.y, !curve.sigma.empty());
}
Knots knotsOf(const Curve& curve, const List& column) {
    return knotsOf(curve, column, false);
}

Between between(const Knots& k, double x) {
    const auto above = static_cast<std::size_t>(std::ranges::lower_bound(k.x, x) - k.x.begin());
    auto variance = [&](std::size_t i) { return k.variance.empty() ? 0.0 : k.variance[i]; };
    if (above < k.x.size() && k.x[above] == x) return {k.y[above], variance(above)};
    if (above == 0 || above == k.x.size()) return {};
    const std::size_t below = above - 1;
    const double t = (x - k.x[below]) / (k.x[above] - k.x[below]);
    return {std::lerp(k.y[below], k.y[above], t),
            (1 - t) * (1 - t) * variance(below) + t * t * variance(above)};
}

std::optional<double> extremeWithin(const Curve& curve, double low, double high, bool highest) {
    const Knots k = knotsOf(curve);
    const double sign = highest ? 1 : -1;
    std::optional<std::size_t> top;
    for (std::size_t i = 0; i < k.x.size(); ++i)
        if (k.x[i] >= low && k.x[i] <= high && (!top || sign * k.y[i] > sign * k.y[*top])) top = i;
    if (!top || *top == 0 || *top + 1 >= k.x.size()) return std::nullopt;
    const std::size_t i = *top;
    if (sign * k.y[i - 1] > sign * k.y[i] || sign * k.y[i + 1] > sign * k.y[i]) return std::nullopt;
    // The vertex of the parabola through three points.
    const double a = k.x[i - 1], b = k.x[i], c = k.x[i + 1];
    const double left = (k.y[i] - k.y[i - 1]) / (b - a), right = (k.y[i + 1] - k.y[i]) / (c - b);
    const double bend = (right - left) / (c - a);
    if (bend == 0) return b;
    return std::clamp(0.5 * (a + b) - left / (2 * bend), a, c);
}

} // namespace jointer::steps
