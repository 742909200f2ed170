// SPDX-License-Identifier: GPL-3.0-or-later
// The density of a list of numbers, by kernels.
#pragma once

#include <span>
#include <vector>

namespace jointer::stats {

// A width for normal kernels: 0.9 · min(SD, IQR / 1.34) · n^(−1/5); the SD where the quartiles agree, 0 for
// fewer than two different numbers. NaN is left out. Source: B. W. Silverman, Density Estimation
// (1986), 3.31.
double kernelWidth(std::span<const double> values);

// The sum of normal kernels of that width, of area one, at each place. NaN is left out. Requires: width > 0.
// Cost: values × places.
std::vector<double> densityAt(std::span<const double> places, std::span<const double> values, double width);

} // namespace jointer::stats
