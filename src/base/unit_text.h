// SPDX-License-Identifier: GPL-3.0-or-later
// Units as people type them, for people to read.
#pragma once

#include <string>
#include <string_view>

namespace jointer {

// With markup for what is raised: "cm-1", "cm^-1" → "cm^{−1}", "m^2", "m**2" → "m^{2}", "umol/L" → "µmol/L";
// "mol/L" stays.
std::string unitMarkup(std::string_view unit);

// For running text, where nothing can be set: "cm-1", "cm^{-1}" → "cm⁻¹"; other markup stays.
std::string readableUnit(std::string_view unit);

} // namespace jointer
