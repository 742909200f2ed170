// SPDX-License-Identifier: GPL-3.0-or-later
// Smoothing splines against the full system that defines them, and cross-validation by really leaving points
// out.
#include "numerics/smoothing_spline.h"

#include <Eigen/Dense>
#include <algorithm>
#include <chrono>
#include <cmath>
#include <gtest/gtest.h>
#include <random>

using namespace jointer::numerics;

namespace {

struct Points {
    std::vector<double> x, y, w;
};

Points randomPoints(unsigned seed, std::size_t n, bool weighted) {
    std::mt19937_64 random(seed);
    std::uniform_real_distribution<double> u(0, 1);
    std::normal_distribution<double> normal(0, 1);
    Points p;
    for (std::size_t i = 0; i < n; ++i) p.x.push_back(20 * u(random) - 5);
    std::ranges::sort(p.x);
    for (double x : p.x) {
        p.y.push_back(std::sin(x) + 0.3 * normal(random));
        p.w.push_back(weighted ? 0.3 + 2 * u(random) : 1);
    }
    return p;
}

// A = (W + λ·K)⁻¹·W with K = Q R⁻¹ Qᵀ, all written out.
Eigen::MatrixXd hatMatrix(const Points& p, double lambda) {
    const auto n = static_cast<Eigen::Index>(p.x.size());
    Eigen::MatrixXd q = Eigen::MatrixXd::Zero(n, n - 2), r = Eigen::MatrixXd::Zero(n - 2, n - 2);
    for (Eigen::Index c = 0; c + 2 < n; ++c) {
        const auto i = static_cast<std::size_t>(c);
        const double left = p.x[i + 1] - p.x[i], right = p.x[i + 2] - p.x[i + 1];
        q(c, c) = 1 / left, q(c + 1, c) = -1 / left - 1 / right, q(c + 2, c) = 1 / right;
        r(c, c) = (left + right) / 3;
        if (c + 3 < n) r(c, c + 1) = r(c + 1, c) = right / 6;
    }
    const Eigen::MatrixXd w = Eigen::Map<const Eigen::VectorXd>(p.w.data(), n).asDiagonal();
    return (w + lambda * q * r.ldlt().solve(q.transpose())).ldlt().solve(w);
}

double unitOf(const Points& p) {
    double mean = 0;
    for (double w : p.w) mean += w / static_cast<double>(p.w.size());
    return mean * std::pow((p.x.back() - p.x.front()) / static_cast<double>(p.x.size() - 1), 3);
}

} // namespace

TEST(SmoothingSpline, SolvesTheSystemThatDefinesIt) {
    for (unsigned seed = 0; seed < 30; ++seed) {
        const Points p = randomPoints(seed, 3 + seed, seed % 2);
        for (const double smoothness : {-2.0, 0.5, 3.0}) {
            const SmoothingSpline s(p.x, p.y, p.w, {.smoothness = smoothness});
            const Eigen::MatrixXd a = hatMatrix(p, unitOf(p) * std::pow(10, smoothness));
            const Eigen::VectorXd f =
                a * Eigen::Map<const Eigen::VectorXd>(p.y.data(), static_cast<Eigen::Index>(p.y.size()));
            double rss = 0;
            for (std::size_t i = 0; i < p.x.size(); ++i) {
                const auto row = static_cast<Eigen::Index>(i);
                EXPECT_NEAR(s(p.x[i]), f[row], 1e-6) << seed << ", " << smoothness;
                EXPECT_NEAR(s.leverage(i), a(row, row), 1e-6) << seed << ", " << smoothness;
                EXPECT_NEAR(s.spread(p.x[i]), std::sqrt(a(row, row) / p.w[i]), 1e-6);
                rss += p.w[i] * std::pow(p.y[i] - f[row], 2);
            }
            EXPECT_NEAR(s.dof(), a.trace(), 1e-6);
            EXPECT_NEAR(s.rss(), rss, 1e-6 * (1 + rss));
            const auto n = static_cast<double>(p.x.size());
            EXPECT_NEAR(s.crossValidation(), n * rss / std::pow(n - a.trace(), 2),
                        1e-5 * s.crossValidation() + 1e-9);
        }
    }
}

// Leaving a point out is what the leverage says: y − f₍₋ᵢ₎(x) = (y − f(x)) / (1 − aᵢᵢ).
TEST(SmoothingSpline, LeavingAPointOutIsWhatItsLeverageSays) {
    const Points p = randomPoints(4, 40, false);
    const double smoothness = 1.5, lambda = unitOf(p) * std::pow(10, smoothness);
    const SmoothingSpline all(p.x, p.y, {}, {.smoothness = smoothness});
    for (const std::size_t out : {0UL, 7UL, 20UL, 39UL}) {
        Points rest = p;
        rest.x.erase(rest.x.begin() + static_cast<std::ptrdiff_t>(out));
        rest.y.erase(rest.y.begin() + static_cast<std::ptrdiff_t>(out));
        rest.w.clear();
        rest.w.assign(rest.x.size(), 1);
        const SmoothingSpline without(rest.x, rest.y, {}, {.smoothness = std::log10(lambda / unitOf(rest))});
        EXPECT_NEAR(p.y[out] - without(p.x[out]), (p.y[out] - all(p.x[out])) / (1 - all.leverage(out)), 1e-6)
            << out;
    }
}

TEST(SmoothingSpline, SeveralPointsAtOnePlaceAreTheirMean) {
    const std::vector<double> x = {0, 1, 1, 1, 2, 3, 3, 4, 5}, y = {0, 1, 3, 2, 4, 1, 2, 0, 2};
    const SmoothingSpline all(x, y, {}, {.smoothness = 0.3});
    const std::vector<double> places = {0, 1, 2, 3, 4, 5}, means = {0, 2, 4, 1.5, 0, 2},
                              counts = {1, 3, 1, 2, 1, 1};
    const SmoothingSpline apart(places, means, counts, {.smoothness = 0.3 - std::log10(9.0 / 6.0)});
    for (const double at : {0.0, 0.5, 1.0, 2.7, 5.0}) EXPECT_NEAR(all(at), apart(at), 1e-9);
    EXPECT_NEAR(all.dof(), apart.dof(), 1e-9);
    EXPECT_NEAR(all.rss() - apart.rss(), 2 + 0.5, 1e-9) << "and the scatter at the places";
}

TEST(SmoothingSpline, HasItsLimits) {
    const Points p = randomPoints(8, 30, false);
    const SmoothingSpline exact(p.x, p.y, {}, {.smoothness = -12}), line(p.x, p.y, {}, {.smoothness = 14});
    EXPECT_NEAR(exact.dof(), 30, 1e-3);
    for (std::size_t i = 0; i < p.x.size(); ++i) EXPECT_NEAR(exact(p.x[i]), p.y[i], 1e-4);
    EXPECT_NEAR(line.dof(), 2, 1e-3);
    EXPECT_NEAR(line.slope(p.x[3]), line.slope(p.x[25]), 1e-4);
    const SmoothingSpline one(std::vector{2.0}, std::vector{5.0}),
        two(std::vector{1.0, 3.0}, std::vector{2.0, 6.0});
    EXPECT_EQ(one(9), 5);
    EXPECT_NEAR(two(2), 4, 1e-12);
    EXPECT_TRUE(std::isfinite(one.spread(3)));
}

TEST(SmoothingSpline, HasTheDegreesOfFreedomThatAreAskedFor) {
    for (unsigned seed = 0; seed < 10; ++seed) {
        const Points p = randomPoints(seed, 60, seed % 2);
        for (const double dof : {2.5, 6.0, 20.0})
            EXPECT_NEAR(SmoothingSpline(p.x, p.y, p.w, {.dof = dof}).dof(), dof, 1e-3) << seed;
    }
}

// No other smoothness has a lower cross-validation.
TEST(SmoothingSpline, CrossValidationFindsItsLowest) {
    for (unsigned seed = 0; seed < 20; ++seed) {
        const Points p = randomPoints(seed, 50, seed % 2);
        const SmoothingSpline s(p.x, p.y, p.w);
        for (double other = -4; other < 8; other += 0.25)
            EXPECT_GE(SmoothingSpline(p.x, p.y, p.w, {.smoothness = other}).crossValidation(),
                      s.crossValidation() * (1 - 1e-4))
                << seed << ", " << other;
    }
}

// It comes near the truth, and its bands hold it about as often as they say over the whole curve (G. Wahba,
// 1983).
TEST(SmoothingSpline, FindsTheTruthWithItsErrors) {
    std::mt19937_64 random(3);
    std::normal_distribution<double> normal(0, 1);
    double inside = 0, all = 0;
    for (int round = 0; round < 100; ++round) {
        std::vector<double> x, y;
        for (int i = 0; i < 150; ++i) {
            x.push_back(0.1 * i);
            y.push_back(std::sin(x.back()) + 0.2 * normal(random));
        }
        const SmoothingSpline s(x, y);
        const double sigma = std::sqrt(s.rss() / (150 - s.dof()));
        EXPECT_NEAR(sigma, 0.2, 0.06);
        for (double at : x) {
            inside += std::abs(s(at) - std::sin(at)) <= 1.96 * sigma * s.spread(at);
            ++all;
        }
    }
    EXPECT_NEAR(inside / all, 0.95, 0.03);
}

// Among many points the smoothness is sought in what was put together: it is that of all.
TEST(SmoothingSpline, OfManyPointsIsAsSmoothAsOfAll) {
    std::mt19937_64 random(5);
    std::normal_distribution<double> normal(0, 1);
    std::vector<double> x, y;
    for (int i = 0; i < 60000; ++i) {
        x.push_back(i);
        y.push_back(std::sin(i / 4000.0) + 0.5 * normal(random));
    }
    const SmoothingSpline s(x, y);
    for (const double by : {-0.3, 0.3})
        EXPECT_GE(SmoothingSpline(x, y, {}, {.smoothness = s.smoothness() + by}).crossValidation(),
                  s.crossValidation() * (1 - 1e-7));
    for (int i = 1000; i < 59000; i += 1000) EXPECT_NEAR(s(i), std::sin(i / 4000.0), 0.08);
}
