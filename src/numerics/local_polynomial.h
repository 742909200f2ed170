// SPDX-License-Identifier: GPL-3.0-or-later
// Weights of a local polynomial through points at any distances, by polynomials that are orthogonal over
// them.
#pragma once

#include <span>
#include <vector>

namespace jointer::numerics {

// Weights l with Σ l[k]·y[k] = the derivative of order `derivative` (0: the value) at `at` of the polynomial
// of the given degree through the points by weighted least squares. Where there are fewer distinct places of
// positive weight than the degree needs, the degree is lowered.
// Shape: weights is empty (all alike) or like x; out is like x. Cost: points × degree.
// Source: G. E. Forsythe, J. SIAM 5 (1957) 74, orthogonal polynomials by recurrence.
void localPolynomialWeights(std::span<const double> x, std::span<const double> weights, double at, int degree,
                            int derivative, std::span<double> out);

} // namespace jointer::numerics
