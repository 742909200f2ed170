// SPDX-License-Identifier: GPL-3.0-or-later
// Summary of a list of numbers.
#pragma once

#include <cstddef>
#include <span>
#include <vector>

namespace jointer::stats {

struct Summary {
    std::size_t n = 0, missing = 0;
    double mean, sd, sem, min, q1, median, q3, max, sum, sumOfSquares, skewness,
        kurtosis; // NaN where not defined
};

// NaN: counted as missing. `sd` is the sample SD with n − 1; quartiles see `quantile`; skewness and excess
// kurtosis are the adjusted ones, G1 and G2. Sums are compensated; moments by two passes about the mean.
// Source: D. N. Joanes, C. A. Gill, The Statistician 47 (1998) 183.
Summary summarise(std::span<const double> values);

// Half the width of the confidence interval of the mean by Student's t; NaN for fewer than two numbers.
double meanHalfWidth(const Summary& summary, double level = 0.95);

// The p-quantile at place 1 + (n − 1)p between the ordered values, linear. Requires: ascending, not empty.
double quantile(std::span<const double> ascending, double p);

// What the median of |v − median| is multiplied by to be the SD that it stands for in normal data.
inline constexpr double kSdOfMedianDeviation = 1.482602218505602;

// That SD. NaN values are left out.
double robustSd(std::span<const double> values);

} // namespace jointer::stats
