// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/gauss_legendre.h"

#include <cmath>
#include <map>
#include <memory>
#include <mutex>
#include <numbers>

namespace jointer::numerics {

namespace {

struct Legendre {
    double value, slope;
};

Legendre legendreAt(std::size_t degree, double x) {
    double last = 1, now = x;
    for (std::size_t k = 2; k <= degree; ++k) {
        const double n = static_cast<double>(k);
        const double next = ((2 * n - 1) * x * now - (n - 1) * last) / n;
        last = now, now = next;
    }
    return {now, static_cast<double>(degree) * (x * now - last) / (x * x - 1)};
}

QuadratureRule made(std::size_t count) {
    QuadratureRule rule{std::vector<double>(count), std::vector<double>(count)};
    if (count == 1) return {{0.0}, {2.0}};
    const double n = static_cast<double>(count);
    for (std::size_t i = 0; i < (count + 1) / 2; ++i) {
        double x = std::cos(std::numbers::pi * (static_cast<double>(i) + 0.75) / (n + 0.5));
        for (int round = 0; round < 20; ++round) {
            const auto [value, slope] = legendreAt(count, x);
            const double by = value / slope;
            x -= by;
            if (std::abs(by) < 1e-16) break;
        }
        const double slope = legendreAt(count, x).slope;
        rule.nodes[i] = -x, rule.nodes[count - 1 - i] = x;
        rule.weights[i] = rule.weights[count - 1 - i] = 2 / ((1 - x * x) * slope * slope);
    }
    if (count % 2 == 1) rule.nodes[count / 2] = 0;
    return rule;
}

} // namespace

const QuadratureRule& gaussLegendre(std::size_t count) {
    static std::mutex guard;
    static std::map<std::size_t, std::unique_ptr<const QuadratureRule>> kept;
    const std::scoped_lock lock(guard);
    auto& rule = kept[count];
    if (!rule) rule = std::make_unique<const QuadratureRule>(made(count));
    return *rule;
}

} // namespace jointer::numerics
