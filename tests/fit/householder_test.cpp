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

// Both ways give one triangle, up to the signs of its rows; where the columns nearly depend the quick one refuses.
TEST(Householder, TheQuickWayGivesTheSameTriangle) {
    std::mt19937 random(12);
    std::normal_distribution<double> e;
    for (const Eigen::Index m : {1, 2, 3, 4, 5, 7, 26})
        for (const Eigen::Index rows : {4 * m + 1, Eigen::Index(255), Eigen::Index(1003)}) {
            if (rows <= m) continue;
            Eigen::MatrixXd a(rows, m + 1);
            for (double& v : a.reshaped()) v = e(random);
            for (Eigen::Index k = 0; k < m; ++k) a.col(k) *= std::pow(10, e(random) * 3);
            std::vector<const double*> columns;
            for (Eigen::Index k = 0; k < m; ++k) columns.push_back(a.col(k).data());
            const Eigen::VectorXd scale = a.leftCols(m).colwise().norm();
            const Eigen::VectorXd right = a.col(m);
            const Eigen::MatrixXd quick = quickTriangle(columns, rows, right.data(), scale);
            ASSERT_EQ(quick.rows(), m);
            Eigen::MatrixXd exact = a;
            for (Eigen::Index k = 0; k < m; ++k) exact.col(k) /= scale[k];
            triangularise(exact, m);
            for (Eigen::Index i = 0; i < m; ++i)
                for (Eigen::Index j = i; j <= m; ++j)
                    EXPECT_NEAR(quick(i, j) * std::copysign(1, exact(i, i)), exact(i, j),
                                1e-11 * (j < m ? 1 : right.norm()))
                        << m << " " << rows << " " << i << " " << j;
            if (m < 2) continue;
            a.col(1) = a.col(0) * (1 + 1e-7);
            const Eigen::VectorXd now = a.leftCols(m).colwise().norm(); // by the old one rounding would be magnified
            EXPECT_EQ(quickTriangle(columns, rows, right.data(), now).size(), 0);
            a.col(1) *= 1e-160;
            EXPECT_EQ(quickTriangle(columns, rows, right.data(), scale).size(), 0);
        }
}
