// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/positive_inversion.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

using namespace jointer::fit;
using Eigen::Index, Eigen::MatrixXd, Eigen::VectorXd;

namespace {

// A sum of decays over rates by ratios: as ill-posed as they come.
struct Decays {
    MatrixXd kernel;
    VectorXd rates;
    explicit Decays(Index amounts) : kernel(150, amounts), rates(amounts) {
        for (Index k = 0; k < amounts; ++k) rates[k] = 0.02 * std::pow(500, double(k) / double(amounts - 1));
        for (Index i = 0; i < 150; ++i)
            for (Index k = 0; k < amounts; ++k) kernel(i, k) = std::exp(-rates[k] * 0.3 * double(i));
    }
    VectorXd bump(double centre, double width) const {
        VectorXd f(rates.size());
        for (Index k = 0; k < f.size(); ++k)
            f[k] = std::exp(-0.5 * std::pow(std::log(rates[k] / centre) / width, 2));
        return f;
    }
};

PositiveProblem noisy(const Decays& d, const VectorXd& truth, double level, unsigned seed, Prior prior) {
    std::mt19937 random(seed);
    std::normal_distribution<double> noise;
    PositiveProblem p{.kernel = d.kernel, .y = d.kernel * truth, .prior = prior};
    const double sigma = level * p.y.maxCoeff();
    for (double& y : p.y) y += sigma * noise(random);
    p.sigma = VectorXd::Constant(p.y.size(), sigma);
    return p;
}

} // namespace

// The conditions of Karush, Kuhn and Tucker hold for random problems.
TEST(PositiveInversion, MinimumIsOne) {
    std::mt19937 random(2);
    std::normal_distribution<double> normal;
    for (int trial = 0; trial < 200; ++trial) {
        const Index m = 2 + trial % 20;
        MatrixXd a(m + 3, m);
        VectorXd g(m);
        for (double& v : a.reshaped()) v = normal(random);
        for (double& v : g) v = normal(random);
        const MatrixXd h = a.transpose() * a;
        const VectorXd x = nonNegativeMinimum(h, g), pull = g - h * x;
        for (Index k = 0; k < m; ++k) {
            EXPECT_GE(x[k], 0);
            EXPECT_LE(pull[k], 1e-8);
            if (x[k] > 0) {
                EXPECT_NEAR(pull[k], 0, 1e-8);
            }
        }
    }
}

TEST(PositiveInversion, FindsABumpWithinItsErrors) {
    const Decays d(50);
    const VectorXd truth = d.bump(0.4, 0.6);
    for (const Prior prior : {Prior::Smooth, Prior::Entropy}) {
        std::size_t inside = 0, all = 0;
        for (unsigned seed = 1; seed <= 8; ++seed) {
            const auto found = positiveInversion(noisy(d, truth, 0.003, seed, prior));
            ASSERT_TRUE(found);
            EXPECT_GE(found->amounts.minCoeff(), 0);
            EXPECT_NEAR(found->chi2 / 150, 1, 0.45) << static_cast<int>(prior);
            const double sum = found->amounts.sum(),
                         mean = found->amounts.dot(d.rates.array().log().matrix()) / sum;
            EXPECT_NEAR(sum / truth.sum(), 1, 0.02);
            EXPECT_NEAR(mean, std::log(0.4), 0.06);
            for (Index k = 10; k < 40; ++k, ++all)
                inside += std::abs(found->amounts[k] - truth[k]) < 2.6 * found->errors[k];
            EXPECT_GT(found->measured, 2);
            EXPECT_LT(found->measured, 20);
        }
        EXPECT_GT(double(inside) / double(all), 0.7) << static_cast<int>(prior);
    }
}

TEST(PositiveInversion, TellsTwoBumpsAndABackground) {
    const Decays d(50);
    const VectorXd truth = d.bump(0.1, 0.25) + d.bump(2, 0.3);
    PositiveProblem p = noisy(d, truth, 0.001, 4, Prior::Smooth);
    p.y.array() += 2;
    p.background = true;
    const auto found = positiveInversion(p);
    ASSERT_TRUE(found);
    EXPECT_NEAR(found->background, 2, 0.3);
    double valley = 1e9;
    for (Index k = 0; k < 50; ++k)
        if (d.rates[k] > 0.2 && d.rates[k] < 1) valley = std::min(valley, found->amounts[k]);
    EXPECT_LT(valley, 0.4);
    EXPECT_GT(found->amounts.maxCoeff(), 0.6);
}

TEST(PositiveInversion, SaysWhatItCannotTake) {
    const Decays d(10);
    PositiveProblem p = noisy(d, d.bump(1, 0.5), 0.01, 1, Prior::Smooth);
    PositiveProblem bad = p;
    bad.sigma[3] = 0;
    EXPECT_EQ(positiveInversion(bad).error().code, "not-finite");
    bad = p;
    bad.y[2] = NAN;
    EXPECT_EQ(positiveInversion(bad).error().code, "not-finite");
    p.kernel.conservativeResize(4, Eigen::NoChange);
    p.y.conservativeResize(4);
    p.sigma.conservativeResize(4);
    EXPECT_EQ(positiveInversion(p).error().code, "few-points");
}
