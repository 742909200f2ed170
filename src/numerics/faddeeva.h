// SPDX-License-Identifier: GPL-3.0-or-later
// The Faddeeva function w(z) = exp(−z²)·erfc(−iz), of which the Voigt profile is the real part, with its
// derivative. Thread-safe.
#pragma once

#include <span>

namespace jointer::numerics {

// w at z = x + iy with y ≥ 0, and w′ = −2zw + 2i/√π. Shape: all have n entries; the derivative's may be
// empty. Errors: |Δw| < 2·10⁻¹³·|w|. Cost: about 10 ns a point near the origin, a fifth of it far away.
// Source: J. A. C. Weideman, SIAM J. Numer. Anal. 31 (1994) 1497, with 48 terms; away from the origin the
// asymptotic series (M. Abramowitz, I. A. Stegun, Handbook of Mathematical Functions, 7.1.23).
void faddeeva(std::span<const double> x, std::span<const double> y, std::span<double> re,
              std::span<double> im, std::span<double> slopeRe = {}, std::span<double> slopeIm = {});

// exp(u²)·erfc(u), without overflow for u ≥ 0. For negative u it overflows where the function does.
double scaledErfc(double u);
double scaledErfcSlope(double u, double value); // given the value there

// The same of many, faster; slope may be empty.
void scaledErfc(std::span<const double> u, std::span<double> value, std::span<double> slope = {});

} // namespace jointer::numerics
