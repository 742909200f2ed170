// SPDX-License-Identifier: GPL-3.0-or-later
#include "stats/summary.h"

#include "numerics/compensated_sum.h"

#include <algorithm>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>
#include <limits>

namespace jointer::stats {

namespace {

using numerics::CompensatedSum;
constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();

std::vector<double> present(std::span<const double> values) {
    std::vector<double> out;
    for (double v : values)
        if (!std::isnan(v)) out.push_back(v);
    return out;
}

// The mean with its rounding error taken out by a second pass.
double meanOf(const std::vector<double>& v) {
    CompensatedSum sum, rest;
    for (double x : v) sum.add(x);
    const double first = sum.value() / static_cast<double>(v.size());
    for (double x : v) rest.add(x - first);
    return first + rest.value() / static_cast<double>(v.size());
}

} // namespace

double meanHalfWidth(const Summary& s, double level) {
    if (s.n < 2) return kNaN;
    const boost::math::students_t t(static_cast<double>(s.n - 1));
    return boost::math::quantile(t, 0.5 + level / 2) * s.sem;
}

double quantile(std::span<const double> v, double p) {
    const double place = p * static_cast<double>(v.size() - 1);
    const auto below = static_cast<std::size_t>(std::floor(place));
    const std::size_t above = std::min(below + 1, v.size() - 1);
    return v[below] + (place - static_cast<double>(below)) * (v[above] - v[below]);
}

double robustSd(std::span<const double> values) {
    std::vector<double> v = present(values);
    if (v.empty()) return kNaN;
    std::ranges::sort(v);
    const double middle = quantile(v, 0.5);
    for (double& x : v) x = std::abs(x - middle);
    std::ranges::sort(v);
    return kSdOfMedianDeviation * quantile(v, 0.5);
}

namespace {

Summary unknown(std::size_t n, std::size_t missing) {
    return {.n = n,
            .missing = missing,
            .mean = kNaN,
            .sd = kNaN,
            .sem = kNaN,
            .min = kNaN,
            .q1 = kNaN,
            .median = kNaN,
            .q3 = kNaN,
            .max = kNaN,
            .sum = 0,
            .sumOfSquares = 0,
            .skewness = kNaN,
            .kurtosis = kNaN};
}

// Mean, SD, sums, skewness and excess kurtosis (adjusted for bias) by compensated sums about the mean.
void addMoments(const std::vector<double>& v, Summary& s) {
    const auto n = static_cast<double>(v.size());
    s.mean = meanOf(v);
    CompensatedSum sum, squares, m2, m3, m4, rest;
    for (double x : v) {
        const double d = x - s.mean;
        sum.add(x);
        squares.add(x * x);
        rest.add(d);
        m2.add(d * d);
        m3.add(d * d * d);
        m4.add(d * d * d * d);
    }
    s.sum = sum.value();
    s.sumOfSquares = squares.value();
    const double about = m2.value() - rest.value() * rest.value() / n;
    if (v.size() > 1) {
        s.sd = std::sqrt(about / (n - 1));
        s.sem = s.sd / std::sqrt(n);
    }
    const double variance = about / n;
    if (v.size() > 2 && variance > 0)
        s.skewness = m3.value() / n / std::pow(variance, 1.5) * std::sqrt(n * (n - 1)) / (n - 2);
    if (v.size() > 3 && variance > 0) {
        const double g2 = m4.value() / n / (variance * variance) - 3;
        s.kurtosis = ((n + 1) * g2 + 6) * (n - 1) / ((n - 2) * (n - 3));
    }
}

} // namespace

Summary summarise(std::span<const double> values) {
    std::vector<double> v = present(values);
    Summary s = unknown(v.size(), values.size() - v.size());
    if (v.empty()) return s;
    addMoments(v, s);
    std::ranges::sort(v);
    s.min = v.front();
    s.max = v.back();
    s.q1 = quantile(v, 0.25);
    s.median = quantile(v, 0.5);
    s.q3 = quantile(v, 0.75);
    return s;
}

} // namespace jointer::stats
