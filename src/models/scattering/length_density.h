// SPDX-License-Identifier: GPL-3.0-or-later
// Scattering length densities of substances, from their formulas and densities.
#pragma once

#include "base/issue.h"

#include <string_view>

namespace jointer::models::scattering {

enum class Probe { Neutrons, XRays };

// In Å⁻²: bound coherent lengths of neutrons (V. F. Sears, Neutron News 3 (1992) 26), or of X-rays electrons
// times the classical radius of one, far from edges. `formula`: "C12H26", "D2O", "Ca(OH)2"; density in g/cm³.
// Errors: "formula", with what cannot be read.
Result<double> lengthDensity(std::string_view formula, double density, Probe probe);

} // namespace jointer::models::scattering
