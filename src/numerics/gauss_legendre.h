// SPDX-License-Identifier: GPL-3.0-or-later
// Quadrature rules of Gauss and Legendre of any order, kept once made. Thread-safe.
#pragma once

#include <cstddef>
#include <vector>

namespace jointer::numerics {

struct QuadratureRule {
    std::vector<double> nodes, weights; // over −1 … 1, ascending
};

// Exact for polynomials up to degree 2·count − 1. Requires: count ≥ 1. Source: Newton's method on the
// Legendre polynomial from the asymptotic zeros (M. Abramowitz, I. Stegun, Handbook of Mathematical
// Functions, 25.4.29).
const QuadratureRule& gaussLegendre(std::size_t count);

} // namespace jointer::numerics
