// SPDX-License-Identifier: GPL-3.0-or-later
#include "stats/summary.h"

#include <array>
#include <cmath>
#include <gtest/gtest.h>
#include <limits>
#include <numeric>

using namespace jointer::stats;

namespace {

const double kNaN = std::numeric_limits<double>::quiet_NaN();

} // namespace

// Closed forms for 1 … n: mean (n+1)/2, variance n(n+1)/12, skewness 0, G2 = −6/5 for every n.
TEST(Summary, TheFirstWholeNumbers) {
    for (int n : {4, 5, 10, 101, 4096}) {
        std::vector<double> v(static_cast<std::size_t>(n));
        std::iota(v.begin(), v.end(), 1.0);
        const Summary s = summarise(v);
        const double m = n;
        EXPECT_EQ(s.n, v.size());
        EXPECT_EQ(s.missing, 0U);
        EXPECT_DOUBLE_EQ(s.mean, (m + 1) / 2);
        EXPECT_NEAR(s.sd, std::sqrt(m * (m + 1) / 12), 1e-12 * m);
        EXPECT_NEAR(s.sem, s.sd / std::sqrt(m), 1e-13 * m);
        EXPECT_DOUBLE_EQ(s.sum, m * (m + 1) / 2);
        EXPECT_DOUBLE_EQ(s.sumOfSquares, m * (m + 1) * (2 * m + 1) / 6);
        EXPECT_NEAR(s.skewness, 0, 1e-12);
        EXPECT_NEAR(s.kurtosis, -1.2, 1e-11);
        EXPECT_DOUBLE_EQ(s.median, (m + 1) / 2);
        EXPECT_DOUBLE_EQ(s.q1, 1 + (m - 1) / 4);
        EXPECT_DOUBLE_EQ(s.q3, 1 + 3 * (m - 1) / 4);
        EXPECT_EQ(s.min, 1);
        EXPECT_EQ(s.max, n);
    }
}

// A large offset must not eat the digits of the scatter.
TEST(Summary, AnOffsetChangesOnlyTheMean) {
    for (double offset : {0.0, 1e6, -1e9, 1e12}) {
        std::vector<double> v;
        for (int i = 0; i < 1001; ++i) v.push_back(offset + (i % 2 ? 0.5 : -0.5));
        const Summary s = summarise(v);
        EXPECT_NEAR(s.mean, offset - 0.5 / 1001, std::abs(offset) * 1e-15 + 1e-12) << offset;
        // Σ(v − mean)² = n/4 − 1/(4n); over n − 1.
        EXPECT_NEAR(s.sd, std::sqrt((1001 / 4.0 - 1 / (4 * 1001.0)) / 1000), 1e-4 * (offset == 0 ? 1e-8 : 1))
            << offset;
    }
}

TEST(Summary, MissingValuesAreCountedAndLeftOut) {
    const std::array v = {kNaN, 3.0, kNaN, 1.0, 2.0};
    const Summary s = summarise(v);
    EXPECT_EQ(s.n, 3U);
    EXPECT_EQ(s.missing, 2U);
    EXPECT_DOUBLE_EQ(s.mean, 2);
    EXPECT_DOUBLE_EQ(s.sd, 1);
    EXPECT_DOUBLE_EQ(s.median, 2);
}

TEST(Summary, WhatIsNotDefinedIsNaN) {
    const Summary none = summarise({});
    EXPECT_EQ(none.n, 0U);
    EXPECT_TRUE(std::isnan(none.mean) && std::isnan(none.sd) && std::isnan(none.median) &&
                std::isnan(none.min));
    const std::array one = {7.0};
    const Summary s = summarise(one);
    EXPECT_DOUBLE_EQ(s.mean, 7);
    EXPECT_DOUBLE_EQ(s.median, 7);
    EXPECT_TRUE(std::isnan(s.sd) && std::isnan(s.sem) && std::isnan(s.skewness) && std::isnan(s.kurtosis));
    const std::array same = {2.0, 2.0, 2.0, 2.0};
    EXPECT_EQ(summarise(same).sd, 0);
    EXPECT_TRUE(std::isnan(summarise(same).skewness)) << "no shape without scatter";
}

TEST(Quantile, IsLinearBetweenTheOrderedValues) {
    const std::array v = {10.0, 20.0, 40.0, 80.0};
    for (const auto& [p, expected] :
         {std::pair(0.0, 10.0), {1.0, 80.0}, {0.5, 30.0}, {1.0 / 3, 20.0}, {0.25, 17.5}, {0.9, 68.0}})
        EXPECT_NEAR(quantile(v, p), expected, 1e-12) << p;
    const std::array one = {5.0};
    EXPECT_EQ(quantile(one, 0.3), 5);
}

// One wild value moves the SD, not the robust one.
TEST(RobustSd, IsThatOfNormalDataAndDoesNotSeeOutliers) {
    const std::array v = {1.0, 2.0, 3.0, 4.0, 5.0};
    EXPECT_NEAR(robustSd(v), 1.482602218505602, 1e-12);
    const std::array wild = {1.0, 2.0, 3.0, 4.0, 5000.0, kNaN};
    EXPECT_NEAR(robustSd(wild), 1.482602218505602, 1e-12);
}
