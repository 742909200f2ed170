// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/fit.h"
#include "fit/residual_tests.h"
#include "models/catalogue.h"

#include <cmath>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::fit;
using testing::HasSubstr;

namespace {

FitProblem problemOf(const std::string& model, std::vector<double> x, std::vector<double> y) {
    return {.members = {{.model = models::catalogue().find(model) ? *models::makeModel(model, {})
                                                                  : *models::equationModel(model),
                         .predictors = {std::move(x)},
                         .y = std::move(y)}}};
}

bool warns(const FitReport& r, const std::string& code) {
    return std::ranges::any_of(r.warnings, [&](const Issue& i) { return i.code == code; });
}

const std::vector<double> kX = {1, 2, 3, 4, 5, 6, 7, 8}, kY = {2.1, 3.9, 6.2, 7.8, 10.1, 12.2, 13.8, 16.1};

} // namespace

// Closed forms of the straight line: Draper & Smith, Applied Regression Analysis, ch. 1.
TEST(Fit, LineMatchesClosedForms) {
    const FitProblem problem = problemOf("line", kX, kY);
    const auto r = fit::fit(problem);
    ASSERT_TRUE(r);
    const double n = 8, mx = 4.5, my = 9.025;
    double sxx = 0, sxy = 0, syy = 0;
    for (int i = 0; i < 8; ++i) {
        const auto k = static_cast<std::size_t>(i);
        sxx += (kX[k] - mx) * (kX[k] - mx), sxy += (kX[k] - mx) * (kY[k] - my),
            syy += (kY[k] - my) * (kY[k] - my);
    }
    const double slope = sxy / sxx, rss = syy - slope * sxy, s = std::sqrt(rss / (n - 2));
    EXPECT_NEAR(r->one().parameters[1].value, slope, 1e-14);
    EXPECT_NEAR(r->one().parameters[0].value, my - slope * mx, 1e-13);
    EXPECT_NEAR(r->one().parameters[1].se, s / std::sqrt(sxx), 1e-14);
    EXPECT_NEAR(r->one().parameters[0].se, s * std::sqrt(1 / n + mx * mx / sxx), 1e-13);
    EXPECT_NEAR(r->r2, 1 - rss / syy, 1e-14);
    EXPECT_NEAR(r->aicc, n * std::log(rss / n) + 6 + 24.0 / 4, 1e-10);
    EXPECT_NEAR(r->bic, n * std::log(rss / n) + 3 * std::log(n), 1e-10);
    const double t = 2.4469118511449697; // t(0.975, 6)
    EXPECT_NEAR(r->one().parameters[1].high - slope, t * s / std::sqrt(sxx), 1e-12);
    const std::vector<double> at = {10};
    const std::span<const double> column(at);
    const auto band = predict(problem, *r, {&column, 1});
    const double h = 1 / n + (10 - mx) * (10 - mx) / sxx;
    EXPECT_NEAR(band.confidence[0], t * s * std::sqrt(h), 1e-12);
    EXPECT_NEAR(band.prediction[0], t * s * std::sqrt(1 + h), 1e-12);
    EXPECT_FALSE(r->chi2);
}

// The quadratic through the normal equations, which are harmless for such small whole numbers.
TEST(Fit, QuadraticBandsMatchTheNormalEquations) {
    const FitProblem problem = problemOf("polynomial-2", kX, kY);
    const auto r = fit::fit(problem);
    Eigen::MatrixXd X(8, 3);
    Eigen::VectorXd y(8);
    for (int i = 0; i < 8; ++i) {
        const double x = kX[static_cast<std::size_t>(i)];
        X.row(i) << 1, x, x * x;
        y[i] = kY[static_cast<std::size_t>(i)];
    }
    const Eigen::MatrixXd inverse = (X.transpose() * X).inverse();
    const Eigen::VectorXd b = inverse * X.transpose() * y;
    const double s2 = (y - X * b).squaredNorm() / 5, t = 2.5705818366147395; // t(0.975, 5)
    const std::vector<double> at = {2.5, 9};
    const std::span<const double> column(at);
    const auto band = predict(problem, *r, {&column, 1});
    for (int i = 0; i < 2; ++i) {
        const double x = at[static_cast<std::size_t>(i)];
        const Eigen::Vector3d g(1, x, x * x);
        EXPECT_NEAR(band.y[static_cast<std::size_t>(i)], g.dot(b), 1e-9);
        EXPECT_NEAR(band.confidence[static_cast<std::size_t>(i)], t * std::sqrt(s2 * g.dot(inverse * g)),
                    1e-9);
        EXPECT_NEAR(band.prediction[static_cast<std::size_t>(i)],
                    t * std::sqrt(s2 * (1 + g.dot(inverse * g))), 1e-9);
    }
}

// Uncertainties that differ from point to point give a band without steps.
TEST(Fit, ThePredictionBandHasNoSteps) {
    FitProblem p = problemOf("line", kX, kY);
    p.members[0].sigma = {0.1, 0.4, 0.2, 0.9, 0.3, 0.7, 0.2, 0.5};
    p.members[0].scatter = Scatter::ByPoint;
    const auto r = fit::fit(p);
    std::vector<double> at;
    for (int i = 0; i <= 4000; ++i) at.push_back(kX.front() - 1 + i * (kX.back() - kX.front() + 2) / 4000);
    const std::span<const double> column(at);
    const auto band = predict(p, *r, {&column, 1});
    for (std::size_t i = 1; i < at.size(); ++i)
        ASSERT_LT(std::abs(band.prediction[i] - band.prediction[i - 1]), 0.01 * band.prediction[i]) << at[i];
}

TEST(Fit, AbsoluteUncertaintiesGiveChiSquare) {
    FitProblem p = problemOf("line", kX, kY);
    p.members[0].sigma.assign(8, 0.2);
    p.absolute = true;
    const auto r = fit::fit(p);
    const auto relative = fit::fit(problemOf("line", kX, kY));
    EXPECT_NEAR(*r->chi2, relative->rss / 0.04, 1e-9);
    EXPECT_NEAR(r->one().parameters[1].se, 0.2 / std::sqrt(42.0), 1e-14); // Σ(x−x̄)² = 42
    p.absolute = false;
    EXPECT_NEAR(fit::fit(p)->one().parameters[1].se, relative->one().parameters[1].se, 1e-14);
}

TEST(Fit, FixedTiedAndLimitedParameters) {
    std::vector<double> x, y;
    for (int i = 0; i < 40; ++i)
        x.push_back(0.25 * i), y.push_back(3 * std::exp(-0.5 * x.back()) + 1 + 0.01 * std::sin(9.0 * i));
    FitProblem p = problemOf("a*exp(-b*x)+c", x, y);
    p.parameters = {{.name = "c", .treatment = Treatment::Fixed, .start = 1.0}};
    auto r = fit::fit(p);
    EXPECT_EQ(r->one().parameters[2].value, 1);
    EXPECT_EQ(r->one().parameters[2].se, 0);
    EXPECT_EQ(r->dof, 38);

    p.parameters = {{.name = "a", .treatment = Treatment::Tied, .tie = "3*c"}};
    r = fit::fit(p);
    EXPECT_NEAR(r->one().parameters[0].value, 3 * r->one().parameters[2].value, 1e-12);
    EXPECT_NEAR(r->one().parameters[0].se, 3 * r->one().parameters[2].se, 1e-12);

    p.parameters = {{.name = "b", .start = 0.1, .lower = 0, .upper = 0.3}};
    r = fit::fit(p);
    EXPECT_EQ(r->state, FitState::OnLimit);
    EXPECT_EQ(r->one().parameters[1].value, 0.3);
    EXPECT_TRUE(std::isnan(r->one().parameters[1].se));
    EXPECT_TRUE(warns(*r, "on-limit"));

    p.parameters = {{.name = "a", .treatment = Treatment::Tied, .tie = "c"},
                    {.name = "c", .treatment = Treatment::Tied, .tie = "a"}};
    EXPECT_THAT(fit::fit(p).error().text, HasSubstr("circle"));
    p.parameters = {{.name = "zz"}};
    EXPECT_THAT(fit::fit(p).error().text, HasSubstr("it has a, b, c"));
    p.parameters = {{.name = "a", .lower = 2, .upper = 1}};
    EXPECT_EQ(fit::fit(p).error().code, "limits");
}

TEST(Fit, SaysWhatCannotBeTold) {
    auto r = fit::fit(problemOf("(a+b)*x", kX, kY));
    EXPECT_EQ(r->state, FitState::Undetermined);
    EXPECT_TRUE(warns(*r, "undetermined"));
    EXPECT_TRUE(std::isnan(r->one().parameters[0].se));
    r = fit::fit(problemOf("line", {1, 2}, {1, 2}));
    EXPECT_TRUE(warns(*r, "too-few-points"));
    EXPECT_TRUE(std::isnan(r->one().parameters[0].se));
    EXPECT_EQ(fit::fit(problemOf("line", {}, {})).error().code, "no-points");
    FitProblem bad = problemOf("line", kX, kY);
    bad.members[0].sigma.assign(8, 0.0);
    EXPECT_EQ(fit::fit(bad).error().code, "bad-uncertainty");
}

TEST(Fit, NoticesPatternInResiduals) {
    std::vector<double> x, y;
    for (int i = 0; i < 40; ++i) x.push_back(i), y.push_back(i * i);
    EXPECT_TRUE(warns(*fit::fit(problemOf("line", x, y)), "residuals-not-random"));
    EXPECT_NEAR(runsTest({1, -1, 1, -1, 1, -1, 1, -1, 1, -1}).p, 0.0072,
                2e-3); // 10 runs, mean 6, variance 2.22
}

TEST(Fit, LibraryModelsFindTheTruthInNoise) {
    std::mt19937 random(1);
    std::normal_distribution<double> noise(0, 0.02);
    const std::tuple<const char*, std::vector<double>, double, double> cases[] = {
        {"exponential-decay", {3, 0.8, 1}, 0, 6},
        {"logistic-4", {0.1, 2, 5, 2}, 0.1, 100},
        {"gaussian", {5, 2, 1.5}, 0, 10},
        {"lorentzian", {5, -2, 1.5}, 0, 10},
        {"power", {2, 0.6}, 0.5, 20}};
    for (const auto& [key, truth, from, to] : cases) {
        FitProblem p = problemOf(key, {}, {});
        for (int i = 0; i <= 80; ++i) p.members[0].predictors[0].push_back(from + (to - from) * i / 80);
        p.members[0].y.resize(81);
        const std::span<const double> column(p.members[0].predictors[0]);
        p.members[0].model->evaluate({&column, 1}, truth, p.members[0].y);
        for (double& y : p.members[0].y) y += noise(random);
        const auto r = fit::fit(p);
        EXPECT_EQ(r->state, FitState::Converged) << key;
        for (std::size_t k = 0; k < truth.size(); ++k)
            EXPECT_NEAR(r->one().parameters[k].value, truth[k], 5 * r->one().parameters[k].se)
                << key << " " << r->one().parameters[k].name;
        EXPECT_EQ(r->restarts, 0) << key;
    }
}

TEST(Fit, DerivedQuantitiesCarryErrors) {
    FitProblem p = problemOf("gaussian", {}, {});
    for (int i = 0; i <= 50; ++i)
        p.members[0].predictors[0].push_back(0.2 * i),
            p.members[0].y.push_back(2 * std::exp(-4 * std::log(2.0) * std::pow((0.2 * i - 5) / 1.5, 2)) +
                                     0.01 * std::sin(7.0 * i));
    const auto r = fit::fit(p);
    ASSERT_EQ(r->one().derived.size(), 1U);
    EXPECT_NEAR(r->one().derived[0].value, 2 * 1.5 * std::sqrt(M_PI / (4 * std::log(2.0))), 0.02);
    EXPECT_GT(r->one().derived[0].se, 0);
}

TEST(Fit, StopsWhenAsked) {
    std::stop_source source;
    source.request_stop();
    FitProblem p = problemOf("a*exp(-b*x)+c", kX, kY);
    EXPECT_EQ(fit::fit(p, {}, source.get_token())->state, FitState::Stopped);
}

// (a + b)·x + c determines a + b and c: c has the error that it has with one slope, and so have the bands.
TEST(Fit, WhatAnUndeterminedPairLeavesIsAsInTheReducedModel) {
    const std::vector<double> x = {0, 1, 2, 3, 4, 5, 6, 7}, y = {1.1, 2.9, 5.2, 6.8, 9.1, 11.2, 12.8, 15.1};
    const auto reduced =
        fit::fit({.members = {{.model = *models::equationModel("s*x + c"), .predictors = {x}, .y = y}}});
    const auto pair = fit::fit(
        {.members = {{.model = *models::equationModel("(a + b)*x + c"), .predictors = {x}, .y = y}}});
    ASSERT_TRUE(reduced && pair);
    EXPECT_EQ(pair->state, FitState::Undetermined);
    EXPECT_EQ(pair->dof, reduced->dof);
    EXPECT_NEAR(pair->residualSd, reduced->residualSd, 1e-9);
    EXPECT_NEAR(pair->aicc, reduced->aicc, 1e-6);
    std::map<std::string, ParameterResult> p;
    for (const auto& one : pair->one().parameters) p[one.name] = one;
    EXPECT_FALSE(p["a"].determined || p["b"].determined);
    EXPECT_TRUE(std::isnan(p["a"].se) && std::isnan(p["b"].se));
    EXPECT_TRUE(p["c"].determined);
    const auto c = std::ranges::find(reduced->one().parameters, "c", &ParameterResult::name);
    EXPECT_NEAR(p["c"].value, c->value, 1e-8);
    EXPECT_NEAR(p["c"].se, c->se, 1e-8);
    EXPECT_NEAR(p["a"].value + p["b"].value,
                reduced->one().parameters[reduced->one().parameters[0].name == "s" ? 0 : 1].value, 1e-8);
    const std::span<const double> xs(x);
    const auto band = predict(problemOf("(a + b)*x + c", x, y), *pair, {&xs, 1}),
               known = predict(problemOf("s*x + c", x, y), *reduced, {&xs, 1});
    for (std::size_t i = 0; i < x.size(); ++i) EXPECT_NEAR(band.confidence[i], known.confidence[i], 1e-7);
    EXPECT_TRUE(warns(*pair, "undetermined"));
    EXPECT_FALSE(warns(*pair, "not-converged"));
}

TEST(Fit, ATiedSumOfAnUndeterminedPairIsKnown) {
    const std::vector<double> x = {0, 1, 2, 3, 4, 5}, y = {0.9, 3.1, 5.0, 7.2, 8.9, 11.1};
    FitProblem problem{
        .members = {{.model = *models::equationModel("(a + b)*x + c + 0*s"), .predictors = {x}, .y = y}}};
    problem.parameters = {{.name = "s", .treatment = Treatment::Tied, .tie = "a + b"}};
    const auto r = fit::fit(problem);
    const auto slope =
        fit::fit({.members = {{.model = *models::equationModel("s*x + c"), .predictors = {x}, .y = y}}});
    ASSERT_TRUE(r && slope);
    auto of = [](const FitReport& report, const char* name) {
        return *std::ranges::find(report.one().parameters, name, &ParameterResult::name);
    };
    EXPECT_NEAR(of(*r, "s").value, of(*slope, "s").value, 1e-8);
    EXPECT_NEAR(of(*r, "s").se, of(*slope, "s").se, 1e-8);
    EXPECT_TRUE(std::isnan(of(*r, "a").se));
}

// Far from x = 0 slope and intercept of any line are correlated; nobody is misled by that.
TEST(Fit, AGoodLineIsNotWarnedOf) {
    std::vector<double> x, y;
    for (int i = 0; i < 20; ++i) {
        x.push_back(2000 + i);
        y.push_back(3 + 0.5 * i + 0.1 * ((i * 7) % 5 - 2));
    }
    const auto line =
        fit::fit({.members = {{.model = *models::makeModel("line", {}), .predictors = {x}, .y = y}}});
    ASSERT_TRUE(line);
    EXPECT_FALSE(warns(*line, "correlated"));
}

TEST(Fit, ALevelThatMakesNoSenseIsRefused) {
    const std::vector<double> x = {0, 1, 2}, y = {0, 1, 2};
    const auto r = fit::fit(
        {.members = {{.model = *models::equationModel("a*x"), .predictors = {x}, .y = y}}}, {.level = 95});
    ASSERT_FALSE(r);
    EXPECT_EQ(r.error().code, "level");
}
