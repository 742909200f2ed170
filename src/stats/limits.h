// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers of a list in which some values are only known to lie below a limit, left as what they are.
// Thread-safe.
#pragma once

#include "stats/design.h"

#include <cmath>
#include <span>

namespace jointer::stats {

// NaN: not defined, or itself only known to lie below a limit.
struct LimitedSummary {
    std::size_t n = 0, below = 0; // all, and those below a limit
    double mean = NAN, sem = NAN, sd = NAN, q1 = NAN, median = NAN, q3 = NAN;
    double unknownShare = 0;  // of the distribution, known only to lie below the lowest limit
    double meanAtLeast = NAN; // were all of that share nought; NaN: there is none, or values below nought
    double dof = NAN;         // of the mean: values that were measured, less one
};

// From the distribution that the product-limit estimate gives, seen from above; what remains below the lowest
// limit is taken at that limit, so that the mean is then at most the one that is told. Without limits: mean,
// SD and standard error of the values themselves. Quantiles: the least value that holds so much of the
// distribution, or half-way to the next where it holds just so much. Source: E. L. Kaplan, P. Meier, J. Am.
// Stat. Assoc. 53 (1958) 457; B. Efron, Proc. 5th Berkeley Symp. 4 (1967) 831 (the remainder); N. She, J. Am.
// Water Resour. Assoc. 33 (1997) 615 (seen from above).
LimitedSummary summariseWithLimits(std::span<const double> values, std::span<const double> limits);

// Half the width of the confidence interval of that mean by Student's t; NaN for fewer than two measured
// values.
double meanHalfWidth(const LimitedSummary& summary, double level);

bool hasLimits(const Design& design);

// For tests by ranks: whatever lies below the highest limit of all groups cannot be told apart, so it is made
// equal and least. Source: D. R. Helsel, Statistics for Censored Environmental Data (2012), ch. 9.
Design withTiedLimits(const Design& design);

} // namespace jointer::stats
