// SPDX-License-Identifier: GPL-3.0-or-later
// Smoothing weights of a local polynomial over evenly spaced points.
#pragma once

#include <vector>

namespace jointer::numerics {

// Weights w with Σ w[k]·y[k] = value at place `at` (0 … window−1) of the least-squares polynomial of the
// given order through `window` points. Requires: window > order ≥ 0. Source: A. Savitzky, M. J. E. Golay,
// Anal. Chem. 36 (1964) 1627; for ends P. A. Gorry, ibid. 62 (1990) 570.
std::vector<double> savitzkyGolayWeights(int window, int order, int at, int derivative = 0);

} // namespace jointer::numerics
