// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/compensated_sum.h"
#include "numerics/spline.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <random>

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

namespace {

struct Knots {
    std::vector<double> xs, ys;

    explicit Knots(unsigned seed, std::size_t most = 30) {
        std::mt19937_64 random(seed);
        std::uniform_real_distribution<double> u(0, 1);
        const auto n = 3 + static_cast<std::size_t>(u(random) * static_cast<double>(most));
        double x = 200 * u(random) - 100;
        for (std::size_t i = 0; i < n; ++i) {
            xs.push_back(x += std::pow(10, 2 * u(random) - 1));
            ys.push_back(10 * u(random) - 5);
        }
    }
};

} // namespace

// The second derivatives solve the tridiagonal system of C. de Boor, solved here as a full one.
TEST(NaturalSpline, IsThatOfTheFullSystem) {
    for (unsigned seed = 0; seed < 100; ++seed) {
        const Knots k(seed);
        const auto n = static_cast<Eigen::Index>(k.xs.size());
        const Eigen::Map<const Eigen::VectorXd> x(k.xs.data(), n), y(k.ys.data(), n);
        Eigen::MatrixXd a = Eigen::MatrixXd::Identity(n, n);
        Eigen::VectorXd b = Eigen::VectorXd::Zero(n);
        for (Eigen::Index i = 1; i + 1 < n; ++i) {
            const double left = x[i] - x[i - 1], right = x[i + 1] - x[i];
            a(i, i - 1) = left / 6, a(i, i) = (left + right) / 3, a(i, i + 1) = right / 6;
            b[i] = (y[i + 1] - y[i]) / right - (y[i] - y[i - 1]) / left;
        }
        const Eigen::VectorXd second = a.fullPivLu().solve(b);
        const NaturalSpline s(k.xs, k.ys);
        for (Eigen::Index i = 0; i + 1 < n; ++i)
            for (const double share : {0.0, 0.3, 0.5, 0.9}) {
                const double h = x[i + 1] - x[i], u = 1 - share;
                const double wanted =
                    u * y[i] + share * y[i + 1] +
                    ((u * u * u - u) * second[i] + (share * share * share - share) * second[i + 1]) * h * h /
                        6;
                const double at = x[i] + share * h;
                EXPECT_NEAR(s(at), wanted, 1e-8) << seed;
                const double d = 1e-5 * h;
                EXPECT_NEAR(s.slope(at + d), (s(at + 2 * d) - s(at)) / (2 * d),
                            1e-4 * (1 + std::abs(s.slope(at))))
                    << seed;
            }
    }
}

// It has the least bending of all curves through its points: a little more of anything else bends more.
TEST(NaturalSpline, IsTheFunctionThatBendsLeast) {
    const Knots k(5, 8);
    const auto bending = [&](const std::vector<double>& ys) {
        const NaturalSpline s(k.xs, ys);
        double sum = 0;
        const double h = 1e-3;
        for (double x = k.xs.front(); x < k.xs.back(); x += h)
            sum += std::pow((s.slope(x + h) - s.slope(x)) / h, 2) * h;
        return sum;
    };
    // The natural spline through more points of another smooth curve that agrees at the knots.
    std::vector<double> finer, values;
    const NaturalSpline s(k.xs, k.ys);
    for (std::size_t i = 0; i + 1 < k.xs.size(); ++i)
        for (const double share : {0.0, 0.5}) {
            finer.push_back(std::lerp(k.xs[i], k.xs[i + 1], share));
            values.push_back(s(finer.back()) + (share > 0 ? 0.3 : 0));
        }
    finer.push_back(k.xs.back());
    values.push_back(k.ys.back());
    const NaturalSpline other(finer, values);
    double more = 0;
    for (double x = k.xs.front(); x < k.xs.back(); x += 1e-3)
        more += std::pow((other.slope(x + 1e-3) - other.slope(x)) / 1e-3, 2) * 1e-3;
    EXPECT_GT(more, bending(k.ys));
}

TEST(ShapePreservingSpline, NeverGoesBeyondItsPoints) {
    for (unsigned seed = 0; seed < 300; ++seed) {
        Knots k(seed);
        if (seed % 3 == 0) std::ranges::sort(k.ys);
        if (seed % 5 == 0) k.ys[k.ys.size() / 2] = k.ys[k.ys.size() / 2 - 1]; // a flat piece
        const ShapePreservingSpline s(k.xs, k.ys);
        for (std::size_t i = 0; i + 1 < k.xs.size(); ++i) {
            const double low = std::min(k.ys[i], k.ys[i + 1]), high = std::max(k.ys[i], k.ys[i + 1]);
            double before = k.ys[i];
            for (int step = 0; step <= 20; ++step) {
                const double now = s(std::lerp(k.xs[i], k.xs[i + 1], step / 20.0));
                EXPECT_GE(now, low - 1e-12) << seed;
                EXPECT_LE(now, high + 1e-12) << seed;
                EXPECT_GE((now - before) * (k.ys[i + 1] - k.ys[i]), -1e-12)
                    << seed << ": it turns between two points";
                before = now;
            }
            EXPECT_NEAR(s(k.xs[i]), k.ys[i], 1e-12);
            const double h = 1e-6 * (k.xs[i + 1] - k.xs[i]);
            if (i > 0) {
                EXPECT_NEAR((s(k.xs[i] + h) - s(k.xs[i])) / h, (s(k.xs[i]) - s(k.xs[i] - h)) / h, 0.05)
                    << "smooth";
            }
        }
    }
}

TEST(InterpolateLinear, IsBetweenItsNeighboursAndGoesOnOutside) {
    for (unsigned seed = 0; seed < 50; ++seed) {
        const Knots k(seed);
        for (std::size_t i = 0; i + 1 < k.xs.size(); ++i)
            for (const double share : {0.0, 0.25, 1.0})
                EXPECT_NEAR(interpolateLinear(k.xs, k.ys, std::lerp(k.xs[i], k.xs[i + 1], share)),
                            std::lerp(k.ys[i], k.ys[i + 1], share), 1e-10);
        const double step = k.xs[1] - k.xs[0];
        EXPECT_NEAR(interpolateLinear(k.xs, k.ys, k.xs[0] - step), 2 * k.ys[0] - k.ys[1], 1e-9);
    }
}

// Alternating terms of very different size: the sum of pairs that cancel is what is left.
TEST(CompensatedSum, IsExactWherePairsCancel) {
    std::mt19937_64 random(1);
    std::uniform_real_distribution<double> u(-1, 1);
    for (int round = 0; round < 100; ++round) {
        std::vector<double> terms;
        for (int k = 0; k < 200; ++k) {
            const double big = u(random) * std::pow(10, 12 + 3 * u(random));
            terms.push_back(big);
            terms.push_back(-big);
        }
        terms.push_back(0.125);
        std::ranges::shuffle(terms, random);
        CompensatedSum s;
        double plain = 0;
        for (double t : terms) s.add(t), plain += t;
        EXPECT_NEAR(s.value(), 0.125, 1e-9);
        EXPECT_LE(std::abs(s.value() - 0.125), std::abs(plain - 0.125));
    }
}

TEST(CompensatedSum, KeepsWhatPlainSummationLoses) {
    CompensatedSum s;
    for (double v : {1.0, 1e100, 1.0, -1e100}) s.add(v);
    EXPECT_EQ(s.value(), 2);
}
