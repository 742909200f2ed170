// SPDX-License-Identifier: GPL-3.0-or-later
// Samples of waters: balances, types and ratios of published analyses, recomputed from their numbers.
#include "waters/samples.h"

#include <cmath>
#include <gtest/gtest.h>
#include <map>
#include <random>

namespace jointer::waters {

namespace {

// One sample from mg/L, or from another unit.
Sample sampleOf(const std::map<std::string, double>& amounts, const char* unit = "mg/L", const Rules& rules = {}) {
    std::vector<Amounts> all;
    for (const auto& [key, value] : amounts)
        all.push_back({.ion = findIon(key), .toMillimoles = *toMillimoles(*findIon(key), unit), .values = {value}});
    return samplesOf(all, rules).front();
}

} // namespace

// J. D. Hem, Study and Interpretation of the Chemical Characteristics of Natural Water, 3rd ed., U.S. Geological
// Survey Water-Supply Paper 2254 (1985), chapter on checks of analyses: factors from mg/L to meq/L.
TEST(Samples, FactorsToMilliequivalentsAreThePublishedOnes) {
    for (const auto& [key, factor] : std::map<std::string, double>{{"Ca", 0.04990},
                                                                   {"Mg", 0.08229},
                                                                   {"Na", 0.04350},
                                                                   {"K", 0.02558},
                                                                   {"HCO3", 0.01639},
                                                                   {"CO3", 0.03333},
                                                                   {"SO4", 0.02082},
                                                                   {"Cl", 0.02821},
                                                                   {"F", 0.05264},
                                                                   {"NO3", 0.01613}})
        EXPECT_NEAR(*toMillimoles(*findIon(key), "mg/L") * equivalentsOf(*findIon(key)), factor, 1e-5) << key;
}

// Reference composition of sea water: F. J. Millero et al., Deep-Sea Res. I 55 (2008) 50, table 4, mmol/kg.
TEST(Samples, SeaWaterIsOfSodiumAndChloride) {
    const Sample s = sampleOf({{"Na", 468.9675},
                               {"Mg", 52.8170},
                               {"Ca", 10.2820},
                               {"K", 10.2077},
                               {"Sr", 0.0907},
                               {"Cl", 545.8695},
                               {"SO4", 28.2353},
                               {"HCO3", 1.7178},
                               {"CO3", 0.2389},
                               {"Br", 0.8421},
                               {"F", 0.0683}},
                              "mmol/L");
    EXPECT_NEAR(s.balance(), 0, 0.02) << "borate is left out";
    EXPECT_EQ(typeOf(s), "Na–Cl") << "magnesium has 17 % of the cations";
    const auto c = cationShares(s), a = anionShares(s);
    EXPECT_EQ(dominantCation(c), Dominant::Alkalis);
    EXPECT_EQ(dominantAnion(a), Dominant::Chloride);
    EXPECT_EQ(faciesOf(c[0] + c[1], a[2]), Facies::AlkalisStrong);
    EXPECT_NEAR(ratiosOf(s).sodiumToChloride, 0.859, 0.001) << "the ratio of sea water";
    EXPECT_NEAR(c[0] + c[1] + c[2], 1, 1e-15);
}

TEST(Samples, RatiosFollowTheirFormulas) {
    // 2 meq/L Ca, 1 Mg, 3 Na; 4 bicarbonate, 2 chloride.
    const Sample s = sampleOf({{"Ca", 2}, {"Mg", 1}, {"Na", 3}, {"HCO3", 4}, {"Cl", 2}}, "meq/L");
    const Ratios r = ratiosOf(s);
    EXPECT_NEAR(r.hardness, 3 * 50.043, 1e-9);
    EXPECT_NEAR(r.carbonateHardness, 3 * 50.043, 1e-9);
    EXPECT_NEAR(r.sodiumAdsorption, 3 / std::sqrt(1.5), 1e-12);
    EXPECT_NEAR(r.residualCarbonate, 1, 1e-12);
    EXPECT_NEAR(r.sodiumShare, 50, 1e-12);
    EXPECT_NEAR(r.dissolvedSolids, 40.078 + 24.305 / 2 + 3 * 22.990 + 2 * 35.45 + 4 * 60.009 / 2, 1e-9);
    EXPECT_EQ(s.balance(), 0);
    EXPECT_EQ(typeOf(s), "Na–Ca–HCO₃–Cl") << "magnesium has a sixth, chloride a third";
}

TEST(Samples, WhatIsBelowALimitFollowsTheRule) {
    const std::vector<Amounts> amounts{
        {.ion = findIon("Ca"), .values = {2, 2}},
        {.ion = findIon("Cl"), .values = {4, NAN}, .limits = {NAN, 0.2}},
    };
    const auto chloride = [&](BelowLimit below) { return samplesOf(amounts, {.below = below})[1]; };
    EXPECT_DOUBLE_EQ(chloride(BelowLimit::Half).anions, 0.1);
    EXPECT_DOUBLE_EQ(chloride(BelowLimit::Limit).anions, 0.2);
    EXPECT_DOUBLE_EQ(chloride(BelowLimit::Zero).anions, 0);
    EXPECT_FALSE(chloride(BelowLimit::Zero).canBePlaced()) << "no anions to share";
    EXPECT_FALSE(chloride(BelowLimit::Missing).isWhole());
    EXPECT_TRUE(std::isnan(chloride(BelowLimit::Missing).balance()));
    EXPECT_EQ(chloride(BelowLimit::Half).limited.size(), 1U);
    EXPECT_EQ(samplesOf(amounts, {})[0].limited.size(), 0U);
}

TEST(Samples, MissingIonsAreNamedAndOnlyNeededOnesMatter) {
    const Sample s = sampleOf({{"Ca", 2}, {"Mg", NAN}, {"Cl", 2}}, "meq/L");
    ASSERT_EQ(s.missing.size(), 1U);
    EXPECT_EQ(s.missing[0]->key, "Mg");
    EXPECT_FALSE(s.canBePlaced());
    const Sample t = sampleOf({{"Ca", 2}, {"CO3", NAN}, {"Cl", 2}}, "meq/L");
    EXPECT_TRUE(t.canBePlaced()) << "carbonate is seldom there";
    EXPECT_TRUE(sampleOf({{"Ca", -1}, {"Cl", 2}}, "meq/L").missing.size() == 1) << "no amount is below zero";
}

TEST(Samples, NitrateSharesTheCornerOfChlorideOrOnlyTheBalance) {
    const std::map<std::string, double> water{{"Ca", 2}, {"Cl", 1}, {"NO3", 1}};
    EXPECT_EQ(sampleOf(water, "meq/L").of(Part::Cl), 2);
    const Sample apart = sampleOf(water, "meq/L", {.othersWithChloride = false});
    EXPECT_EQ(apart.of(Part::Cl), 1);
    EXPECT_EQ(apart.anions, 2);
}

// The fields cover the diamond: each place is in exactly the one that the inequalities say, and the fields touch
// where the pairs are one half.
TEST(Samples, FieldsOfTheDiamondAreThoseOfThePairs) {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> share(0, 1);
    for (int k = 0; k < 2000; ++k) {
        const double e = share(random), w = share(random);
        const double carbonateHardness = std::min(e, w), otherHardness = std::max(0.0, e - w),
                     otherAlkalis = std::min(1 - e, 1 - w), carbonateAlkalis = std::max(0.0, w - e);
        EXPECT_NEAR(carbonateHardness + otherHardness + otherAlkalis + carbonateAlkalis, 1, 1e-12);
        Facies expected = e >= 0.5 ? Facies::MixedHard : Facies::MixedSoft;
        if (carbonateHardness >= 0.5) expected = Facies::EarthsWeak;
        if (otherHardness >= 0.5) expected = Facies::EarthsStrong;
        if (otherAlkalis > 0.5) expected = Facies::AlkalisStrong;
        if (carbonateAlkalis >= 0.5) expected = Facies::AlkalisWeak;
        EXPECT_EQ(faciesOf(e, w), expected) << e << " " << w;
    }
}

} // namespace jointer::waters
