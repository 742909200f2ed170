// SPDX-License-Identifier: GPL-3.0-or-later
// Units as people type them, for people to read.
#pragma once

#include <string>
#include <string_view>

namespace jointer {

// With markup for what is raised: "cm-1", "cm^-1" → "cm^{−1}", "m^2", "m**2" → "m^{2}", "umol/L" → "µmol/L";
// "mol/L" stays.
std::string unitMarkup(std::string_view unit);

// In parentheses where it is no single plain unit: to be divided by, raised or multiplied.
std::string bracketedUnit(std::string_view unit);
// "mg·h", "(mg/L)·h": what follows a slash would be below it.
std::string multipliedUnits(std::string_view first, std::string_view second);

// For running text, where nothing can be set: "cm-1", "cm^{-1}" → "cm⁻¹"; other markup stays.
std::string readableUnit(std::string_view unit);

} // namespace jointer
