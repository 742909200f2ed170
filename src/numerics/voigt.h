// SPDX-License-Identifier: GPL-3.0-or-later
// The Voigt profile, a Gaussian spread by a Lorentzian, exact, with its slopes. Thread-safe.
#pragma once

#include <span>

namespace jointer::numerics {

// Of height one at its centre, at the distance d from it; g and l are the full widths at half maximum of the
// Gaussian and of the Lorentzian. Shape: all have n entries; slopes are empty or have n each. NaN: both
// widths are nought. The sign of a width does not matter.
void voigt(std::span<const double> d, std::span<const double> g, std::span<const double> l,
           std::span<double> value, std::span<double> slopeD = {}, std::span<double> slopeG = {},
           std::span<double> slopeL = {});

} // namespace jointer::numerics
