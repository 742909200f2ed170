// SPDX-License-Identifier: GPL-3.0-or-later
// Integrals of functions that are known anywhere, with those of their derivatives. Source of the rule:
// Gauss–Kronrod with 7 and 15 points (R. Piessens et al., QUADPACK, 1983), halved until it settles.
#pragma once

#include <functional>
#include <span>

namespace jointer::numerics {

constexpr std::size_t kQuadratureNodes = 15;

// Fills values, and where it is not empty gradient (nodes × variables, column after column), at the nodes.
using Integrand =
    std::function<void(std::span<const double> nodes, std::span<double> values, std::span<double> gradient)>;

// ∫ from … to; `gradient` has an entry for each variable, added to. `pieces`: equal parts to begin with, more
// where there may be peaks much narrower than the whole. NaN: the integrand is not defined, or the rule does
// not settle. Errors: relative 10⁻¹⁰ of the integral of the magnitude.
double integral(const Integrand& f, double from, double to, std::span<double> gradient = {}, int pieces = 1);

} // namespace jointer::numerics
