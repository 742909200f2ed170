// SPDX-License-Identifier: GPL-3.0-or-later
#include "waters/quantities.h"

#include <algorithm>

namespace jointer::waters {

namespace {

template <double Ratios::*member> double ratio(const Sample& s) {
    return s.isWhole() ? ratiosOf(s).*member : s.balance();
}

std::string placed(const Sample& s, auto word) {
    return s.canBePlaced() ? std::string(word()) : std::string();
}

std::string facies(const Sample& s) {
    return placed(s, [&] {
        const auto c = cationShares(s);
        return wordOf(faciesOf(c[0] + c[1], anionShares(s)[2]));
    });
}

constexpr auto kQuantities = std::to_array<SampleQuantity>({
    {"type", "Water type", "", "ions with a fifth and more of their side's charges, most first", nullptr,
     [](const Sample& s) { return s.canBePlaced() ? typeOf(s) : std::string(); }},
    {"cation-field", "Cations", "", "the cation with more than half of their charges", nullptr,
     [](const Sample& s) { return placed(s, [&] { return wordOf(dominantCation(cationShares(s))); }); }},
    {"anion-field", "Anions", "", "the anion with more than half of their charges", nullptr,
     [](const Sample& s) { return placed(s, [&] { return wordOf(dominantAnion(anionShares(s))); }); }},
    {"facies", "Facies", "", "the field of the diamond", nullptr, facies},
    {"balance", "Charge balance", "%", "100 (Σ cations − Σ anions)/(Σ cations + Σ anions)",
     [](const Sample& s) { return s.balance(); }},
    {"cations", "Cations, sum", "meq/L", "of all that were measured",
     [](const Sample& s) { return s.cations; }},
    {"anions", "Anions, sum", "meq/L", "of all that were measured", [](const Sample& s) { return s.anions; }},
    {"hardness", "Hardness", "mg/L", "of calcium and magnesium, as CaCO3", ratio<&Ratios::hardness>},
    {"carbonate-hardness", "Carbonate hardness", "mg/L", "that carbonates balance, as CaCO3",
     ratio<&Ratios::carbonateHardness>},
    {"sodium-adsorption", "Sodium adsorption ratio", "", "Na/√((Ca + Mg)/2) in meq/L",
     ratio<&Ratios::sodiumAdsorption>},
    {"residual-carbonate", "Residual sodium carbonate", "meq/L", "(HCO3 + CO3) − (Ca + Mg)",
     ratio<&Ratios::residualCarbonate>},
    {"sodium-share", "Sodium and potassium", "%", "of the cations' charges", ratio<&Ratios::sodiumShare>},
    {"sodium-chloride", "Na/Cl", "", "of charges; sea water has 0.86", ratio<&Ratios::sodiumToChloride>},
    {"dissolved-solids", "Total dissolved solids", "mg/L",
     "the sum of all that was measured, bicarbonate as the carbonate that drying leaves",
     ratio<&Ratios::dissolvedSolids>},
});

} // namespace

std::span<const SampleQuantity> sampleQuantities() {
    return kQuantities;
}

const SampleQuantity* findQuantity(std::string_view key) {
    const auto at = std::ranges::find(kQuantities, key, &SampleQuantity::key);
    return at == kQuantities.end() ? nullptr : &*at;
}

} // namespace jointer::waters
