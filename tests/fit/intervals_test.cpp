// SPDX-License-Identifier: GPL-3.0-or-later
// Robust losses, errors in both variables, profiles and the bootstrap, against published numbers, closed
// forms, direct search and simulation.
#include "fit/bootstrap.h"
#include "fit/profile.h"
#include "models/catalogue.h"

#include <cmath>
#include <cstdlib>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::fit;

namespace {

FitProblem problemOf(const models::ModelPtr& model, std::vector<std::vector<double>> xs,
                     std::vector<double> y) {
    return {.members = {{.model = model, .predictors = std::move(xs), .y = std::move(y)}}};
}

const ParameterResult& named(const FitReport& r, const std::string& name) {
    return *std::ranges::find(r.one().parameters, name, &ParameterResult::name);
}

} // namespace

// K. A. Brownlee, Statistical Theory and Methodology in Science and Engineering (1965), p. 454: a plant's
// loss of acid over 21 days; Huber's estimate with the scale from the median: W. N. Venables, B. D. Ripley,
// Modern Applied Statistics, 4th ed. (2002), section 6.5.
TEST(Robust, MatchesThePublishedEstimate) {
    const std::vector<double> air = {80, 80, 75, 62, 62, 62, 62, 62, 58, 58, 58,
                                     58, 58, 58, 50, 50, 50, 50, 50, 56, 70},
                              water = {27, 27, 25, 24, 22, 23, 24, 24, 23, 18, 18,
                                       17, 18, 19, 18, 18, 19, 19, 20, 20, 20},
                              acid = {89, 88, 90, 87, 87, 87, 93, 93, 87, 80, 89,
                                      88, 82, 93, 89, 86, 72, 79, 80, 82, 91},
                              loss = {42, 37, 37, 28, 18, 18, 19, 20, 15, 14, 14,
                                      13, 11, 12, 8,  7,  8,  8,  9,  15, 15};
    FitProblem p = problemOf(*models::equationModel("b0 + b1*x1 + b2*x2 + b3*x3", {"x1", "x2", "x3"}),
                             {air, water, acid}, loss);
    p.loss = Loss::Huber;
    const auto r = fit::fit(p);
    ASSERT_TRUE(r);
    EXPECT_NEAR(named(*r, "b0").value, -41.0265, 2e-3);
    EXPECT_NEAR(named(*r, "b1").value, 0.8294, 1e-4);
    EXPECT_NEAR(named(*r, "b2").value, 0.9261, 1e-4);
    EXPECT_NEAR(named(*r, "b3").value, -0.1278, 1e-4);
    EXPECT_NEAR(r->scale, 2.441, 1e-3);
    EXPECT_LT(r->one().counts[20], 0.4); // the last day is wild
    EXPECT_EQ(r->one().counts[9], 1);
}

// At the solution the weighted residuals have no part along the tangents, and wild points do not move it.
TEST(Robust, IsStationaryAndHoldsAgainstWildPoints) {
    std::mt19937 random(4);
    std::normal_distribution<double> noise(0, 0.05);
    for (const Loss loss : {Loss::Huber, Loss::Cauchy, Loss::Bisquare}) {
        std::vector<double> x, y;
        for (int i = 0; i < 60; ++i) {
            x.push_back(0.1 * i);
            y.push_back(3 * std::exp(-0.7 * x.back()) + 1 + noise(random) + (i % 10 == 3 ? 1.5 : 0));
        }
        FitProblem p = problemOf(*models::makeModel("exponential-decay", {}), {x}, y);
        const auto plain = fit::fit(p);
        p.loss = loss;
        const auto r = fit::fit(p);
        ASSERT_TRUE(plain && r);
        EXPECT_EQ(r->state, FitState::Converged) << lossKey(loss);
        const auto& m = r->one();
        std::vector<double> gradient(60 * m.parameters.size()), f(60);
        const std::span<const double> xs(x);
        p.members[0].model->evaluate({&xs, 1}, m.values(), f, gradient);
        for (std::size_t k = 0; k < m.parameters.size(); ++k) {
            double along = 0, size = 0;
            for (std::size_t i = 0; i < 60; ++i) {
                along += m.counts[i] * m.residuals[i] * gradient[60 * k + i];
                size += std::abs(m.counts[i] * m.residuals[i] * gradient[60 * k + i]);
            }
            EXPECT_LT(std::abs(along), 1e-6 * size) << lossKey(loss);
        }
        const double off = std::abs(m.parameters.back().value - 1);
        EXPECT_LT(off, 0.06) << lossKey(loss);
        EXPECT_LT(off, 0.6 * std::abs(plain->one().parameters.back().value - 1)) << lossKey(loss);
        EXPECT_TRUE(std::isnan(r->aicc));
    }
}

// Where nothing is wild the sandwich is about the usual error.
TEST(Robust, TheSandwichIsAboutTheUsualErrorOfGoodData) {
    std::mt19937 random(9);
    std::normal_distribution<double> noise(0, 0.2);
    std::vector<double> x, y;
    for (int i = 0; i < 400; ++i) {
        x.push_back(0.01 * i);
        y.push_back(2 + 3 * x.back() + noise(random));
    }
    FitProblem p = problemOf(*models::makeModel("line", {}), {x}, y);
    const auto plain = fit::fit(p);
    for (const Loss loss : {Loss::Huber, Loss::Cauchy, Loss::Bisquare}) {
        p.loss = loss;
        const auto r = fit::fit(p);
        for (std::size_t k = 0; k < 2; ++k)
            EXPECT_NEAR(r->one().parameters[k].se / plain->one().parameters[k].se, 1, 0.2) << lossKey(loss);
    }
}

// K. Pearson's ten points with D. York's weights, Can. J. Phys. 44 (1966) 1079: the exact line is
// y = 5.47991 − 0.480533 x, with S/(n − 2) = 1.4833.
TEST(Orthogonal, MatchesThePublishedLine) {
    const std::vector<double> x = {0, 0.9, 1.8, 2.6, 3.3, 4.4, 5.2, 6.1, 6.5, 7.4},
                              y = {5.9, 5.4, 4.4, 4.6, 3.5, 3.7, 2.8, 2.8, 2.4, 1.5},
                              wx = {1000, 1000, 500, 800, 200, 80, 60, 20, 1.8, 1},
                              wy = {1, 1.8, 4, 8, 20, 20, 70, 70, 100, 500};
    FitProblem p = problemOf(*models::makeModel("line", {}), {x}, y);
    for (std::size_t i = 0; i < x.size(); ++i) {
        p.members[0].sigma.push_back(1 / std::sqrt(wy[i]));
        p.members[0].sigmaX.push_back(1 / std::sqrt(wx[i]));
    }
    p.absolute = true;
    const auto r = fit::fit(p);
    ASSERT_TRUE(r);
    EXPECT_EQ(r->state, FitState::Converged);
    EXPECT_NEAR(r->one().parameters[0].value, 5.47991022, 2e-7);
    EXPECT_NEAR(r->one().parameters[1].value, -0.480533407, 2e-8);
    EXPECT_NEAR(*r->reducedChi2, 1.4833, 1e-4);
    EXPECT_NEAR(r->one().parameters[1].se, 0.058, 1e-3); // York's σ of the slope, before scaling
}

// The circle of a curve: each foot found by a fine search, and the sum at its least there.
TEST(Orthogonal, CurvesAgreeWithADirectSearch) {
    std::mt19937 random(3);
    std::normal_distribution<double> unit(0, 1);
    const auto model = *models::equationModel("a*exp(-b*x) + c");
    std::vector<double> x, y;
    FitProblem p = problemOf(model, {{}}, {});
    for (int i = 0; i < 25; ++i) {
        const double at = 0.2 * i, sx = 0.05 + 0.002 * i, sy = 0.03;
        p.members[0].predictors[0].push_back(at + sx * unit(random));
        p.members[0].y.push_back(3 * std::exp(-0.8 * at) + 1 + sy * unit(random));
        p.members[0].sigma.push_back(sy);
        p.members[0].sigmaX.push_back(sx);
    }
    p.absolute = true;
    const auto r = fit::fit(p);
    ASSERT_TRUE(r);
    auto sum = [&](const std::vector<double>& q) {
        const FitMember& m = p.members[0];
        double all = 0;
        for (std::size_t i = 0; i < m.y.size(); ++i) {
            double best = INFINITY;
            auto cost = [&](double d) {
                const double f = q[0] * std::exp(-q[1] * (m.predictors[0][i] + d)) + q[2];
                return std::pow((m.y[i] - f) / m.sigma[i], 2) + std::pow(d / m.sigmaX[i], 2);
            };
            double low = -6 * m.sigmaX[i], high = 6 * m.sigmaX[i], centre = 0;
            for (int round = 0; round < 12; ++round) {
                for (int k = 0; k <= 40; ++k) {
                    const double d = low + (high - low) * k / 40;
                    if (cost(d) < best) best = cost(d), centre = d;
                }
                const double width = (high - low) / 20;
                low = centre - width, high = centre + width;
            }
            all += best;
        }
        return all;
    };
    const auto best = r->one().values();
    EXPECT_NEAR(sum(best), *r->chi2, 1e-6 * *r->chi2);
    for (std::size_t k = 0; k < 3; ++k)
        for (double by : {-0.03, 0.03}) {
            auto moved = best;
            moved[k] += by * r->one().parameters[k].se;
            EXPECT_GT(sum(moved), *r->chi2) << k;
        }
}

// Without errors of x it is the usual fit.
TEST(Orthogonal, NoErrorsOfXIsTheUsualFit) {
    const std::vector<double> x = {1, 2, 3, 4, 5, 6}, y = {2.2, 3.7, 6.4, 7.7, 10.2, 12.1};
    FitProblem p = problemOf(*models::makeModel("line", {}), {x}, y);
    p.members[0].sigma.assign(6, 0.3);
    const auto usual = fit::fit(p);
    p.members[0].sigmaX.assign(6, 0.0);
    const auto r = fit::fit(p);
    ASSERT_TRUE(usual && r);
    for (std::size_t k = 0; k < 2; ++k) {
        EXPECT_NEAR(r->one().parameters[k].value, usual->one().parameters[k].value, 1e-8);
        EXPECT_NEAR(r->one().parameters[k].se, usual->one().parameters[k].se, 1e-8);
    }
}

// Of a linear model the profile is the usual interval.
TEST(Profile, IsTheUsualIntervalOfALine) {
    const std::vector<double> x = {1, 2, 3, 4, 5, 6, 7, 8}, y = {2.1, 3.9, 6.2, 7.8, 10.1, 12.2, 13.8, 16.1};
    FitProblem p = problemOf(*models::makeModel("line", {}), {x}, y);
    p.derive = {{"atTen", "intercept + 10*slope", ""}};
    const auto usual = fit::fit(p);
    ASSERT_TRUE(usual);
    FitReport r = *usual;
    const Profiled told = profile(p, r, true);
    EXPECT_TRUE(told.warnings.empty());
    for (std::size_t k = 0; k < 2; ++k) {
        const auto &a = r.one().parameters[k], &b = usual->one().parameters[k];
        EXPECT_NEAR(a.low, b.low, 1e-5 * b.se);
        EXPECT_NEAR(a.high, b.high, 1e-5 * b.se);
    }
    EXPECT_NEAR(r.one().derived.back().high, usual->one().derived.back().high, 1e-5);
    for (const ProfileCurve& c : told.curves) EXPECT_GT(c.values.size(), 10U);
}

// The ends against a search of its own: the parameter fixed there, the others fitted, gives the sum wanted.
TEST(Profile, EndsHaveTheSumThatTheyShould) {
    std::mt19937 random(12);
    std::normal_distribution<double> noise(0, 0.15);
    std::vector<double> x, y;
    for (int i = 0; i < 12; ++i) {
        x.push_back(0.5 * i);
        y.push_back(3 * std::exp(-0.6 * x.back()) + 0.5 + noise(random));
    }
    FitProblem p = problemOf(*models::makeModel("exponential-decay", {}), {x}, y);
    const auto fitted = fit::fit(p);
    ASSERT_TRUE(fitted);
    FitReport r = *fitted;
    (void)profile(p, r);
    const double t = tQuantile(*fitted),
                 wanted = fitted->rss * (1 + t * t / static_cast<double>(fitted->dof));
    bool asymmetric = false;
    for (const ParameterResult& q : r.one().parameters)
        for (const double end : {q.low, q.high}) {
            FitProblem fixed = p;
            for (const auto& other : fitted->one().parameters)
                fixed.parameters.push_back({.name = other.name, .start = other.value});
            auto& spec = *std::ranges::find(fixed.parameters, q.name, &ParameterSpec::name);
            spec.treatment = Treatment::Fixed;
            spec.start = end;
            EXPECT_NEAR(fit::fit(fixed)->rss, wanted, 1e-5 * wanted) << q.name;
            asymmetric |= std::abs((q.high - q.value) / (q.value - q.low) - 1) > 0.1;
        }
    EXPECT_TRUE(asymmetric);
}

// A decay that is hardly seen: its rate has no upper end.
TEST(Profile, AnOpenIntervalSaysSo) {
    const std::vector<double> x = {0, 1, 2, 3, 4, 5, 6, 7}, y = {2, 1.02, 0.99, 1.01, 0.98, 1, 1.03, 0.97};
    FitProblem p = problemOf(*models::equationModel("a*exp(-k*x) + c"), {x}, y);
    p.parameters = {{.name = "a", .start = 1.0}, {.name = "k", .start = 3.0}, {.name = "c", .start = 1.0}};
    auto r = fit::fit(p);
    ASSERT_TRUE(r);
    const Profiled told = profile(p, *r);
    EXPECT_TRUE(std::isinf(named(*r, "k").high));
    EXPECT_TRUE(std::isfinite(named(*r, "k").low));
    EXPECT_TRUE(std::ranges::any_of(told.warnings, [](const Issue& i) { return i.code == "open-interval"; }));
}

TEST(Bootstrap, OfALineIsAboutTheUsualIntervalAndTheSameForASeed) {
    std::mt19937 random(5);
    std::normal_distribution<double> noise(0, 0.3);
    std::vector<double> x, y;
    for (int i = 0; i < 60; ++i) {
        x.push_back(0.1 * i);
        y.push_back(1 + 2 * x.back() + noise(random));
    }
    FitProblem p = problemOf(*models::makeModel("line", {}), {x}, y);
    const auto usual = fit::fit(p);
    for (const Resampling how : {Resampling::Residuals, Resampling::Cases, Resampling::Parametric}) {
        FitReport r = *usual, again = *usual, other = *usual;
        EXPECT_TRUE(bootstrap(p, r, {.resampling = how, .count = 2000, .seed = 3}).empty());
        (void)bootstrap(p, again, {.resampling = how, .count = 2000, .seed = 3});
        (void)bootstrap(p, other, {.resampling = how, .count = 2000, .seed = 4});
        for (std::size_t k = 0; k < 2; ++k) {
            const auto &a = r.one().parameters[k], &b = usual->one().parameters[k];
            EXPECT_NEAR(a.low, b.low, 0.5 * b.se);
            EXPECT_NEAR(a.high, b.high, 0.5 * b.se);
            EXPECT_EQ(a.low, again.one().parameters[k].low);
            EXPECT_NE(a.low, other.one().parameters[k].low);
        }
    }
}

TEST(Bootstrap, MayBeStopped) {
    FitProblem p = problemOf(*models::makeModel("line", {}), {{1, 2, 3, 4}}, {1, 2.1, 2.9, 4});
    auto r = fit::fit(p);
    std::stop_source source;
    source.request_stop();
    const auto told = bootstrap(p, *r, {}, source.get_token());
    ASSERT_EQ(told.size(), 1U);
    EXPECT_EQ(told[0].code, "stopped");
}

// How often intervals hold the truth, by simulation: 93–97 % of 2000 where n ≥ 30.
TEST(Coverage, IntervalsHoldTheTruthAsOftenAsTheySay) {
    const auto model = *models::makeModel("exponential-decay", {});
    const std::vector<double> truth = {3, 0.7, 1};
    std::vector<double> x;
    for (int i = 0; i < 36; ++i) x.push_back(0.15 * i);
    std::vector<double> exact(36);
    const std::span<const double> xs(x);
    model->evaluate({&xs, 1}, truth, exact);
    std::mt19937 random(77);
    std::normal_distribution<double> noise(0, 0.1);
    int asymptotic[3] = {}, profiled[3] = {}, bootstrapped[3] = {}, few = 0;
    constexpr int kTimes = 1000;
    for (int trial = 0; trial < kTimes; ++trial) {
        FitProblem p = problemOf(model, {x}, exact);
        for (double& y : p.members[0].y) y += noise(random);
        const auto r = fit::fit(p);
        ASSERT_TRUE(r);
        FitReport followed = *r, repeated = *r;
        (void)profile(p, followed);
        const bool also = trial % 5 == 0;
        if (also) (void)bootstrap(p, repeated, {.count = 400});
        few += also;
        for (std::size_t k = 0; k < 3; ++k) {
            auto holds = [&](const FitReport& report) {
                const ParameterResult& q = report.one().parameters[k];
                return q.low <= truth[k] && truth[k] <= q.high;
            };
            asymptotic[k] += holds(*r);
            profiled[k] += holds(followed);
            if (also) bootstrapped[k] += holds(repeated);
        }
    }
    for (std::size_t k = 0; k < 3; ++k) {
        EXPECT_NEAR(asymptotic[k] / double(kTimes), 0.95, 0.02) << k;
        EXPECT_NEAR(profiled[k] / double(kTimes), 0.95, 0.02) << k;
        EXPECT_NEAR(bootstrapped[k] / double(few), 0.95, 0.04) << k;
    }
}

// What intervals hold of few points, as it is: printed where JOINTER_COVERAGE gives the number of trials.
TEST(Coverage, OfFewPointsIsReported) {
    const char* asked = std::getenv("JOINTER_COVERAGE");
    const int trials = asked ? std::atoi(asked) : 60;
    const auto model = *models::makeModel("exponential-decay", {});
    const std::vector<double> truth = {3, 0.7, 1};
    for (const int n : {6, 8, 12, 20, 30, 60}) {
        std::vector<double> x, exact(static_cast<std::size_t>(n));
        for (int i = 0; i < n; ++i) x.push_back(5.25 * i / (n - 1));
        const std::span<const double> xs(x);
        model->evaluate({&xs, 1}, truth, exact);
        std::mt19937 random(static_cast<unsigned>(n));
        std::normal_distribution<double> noise(0, 0.1);
        int held[3] = {}, fits = 0;
        for (int trial = 0; trial < trials; ++trial) {
            FitProblem p = problemOf(model, {x}, exact);
            for (double& y : p.members[0].y) y += noise(random);
            const auto r = fit::fit(p);
            ASSERT_TRUE(r);
            if (r->state != FitState::Converged) continue;
            ++fits;
            FitReport followed = *r, repeated = *r;
            (void)profile(p, followed);
            (void)bootstrap(p, repeated, {.count = 300});
            for (const auto& [which, report] : {std::pair(0, &*r), std::pair(1, &std::as_const(followed)),
                                                std::pair(2, &std::as_const(repeated))})
                for (std::size_t k = 0; k < 3; ++k) {
                    const ParameterResult& q = report->one().parameters[k];
                    held[which] += q.low <= truth[k] && truth[k] <= q.high;
                }
        }
        ASSERT_GT(fits, trials / 2);
        const double all = 3.0 * fits;
        for (const int h : held) EXPECT_GT(h / all, 0.75) << n; // none is grossly wrong
        if (asked)
            std::printf("n = %2d: %d fits; asymptotic %.1f %%, profile %.1f %%, bootstrap %.1f %%\n", n, fits,
                        100 * held[0] / all, 100 * held[1] / all, 100 * held[2] / all);
    }
}
