// SPDX-License-Identifier: GPL-3.0-or-later
// Curves read backwards against their closed inverses, by random curves and readings; and what cannot be
// read.
#include "fit/inversion.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

using namespace jointer::fit;

TEST(Inversion, OfALineIsItsInverse) {
    std::mt19937_64 random(1);
    std::uniform_real_distribution<double> any(-3, 3), at(-0.5, 1.5);
    for (int i = 0; i < 300; ++i) {
        const double a = any(random), b = any(random), low = any(random),
                     high = low + std::abs(any(random)) + 0.01;
        if (std::abs(b) < 0.01) continue;
        const Inversion line([=](double x) { return a + b * x; }, low, high);
        const double x = std::lerp(low, high, at(random));
        const Reading r = line.read(a + b * x);
        EXPECT_EQ(r.state, x < low    ? ReadState::Below
                           : x > high ? ReadState::Above
                                      : ReadState::InRange)
            << x;
        ASSERT_EQ(r.solutions.size(), 1U);
        EXPECT_NEAR(r.solutions[0], x, 1e-11 * (std::abs(x) + high - low));
        EXPECT_EQ(r.x.has_value(), r.state == ReadState::InRange);
        EXPECT_NEAR(line.slope(x), b, 1e-9 * std::abs(b));
    }
}

TEST(Inversion, OfALogisticOverSixDecades) {
    std::mt19937_64 random(2);
    std::uniform_real_distribution<double> decade(-3, 3), slope(0.5, 3);
    for (int i = 0; i < 200; ++i) {
        const double half = std::pow(10, decade(random)), b = slope(random), top = 2, bottom = 0.1;
        for (bool falls : {false, true}) {
            const auto f = [=](double x) {
                const double share = x <= 0 ? 0 : 1 / (1 + std::pow(half / x, b));
                return falls ? top + (bottom - top) * share : bottom + (top - bottom) * share;
            };
            const Inversion curve(f, 0, half * 1000);
            for (double x : {half * 0.05, half * 0.7, half * 30}) {
                const Reading r = curve.read(f(x));
                EXPECT_EQ(r.state, ReadState::InRange);
                ASSERT_TRUE(r.x);
                EXPECT_NEAR(*r.x, x, 1e-9 * x);
            }
            // Beyond the blank it is below, beyond the other plateau there is nothing.
            EXPECT_EQ(curve.read(falls ? top + 0.1 : bottom - 0.1).state, ReadState::Below);
            EXPECT_EQ(curve.read(falls ? bottom - 0.1 : top + 0.1).state, ReadState::NoSolution);
            EXPECT_FALSE(curve.read(falls ? bottom - 0.1 : top + 0.1).x);
        }
    }
}

TEST(Inversion, OfAParabolaTellsBothSolutions) {
    const auto f = [](double x) { return 8 * x - 0.2 * x * x; }; // its top is at 20
    const Inversion rising(f, 0, 15), whole(f, 0, 30);
    const Reading r = rising.read(f(5));
    EXPECT_EQ(r.state, ReadState::InRange);
    ASSERT_EQ(r.solutions.size(), 2U);
    EXPECT_NEAR(*r.x, 5, 1e-10);
    EXPECT_NEAR(r.solutions[1], 35, 1e-9);
    EXPECT_EQ(whole.read(f(15)).state, ReadState::Ambiguous);
    EXPECT_FALSE(whole.read(f(15)).x);
    EXPECT_EQ(whole.read(f(5)).state, ReadState::InRange); // 35 is beyond the standards
    EXPECT_EQ(whole.read(f(20) + 1).state, ReadState::NoSolution);
    EXPECT_TRUE(whole.read(f(20) + 1).solutions.empty());
    EXPECT_EQ(rising.read(f(17)).state, ReadState::Above);
    EXPECT_EQ(rising.read(-5).state, ReadState::Below);
    EXPECT_EQ(rising.read(NAN).state, ReadState::NoSolution);
}

TEST(Inversion, TheFirstAndLastStandardAreInRange) {
    const auto f = [](double x) { return 0.3 + 0.1 * x; };
    const Inversion line(f, 0.1, 0.7);
    for (double x : {0.1, 0.7}) {
        EXPECT_EQ(line.read(f(x)).state, ReadState::InRange) << x;
        EXPECT_EQ(line.read(f(x)).solutions.size(), 1U) << x;
    }
}
