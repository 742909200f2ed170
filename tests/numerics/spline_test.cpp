// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/compensated_sum.h"
#include "numerics/spline.h"

#include <gtest/gtest.h>

using namespace jointer::numerics;

TEST(NaturalSpline, GoesThroughItsPointsAndIsStraightOutside) {
    const std::vector<double> xs = {0, 1, 3, 4}, ys = {1, 3, -1, 2};
    const NaturalSpline s(xs, ys);
    for (std::size_t i = 0; i < xs.size(); ++i) EXPECT_NEAR(s(xs[i]), ys[i], 1e-14);
    EXPECT_NEAR(s(6) - s(5), s(5) - s(4), 1e-12);
    EXPECT_NEAR(s(-2) - s(-1), s(-1) - s(0), 1e-12);
    EXPECT_NEAR((s(4 + 1e-6) - s(4)) / 1e-6, (s(4) - s(4 - 1e-6)) / 1e-6, 1e-4);
}

TEST(NaturalSpline, MatchesTheClosedFormOfThreePoints) {
    // Knots 0, 1, 2 with values 0, 1, 0: s'' at the middle is −3, so s(0.5) = 0.5 + 3/16.
    const NaturalSpline s(std::vector<double>{0, 1, 2}, std::vector<double>{0, 1, 0});
    EXPECT_NEAR(s(0.5), 0.6875, 1e-15);
    EXPECT_NEAR(s(1.5), 0.6875, 1e-15);
}

TEST(NaturalSpline, FewPoints) {
    EXPECT_EQ(NaturalSpline(std::vector<double>{1}, std::vector<double>{5})(9), 5);
    EXPECT_NEAR(NaturalSpline(std::vector<double>{0, 2}, std::vector<double>{0, 4})(3), 6, 1e-14);
    EXPECT_NEAR(interpolateLinear(std::vector<double>{0, 2, 3}, std::vector<double>{0, 4, 4}, 2.5), 4, 1e-14);
}

TEST(CompensatedSum, KeepsWhatPlainSummationLoses) {
    CompensatedSum s;
    for (double v : {1.0, 1e100, 1.0, -1e100}) s.add(v);
    EXPECT_EQ(s.value(), 2);
}
