// SPDX-License-Identifier: GPL-3.0-or-later
#include "stats/range_distributions.h"

#include <algorithm>
#include <array>
#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/quadrature/gauss.hpp>
#include <boost/math/tools/toms748_solve.hpp>
#include <cmath>
#include <numbers>

namespace jointer::stats {

namespace {

using Gauss = boost::math::quadrature::gauss<double, 20>;

double normal(double z) {
    return 0.5 * std::erfc(-z / std::numbers::sqrt2);
}
double normalDensity(double z) {
    return std::exp(-0.5 * z * z) / std::sqrt(2 * std::numbers::pi);
}

// ∫ f over [from, to] in so many equal pieces.
template <class F> double over(double from, double to, int pieces, F f) {
    double sum = 0;
    for (int k = 0; k < pieces; ++k) {
        const double a = std::lerp(from, to, static_cast<double>(k) / pieces),
                     b = std::lerp(from, to, static_cast<double>(k + 1) / pieces);
        sum += Gauss::integrate(f, a, b);
    }
    return sum;
}

// The mean of `inside(s)` over the standard deviation s that `dof` degrees of freedom give where the true one
// is 1.
template <class F> double overDeviation(double dof, F inside) {
    if (!(dof < 1e7)) return inside(1.0);
    const boost::math::chi_squared chi(dof);
    const double low = std::sqrt(boost::math::quantile(chi, 1e-14) / dof),
                 high = std::sqrt(boost::math::quantile(boost::math::complement(chi, 1e-14)) / dof);
    return over(low, high, dof < 4 ? 12 : 6, [&](double s) { // the density of s
        return inside(s) * boost::math::pdf(chi, dof * s * s) * 2 * dof * s;
    });
}

// The table: pieces of width 1, in each the Chebyshev points of the first kind.
constexpr std::size_t kPieces = 14, kNodes = 16;

double node(std::size_t j) { // within 0 … 1
    return 0.5 - 0.5 * std::cos((2 * static_cast<double>(j) + 1) * std::numbers::pi / (2 * kNodes));
}

const std::array<double, kNodes> kPlaces = [] {
    std::array<double, kNodes> out{};
    for (std::size_t j = 0; j < kNodes; ++j) out[j] = node(j);
    return out;
}();

const std::array<double, kNodes> kWeights = [] { // of the barycentric formula
    std::array<double, kNodes> out{};
    for (std::size_t j = 0; j < kNodes; ++j)
        out[j] = (j % 2 == 0 ? 1 : -1) *
                 std::sin((2 * static_cast<double>(j) + 1) * std::numbers::pi / (2 * kNodes));
    return out;
}();

} // namespace

template <class F> LargestDifference::LargestDifference(F insideOfKnown) {
    for (std::size_t piece = 0; piece < kPieces; ++piece)
        for (double place : kPlaces) table_.push_back(insideOfKnown(static_cast<double>(piece) + place));
}

double LargestDifference::known(double t) const {
    if (!(t < static_cast<double>(kPieces))) return 1;
    const auto piece = static_cast<std::size_t>(t);
    const double place = t - static_cast<double>(piece);
    double sum = 0, weights = 0;
    for (std::size_t j = 0; j < kNodes; ++j) {
        const double off = place - kPlaces[j], value = table_[piece * kNodes + j];
        if (off == 0) return value;
        sum += kWeights[j] / off * value;
        weights += kWeights[j] / off;
    }
    return sum / weights;
}

double LargestDifference::tail(double t, double dof) const {
    if (!(t > 0)) return std::isnan(t) ? t : 1;
    if (std::isinf(t)) return 0;
    return std::max(0.0, 1 - overDeviation(dof, [&](double s) { return known(t * s); }));
}

double LargestDifference::quantile(double tail, double dof) const {
    double high = 4;
    while (this->tail(high, dof) > tail && high < 1e8) high *= 2;
    std::uintmax_t most = 100;
    const auto ends =
        boost::math::tools::toms748_solve([&](double t) { return this->tail(t, dof) - tail; }, 0.0, high,
                                          boost::math::tools::eps_tolerance<double>(44), most);
    return 0.5 * (ends.first + ends.second);
}

StudentisedRange::StudentisedRange(std::size_t groups)
    : LargestDifference([n = static_cast<double>(groups)](double q) {
          return over(-8.5, 8.5 + std::min(q, 8.5), 8, [&](double z) {
              return n * normalDensity(z) * std::pow(normal(z) - normal(z - q), n - 1);
          });
      }) {}

namespace {

// P(all |t| ≤ t) where σ is known: over z, the part that the control gives to all. Where the control has few
// values the groups fall out within a short way of ±t/shared, which gets pieces of its own.
double fromControlOfKnown(double t, const std::vector<double>& counts, double control) {
    const double most = *std::ranges::max_element(counts), widest = std::sqrt(most / (most + control)),
                 edge = t / widest, blur = 8 * std::sqrt(control / (most + control)) / widest;
    std::array<double, 6> ends = {-8.5, -edge - blur, -edge + blur, edge - blur, edge + blur, 8.5};
    for (double& e : ends) e = std::clamp(e, -8.5, 8.5);
    std::ranges::sort(ends);
    double sum = 0;
    for (std::size_t k = 1; k < ends.size(); ++k)
        if (ends[k] > ends[k - 1])
            sum += over(ends[k - 1], ends[k], 4, [&](double z) {
                double product = normalDensity(z);
                for (double n : counts) {
                    const double shared = std::sqrt(n / (n + control)),
                                 rest = std::sqrt(control / (n + control));
                    product *= normal((t + shared * z) / rest) - normal((-t + shared * z) / rest);
                }
                return product;
            });
    return sum;
}

} // namespace

LargestFromControl::LargestFromControl(const std::vector<double>& counts, double control)
    : LargestDifference([&](double t) { return fromControlOfKnown(t, counts, control); }) {}

} // namespace jointer::stats
