// SPDX-License-Identifier: GPL-3.0-or-later
// The reduction to a triangle keeps lengths, also where columns are so small that their squares vanish.
#include "fit/householder.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

using namespace jointer::fit;

TEST(Householder, KeepsLengthsOfAnySize) {
    std::mt19937 random(11);
    std::normal_distribution<double> e;
    for (const double size : {1.0, 1e-130, 1e-158, 1e-170, 1e-250, 1e-307, 4e-320, 0.0}) {
        Eigen::MatrixXd a(40, 5);
        for (Eigen::Index j = 0; j < 5; ++j)
            for (Eigen::Index i = 0; i < 40; ++i) a(i, j) = e(random) * (j == 1 || j == 2 ? size : 1);
        const Eigen::VectorXd before = a.colwise().norm();
        const double product = a.col(0).dot(a.col(4));
        triangularise(a, 4);
        ASSERT_TRUE(a.allFinite()) << size;
        for (const Eigen::Index j : {0, 3})
            EXPECT_NEAR(a.col(j).head(j + 1).norm(), before[j], 1e-12 * before[j]) << size << " column " << j;
        EXPECT_NEAR(a.col(4).norm(), before[4], 1e-12 * before[4]) << size;
        EXPECT_NEAR(a(0, 0) * a(0, 4), product, 1e-12 * std::abs(before[0] * before[4])) << size;
    }
}
