// SPDX-License-Identifier: GPL-3.0-or-later
// Whether numbers may come from a normal distribution.
#pragma once

#include <cstddef>
#include <span>

namespace jointer::stats {

struct Normality {
    double w, p; // NaN where not defined
};

inline constexpr std::size_t kFewestForNormality = 3, kMostForNormality = 5000;

// Shapiro and Wilk, for 3 to 5000 numbers that are not all equal; NaN is left out. Source: P. Royston, Appl.
// Statist. 44 (1995) 547 (AS R94).
Normality shapiroWilk(std::span<const double> values);

} // namespace jointer::stats
