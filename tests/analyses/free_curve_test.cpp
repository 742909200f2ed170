// SPDX-License-Identifier: GPL-3.0-or-later
// Curves without a formula as analyses: every method tells its numbers, curves and doubts; bands hold the
// truth; weights, replicates, spans and left-out points count as in any fit.
#include "analyses/free_curve.h"

#include "evaluate/evaluator.h"
#include "numerics/loess.h"
#include "project/edit.h"
#include "support/drawn.h"

#include <cmath>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::analyses;

namespace {

struct Free {
    test::Drawing d;
    Analysis spec{.kind = "free-curve"};
    std::vector<double> x, y;

    Free(
        unsigned seed, std::size_t n, double noise,
        double (*truth)(double) = [](double v) { return std::sin(v); }) {
        std::mt19937_64 random(seed);
        std::normal_distribution<double> normal(0, 1);
        for (std::size_t i = 0; i < n; ++i) {
            x.push_back(10.0 * static_cast<double>(i) / static_cast<double>(n));
            y.push_back(truth(x.back()) + noise * normal(random));
        }
    }
    evaluate::AnalysisOutcome outcome(std::vector<double> sigma = {}) {
        d.data(x, y, std::move(sigma));
        spec.inputs = {{.dataset = d.p.datasets[d.p.datasets.size() - 1].id}};
        return again();
    }
    evaluate::AnalysisOutcome again() {
        d.p = *edits::addAnalysis(spec).apply(d.p);
        return d.evaluator().analysis(d.p, d.p.analyses[d.p.analyses.size() - 1]);
    }
    void set(const char* key, Value value) { spec.settings.set(key, std::move(value)); }
};

std::vector<double> between(double low, double high, int n) {
    std::vector<double> out;
    for (int i = 0; i < n; ++i) out.push_back(low + (high - low) * i / (n - 1));
    return out;
}

} // namespace

TEST(FreeCurve, EveryMethodTellsItsCurveAndWhatItLeaves) {
    for (const char* method : {"loess", "smoothing-spline", "interpolate"}) {
        Free f(1, 200, 0.1);
        f.set("method", Value(std::string(method)));
        f.set("fraction", Value(0.2));
        const auto outcome = f.outcome();
        ASSERT_TRUE(outcome.exists()) << method;
        const AnalysisResult& r = *outcome;
        EXPECT_EQ(r.state, "done");
        const NamedCurve* fit = r.curve("fit");
        const NamedCurve* residuals = r.curve("residuals");
        const NamedCurve* derivative = r.curve("derivative");
        ASSERT_TRUE(fit && residuals && derivative);
        const std::vector<double> at = between(0.5, 9, 60);
        const Sampled s = fit->sample(at), d = derivative->sample(at);
        const bool exact = std::string(method) == "interpolate";
        for (std::size_t i = 0; i < at.size(); ++i) {
            if (!exact) {
                EXPECT_NEAR(s.y[i], std::sin(at[i]), 0.2) << method;
                const double h = 1e-4,
                             slope =
                                 (fit->sample({at[i] + h}).y[0] - fit->sample({at[i] - h}).y[0]) / (2 * h);
                EXPECT_NEAR(d.y[i], slope, std::string(method) == "loess" ? 0.4 : 1e-5) << method;
            }
        }
        EXPECT_EQ(s.confidence.empty(), exact) << "no scatter, no band";
        const Sampled there = fit->sample(f.x);
        for (std::size_t i = 0; i < f.x.size(); ++i)
            EXPECT_NEAR(residuals->points->y[i], f.y[i] - there.y[i], 1e-12) << method;
        if (exact) {
            EXPECT_NEAR(there.y[7], f.y[7], 1e-12);
            continue;
        }
        ASSERT_TRUE(r.find("residual_sd") && r.find("dof"));
        EXPECT_NEAR(r.find("residual_sd")->value, 0.1, 0.02) << method;
        EXPECT_GT(r.find("degrees of freedom")->value, 5);
        EXPECT_LT(r.find("degrees of freedom")->value, 40);
        EXPECT_GT(r.find("r2")->value, 0.95);
    }
}

// Of points that scatter as they say, the band of 95 % holds the truth about as often.
TEST(FreeCurve, BandsHoldTheTruth) {
    for (const char* method : {"loess", "smoothing-spline"}) {
        double inside = 0, all = 0;
        for (unsigned seed = 0; seed < 40; ++seed) {
            Free f(seed, 120, 0.2);
            f.set("method", Value(std::string(method)));
            f.set("fraction", Value(0.25));
            const auto outcome = f.outcome();
            const std::vector<double> at = between(0, 9.9, 50);
            const Sampled s = outcome->curve("fit")->sample(at);
            for (std::size_t i = 0; i < at.size(); ++i)
                inside += std::abs(s.y[i] - std::sin(at[i])) <= s.confidence[i], ++all;
        }
        EXPECT_NEAR(inside / all, 0.94, 0.04) << method;
    }
}

// Uncertainties that are known: the band is theirs, whatever the residuals are.
TEST(FreeCurve, AbsoluteUncertaintiesMakeTheBand) {
    Free small(3, 100, 0.1), large(3, 100, 0.1);
    const auto one = small.outcome(std::vector<double>(100, 0.1)),
               ten = large.outcome(std::vector<double>(100, 1.0));
    const double a = one->curve("fit")->sample({5}).confidence[0],
                 b = ten->curve("fit")->sample({5}).confidence[0];
    EXPECT_NEAR(b, 10 * a, 1e-9);
    EXPECT_NEAR(one->curve("fit")->sample({5}).y[0], ten->curve("fit")->sample({5}).y[0], 1e-9);
}

TEST(FreeCurve, TakesTheSpanAndLeavesOutWhatIsLeftOut) {
    Free f(4, 100, 0.05);
    f.y[50] = 100;
    f.d.data(f.x, f.y);
    f.spec.inputs = {{.dataset = f.d.p.datasets[0].id, .span = Span(1, 8)}};
    Settings leave;
    leave.set("rows", Value(Numbers{51}));
    f.d.p = *edits::addStep(f.d.p.datasets[0].id, "exclude", leave, "x").apply(f.d.p);
    const auto outcome = f.again();
    ASSERT_TRUE(outcome.exists());
    EXPECT_EQ(outcome->find("n")->value, 70) << "points from 1 to 8, one left out";
    EXPECT_LT(std::abs(outcome->curve("fit")->sample({5}).y[0]), 1.2) << "the wild point is left out";
    EXPECT_EQ(outcome->curve("fit")->founded, Span(1, 8));
}

TEST(FreeCurve, SaysWhatItsCurveCannotFollow) {
    Free f(5, 300, 0.05, [](double v) { return std::sin(3 * v); });
    f.set("fraction", Value(0.9));
    const auto stiff = f.outcome();
    EXPECT_THAT(stiff->issues, testing::Contains(testing::Field(&Issue::code, "pattern")));
    f.set("fraction", Value(0.08));
    const auto supple = f.again();
    EXPECT_THAT(supple->issues, testing::Not(testing::Contains(testing::Field(&Issue::code, "pattern"))));
}

TEST(FreeCurve, ManyPointsSayThatTheirStatisticsAreOfAPart) {
    Free f(6, 3000, 0.1);
    f.set("fraction", Value(0.1));
    const auto outcome = f.outcome();
    EXPECT_THAT(outcome->issues, testing::Contains(testing::Field(&Issue::code, "approximate")));
    EXPECT_NEAR(outcome->find("residual_sd")->value, 0.1, 0.01);
}

TEST(FreeCurve, FewPointsAreRefusedInWords) {
    for (const auto& [method, n, good] : {std::tuple("loess", 3, false),
                                          {"loess", 4, true},
                                          {"smoothing-spline", 3, false},
                                          {"interpolate", 1, false},
                                          {"interpolate", 2, true}}) {
        Free f(7, static_cast<std::size_t>(n), 0.1);
        f.set("method", Value(std::string(method)));
        const auto outcome = f.outcome();
        EXPECT_EQ(outcome.exists(), good) << method << n;
        if (!good) {
            EXPECT_EQ(outcome.result.error().code, "few-points");
        }
    }
}

// Curves that keep the shape never go beyond their points; several at one place are their mean.
TEST(FreeCurve, ThroughThePointsKeepsTheirShape) {
    Free f(8, 0, 0);
    f.x = {0, 1, 1, 2, 3, 4};
    f.y = {0, 1, 3, 2, 2, 10};
    f.set("method", Value(std::string("interpolate")));
    const auto outcome = f.outcome();
    const Sampled s = outcome->curve("fit")->sample(between(0, 4, 200));
    for (double v : s.y) EXPECT_TRUE(v >= -1e-12 && v <= 10 + 1e-12);
    EXPECT_NEAR(outcome->curve("fit")->sample({1}).y[0], 2, 1e-12);
    for (double v : outcome->curve("fit")->sample(between(2, 3, 20)).y)
        EXPECT_NEAR(v, 2, 1e-12) << "flat stays flat";
}
