// SPDX-License-Identifier: GPL-3.0-or-later
// What a point weighs, against closed forms of a line and against really leaving it out.
#include "fit/influence.h"

#include "models/catalogue.h"
#include "support/random.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numeric>

using namespace jointer;
using namespace jointer::fit;
using test::Random;

namespace {

FitProblem problemOf(const char* model, std::vector<double> x, std::vector<double> y, std::vector<double> sigma = {}) {
    return {.members = {{.model = *models::makeModel(model, {}), .predictors = {std::move(x)}, .y = std::move(y), .sigma = std::move(sigma)}}};
}

FitProblem without(FitProblem p, std::size_t i) {
    FitMember& m = p.members[0];
    const auto at = static_cast<std::ptrdiff_t>(i);
    m.predictors[0].erase(m.predictors[0].begin() + at);
    m.y.erase(m.y.begin() + at);
    if (!m.sigma.empty()) m.sigma.erase(m.sigma.begin() + at);
    return p;
}

} // namespace

// h = 1/n + (x − x̄)²/Sxx; e = r/(s√(1 − h)); D = e²h/(2(1 − h)).
TEST(Influence, OfALineIsTheClosedForm) {
    Random random(1);
    const std::vector<double> x = random.ascending(20, 0, 10);
    std::vector<double> y;
    for (double v : x) y.push_back(1 + 2 * v + random.normal());
    const FitProblem p = problemOf("line", x, y);
    const FitReport r = *fit::fit(p);
    const Influence found = influenceOf(p, r);
    const double mean = std::accumulate(x.begin(), x.end(), 0.0) / 20;
    double sxx = 0, sum = 0;
    for (double v : x) sxx += (v - mean) * (v - mean);
    for (std::size_t i = 0; i < 20; ++i) {
        const double h = 1.0 / 20 + (x[i] - mean) * (x[i] - mean) / sxx, e = r.one().residuals[i] / r.residualSd / std::sqrt(1 - h);
        EXPECT_NEAR(found.leverage[i], h, 1e-10);
        EXPECT_NEAR(found.standardised[i], e, 1e-9);
        EXPECT_NEAR(found.distance[i], e * e * h / (1 - h) / 2, 1e-9);
        sum += found.leverage[i];
    }
    EXPECT_NEAR(sum, 2, 1e-9) << "as many as there are parameters";
}

// Linear models: leaving a point out moves the parameters by exactly so much, weighted or not.
TEST(Influence, IsWhatLeavingAPointOutDoes) {
    Random random(2);
    for (const bool weighted : {false, true}) {
        const std::vector<double> x = random.ascending(15, -3, 5);
        std::vector<double> y, sigma;
        for (double v : x) {
            y.push_back(1 - v + 0.3 * v * v + random.normal());
            if (weighted) sigma.push_back(random.between(0.5, 2));
        }
        const FitProblem p = problemOf("polynomial-2", x, y, sigma);
        const FitReport all = *fit::fit(p);
        const Influence found = influenceOf(p, all);
        for (const std::size_t i : {0UL, 4UL, 14UL}) {
            const FitReport rest = *fit::fit(without(p, i));
            for (std::size_t k = 0; k < 3; ++k)
                EXPECT_NEAR(found.shift(static_cast<Eigen::Index>(k), static_cast<Eigen::Index>(i)),
                            rest.one().parameters[k].value - all.one().parameters[k].value, 1e-8)
                    << i << ", " << k;
        }
    }
}

// Curved models: nearly.
TEST(Influence, OfACurveIsNearlyWhatLeavingOutDoes) {
    Random random(3);
    std::vector<double> x, y;
    for (int i = 0; i < 40; ++i) {
        x.push_back(0.25 * i);
        y.push_back(3 * std::exp(-0.5 * x.back()) + 1 + 0.05 * random.normal());
    }
    const FitProblem p = problemOf("exponential-decay", x, y);
    const FitReport all = *fit::fit(p);
    const Influence found = influenceOf(p, all);
    for (const std::size_t i : {0UL, 3UL, 20UL, 39UL}) {
        const FitReport rest = *fit::fit(without(p, i));
        for (std::size_t k = 0; k < 3; ++k) {
            const double moved = rest.one().parameters[k].value - all.one().parameters[k].value;
            EXPECT_NEAR(found.shift(static_cast<Eigen::Index>(k), static_cast<Eigen::Index>(i)), moved,
                        0.1 * std::abs(moved) + 0.03 * all.one().parameters[k].se);
        }
    }
}

TEST(Influence, APointFarOffHoldsTheLine) {
    std::vector<double> x = {1, 1.1, 1.2, 1.3, 1.4, 1.5, 10}, y = {2, 2.3, 1.8, 2.1, 1.9, 2.2, 9};
    const FitProblem p = problemOf("line", x, y);
    const Influence found = influenceOf(p, *fit::fit(p));
    EXPECT_GT(found.leverage[6], 0.98);
    EXPECT_EQ(std::ranges::max_element(found.distance) - found.distance.begin(), 6);
}

// It is said where one point decides, with what the number would be; and not of sound fits.
TEST(Influence, TheDecidingPointIsNamed) {
    std::vector<double> x = {1, 1.1, 1.2, 1.3, 1.4, 1.5, 1.6, 10}, y = {2, 2.3, 1.8, 2.1, 1.9, 2.2, 2.0, 9};
    const FitProblem p = problemOf("line", x, y);
    const FitReport r = *fit::fit(p);
    const auto said = decidingPoint(p, r, influenceOf(p, r));
    ASSERT_TRUE(said.has_value());
    EXPECT_NE(said->text.find("x = 10"), std::string::npos) << said->text;
    x.pop_back(), y.pop_back();
    const FitProblem few = problemOf("line", {1, 2, 3, 9}, {1, 2, 3, 30});
    const FitReport fewFit = *fit::fit(few);
    EXPECT_FALSE(decidingPoint(few, fewFit, influenceOf(few, fewFit))) << "of four points each decides much";
}

// Of sound simulated lines and curves hardly one in fifty has such a point.
TEST(Influence, SoundFitsHaveNoDecidingPoint) {
    Random random(7);
    int said = 0;
    for (int round = 0; round < 500; ++round) {
        std::vector<double> x, y;
        for (int i = 0; i < 12 + round % 40; ++i) {
            x.push_back(0.3 * i);
            y.push_back(round % 2 ? 1 + 2 * x.back() : 3 * std::exp(-0.4 * x.back()) + 1);
            y.back() += 0.1 * random.normal();
        }
        const FitProblem p = problemOf(round % 2 ? "line" : "exponential-decay", x, y);
        const auto r = fit::fit(p);
        ASSERT_TRUE(r);
        said += decidingPoint(p, *r, influenceOf(p, *r)).has_value();
    }
    EXPECT_LE(said, 10);
}

// The quantiles of tables: of ten values Φ⁻¹(0.625/10.25) = −1.546635.
TEST(NormalScores, AreTheQuantilesInTheOrderOfTheValues) {
    const std::vector<double> scores = normalScores({5, 1, 9, 2, 8, 3, 7, 4, 6, 0});
    EXPECT_NEAR(scores[9], -1.5466353, 1e-6);
    EXPECT_NEAR(scores[2], 1.5466353, 1e-6);
    EXPECT_NEAR(std::accumulate(scores.begin(), scores.end(), 0.0), 0, 1e-12);
    EXPECT_LT(scores[1], scores[3]);
    EXPECT_TRUE(normalScores({}).empty());
}
