// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/quadrature.h"

#include <algorithm>
#include <boost/math/quadrature/gauss_kronrod.hpp>
#include <cmath>
#include <vector>

namespace jointer::numerics {

namespace {

using Rule = boost::math::quadrature::gauss_kronrod<double, 15>;
using Coarse = boost::math::quadrature::gauss<double, 7>;

constexpr double kTolerance = 1e-10;
constexpr int kMostPieces = 2000;

// Nodes and weights on (−1, 1), in one list.
struct Table {
    double x[kQuadratureNodes], fine[kQuadratureNodes], coarse[kQuadratureNodes];
};

const Table& table() {
    static const Table t = [] {
        Table out{};
        const auto& x = Rule::abscissa();
        const auto& w = Rule::weights();
        const auto& g = Coarse::weights();
        std::size_t at = 0;
        for (std::size_t k = 0; k < x.size(); ++k)
            for (const double side : {-1.0, 1.0}) {
                if (x[k] == 0 && side > 0) continue;
                out.x[at] = side * x[k];
                out.fine[at] = w[k];
                out.coarse[at] = k % 2 == 0 ? g[k / 2] : 0; // every other node is one of the coarse rule
                ++at;
            }
        return out;
    }();
    return t;
}

} // namespace

// Pieces are halved until fine and coarse rule agree to their share of the whole.
double integral(const Integrand& f, double from, double to, std::span<double> gradient, int pieces) {
    if (!std::isfinite(from) || !std::isfinite(to)) return std::nan("");
    if (from == to) return 0;
    const Table& t = table();
    std::vector<double> nodes(kQuadratureNodes), values(kQuadratureNodes),
        slopes(gradient.size() * kQuadratureNodes);
    std::vector<std::pair<double, double>> open;
    for (int k = pieces; k-- > 0;)
        open.emplace_back(from + (to - from) * k / pieces,
                          k + 1 == pieces ? to : from + (to - from) * (k + 1) / pieces);
    double total = 0, size = 0;
    for (int done = 0; !open.empty(); ++done) {
        if (done > kMostPieces + pieces) return std::nan("");
        const auto [a, b] = open.back();
        open.pop_back();
        const double half = (b - a) / 2, middle = (a + b) / 2;
        for (std::size_t k = 0; k < kQuadratureNodes; ++k) nodes[k] = middle + half * t.x[k];
        std::ranges::fill(slopes, 0);
        f(nodes, values, slopes);
        double fine = 0, coarse = 0, absolute = 0;
        for (std::size_t k = 0; k < kQuadratureNodes; ++k) {
            fine += t.fine[k] * values[k];
            coarse += t.coarse[k] * values[k];
            absolute += t.fine[k] * std::abs(values[k]);
        }
        if (!std::isfinite(fine)) return std::nan("");
        const double share = std::abs(half) / (std::abs(to - from) / 2);
        const double scale = std::max(size, absolute * std::abs(half) / share);
        const bool settled =
            std::abs(fine - coarse) * std::abs(half) <= kTolerance * std::max(share, 1e-3) * scale ||
            std::abs(half) <= 1e-13 * std::abs(middle);
        if (!settled) {
            open.emplace_back(middle, b);
            open.emplace_back(a, middle);
            continue;
        }
        total += half * fine;
        size += std::abs(half) * absolute;
        for (std::size_t v = 0; v < gradient.size(); ++v)
            for (std::size_t k = 0; k < kQuadratureNodes; ++k)
                gradient[v] += half * t.fine[k] * slopes[v * kQuadratureNodes + k];
    }
    return total;
}

} // namespace jointer::numerics
