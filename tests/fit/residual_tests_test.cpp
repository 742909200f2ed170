// SPDX-License-Identifier: GPL-3.0-or-later
// Tests of residuals by hand, by published values and by simulation: under the hypothesis each is wrong about
// as often as its probability says, and it finds what it is made for.
#include "fit/residual_tests.h"

#include "models/catalogue.h"
#include "support/random.h"

#include <cmath>
#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::fit;
using test::Random;

namespace {

struct Fitted {
    FitProblem problem;
    FitReport report;
    ResidualTests tests;
};

Fitted fitted(const char* model, std::vector<double> x, std::vector<double> y, std::vector<double> sigma = {},
              bool absolute = false) {
    Fitted out;
    out.problem = {.members = {{.model = *models::makeModel(model, {}),
                                .predictors = {std::move(x)},
                                .y = std::move(y),
                                .sigma = std::move(sigma)}},
                   .absolute = absolute};
    out.report = *fit::fit(out.problem);
    out.tests = residualTests(out.problem, out.report, influencesOf(out.problem, out.report));
    return out;
}

// How often out of `rounds` the probability is below each of 0.05 and 0.01.
std::pair<int, int> rejected(int rounds, const std::function<double(Random&)>& probability) {
    Random random(7);
    int five = 0, one = 0;
    for (int k = 0; k < rounds; ++k) {
        const double p = probability(random);
        five += p < 0.05;
        one += p < 0.01;
    }
    return {five, one};
}

std::vector<double> lineWithNoise(Random& random, const std::vector<double>& x, double noise,
                                  double grows = 0) {
    std::vector<double> y;
    for (double at : x) y.push_back(2 + at + noise * (1 + grows * at) * random.normal());
    return y;
}

std::vector<double> upTo(int n, int replicates = 1) {
    std::vector<double> x;
    for (int i = 0; i < n; ++i) x.insert(x.end(), static_cast<std::size_t>(replicates), 10.0 * i / (n - 1));
    return x;
}

} // namespace

// By hand: levels 0 (1, 3), 1 (2, 4), 2 (9, 11); means 2, 3, 10; pure squares 6 with 3 dof; the line 1 + 4x
// leaves 2·(1 + 4 + 1) = 12 of the means with 1 dof: F = 12/2.
TEST(LackOfFit, ByHand) {
    const Fitted f = fitted("line", {0, 0, 1, 1, 2, 2}, {1, 3, 2, 4, 9, 11});
    ASSERT_TRUE(f.tests.lackOfFit);
    EXPECT_NEAR(f.report.rss, 18, 1e-12);
    EXPECT_NEAR(f.tests.lackOfFit->statistic, 6, 1e-12);
    EXPECT_EQ(f.tests.lackOfFit->dof[0], 1);
    EXPECT_EQ(f.tests.lackOfFit->dof[1], 3);
    EXPECT_NEAR(f.tests.lackOfFit->pureSd, std::sqrt(2.0), 1e-12);
    EXPECT_NEAR(f.tests.lackOfFit->p, 0.09172, 2e-5); // F(1, 3) = t(3)²: 2·P(t > √6)
    EXPECT_FALSE(fitted("line", {0, 1, 2, 3}, {0, 1, 2, 4}).tests.lackOfFit) << "no replicates";
    EXPECT_FALSE(fitted("line", {0, 0, 1, 1, 2, 2}, {1, 1, 2, 2, 9, 9}).tests.lackOfFit)
        << "without scatter nothing can be told";
}

TEST(LackOfFit, WithKnownUncertaintiesByChiSquare) {
    const Fitted f =
        fitted("line", {0, 0, 1, 1, 2, 2}, {1, 3, 2, 4, 9, 11}, std::vector<double>(6, 2.0), true);
    ASSERT_TRUE(f.tests.lackOfFit);
    EXPECT_NEAR(f.tests.lackOfFit->statistic, 3, 1e-12);
    EXPECT_EQ(f.tests.lackOfFit->dof[1], 0);
    EXPECT_NEAR(f.tests.lackOfFit->p, std::erfc(std::sqrt(1.5)), 1e-12); // χ² of one dof
}

// R. Royston's transformation by its formula for ten values worked out apart; a straight quantile plot is not
// doubted.
TEST(Normality, OfQuantilesThemselvesAndOfOneFarOff) {
    std::vector<double> values(30);
    for (std::size_t i = 0; i < values.size(); ++i) values[i] = static_cast<double>(i);
    values = normalScores(values);
    EXPECT_GT(normalityProbability(values), 0.99);
    values.back() = 12;
    EXPECT_LT(normalityProbability(values), 1e-6);
    EXPECT_TRUE(std::isnan(normalityProbability({1, 2, 3, 4})));
    EXPECT_TRUE(std::isnan(normalityProbability({2, 2, 2, 2, 2, 2})));
    std::vector<double> shifted = values;
    for (double& v : shifted) v = 5 - 3 * v;
    EXPECT_NEAR(normalityProbability(shifted) / normalityProbability(values), 1, 1e-6)
        << "units do not matter";
}

TEST(ResidualTests, AreWrongAsOftenAsTheySay) {
    const int rounds = 2000;
    const auto normal = rejected(rounds, [](Random& random) {
        std::vector<double> v(25);
        for (double& each : v) each = random.normal();
        return normalityProbability(v);
    });
    EXPECT_NEAR(normal.first, 0.05 * rounds, 30);
    EXPECT_NEAR(normal.second, 0.01 * rounds, 15);
    const auto lack = rejected(rounds, [](Random& random) {
        const auto x = upTo(8, 3);
        return fitted("line", x, lineWithNoise(random, x, 0.3)).tests.lackOfFit->p;
    });
    EXPECT_NEAR(lack.first, 0.05 * rounds, 30);
    EXPECT_NEAR(lack.second, 0.01 * rounds, 15);
    const auto scatter = rejected(rounds, [](Random& random) {
        const auto x = upTo(40);
        return fitted("line", x, lineWithNoise(random, x, 0.3)).tests.scatter->p;
    });
    EXPECT_NEAR(scatter.first, 0.05 * rounds, 40);
    EXPECT_LE(scatter.second, 0.01 * rounds + 15);
}

TEST(ResidualTests, FindWhatTheyAreMadeFor) {
    const int rounds = 200;
    const auto grows = rejected(rounds, [](Random& random) {
        const auto x = upTo(60);
        const auto t = fitted("line", x, lineWithNoise(random, x, 0.05, 2)).tests.scatter;
        return t->grows ? t->p : 1;
    });
    EXPECT_GE(grows.first, 0.95 * rounds);
    const auto bent = rejected(rounds, [](Random& random) {
        const auto x = upTo(8, 3);
        std::vector<double> y = lineWithNoise(random, x, 0.3);
        for (std::size_t i = 0; i < y.size(); ++i) y[i] += 0.06 * (x[i] - 5) * (x[i] - 5);
        return fitted("line", x, y).tests.lackOfFit->p;
    });
    EXPECT_GE(bent.second, 0.95 * rounds);
    const auto heavy = rejected(rounds, [](Random& random) {
        std::vector<double> v(60);
        for (double& each : v) each = -std::log(random.between(1e-12, 1));
        return normalityProbability(v);
    });
    EXPECT_GE(heavy.first, 0.95 * rounds);
}

TEST(NotShown, NamesWhatTheNumbersLeaveOpen) {
    Random random(3);
    const auto x = upTo(20);
    std::vector<double> y;
    for (std::size_t i = 0; i < x.size(); ++i) y.push_back(2 * x[i] + (i % 2 ? 0.5 : -0.5));
    const Fitted through = fitted("line", x, y);
    const std::string said = notShown(through.problem, through.report, through.tests);
    EXPECT_THAT(said, testing::StartsWith("This fit could not show that intercept differs from 0")) << said;
    EXPECT_THAT(said, testing::HasSubstr("there are no replicates"));
    const Fitted few = fitted("line", {0, 1, 2, 3}, {0, 1, 2.1, 2.9});
    EXPECT_THAT(notShown(few.problem, few.report, few.tests), testing::HasSubstr("4 points are few"));
    const auto doubled = upTo(10, 3);
    const Fitted sound = fitted("line", doubled, lineWithNoise(random, doubled, 0.1));
    EXPECT_EQ(notShown(sound.problem, sound.report, sound.tests), "")
        << "all numbers differ from zero, and there are replicates";
}
