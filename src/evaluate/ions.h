// SPDX-License-Identifier: GPL-3.0-or-later
// The main ions of natural waters: charges, molar masses, and the balance of charges of an analysis.
#pragma once

#include "base/issue.h"

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace jointer::evaluate {

struct Ion {
    std::string_view key;  // "SO4"
    std::string_view sign; // as text with markup: "SO_{4}^{2-}"
    int charge;
    double molarMass; // g/mol. Source: IUPAC standard atomic weights 2021, abridged
    std::string_view word;
};

std::span<const Ion> mainIons(); // cations first
const Ion* findIon(std::string_view key);

// The ion that a heading names: "Ca", "Ca2+", "Calcium", "SO4--", "HCO3 as measured" do.
const Ion* ionNamed(std::string_view heading);

// From a concentration in this unit to meq/L: mg/L, g/L, µg/L, ppm (as mg/L), mmol/L, µmol/L, mol/L, meq/L,
// µeq/L. Nothing for other units.
std::optional<double> toMilliequivalents(const Ion& ion, std::string_view unit);

// 100 (Σ cations − Σ anions)/(Σ cations + Σ anions), sums in meq/L; NaN where both are zero.
double chargeBalance(double cations, double anions);

} // namespace jointer::evaluate
