// SPDX-License-Identifier: GPL-3.0-or-later
// What natural waters hold: ions with their charges and molar masses, the headings and units by which tables
// name them, and amounts in mmol/L. Thread-safe.
// Example: `if (const auto named = ionNamed("NO3-N (mg/L)"))` → nitrate, written as nitrogen.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace jointer::waters {

struct Ion {
    std::string_view key;  // "SO4"
    std::string_view sign; // as text with markup: "SO_{4}^{2-}"
    int charge;            // 0: dissolved, without a charge
    double molarMass;      // g/mol. Source: IUPAC standard atomic weights 2021, abridged
    std::string_view word;
    bool needed = false; // a diagram of waters cannot do without
};

std::span<const Ion> knownIons(); // cations first, then anions, then what has no charge
const Ion* findIon(std::string_view key);

// By what an amount is weighed where that is not the ion itself: nitrate "as N", alkalinity "as CaCO3".
struct WrittenAs {
    std::string_view key;  // "N"
    double molarMass;      // g/mol of it
    double equivalents;    // of charge in one mole of it; 0: one mole is one mole of the ion
};
const WrittenAs* findWrittenAs(std::string_view key);

// What a heading or a unit says of an ion.
struct IonName {
    const Ion* ion = nullptr;
    const WrittenAs* as = nullptr; // none: as the ion itself
    bool byConvention = false;     // `as` is not written there: alkalinity without more is CaCO3
};
// "Ca", "Ca2+", "Ca²⁺", "Calcium", "SO4--", "HCO3 as measured", "NO3-N", "Nitrate as N", "hydrogen carbonate",
// "Alkalinity" do; nothing for other headings.
std::optional<IonName> ionNamed(std::string_view heading);

// A unit with what it is weighed by: "mg/L as N", "mg N/L", "mgN/L", "mg/L CaCO3" → "mg/L" and that.
struct AmountUnit {
    std::string unit;
    const WrittenAs* as = nullptr;
};
AmountUnit amountUnit(std::string_view unit);

// By what a column of this heading and unit is to be multiplied for mmol/L: mg/L, g/L, µg/L, ppm and ppb (as
// mg/L and µg/L), mmol/L, µmol/L, mol/L, meq/L, µeq/L. Nothing for other units, and for charges of what has none.
std::optional<double> toMillimoles(const Ion& ion, std::string_view unit, const WrittenAs* as = nullptr);

// From mmol/L to meq/L.
inline double equivalentsOf(const Ion& ion) {
    return ion.charge < 0 ? -ion.charge : ion.charge;
}

} // namespace jointer::waters
