// SPDX-License-Identifier: GPL-3.0-or-later
// Values between nodes, cuts, smoothing, refining, trends.
#include "fields/field.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

namespace jointer::fields {

namespace {

Field plane(std::size_t n, std::size_t m, const auto& z) {
    Field f;
    for (std::size_t i = 0; i < n; ++i) f.x.push_back(static_cast<double>(i * i) / 3); // not even
    for (std::size_t j = 0; j < m; ++j) f.y.push_back(2 + static_cast<double>(j));
    for (const double y : f.y)
        for (const double x : f.x) f.z.push_back(z(x, y));
    return f;
}

} // namespace

TEST(Fields, NodesAreMetExactlyAndPlanesEverywhere) {
    const Field f = plane(6, 5, [](double x, double y) { return 3 * x - 2 * y + 1; });
    for (std::size_t j = 0; j < f.rows(); ++j)
        for (std::size_t i = 0; i < f.columns(); ++i) EXPECT_EQ(valueAt(f, f.x[i], f.y[j]), f.at(i, j));
    std::mt19937 random(1);
    std::uniform_real_distribution<double> x(f.x.front(), f.x.back()), y(f.y.front(), f.y.back());
    for (int k = 0; k < 100; ++k) {
        const double a = x(random), b = y(random);
        EXPECT_NEAR(valueAt(f, a, b), 3 * a - 2 * b + 1, 1e-12);
    }
    EXPECT_TRUE(std::isnan(valueAt(f, -1, 3)));
    EXPECT_TRUE(std::isnan(valueAt(f, 0, 99)));
}

TEST(Fields, CutsRunFromEndToEnd) {
    const Field f = plane(6, 5, [](double x, double y) { return x + 10 * y; });
    const Cut across = cutThrough(f, {0, 3}, {8, 3}, 5);
    EXPECT_EQ(across.along.front(), 0);
    EXPECT_EQ(across.along.back(), 8);
    EXPECT_NEAR(across.z.back(), 38, 1e-12);
    const Cut slanted = cutThrough(f, {0, 2}, {3, 6}, 11);
    EXPECT_NEAR(slanted.along.back(), 5, 1e-12);
    EXPECT_NEAR(slanted.z[5], 1.5 + 40, 1e-12);
}

TEST(Fields, RefiningMeetsTheNodesAndStaysBesideHoles) {
    Field f = plane(7, 6, [](double x, double y) { return std::sin(x) + y * y; });
    f.z[8] = NAN;
    const Field fine = refined(f, 4);
    EXPECT_EQ(fine.columns(), 25U);
    EXPECT_EQ(fine.rows(), 21U);
    for (std::size_t j = 0; j < f.rows(); ++j)
        for (std::size_t i = 0; i < f.columns(); ++i)
            if (std::isfinite(f.at(i, j))) {
                EXPECT_EQ(fine.at(4 * i, 4 * j), f.at(i, j));
            }
    EXPECT_TRUE(std::isnan(fine.at(4, 4)));
}

TEST(Fields, SmoothingKeepsConstantsMeansAndHoles) {
    Field f = plane(30, 20, [](double, double) { return 7.0; });
    f.z[50] = NAN;
    const Field same = smoothed(f, 2);
    EXPECT_TRUE(std::isnan(same.z[50]));
    for (std::size_t k = 0; k < f.z.size(); ++k)
        if (k != 50) {
            EXPECT_NEAR(same.z[k], 7, 1e-12);
        }
    // A point far from the edges becomes a Gaussian: its height is 1/(2π·σ²) of it, its sum stays.
    Field peak = plane(41, 41, [](double, double) { return 0.0; });
    peak.z[20 * 41 + 20] = 1;
    const Field wide = smoothed(peak, 2);
    double sum = 0;
    for (const double v : wide.z) sum += v;
    EXPECT_NEAR(sum, 1, 1e-3);
    EXPECT_NEAR(wide.at(20, 20), 1 / (2 * M_PI * 4), 1e-4);
}

TEST(Fields, TrendsAreTakenAway) {
    const Field f = plane(9, 8, [](double x, double y) { return 2 - x + 0.5 * y; });
    for (const double v : withoutTrend(f, 1).z) EXPECT_NEAR(v, 0, 1e-10);
    const Field bent = plane(9, 8, [](double x, double y) { return 1 + x * y - y * y + 0.1 * x * x; });
    for (const double v : withoutTrend(bent, 2).z) EXPECT_NEAR(v, 0, 1e-9);
}

} // namespace jointer::fields
