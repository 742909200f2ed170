// SPDX-License-Identifier: GPL-3.0-or-later
// Local regression against its definition worked out slowly, against values of another implementation, and by
// simulation.
#include "numerics/loess.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <numeric>
#include <random>

using namespace jointer::numerics;

namespace {

struct Points {
    std::vector<double> x, y, w;
};

Points randomPoints(unsigned seed, std::size_t n, bool weighted = false) {
    std::mt19937_64 random(seed);
    std::uniform_real_distribution<double> u(0, 1);
    std::normal_distribution<double> normal(0, 1);
    Points p;
    for (std::size_t i = 0; i < n; ++i) p.x.push_back(10 * u(random));
    if (seed % 2)
        for (double& x : p.x) x = std::round(4 * x) / 4; // several at one place
    std::ranges::sort(p.x);
    for (double x : p.x) {
        p.y.push_back(std::sin(x) + 0.3 * normal(random));
        if (weighted) p.w.push_back(0.2 + u(random));
    }
    return p;
}

// The rows of the hat matrix by sorting all distances and solving the normal equations.
Eigen::VectorXd slowRow(const Points& p, double at, const LoessWish& wish) {
    const std::size_t n = p.x.size();
    const auto near = std::clamp<std::size_t>(
        static_cast<std::size_t>(std::floor(static_cast<double>(n) * wish.fraction + 1e-5)),
        static_cast<std::size_t>(wish.degree) + 1, n);
    std::vector<double> distances;
    for (double x : p.x) distances.push_back(std::abs(x - at));
    std::vector<double> sorted = distances;
    std::ranges::sort(sorted);
    const double reach = sorted[near - 1];
    Eigen::MatrixXd a(static_cast<Eigen::Index>(n), wish.degree + 1);
    Eigen::VectorXd root(static_cast<Eigen::Index>(n));
    for (std::size_t i = 0; i < n; ++i) {
        const double u = distances[i] / reach, k = u < 1 ? std::pow(1 - u * u * u, 3) : 0;
        const auto row = static_cast<Eigen::Index>(i);
        root[row] = std::sqrt(k * (p.w.empty() ? 1 : p.w[i]));
        for (int c = 0; c <= wish.degree; ++c) a(row, c) = root[row] * std::pow((p.x[i] - at) / reach, c);
    }
    return a.completeOrthogonalDecomposition().pseudoInverse().row(0).transpose().cwiseProduct(root);
}

} // namespace

TEST(Loess, IsItsDefinition) {
    for (unsigned seed = 0; seed < 40; ++seed) {
        const Points p = randomPoints(seed, 20 + 3 * seed, seed % 3 == 0);
        const LoessWish wish{.fraction = 0.3 + 0.07 * (seed % 11), .degree = 1 + static_cast<int>(seed % 2)};
        if (wish.fraction > 1) continue;
        const Loess loess(p.x, p.y, p.w, wish);
        std::vector<double> row(p.x.size());
        for (const double at :
             {p.x.front(), 0.5 * (p.x.front() + p.x.back()), 3.3, p.x.back(), p.x.back() + 0.5}) {
            const Eigen::VectorXd wanted = slowRow(p, at, wish);
            loess.weightsAt(at, row);
            double y = 0, squares = 0;
            for (std::size_t i = 0; i < row.size(); ++i) {
                const double l = wanted[static_cast<Eigen::Index>(i)];
                EXPECT_NEAR(row[i], l, 1e-8) << seed << " at " << at;
                y += l * p.y[i];
                squares += l * l / (p.w.empty() ? 1 : p.w[i]);
            }
            const Loess::At found = loess.at(at);
            EXPECT_NEAR(found.y, y, 1e-8);
            EXPECT_NEAR(found.norm, std::sqrt(squares), 1e-8);
            EXPECT_NEAR(loess.values(std::vector{at}).front(), y, 1e-8);
        }
    }
}

TEST(Loess, KeepsPolynomialsOfItsDegree) {
    Points p = randomPoints(2, 80);
    for (std::size_t i = 0; i < p.x.size(); ++i) p.y[i] = 3 - 2 * p.x[i] + 0.5 * p.x[i] * p.x[i];
    const Loess loess(p.x, p.y, {}, {.fraction = 0.4, .degree = 2, .robustSteps = 3});
    for (const double at : {0.5, 4.0, 9.0}) {
        EXPECT_NEAR(loess.at(at).y, 3 - 2 * at + 0.5 * at * at, 1e-9);
        EXPECT_NEAR(loess.at(at).slope, -2 + at, 1e-8);
    }
}

// Stopping distances over speed: M. Ezekiel, Methods of Correlation Analysis (1930). Curve, errors, scatter
// and degrees of freedom as another implementation gives them with three quarters of the points.
TEST(Loess, StoppingDistancesAreThoseOfAnotherImplementation) {
    const std::vector<double> speed = {4,  4,  7,  7,  8,  9,  10, 10, 10, 11, 11, 12, 12, 12, 12, 13, 13,
                                       13, 13, 14, 14, 14, 14, 15, 15, 15, 16, 16, 17, 17, 17, 18, 18, 18,
                                       18, 19, 19, 19, 20, 20, 20, 20, 20, 22, 23, 24, 24, 24, 24, 25},
                              distance = {2,  10, 4,  22, 16, 10, 18, 26, 34, 17, 28, 14, 20, 24, 28,  26, 34,
                                          34, 46, 26, 36, 60, 80, 20, 26, 54, 32, 40, 32, 40, 50, 42,  56, 76,
                                          84, 36, 46, 68, 32, 48, 52, 56, 64, 66, 54, 70, 92, 93, 120, 85};
    const Loess loess(speed, distance, {}, {.fraction = 0.75, .degree = 2});
    const std::pair<double, double> known[] = {{5, 7.741006},   {6, 9.926596},   {7, 12.442424},
                                               {8, 15.281082},  {9, 18.425712},  {10, 21.865315},
                                               {11, 25.713413}, {12, 29.350386}, {13, 33.230660}};
    for (const auto& [at, y] : known) EXPECT_NEAR(loess.at(at).y, y, 2e-6) << at;
    const SmootherStatistics s = statisticsOf(loess, speed);
    const std::vector<double> fitted = loess.values(speed);
    double rss = 0;
    for (std::size_t i = 0; i < speed.size(); ++i) rss += std::pow(distance[i] - fitted[i], 2);
    EXPECT_NEAR(std::sqrt(rss / s.left), 15.31087, 0.015) << "there the traces are interpolated";
    EXPECT_NEAR(s.degrees(), 44.55085, 0.1);
}

// The traces written out.
TEST(Loess, StatisticsAreThoseOfItsMatrix) {
    for (unsigned seed = 0; seed < 8; ++seed) {
        const Points p = randomPoints(seed, 60, seed % 2);
        const Loess loess(p.x, p.y, p.w, {.fraction = 0.5, .degree = 1 + static_cast<int>(seed % 2)});
        const auto n = static_cast<Eigen::Index>(p.x.size());
        Eigen::MatrixXd l(n, n);
        std::vector<double> row(p.x.size());
        for (Eigen::Index i = 0; i < n; ++i) {
            loess.weightsAt(p.x[static_cast<std::size_t>(i)], row);
            for (Eigen::Index j = 0; j < n; ++j)
                l(i, j) =
                    row[static_cast<std::size_t>(j)] *
                    (p.w.empty()
                         ? 1
                         : std::sqrt(p.w[static_cast<std::size_t>(i)] / p.w[static_cast<std::size_t>(j)]));
        }
        const Eigen::MatrixXd m =
            (Eigen::MatrixXd::Identity(n, n) - l) * (Eigen::MatrixXd::Identity(n, n) - l).transpose();
        const SmootherStatistics s = statisticsOf(loess, p.x);
        EXPECT_TRUE(s.exact);
        EXPECT_NEAR(s.dof, l.trace(), 1e-9);
        EXPECT_NEAR(s.left, m.trace(), 1e-8);
        EXPECT_NEAR(s.leftSquared, (m * m).trace(), 1e-7);
        ASSERT_EQ(s.leverage.size(), p.x.size());
        EXPECT_NEAR(s.leverage[5], l(5, 5), 1e-12);
    }
}

TEST(Loess, OfManyPointsTheStatisticsComeFromSome) {
    const Points p = randomPoints(4, 6000);
    const SmootherStatistics s = statisticsOf(Loess(p.x, p.y, {}, {.fraction = 0.3, .degree = 2}), p.x);
    EXPECT_FALSE(s.exact);
    const Points few = randomPoints(4, 1500);
    const SmootherStatistics exact =
        statisticsOf(Loess(few.x, few.y, {}, {.fraction = 0.3, .degree = 2}), few.x);
    EXPECT_NEAR(s.dof, exact.dof, 0.03 * exact.dof) << "the same fraction has as many degrees of freedom";
    EXPECT_NEAR(6000 - s.left, 1500 - exact.left, 0.05 * (1500 - exact.left));
}

// Where the curve is nearly of its degree, the bands hold the truth as often as they say.
TEST(Loess, ErrorsAreThoseOfTheScatter) {
    std::mt19937_64 random(9);
    std::normal_distribution<double> normal(0, 1);
    const double sigma = 0.2;
    Points p;
    for (int i = 0; i < 100; ++i) p.x.push_back(0.1 * i);
    double squares = 0, claimed = 0, estimated = 0;
    const int rounds = 400;
    std::optional<SmootherStatistics> s;
    for (int round = 0; round < rounds; ++round) {
        p.y.clear();
        for (double x : p.x) p.y.push_back(2 + 0.3 * x - 0.05 * x * x + sigma * normal(random));
        const Loess loess(p.x, p.y, {}, {.fraction = 0.5, .degree = 2});
        if (!s) s = statisticsOf(loess, p.x);
        const Loess::At at = loess.at(4.2);
        squares += std::pow(at.y - (2 + 0.3 * 4.2 - 0.05 * 4.2 * 4.2), 2);
        claimed += std::pow(sigma * at.norm, 2);
        const std::vector<double> fitted = loess.values(p.x);
        double rss = 0;
        for (std::size_t i = 0; i < p.x.size(); ++i) rss += std::pow(p.y[i] - fitted[i], 2);
        estimated += rss / s->left;
    }
    EXPECT_NEAR(squares / claimed, 1, 4 * std::sqrt(2.0 / rounds));
    EXPECT_NEAR(estimated / rounds / (sigma * sigma), 1, 0.03);
}

// Wild points pull the plain curve, and the robust one hardly.
TEST(Loess, RobustOnesPassOverWildPoints) {
    Points p = randomPoints(2, 200);
    for (std::size_t i = 0; i < p.x.size(); ++i)
        p.y[i] = std::sin(p.x[i]) + 0.01 * std::sin(77.0 * static_cast<double>(i));
    for (std::size_t i = 5; i < 200; i += 9) p.y[i] += 5;
    const Loess plain(p.x, p.y, {}, {.fraction = 0.2, .degree = 2}),
        robust(p.x, p.y, {}, {.fraction = 0.2, .degree = 2, .robustSteps = 4});
    double worstPlain = 0, worstRobust = 0;
    for (double at = 0.5; at < 9.5; at += 0.1) {
        worstPlain = std::max(worstPlain, std::abs(plain.at(at).y - std::sin(at)));
        worstRobust = std::max(worstRobust, std::abs(robust.at(at).y - std::sin(at)));
    }
    EXPECT_GT(worstPlain, 0.5);
    EXPECT_LT(worstRobust, 0.05);
    EXPECT_LT(robust.robustness()[5], 0.01);
}

TEST(Loess, TakesFewPointsAndPointsAtOnePlace) {
    EXPECT_EQ(Loess({2}, {7}).at(5).y, 7);
    EXPECT_NEAR(Loess({2, 4}, {7, 9}, {}, {.fraction = 1, .degree = 2}).at(2.5).y, 7.5, 0.6);
    const Loess same({3, 3, 3, 3}, {1, 2, 3, 6}, {}, {.fraction = 0.5, .degree = 2});
    EXPECT_TRUE(std::isfinite(same.at(3).y));
    EXPECT_GE(same.at(3).y, 1);
    EXPECT_LE(same.at(3).y, 6);
    const Loess tied({1, 2, 2, 2, 2, 3}, {0, 1, 2, 3, 4, 5}, {}, {.fraction = 0.6, .degree = 1});
    EXPECT_NEAR(tied.at(2).y, 2.5, 1e-9) << "all the near ones stand there";
}
