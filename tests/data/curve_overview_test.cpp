// SPDX-License-Identifier: GPL-3.0-or-later
#include "data/curve_overview.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

using namespace jointer;

namespace {

Curve randomCurve(std::size_t n, unsigned seed) {
    std::mt19937 random(seed);
    std::normal_distribution<double> value(0, 1);
    Curve c;
    for (std::size_t i = 0; i < n; ++i) {
        c.x.push_back(static_cast<double>(i));
        c.y.push_back(random() % 17 == 0 ? std::nan("") : value(random));
        c.excluded.push_back(random() % 23 == 0);
    }
    return c;
}

Extent bruteForce(const Curve& c, std::size_t from, std::size_t to) {
    Extent e;
    for (std::size_t i = from; i < std::min(to, c.size()); ++i)
        if (c.counts(i)) e.take(c.y[i], i);
    return e;
}

} // namespace

TEST(CurveOverview, SaysTheSameAsLookingAtEachPoint) {
    for (std::size_t n : {0U, 1U, 255U, 256U, 257U, 5000U}) {
        const Curve c = randomCurve(n, static_cast<unsigned>(n));
        const CurveOverview overview(c);
        std::mt19937 random(7);
        for (int k = 0; k < 300; ++k) {
            const std::size_t a = n ? random() % (n + 1) : 0, b = a + (n ? random() % (n + 20) : 0);
            const Extent expected = bruteForce(c, a, b), got = overview.over(c, a, b);
            ASSERT_EQ(got.any, expected.any) << n << ": " << a << "–" << b;
            if (!expected.any) continue;
            ASSERT_EQ(got.low, expected.low);
            ASSERT_EQ(got.high, expected.high);
            ASSERT_EQ(got.lowestPositive, expected.lowestPositive);
            ASSERT_EQ(got.first, expected.first);
            ASSERT_EQ(got.last, expected.last);
        }
    }
}

TEST(CurveOverview, PartsWithoutAPointThatCountsSaySo) {
    Curve c = randomCurve(2000, 1);
    std::fill(c.y.begin() + 256, c.y.begin() + 1024, std::nan(""));
    const CurveOverview overview(c);
    EXPECT_FALSE(overview.over(c, 256, 1024).any);
    EXPECT_FALSE(overview.over(c, 300, 1000).any);
    EXPECT_TRUE(overview.over(c, 200, 1100).any);
    EXPECT_FALSE(overview.over(c, 5, 5).any);
}

TEST(Curve, NumbersOfASpan) {
    Curve c{.x = {0, 1, 2, 4, 5}, .y = {0, 2, NAN, 4, 9}};
    c.excluded = {0, 0, 0, 0, 1};
    const SpanNumbers all = numbersOfSpan(c, -1, 9); // (0,0), (1,2), (4,4) count
    EXPECT_EQ(all.n, 3U);
    EXPECT_DOUBLE_EQ(all.area, 0.5 * 2 * 1 + 0.5 * (2 + 4) * 3);
    EXPECT_EQ(all.maximum, 4);
    EXPECT_EQ(all.at, 4);
    EXPECT_EQ(numbersOfSpan(c, 0.5, 1.5).area, 0) << "one point has no area";
    EXPECT_EQ(numbersOfSpan(c, 6, 7).n, 0U);
    EXPECT_EQ(numbersOfSpan({}, 0, 1).n, 0U);
}
