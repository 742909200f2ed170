// SPDX-License-Identifier: GPL-3.0-or-later
// Whether two lists of numbers differ.
#pragma once

#include <span>

namespace jointer::stats {

struct Difference {
    double difference, t, freedom, p; // NaN where not defined; p of both sides
};

// By the means, variances may differ. NaN is left out; each list needs two numbers. Source: B. L. Welch,
// Biometrika 34 (1947) 28.
Difference differenceOfMeans(std::span<const double> a, std::span<const double> b);

// Of pairs: by the mean of their differences. Requires: equal length.
Difference differenceOfPairs(std::span<const double> a, std::span<const double> b);

} // namespace jointer::stats
