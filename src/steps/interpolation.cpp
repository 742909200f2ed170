// SPDX-License-Identifier: GPL-3.0-or-later
#include "steps/interpolation.h"

#include <algorithm>
#include <cmath>

namespace jointer::steps {

Knots knotsOf(const Curve& curve) {
    Knots k;
    std::size_t i = 0;
    const CountingPoints p = countingPoints(curve);
    while (i < p.x.size()) {
        double sum = 0, variance = 0;
        std::size_t n = 0;
        for (const double x = p.x[i]; i < p.x.size() && p.x[i] == x; ++i, ++n) {
            sum += p.y[i];
            if (!curve.sigma.empty()) variance += curve.sigma[p.places[i]] * curve.sigma[p.places[i]];
        }
        const auto count = static_cast<double>(n);
        k.x.push_back(p.x[i - 1]);
        k.y.push_back(sum / count);
        if (!curve.sigma.empty()) k.variance.push_back(variance / (count * count));
    }
    return k;
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
