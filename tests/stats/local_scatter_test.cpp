// SPDX-License-Identifier: GPL-3.0-or-later
#include "stats/local_scatter.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

using namespace jointer::stats;

// Noise that is a known share of a curve over six decades is found, and a constant one about zero.
TEST(LocalScatter, IsThatOfTheNoise) {
    std::mt19937 random(3);
    std::normal_distribution<double> noise;
    std::vector<double> x, falling, flat;
    for (int k = 0; k < 400; ++k) {
        x.push_back(0.003 * std::pow(100, k / 399.0));
        falling.push_back(100 * std::pow(x.back() / 0.003, -3) * (1 + 0.05 * noise(random)));
        flat.push_back(0.2 * noise(random));
    }
    const auto a = localScatter(x, falling), b = localScatter(x, flat);
    double ratio = 0, constant = 0;
    for (std::size_t k = 0; k < x.size(); ++k) ratio += a[k] / falling[k] / 400, constant += b[k] / 400;
    EXPECT_NEAR(ratio, 0.05, 0.003);
    EXPECT_NEAR(constant, 0.2, 0.012);
}

TEST(LocalScatter, NeedsPoints) {
    const std::vector<double> x = {1, 2, 3, 4, 5, 6}, y = {1, NAN, 3, 4, 5, 6};
    EXPECT_TRUE(localScatter(std::span(x).first(4), std::span(y).first(4)).empty());
    const auto s = localScatter(x, y);
    ASSERT_EQ(s.size(), 6U);
    EXPECT_TRUE(std::isnan(s[1]));
    EXPECT_GE(s[3], 0);
}
