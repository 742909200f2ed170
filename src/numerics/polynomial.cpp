// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/polynomial.h"

#include <algorithm>
#include <cmath>

namespace jointer::numerics {

PolynomialFit::PolynomialFit(std::span<const double> xs, std::span<const double> ys, int degree,
                             std::span<const double> weights) {
    const std::size_t n = xs.size();
    const auto [low, high] = std::ranges::minmax(xs);
    middle_ = 0.5 * (low + high);
    scale_ = high > low ? 0.5 * (high - low) : 1;
    std::vector<double> t(n), now(n, 1.0), before(n, 0.0), rest(ys.begin(), ys.end());
    for (std::size_t i = 0; i < n; ++i) t[i] = (xs[i] - middle_) / scale_;
    auto weight = [&](std::size_t i) { return weights.empty() ? 1.0 : weights[i]; };
    double normBefore = 0, first = 0;
    for (int k = 0; k <= degree; ++k) {
        double norm = 0, centre = 0, product = 0;
        for (std::size_t i = 0; i < n; ++i) {
            const double part = weight(i) * now[i];
            norm += part * now[i];
            centre += part * now[i] * t[i];
            product += part * rest[i]; // of what is left: errors do not add up
        }
        if (k == 0) first = norm;
        if (!(norm > 1e-20 * first)) break;
        const Term term{centre / norm, k > 0 ? norm / normBefore : 0, product / norm};
        terms_.push_back(term);
        normBefore = norm;
        for (std::size_t i = 0; i < n; ++i) {
            rest[i] -= term.coefficient * now[i];
            before[i] = (t[i] - term.centre) * now[i] - term.ratio * before[i];
        }
        std::swap(now, before);
    }
}

double PolynomialFit::operator()(double x) const {
    const double t = (x - middle_) / scale_;
    double now = 1, before = 0, sum = 0;
    for (const Term& term : terms_) {
        sum += term.coefficient * now;
        const double next = (t - term.centre) * now - term.ratio * before;
        before = now;
        now = next;
    }
    return sum;
}

} // namespace jointer::numerics
