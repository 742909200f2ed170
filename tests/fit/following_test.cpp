// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers of a fitted curve against closed forms and differences; steps of release; many starts.
#include "fit/curve_numbers.h"
#include "fit/fit.h"
#include "models/catalogue.h"
#include "models/examples.h"

#include <cmath>
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::fit;

namespace {

std::vector<double> evenly(double from, double to, int count) {
    std::vector<double> x;
    for (int i = 0; i < count; ++i) x.push_back(from + (to - from) * i / (count - 1));
    return x;
}

FitProblem noisy(const models::ModelPtr& model, const std::vector<double>& truth, std::vector<double> x,
                 double sd, unsigned seed) {
    std::mt19937 random(seed);
    std::normal_distribution<double> noise(0, sd);
    std::vector<double> y(x.size());
    const std::span<const double> xs(x);
    model->evaluate({&xs, 1}, truth, y);
    for (double& v : y) v += noise(random);
    return {.members = {{.model = model, .predictors = {std::move(x)}, .y = std::move(y)}}};
}

const DerivedResult& derivedNamed(const FitReport& r, const std::string& name) {
    return *std::ranges::find(r.one().derived, name, &DerivedResult::name);
}

} // namespace

// Each number of the curve beside the same as a formula over the parameters.
TEST(CurveNumbers, AgreeWithClosedForms) {
    struct Case {
        const char *equation, *asked, *closed, *unit;
    };
    const Case cases[] = {
        {"a*exp(-b*x) + c", "area(0, 5)", "a/b*(1 - exp(-5*b)) + 5*c", "xy"},
        {"a*exp(-b*x) + c", "slope(2)", "-a*b*exp(-2*b)", "y/x"},
        {"a*exp(-b*x) + c", "value(2)", "a*exp(-2*b) + c", "y"},
        {"a*exp(-b*x) + c", "crossing(c + a/2)", "ln(2)/b", "x"},
        {"a*exp(-b*x) + c", "crossing(3, 0, 10)", "ln(a/(3 - c))/b", "x"},
        {"a*exp(-b*x) + c", "slope(1/b)", "-a*b*exp(-1)", "y/x"},
        {"a*exp(-b*x) + c", "minimum(1, 4)", "a*exp(-4*b) + c", "y"},
        {"a*exp(-b*x) + c", "maximum_at(1, 4)", "1 + 0*a", "x"},
        {"a*exp(-b*x) + c", "area(0, crossing(c + a/2))", "a/b/2 + c*ln(2)/b", "xy"},
        {"a*exp(-b*x) + c", "area(0,5)/value(0)", "(a/b*(1 - exp(-5*b)) + 5*c)/(a + c)", ""},
        {"a*(x - b)^2 + c", "minimum_at()", "b", "x"},
        {"a*(x - b)^2 + c", "minimum(0, 9)", "c", "y"},
        {"a*(x - b)^2 + c", "crossing(c + 4*a, b, 10)", "b + 2", "x"},
    };
    for (const Case& c : cases) {
        const auto model = models::equationModel(c.equation);
        FitProblem p = noisy(*model, {4, 0.6, 1.5}, evenly(0, 10, 60), 0.05, 7);
        if (std::string(c.equation).contains("x - b"))
            p = noisy(*model, {0.4, 4.2, 1}, evenly(0, 10, 60), 0.05, 7);
        p.derive = {{"asked", c.asked, ""}, {"closed", c.closed, ""}};
        const auto r = fit::fit(p);
        ASSERT_TRUE(r) << c.asked << ": " << r.error().text;
        const DerivedResult &asked = derivedNamed(*r, "asked"), &closed = derivedNamed(*r, "closed");
        EXPECT_NEAR(asked.value, closed.value, 1e-8 * std::max(1.0, std::abs(closed.value))) << c.asked;
        EXPECT_NEAR(asked.se, closed.se, 2e-5 * std::max(closed.se, 1e-3)) << c.asked;
        EXPECT_EQ(asked.unit, c.unit) << c.asked;
    }
}

// What the model knows of itself: areas, widths and places of peaks.
TEST(CurveNumbers, AgreeWithWhatPeaksKnow) {
    for (const char* key :
         {"gaussian", "voigt", "pseudo-voigt", "exponentially-modified-gaussian", "log-normal"}) {
        const models::ModelPtr model = *models::makeModel(key, {});
        const models::Example& example = *models::exampleOf(key);
        const double low = example.from, high = example.to;
        FitProblem p = noisy(model, example.parameters, evenly(low, high, 200), 0.02, 3);
        p.derive = {{"top", "maximum()", ""},
                    {"from", "maximum_at()", ""},
                    {"wide", "crossing(maximum()/2, maximum_at(), 1000) - crossing(maximum()/2)", ""}};
        const auto r = fit::fit(p);
        ASSERT_TRUE(r) << key;
        const auto known = [&](const std::string& name) -> const DerivedResult* {
            const auto at = std::ranges::find(r->one().derived, name, &DerivedResult::name);
            return at == r->one().derived.end() ? nullptr : &*at;
        };
        if (const DerivedResult* fwhm = known("fwhm")) {
            EXPECT_NEAR(derivedNamed(*r, "wide").value, fwhm->value, 1e-6) << key;
            EXPECT_NEAR(derivedNamed(*r, "wide").se, fwhm->se, 1e-3 * fwhm->se) << key;
        }
        if (const DerivedResult* place = known("maximum")) {
            EXPECT_NEAR(derivedNamed(*r, "from").value, place->value, 1e-6) << key;
            EXPECT_NEAR(derivedNamed(*r, "from").se, place->se, 1e-3 * place->se) << key;
        }
    }
}

// The gradient of every number of the curve of every library model against differences.
TEST(CurveNumbers, HaveTheGradientsOfDifferences) {
    int seen = 0;
    for (const models::ModelKind& kind : models::catalogue()) {
        const models::Example* example = models::exampleOf(kind.info.key);
        if (!example) continue;
        const models::ModelPtr model = *models::makeModel(kind.info.key, {});
        if (model->predictorCount() != 1) continue;
        const AskedCurve curve{model.get(), example->from, example->to};
        const double a = example->from + 0.31 * (example->to - example->from),
                     b = example->from + 0.68 * (example->to - example->from);
        std::vector<double> p = example->parameters;
        std::vector<double> y(2);
        const double ends[2] = {a, b};
        const std::span<const double> xs(ends);
        model->evaluate({&xs, 1}, p, y);
        for (const std::string& text :
             {fmt::format("area({}, {})", a, b), fmt::format("value({})", a), fmt::format("slope({})", a),
              fmt::format("crossing({}, {}, {})", (y[0] + y[1]) / 2, a, b)}) {
            const auto formula = FollowingFormula::read(text, *model);
            ASSERT_TRUE(formula) << text;
            std::vector<double> gradient(p.size()), unused(p.size());
            const double value = formula->value(curve, p, gradient);
            if (!std::isfinite(value)) continue;
            for (std::size_t k = 0; k < p.size(); ++k) {
                // Contrasts are of a size of their own, 10⁻⁶.
                const double least = example->overDecades && p[k] != 0 ? 0 : 1e-3;
                const double h = 1e-4 * std::max(std::abs(p[k]), least), kept = p[k];
                auto at = [&](double by) {
                    p[k] = kept + by;
                    const double v = formula->value(curve, p, unused);
                    p[k] = kept;
                    return v;
                };
                const double slope = (8 * (at(h) - at(-h)) - (at(2 * h) - at(-2 * h))) / (12 * h);
                const double size = std::abs(value / std::max(std::abs(p[k]), least));
                if (!std::isfinite(slope)) continue;
                EXPECT_NEAR(gradient[k], slope, 1e-5 * (std::abs(slope) + size) + 1e-9)
                    << kind.info.key << " " << text << " by " << model->parameters()[k].name;
                ++seen;
            }
        }
    }
    EXPECT_GT(seen, 800);
}

// At the edge of where a model is defined the slope is taken from its side: an initial rate.
TEST(CurveNumbers, TakeTheSlopeAtAnEdgeFromOneSide) {
    const models::ModelPtr model = *models::makeModel("logistic-4", {});
    const std::vector<double> p = {0.2, 3, 5, 1}; // steepness 1: a hyperbola
    const auto formula = FollowingFormula::read("slope(0)", *model);
    ASSERT_TRUE(formula);
    std::vector<double> gradient(4);
    const double value = formula->value({model.get(), 0, 40}, p, gradient);
    EXPECT_NEAR(value, (3 - 0.2) / 5, 1e-7);
    EXPECT_NEAR(gradient[0], -1.0 / 5, 1e-6);
    EXPECT_NEAR(gradient[1], 1.0 / 5, 1e-6);
    EXPECT_NEAR(gradient[2], -2.8 / 25, 1e-6);
    const auto last = FollowingFormula::read("crossing(c)", **models::equationModel("c + b*(x - 4)"));
    ASSERT_TRUE(last);
    const models::ModelPtr line = *models::equationModel("c + b*(x - 4)");
    std::vector<double> two(2);
    EXPECT_EQ(last->value({line.get(), 0, 4}, std::vector<double>{1, 2}, two), 4) << "at the very end";
}

TEST(CurveNumbers, WhatIsNotReachedHasNoValue) {
    FitProblem p = noisy(*models::makeModel("line", {}), {1, 2}, evenly(0, 10, 20), 0.1, 1);
    p.derive = {{"never", "crossing(100)", ""}, {"later", "crossing(41, 0, 50)", ""}};
    const auto r = fit::fit(p);
    ASSERT_TRUE(r);
    EXPECT_TRUE(std::isnan(derivedNamed(*r, "never").value));
    EXPECT_NEAR(derivedNamed(*r, "later").value, 20, 1);
    EXPECT_THAT(r->warnings, testing::Contains(testing::Field(&Issue::code, "no-value")));
}

TEST(CurveNumbers, SayWhatIsWrong) {
    const models::ModelPtr line = *models::makeModel("line", {});
    auto error = [&](const char* text) { return FollowingFormula::read(text, *line).error().text; };
    EXPECT_THAT(error("area(1)"), testing::HasSubstr("area(from, to)"));
    EXPECT_THAT(error("slope(q)"), testing::HasSubstr("“q” is not known"));
    EXPECT_THAT(error("mean(slope)"), testing::HasSubstr("only computed columns"));
    EXPECT_THAT(error("area(1, 2"), testing::HasSubstr("closing parenthesis"));
    EXPECT_THAT(error("peak(3)"), testing::HasSubstr("no function called peak"));
    const auto two = models::equationModel("a*x1 + b*x2", {"x1", "x2"});
    EXPECT_THAT(FollowingFormula::read("slope(3)", **two).error().text, testing::HasSubstr("one predictor"));
    EXPECT_TRUE(FollowingFormula::read("slope*2", *line)); // the parameter of that name
}

// Released one after the other: each step fits what is free, the end is the fit of all.
TEST(Schedule, EndsWhereTheWholeFitEnds) {
    const auto model = *models::makeModel("gaussian", {});
    for (unsigned seed = 1; seed <= 20; ++seed) {
        FitProblem p = noisy(model, {6, 4, 1.2}, evenly(0, 12, 80), 0.1, seed);
        const auto whole = fit::fit(p);
        const std::string height = model->parameters()[1].name, centre = model->parameters()[0].name;
        p.schedule = {{height}, {centre}};
        const auto stepped = fit::fit(p);
        ASSERT_TRUE(whole && stepped);
        ASSERT_EQ(stepped->stages.size(), 2U);
        EXPECT_GE(stepped->stages[0].rss, stepped->stages[1].rss);
        EXPECT_GE(stepped->stages[1].rss, stepped->rss * (1 - 1e-12));
        EXPECT_NEAR(stepped->rss, whole->rss, 1e-9 * whole->rss);
        for (std::size_t k = 0; k < 3; ++k)
            EXPECT_NEAR(stepped->one().values()[k], whole->one().values()[k],
                        1e-4 * whole->one().parameters[k].se);
    }
}

TEST(Schedule, IsRefusedWithANameThatIsNone) {
    FitProblem p = noisy(*models::makeModel("line", {}), {1, 2}, evenly(0, 10, 20), 0.1, 1);
    p.schedule = {{"speed"}};
    const auto r = fit::fit(p);
    ASSERT_FALSE(r);
    EXPECT_THAT(r.error().text, testing::HasSubstr("speed"));
}

// A frequency has many ends; the best is taken and all are counted.
TEST(ManyStarts, ListsTheEndsAndTakesTheBest) {
    const auto model = models::equationModel("a*sin(w*x + p)");
    FitProblem p = noisy(*model, {2, 1.7, 0.4}, evenly(0, 12, 60), 0.1, 2);
    p.parameters = {{.name = "w", .start = 2.4}};
    const auto r = fit::fit(p, {.starts = 60});
    const auto again = fit::fit(p, {.starts = 60});
    ASSERT_TRUE(r && again);
    ASSERT_GT(r->ends.size(), 1U);
    int total = 0;
    for (const End& e : r->ends) total += e.count;
    EXPECT_LE(total, 60);
    EXPECT_GE(total, 50);
    EXPECT_NEAR(r->ends.front().rss, r->rss, 1e-6 * r->rss);
    EXPECT_NEAR(std::abs(r->one().values()[1]), 1.7, 0.05);
    EXPECT_EQ(again->ends.size(), r->ends.size());
    EXPECT_EQ(again->rss, r->rss);
}

// A sigmoid on what falls, or on nothing, runs away with two parameters: it is not called converged.
TEST(Runaway, IsNotConverged) {
    int away = 0;
    for (const char* key : {"gompertz", "logistic-growth", "richards"})
        for (unsigned seed = 1; seed <= 6; ++seed) {
            std::mt19937 random(seed);
            std::normal_distribution<double> noise(0, 0.05);
            std::vector<double> x = evenly(0, 29, 30), y;
            for (double v : x) y.push_back((seed % 2 ? 5 - 0.1 * v : 5 * std::exp(-0.2 * v)) + noise(random));
            const FitProblem p{
                .members = {{.model = *models::makeModel(key, {}), .predictors = {x}, .y = y}}};
            const auto r = fit::fit(p);
            ASSERT_TRUE(r);
            if (r->r2 > 0.1) continue; // it follows the points
            ++away;
            EXPECT_NE(r->state, FitState::Converged) << key << " " << seed;
        }
    EXPECT_GT(away, 0);
}
