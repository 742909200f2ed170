// SPDX-License-Identifier: GPL-3.0-or-later
// Joint regions: of a line by its closed form, of a curved model by the sum at each point of the edge, by how
// often they hold the truth, and with limits, shared parameters and ends that are never found.
#include "fit/region.h"

#include "models/catalogue.h"
#include "support/random.h"

#include <boost/math/distributions/fisher_f.hpp>
#include <cmath>
#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::fit;
using test::Random;

namespace {

struct Fitted {
    FitProblem problem;
    FitReport report;
    Region region(const char* first, const char* second, RegionOptions options = {}) const {
        return *regionOf(problem, report, {0, first}, {0, second}, options);
    }
};

Fitted fitted(const char* model, const std::vector<double>& x, const std::vector<double>& y,
              std::vector<ParameterSpec> specs = {}) {
    Fitted out{{.members = {{.model = *models::makeModel(model, {}), .predictors = {x}, .y = y}},
                .parameters = std::move(specs)},
               {}};
    out.report = *fit::fit(out.problem);
    return out;
}

double risen(const FitReport& r) {
    return 2 * boost::math::quantile(boost::math::fisher_f(2, static_cast<double>(r.dof)), r.level) /
           static_cast<double>(r.dof);
}

} // namespace

// (β − b)ᵀ XᵀX (β − b) = 2·s²·F for every pair on the edge.
TEST(Region, OfALineIsItsEllipse) {
    Random random(1);
    std::vector<double> x, y;
    for (int i = 0; i < 15; ++i) x.push_back(i + 3), y.push_back(1 + 0.5 * i + 0.4 * random.normal());
    const Fitted f = fitted("line", x, y);
    const Region r = f.region("intercept", "slope");
    double n = 15, sx = 0, sxx = 0;
    for (double v : x) sx += v, sxx += v * v;
    const double goal = risen(f.report) * f.report.rss;
    ASSERT_EQ(r.edge.size(), 48U);
    for (const auto* list : {&r.ellipse, &r.edge})
        for (const auto& [a, b] : *list) {
            const double da = a - r.x, db = b - r.y;
            EXPECT_NEAR((n * da * da + 2 * sx * da * db + sxx * db * db) / goal, 1, 1e-3);
        }
    EXPECT_LT(r.bend(), 1e-3);
    EXPECT_FALSE(r.open);
}

// Of two parameters that are all: the sum of squares itself.
TEST(Region, OfACurvedModelHasTheSumOnItsEdge) {
    Random random(2);
    std::vector<double> x, y;
    for (int i = 0; i < 12; ++i)
        x.push_back(0.4 * i), y.push_back(3 * std::exp(-0.8 * x.back()) + 0.15 * random.normal());
    const Fitted f =
        fitted("exponential-decay", x, y, {{.name = "plateau", .treatment = Treatment::Fixed, .start = 0}});
    const auto& p = f.report.one().parameters;
    std::vector<std::string> free;
    for (const auto& each : p)
        if (each.treatment == Treatment::Free) free.push_back(each.name);
    ASSERT_EQ(free.size(), 2U);
    const Region r = f.region(free[0].c_str(), free[1].c_str());
    for (const auto& [a, b] : r.edge) {
        std::vector<double> values = f.report.one().values(), at(y.size());
        for (std::size_t k = 0; k < p.size(); ++k) {
            if (p[k].name == free[0]) values[k] = a;
            if (p[k].name == free[1]) values[k] = b;
        }
        const std::span<const double> column(x);
        f.problem.members[0].model->evaluate({&column, 1}, values, at);
        double rss = 0;
        for (std::size_t i = 0; i < y.size(); ++i) rss += (y[i] - at[i]) * (y[i] - at[i]);
        EXPECT_NEAR((rss / f.report.rss - 1) / risen(f.report), 1, 1e-3);
    }
    EXPECT_GT(r.bend(), 0.02) << "a curved model bends its region";
}

// The ends of the region in one parameter lie beyond its own interval: √(2F) against t.
TEST(Region, ReachesBeyondTheIntervals) {
    Random random(3);
    std::vector<double> x, y;
    for (int i = 0; i < 30; ++i) x.push_back(i), y.push_back(2 - 0.1 * i + 0.02 * i * i + random.normal());
    const Fitted f = fitted("polynomial-2", x, y);
    const auto names = [&](std::size_t k) { return f.report.one().parameters[k].name; };
    const Region r = f.region(names(1).c_str(), names(2).c_str(), {.follow = false, .directions = 720});
    EXPECT_TRUE(r.edge.empty());
    EXPECT_TRUE(std::isnan(r.bend()));
    double far = 0;
    for (const auto& [a, b] : r.ellipse) far = std::max(far, a - r.x);
    const double expected =
        f.report.one().parameters[1].se * std::sqrt(risen(f.report) * static_cast<double>(f.report.dof));
    EXPECT_NEAR(far / expected, 1, 1e-3);
}

TEST(Region, HoldsTheTruthAsOftenAsItSays) {
    int inside = 0;
    const int rounds = 400;
    Random random(4);
    for (int round = 0; round < rounds; ++round) {
        std::vector<double> x, y;
        for (int i = 0; i < 20; ++i)
            x.push_back(0.5 * i), y.push_back(5 * std::exp(-0.5 * x.back()) + 1 + 0.2 * random.normal());
        const Fitted f = fitted("exponential-decay", x, y);
        FitProblem held = f.problem; // the truth of two, the third follows
        held.parameters = {{.name = "amplitude", .treatment = Treatment::Fixed, .start = 5},
                           {.name = "rate", .treatment = Treatment::Fixed, .start = 0.5}};
        const auto at = fit::fit(held);
        ASSERT_TRUE(at) << at.error().text;
        inside += at->rss / f.report.rss - 1 < risen(f.report);
    }
    EXPECT_NEAR(inside, 0.95 * rounds, 15);
}

TEST(Region, EndsAtLimitsAndSaysWhatIsOpen) {
    Random random(5);
    std::vector<double> x, y;
    for (int i = 0; i < 10; ++i) x.push_back(i), y.push_back(1 + 0.1 * i + 0.5 * random.normal());
    const double highest = fitted("line", x, y).report.one().parameters[1].value + 0.01;
    const Fitted limited = fitted("line", x, y, {{.name = "slope", .upper = highest}});
    for (const auto& [a, b] : limited.region("intercept", "slope").edge) EXPECT_LE(b, highest + 1e-12);
}

TEST(Region, OfSharedParametersMovesAllMembers) {
    Random random(6);
    FitProblem p{.parameters = {{.name = "slope", .shared = true}}};
    for (int m = 0; m < 2; ++m) {
        FitMember member{
            .name = m == 0 ? "north" : "south", .model = *models::makeModel("line", {}), .predictors = {{}}};
        for (int i = 0; i < 10; ++i)
            member.predictors[0].push_back(i), member.y.push_back(m + 0.5 * i + 0.2 * random.normal());
        p.members.push_back(std::move(member));
    }
    const FitReport report = *fit::fit(p);
    const auto r = regionOf(p, report, {0, "slope"}, {1, "intercept"});
    ASSERT_TRUE(r) << r.error().text;
    EXPECT_EQ(r->first, "slope");
    EXPECT_EQ(r->second, "intercept of south");
    EXPECT_LT(r->bend(), 1e-3) << "linear: its ellipse, only if both members move";
    EXPECT_EQ(regionOf(p, report, {0, "slope"}, {1, "slope"}).error().code, "same-parameter");
    EXPECT_EQ(regionOf(p, report, {0, "slope"}, {1, "nothing"}).error().code, "no-parameter");
}
