// SPDX-License-Identifier: GPL-3.0-or-later
// Ions by headings and units, and their amounts.
#include "waters/ions.h"

#include <gtest/gtest.h>

namespace jointer::waters {

TEST(Ions, AreFoundByTheirNames) {
    for (const auto& [heading, key] :
         {std::pair("Ca", "Ca"), std::pair("Ca2+", "Ca"), std::pair("Ca^{2+}", "Ca"), std::pair("Ca²⁺", "Ca"),
          std::pair("calcium", "Ca"), std::pair("SO4--", "SO4"), std::pair("SO_{4}^{2-}", "SO4"),
          std::pair("SO₄²⁻", "SO4"), std::pair("Sulphate", "SO4"), std::pair("HCO3 as measured", "HCO3"),
          std::pair("hydrogen carbonate", "HCO3"), std::pair("Alkalinity", "HCO3"), std::pair("K+", "K"),
          std::pair("Chloride", "Cl"), std::pair("NO3-N", "NO3"), std::pair("nitrate as N", "NO3"),
          std::pair("F⁻", "F"), std::pair("Si", "SiO2")}) {
        ASSERT_TRUE(ionNamed(heading)) << heading;
        EXPECT_EQ(ionNamed(heading)->ion->key, key) << heading;
    }
    for (const char* heading : {"Calm", "", "depth", "Nacl", "Class", "sodic", "κ", "–"})
        EXPECT_FALSE(ionNamed(heading)) << heading;
}

TEST(Ions, SayByWhatTheyAreWeighed) {
    EXPECT_EQ(ionNamed("NO3-N")->as->key, "N");
    EXPECT_EQ(ionNamed("Nitrate (as N)")->as->key, "N");
    EXPECT_EQ(ionNamed("HCO3 as CaCO3")->as->key, "CaCO3");
    EXPECT_TRUE(ionNamed("Alkalinity")->byConvention);
    EXPECT_FALSE(ionNamed("Alkalinity as CaCO3")->byConvention);
    EXPECT_EQ(ionNamed("NO3")->as, nullptr);
    for (const char* unit : {"mg/L as N", "mg N/L", "mgN/L", "mg-N/L", "mg/L N", "mg/L-N", "mg (as N)/L"}) {
        EXPECT_EQ(amountUnit(unit).unit, "mg/l") << unit;
        ASSERT_TRUE(amountUnit(unit).as) << unit;
        EXPECT_EQ(amountUnit(unit).as->key, "N") << unit;
    }
    EXPECT_EQ(amountUnit("mg/L CaCO3").as->key, "CaCO3");
    EXPECT_EQ(amountUnit("meq/L").as, nullptr);
}

TEST(Ions, AreConvertedByChargeAndMolarMass) {
    const Ion &ca = *findIon("Ca"), &nitrate = *findIon("NO3"), &carbonate = *findIon("HCO3");
    EXPECT_NEAR(*toMillimoles(ca, "mg/L"), 1 / 40.078, 1e-15);
    EXPECT_NEAR(*toMillimoles(ca, "mg l-1"), 1 / 40.078, 1e-15);
    EXPECT_NEAR(*toMillimoles(ca, "µg/L"), 0.001 / 40.078, 1e-18);
    EXPECT_EQ(*toMillimoles(ca, "mmol/L"), 1);
    EXPECT_EQ(*toMillimoles(ca, "meq/L"), 0.5);
    EXPECT_EQ(*toMillimoles(ca, "µeq/L"), 0.0005);
    for (const char* unit : {"mV", "m", "", "s", "mg", "%"}) EXPECT_FALSE(toMillimoles(ca, unit)) << unit;
    // 10 mg/L nitrate nitrogen are 44.27 mg/L nitrate, as every drinking-water rule has it.
    EXPECT_NEAR(*toMillimoles(nitrate, "mg/L as N") * nitrate.molarMass * 10, 44.27, 0.01);
    // 50.04 mg/L of CaCO3 are one milliequivalent, 61.02 mg/L of bicarbonate.
    EXPECT_NEAR(*toMillimoles(carbonate, "mg/L CaCO3") * 50.043, 1, 1e-9);
    EXPECT_NEAR(*toMillimoles(ca, "mg/L", findWrittenAs("CaCO3")) * 50.043, 0.5, 1e-9);
    EXPECT_NEAR(*toMillimoles(*findIon("SiO2"), "mg/L", findWrittenAs("Si")) * 28.085, 1, 1e-12);
    EXPECT_FALSE(toMillimoles(*findIon("SiO2"), "meq/L")) << "it has no charge";
}

} // namespace jointer::waters
