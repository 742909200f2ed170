// SPDX-License-Identifier: GPL-3.0-or-later
// Comparing models: F tests against the closed form of nested regressions and by their false alarms, criteria
// and weights by their formulas, what holds what, cross-validation by really leaving out.
#include "fit/compare.h"

#include "models/catalogue.h"

#include <boost/math/distributions/fisher_f.hpp>
#include <cmath>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::fit;

namespace {

struct Data {
    std::vector<double> x, y, sigma;

    Data(unsigned seed, int n, double noise, const std::function<double(double)>& truth) {
        std::mt19937_64 random(seed);
        std::normal_distribution<double> normal(0, 1);
        for (int i = 0; i < n; ++i) {
            x.push_back(0.5 + 9.5 * i / (n - 1));
            y.push_back(truth(x.back()) + noise * normal(random));
        }
    }
    Candidate of(const char* model, bool absolute = false) const {
        return {
            model,
            {.members = {{.model = *models::makeModel(model, {}), .predictors = {x}, .y = y, .sigma = sigma}},
             .absolute = absolute}};
    }
};

const NestedTest* testOf(const ModelComparison& c, const std::string& simpler, const std::string& larger) {
    for (const NestedTest& t : c.tests)
        if (c.models[t.simpler].name == simpler && c.models[t.larger].name == larger) return &t;
    return nullptr;
}

} // namespace

TEST(Compare, WeightsAreThoseOfTheCriteria) {
    const Data d(1, 30, 0.3, [](double x) { return 1 + 2 * x - 0.1 * x * x; });
    const auto c = *compareModels({d.of("line"), d.of("polynomial-2"), d.of("polynomial-3")});
    double least = INFINITY, total = 0;
    for (const Compared& m : c.models) {
        const double n = 30, rss = m.report->rss, k = m.k + 1;
        EXPECT_NEAR(m.report->aicc, n * std::log(rss / n) + 2 * k + 2 * k * (k + 1) / (n - k - 1), 1e-9);
        EXPECT_NEAR(m.report->bic, n * std::log(rss / n) + k * std::log(n), 1e-9);
        least = std::min(least, m.report->aicc);
    }
    for (const Compared& m : c.models) total += std::exp((least - m.report->aicc) / 2);
    for (const Compared& m : c.models)
        EXPECT_NEAR(m.weight, std::exp((least - m.report->aicc) / 2) / total, 1e-12);
    EXPECT_EQ(c.models[*c.best()].name, "polynomial-2");
}

// The extra sum of squares (D. M. Bates, D. G. Watts): F = (ΔRSS/Δk) / (RSS/dof).
TEST(Compare, TestsAreThoseOfTheExtraSumOfSquares) {
    const Data d(2, 25, 0.5, [](double x) { return 3 - x + 0.15 * x * x; });
    const auto c = *compareModels({d.of("line"), d.of("polynomial-2"), d.of("polynomial-4")});
    EXPECT_EQ(c.tests.size(), 3U) << "each lower degree is held by each higher one";
    const NestedTest* t = testOf(c, "line", "polynomial-4");
    ASSERT_TRUE(t);
    const double simple = c.models[0].report->rss, large = c.models[2].report->rss;
    EXPECT_DOUBLE_EQ(t->dof[0], 3);
    EXPECT_DOUBLE_EQ(t->dof[1], 20);
    EXPECT_NEAR(t->statistic, (simple - large) / 3 / (large / 20), 1e-9);
    EXPECT_NEAR(t->p, boost::math::cdf(complement(boost::math::fisher_f(3, 20), t->statistic)), 1e-12);
}

// Of true lines a quadratic is preferred at 5 % as often as the level says.
TEST(Compare, FalseAlarmsAreAsOftenAsTheLevelSays) {
    int alarms = 0;
    const int rounds = 1000;
    for (int round = 0; round < rounds; ++round) {
        const Data d(100 + static_cast<unsigned>(round), 20, 1, [](double x) { return 1 + x; });
        const auto c = *compareModels({d.of("line"), d.of("polynomial-2")});
        alarms += c.tests.at(0).p < 0.05;
    }
    EXPECT_NEAR(alarms, 0.05 * rounds, 4 * std::sqrt(0.05 * 0.95 * rounds));
}

// Whether one model holds another is found by trying, not by their names.
TEST(Compare, FindsWhichModelHoldsWhich) {
    const Data decay(3, 60, 0.02, [](double x) { return 2 * std::exp(-0.5 * x) + 1; });
    const auto c = *compareModels(
        {decay.of("exponential-decay"), decay.of("polynomial-2"), decay.of("exponential-decay-2")});
    EXPECT_TRUE(testOf(c, "exponential-decay", "exponential-decay-2")) << "two decays can be one";
    EXPECT_FALSE(testOf(c, "exponential-decay", "polynomial-2"));
    EXPECT_FALSE(testOf(c, "polynomial-2", "exponential-decay-2"));
    const Data peak(4, 80, 0.02, [](double x) { return std::exp(-std::pow(x - 5, 2)); });
    const auto p = *compareModels({peak.of("gaussian"), peak.of("lorentzian"), peak.of("pseudo-voigt")});
    EXPECT_TRUE(testOf(p, "gaussian", "pseudo-voigt"));
    EXPECT_FALSE(testOf(p, "gaussian", "lorentzian"));
}

TEST(Compare, AbsoluteUncertaintiesAreTestedByChi2) {
    Data d(5, 40, 0.2, [](double x) { return 1 + x; });
    d.sigma.assign(d.x.size(), 0.2);
    const auto c = *compareModels({d.of("line", true), d.of("polynomial-2", true)});
    ASSERT_EQ(c.tests.size(), 1U);
    EXPECT_NEAR(c.tests[0].statistic, c.models[0].report->rss - c.models[1].report->rss, 1e-9);
    EXPECT_EQ(c.tests[0].dof[0], 1);
    EXPECT_EQ(c.tests[0].dof[1], 0);
    EXPECT_NEAR(c.tests[0].p, std::erfc(std::sqrt(c.tests[0].statistic / 2)), 1e-9)
        << "χ² of one is a normal square";
}

// Leaving each point out of a line: its residual over one less its leverage (R. D. Cook, S. Weisberg, 1982).
TEST(Compare, CrossValidationOfALineIsTheClosedForm) {
    const Data d(6, 15, 0.5, [](double x) { return 2 - 0.3 * x; });
    const auto c =
        *compareModels({d.of("line"), d.of("polynomial-3")}, {.leaveOut = LeaveOut::Points, .parts = 15});
    double mean = 0, sxx = 0, press = 0;
    for (double x : d.x) mean += x / 15;
    for (double x : d.x) sxx += (x - mean) * (x - mean);
    const std::vector<double>& r = c.models[0].report->one().residuals;
    for (std::size_t i = 0; i < 15; ++i)
        press += std::pow(r[i] / (1 - 1.0 / 15 - (d.x[i] - mean) * (d.x[i] - mean) / sxx), 2);
    EXPECT_NEAR(c.models[0].predictionError, std::sqrt(press / 15), 1e-9);
}

TEST(Compare, LevelsAreLeftOutTogether) {
    Data d(7, 6, 0, [](double x) { return x; });
    std::vector<double> x, y;
    for (std::size_t i = 0; i < 6; ++i)
        for (int k = 0; k < 4; ++k) { // replicates that agree among each other, but not with the line
            x.push_back(d.x[i]);
            y.push_back(d.x[i] + (i % 2 ? 1 : -1) + 0.01 * k);
        }
    d.x = x, d.y = y;
    const auto points =
        *compareModels({d.of("line"), d.of("polynomial-5")}, {.leaveOut = LeaveOut::Points, .parts = 24});
    const auto levels = *compareModels({d.of("line"), d.of("polynomial-4"), d.of("polynomial-5")},
                                       {.leaveOut = LeaveOut::Levels, .parts = 6});
    EXPECT_LT(points.models[1].predictionError, 0.1) << "its neighbours of the same x tell the place";
    EXPECT_GT(levels.models[1].predictionError, 1) << "a new x is not known";
    EXPECT_TRUE(std::isnan(levels.models[2].predictionError))
        << "five levels do not determine six parameters";
}

TEST(Compare, TheVerdictSaysWhatSpeaksAgainst) {
    const Data few(8, 8, 1.5, [](double x) { return 5 + x; });
    const Verdict undecided = verdictOf(*compareModels({few.of("line"), few.of("exponential-growth")}));
    EXPECT_THAT(undecided.sentence,
                testing::AnyOf(testing::HasSubstr("do not decide"), testing::HasSubstr("lean to")));
    const Data clear(9, 100, 0.05, [](double x) { return 1 + std::sin(x); });
    const Verdict pattern = verdictOf(*compareModels({clear.of("line"), clear.of("polynomial-3")}));
    EXPECT_THAT(pattern.sentence, testing::HasSubstr("polynomial-3"));
    EXPECT_THAT(pattern.against, testing::Contains(testing::HasSubstr("pattern")));
}

TEST(Compare, RefusesFitsOfOtherPoints) {
    const Data a(10, 20, 0.1, [](double x) { return x; }), b(11, 20, 0.1, [](double x) { return x; });
    const auto refused = compareModels({a.of("line"), b.of("polynomial-2")});
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().code, "different-points");
    EXPECT_EQ(compareModels({}).error().code, "no-models");
}
