// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/local_polynomial.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace jointer::numerics {

namespace {

constexpr int kHighestDerivative = 4;

// One orthogonal polynomial at the points, and its derivatives at the place asked for.
struct Polynomial {
    std::vector<double> values;
    std::array<double, kHighestDerivative + 1> there{};
};

} // namespace

void localPolynomialWeights(std::span<const double> x, std::span<const double> weights, double at, int degree,
                            int derivative, std::span<double> out) {
    const std::size_t n = x.size();
    std::ranges::fill(out, 0.0);
    if (n == 0 || derivative > kHighestDerivative) return;
    // Distances from the place, within ±1, keep the recurrence well conditioned.
    double scale = 0;
    for (double v : x) scale = std::max(scale, std::abs(v - at));
    if (scale == 0) scale = 1;
    thread_local std::vector<double> t;
    thread_local Polynomial now, before;
    t.resize(n);
    for (std::size_t i = 0; i < n; ++i) t[i] = (x[i] - at) / scale;
    auto weight = [&](std::size_t i) { return weights.empty() ? 1.0 : weights[i]; };

    now.values.assign(n, 1.0);
    now.there = {1.0};
    before.values.assign(n, 0.0);
    before.there = {};
    double normBefore = 0, first = 0;
    for (int k = 0; k <= degree; ++k) {
        double norm = 0, centre = 0;
        for (std::size_t i = 0; i < n; ++i) {
            const double part = weight(i) * now.values[i] * now.values[i];
            norm += part;
            centre += part * t[i];
        }
        if (k == 0) first = norm;
        if (!(norm > 1e-20 * first)) break; // no more distinct places
        const double factor = now.there[static_cast<std::size_t>(derivative)] / norm;
        for (std::size_t i = 0; i < n; ++i) out[i] += factor * weight(i) * now.values[i];
        const double a = centre / norm, b = k > 0 ? norm / normBefore : 0;
        normBefore = norm;
        // The next one takes the place of the one before.
        for (std::size_t i = 0; i < n; ++i)
            before.values[i] = (t[i] - a) * now.values[i] - b * before.values[i];
        for (int m = kHighestDerivative; m >= 0; --m) {
            const auto at_ = static_cast<std::size_t>(m);
            before.there[at_] =
                -a * now.there[at_] + (m > 0 ? m * now.there[at_ - 1] : 0.0) - b * before.there[at_];
        }
        std::swap(now, before);
    }
    const double back = std::pow(scale, -derivative);
    for (double& w : out) w *= back;
}

} // namespace jointer::numerics
