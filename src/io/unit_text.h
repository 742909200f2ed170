// SPDX-License-Identifier: GPL-3.0-or-later
// Units of columns as text: whether something is one, and name and unit out of a heading.
#pragma once

#include <string>
#include <string_view>
#include <utility>

namespace jointer::io {

// Whether the text reads as a unit: known symbols with SI prefixes, powers and quotients ("mg/L",
// "µmol m⁻² s⁻¹", "cm^-1", "counts per second"), with or without brackets.
bool isUnitText(std::string_view text);

// Whether the whole text stands in brackets: "[mg/L]", "(s)".
bool isBracketed(std::string_view text);

// Without brackets around it.
std::string bareUnit(std::string_view text);

// "Depth (cm)", "Depth [cm]", "Depth / cm", "T/K" → name and unit. What stands in round brackets is a unit
// unless it is plainly something else ("raw", "n=3", "replicate 2").
std::pair<std::string, std::string> nameAndUnit(std::string_view heading);

} // namespace jointer::io
