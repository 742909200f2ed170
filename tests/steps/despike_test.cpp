// SPDX-License-Identifier: GPL-3.0-or-later
// Spikes: found on top of structure, real lines never touched, each one accepted or refused.
#include "make_curve.h"

using namespace jointer;
using namespace jointer::steps;

namespace {

std::set<std::size_t> madeAt(const Curve& c) {
    std::set<std::size_t> places;
    for (std::size_t i = 0; i < c.size(); ++i)
        if (c.isMade(i)) places.insert(i);
    return places;
}

} // namespace

// Spikes of one and two points anywhere on noisy spectra of lines with 6 points and more at half height.
TEST(Despike, FindsThemOnLinesAndBeside) {
    std::size_t wanted = 0, found = 0, wrong = 0;
    for (std::uint32_t seed = 1; seed <= 100; ++seed) {
        Spectrum s = spectrum(400, seed, 6 + seed % 10, 1, 6);
        std::mt19937 random(seed);
        std::set<std::size_t> spikes;
        while (spikes.size() < 9) {
            const std::size_t at = 6 + random() % 388, width = 1 + random() % 2;
            bool near = false;
            for (std::size_t i : spikes) near |= std::max(i, at) - std::min(i, at) < 12;
            if (near) continue;
            const double height = 60 + random() % 500; // 60 standard deviations and more
            for (std::size_t k = 0; k < width; ++k) {
                s.curve.y[at + k] += height * (k == 0 ? 1 : 0.7);
                spikes.insert(at + k);
            }
        }
        const auto out = apply("despike", s.curve, {});
        const auto made = madeAt(out.value.curve);
        for (std::size_t i : spikes) {
            ++wanted;
            found += made.contains(i);
            if (!made.contains(i)) continue;
            EXPECT_NEAR(out.value.curve.y[i], s.clean[i], 0.35 * std::abs(s.curve.y[i] - s.clean[i]));
        }
        for (std::size_t i : made) wrong += !spikes.contains(i);
    }
    EXPECT_GT(static_cast<double>(found), 0.9 * static_cast<double>(wanted)) << found << " of " << wanted;
    EXPECT_LE(wrong, 9U) << "of 100 spectra"; // beside a found one
}

// Lines of four points at half height and more, of any shape, at any place between points, at any height over
// the noise (also without noise): never touched, at any threshold that the slider offers.
TEST(Despike, NeverTouchesLinesOfTheNarrowestWidthAndMore) {
    for (double narrowest : {4.0, 6.0})
        for (double fwhm : {1.0, 1.3, 2.0, 5.0})
            for (double noise : {0.0, 1.0})
                for (double height : {30.0, 1000.0, 1e6})
                    for (std::uint32_t seed = 1; seed <= 12; ++seed) {
                        std::mt19937 random(seed);
                        std::normal_distribution<double> normal(0, noise > 0 ? noise : 1);
                        const double width = fwhm * narrowest, at = 100 + seed / 12.0;
                        for (int shape = 0; shape < 3; ++shape) {
                            const Curve c = curveOf(200, [&](double x) {
                                const double u = 2 * (x - at) / width;
                                const double line = shape == 0   ? std::exp(-std::log(2.0) * u * u)
                                                    : shape == 1 ? 1 / (1 + u * u)
                                                                 : std::max(0.0, 1 - std::abs(u) / 2);
                                return 20 + 0.1 * x + height * line + (noise > 0 ? normal(random) : 0);
                            });
                            const auto out =
                                apply("despike", c, with({{"narrowest", narrowest}, {"threshold", 6.0}}));
                            for (std::size_t i : madeAt(out.value.curve))
                                EXPECT_GT(std::abs(c.x[i] - at), 1.5 * width)
                                    << "narrowest " << narrowest << ", width " << width << ", shape " << shape
                                    << ", noise " << noise << ", height " << height;
                        }
                    }
}

TEST(Despike, NoiseAloneHasHardlyAny) {
    std::size_t found = 0;
    for (std::uint32_t seed = 1; seed <= 50; ++seed)
        found += madeAt(apply("despike", spectrum(1000, seed, 20, 1, 0).curve, {}).value.curve).size();
    EXPECT_LE(found, 2U) << "of 50 000 points";
}

TEST(Despike, EachIsAHandleToAcceptOrRefuse) {
    Curve c = spectrum(300, 5, 30, 1, 2).curve;
    c.y[50] += 300;
    c.y[120] += 40;
    const auto out = apply("despike", c, {});
    ASSERT_EQ(out.value.handles.size(), 2U);
    EXPECT_EQ(out.value.handles[0].row, 51U);
    EXPECT_EQ(out.value.handles[0].state, HandleState::Proposed);
    const auto refused = apply("despike", c, with({{"refused", Numbers{51}}}));
    EXPECT_EQ(refused.value.curve.y[50], c.y[50]);
    EXPECT_EQ(refused.value.handles[0].state, HandleState::Refused);
    EXPECT_THAT(refused.value.detail, testing::HasSubstr("1 refused"));
    // An accepted one goes although the threshold has passed it.
    const auto kept = apply("despike", c, with({{"accepted", Numbers{121}}, {"threshold", 100.0}}));
    EXPECT_TRUE(kept.value.curve.isMade(120));
    EXPECT_TRUE(kept.value.curve.isMade(50));
    EXPECT_FALSE(apply("despike", c, with({{"threshold", 100.0}})).value.curve.isMade(120));
    const auto out2 = apply("despike", c, with({{"then", word("leave-out")}}));
    EXPECT_TRUE(out2.value.curve.isExcluded(50) && !out2.value.curve.isMade(50));
}

TEST(Despike, ComparesRepeats) {
    Curve c = spectrum(200, 8, 3, 0, 4).curve; // lines as narrow as spikes, in all of them
    std::mt19937 random(2);
    std::normal_distribution<double> normal(0, 1);
    for (int k = 0; k < 4; ++k) {
        c.replicates.push_back(c.y);
        for (double& y : c.replicates.back()) y += normal(random);
    }
    c.replicates[2][77] += 80;
    c.replicates[0][150] += 50;
    const Settings repeats = with({{"compare", word("repeats")}, {"threshold", 8.0}});
    const auto out = apply("despike", c, repeats);
    EXPECT_EQ(out.value.sentence, "Took off 2 spikes.");
    EXPECT_NEAR(out.value.curve.replicates[2][77], c.replicates[1][77], 5);
    EXPECT_NEAR(out.value.curve.y[150], c.replicates[1][150], 5);
    EXPECT_EQ(apply("despike", spectrum(50, 1, 9, 1, 1).curve, repeats).issues.at(0).code, "no-repeats");
}
