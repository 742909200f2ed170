// SPDX-License-Identifier: GPL-3.0-or-later
#include "stats/normality.h"

#include <algorithm>
#include <array>
#include <boost/math/distributions/normal.hpp>
#include <cmath>
#include <numbers>
#include <vector>

namespace jointer::stats {

namespace {

template <std::size_t N> double polynomial(const std::array<double, N>& c, double x) {
    double y = 0;
    for (std::size_t k = N; k-- > 0;) y = y * x + c[k];
    return y;
}

// The weights of the differences between the largest and the smallest, the next ones and so on.
std::vector<double> weights(std::size_t n) {
    constexpr std::array<double, 6> c1 = {0, 0.221157, -0.147981, -2.07119, 4.434685, -2.706056},
                                    c2 = {0, 0.042981, -0.293762, -1.752461, 5.682633, -3.582633};
    const std::size_t half = n / 2;
    if (n == 3) return {std::numbers::sqrt2 / 2};
    const boost::math::normal normal;
    std::vector<double> m(half), a(half);
    double squares = 0;
    for (std::size_t i = 0; i < half; ++i) {
        m[i] =
            boost::math::quantile(normal, (static_cast<double>(i) + 0.625) / (static_cast<double>(n) + 0.25));
        squares += 2 * m[i] * m[i];
    }
    const double length = std::sqrt(squares), r = 1 / std::sqrt(static_cast<double>(n));
    a[0] = polynomial(c1, r) - m[0] / length;
    std::size_t from = 1;
    double rest = squares - 2 * m[0] * m[0], share = 1 - 2 * a[0] * a[0];
    if (n > 5) {
        a[1] = polynomial(c2, r) - m[1] / length;
        rest -= 2 * m[1] * m[1];
        share -= 2 * a[1] * a[1];
        from = 2;
    }
    for (std::size_t i = from; i < half; ++i) a[i] = -m[i] / std::sqrt(rest / share);
    return a;
}

double probability(double lack, std::size_t count) { // of 1 − W
    const double n = static_cast<double>(count);
    if (count == 3) {
        const double w = std::max(0.75, 1 - lack);
        return std::max(0.0, 6 / std::numbers::pi * (std::asin(std::sqrt(w)) - std::asin(std::sqrt(0.75))));
    }
    double y = std::log(lack), mean, sd;
    if (count <= 11) {
        const double gamma = 0.459 * n - 2.273;
        if (y >= gamma) return 0;
        y = -std::log(gamma - y);
        mean = polynomial(std::array{0.544, -0.39978, 0.025054, -6.714e-4}, n);
        sd = std::exp(polynomial(std::array{1.3822, -0.77857, 0.062767, -0.0020322}, n));
    } else {
        mean = polynomial(std::array{-1.5861, -0.31082, -0.083751, 0.0038915}, std::log(n));
        sd = std::exp(polynomial(std::array{-0.4803, -0.082676, 0.0030302}, std::log(n)));
    }
    return boost::math::cdf(boost::math::complement(boost::math::normal(), (y - mean) / sd));
}

} // namespace

Normality shapiroWilk(std::span<const double> values) {
    std::vector<double> x;
    for (double v : values)
        if (std::isfinite(v)) x.push_back(v);
    const std::size_t n = x.size();
    if (n < kFewestForNormality || n > kMostForNormality) return {NAN, NAN};
    std::ranges::sort(x);
    if (!(x.back() > x.front())) return {NAN, NAN};
    const double origin = x[n / 2], range = x.back() - x.front(); // keeps digits of large numbers
    double mean = 0;
    for (double& v : x) mean += (v = (v - origin) / range) / static_cast<double>(n);
    const std::vector<double> a = weights(n);
    double alongSquares = 0, squares = 0, along = 0;
    for (std::size_t i = 0; i < a.size(); ++i) {
        along += a[i] * (x[n - 1 - i] - x[i]);
        alongSquares += 2 * a[i] * a[i];
    }
    for (double v : x) squares += (v - mean) * (v - mean);
    const double length = std::sqrt(alongSquares * squares);
    const double lack = std::max(0.0, (length - along) * (length + along) / (alongSquares * squares));
    return {1 - lack, lack > 0 ? probability(lack, n) : 1};
}

} // namespace jointer::stats
