// SPDX-License-Identifier: GPL-3.0-or-later
// Differences of parameters between datasets: closed forms of two lines, a slope that all share, false alarms
// as often as the level says, Holm by its definition.
#include "fit/differences.h"

#include "models/catalogue.h"
#include "support/random.h"

#include <boost/math/distributions/students_t.hpp>
#include <cmath>
#include <gtest/gtest.h>

using namespace jointer;
using namespace jointer::fit;
using test::Random;

namespace {

FitMember lineOf(const std::string& name, Random& random, double intercept, double slope, double noise,
                 int n = 20) {
    FitMember m{.name = name, .model = *models::makeModel("line", {}), .predictors = {{}}, .y = {}};
    for (int i = 0; i < n; ++i) {
        m.predictors[0].push_back(0.5 * i);
        m.y.push_back(intercept + slope * m.predictors[0].back() + noise * random.normal());
    }
    return m;
}

const Difference* of(const std::vector<Difference>& all, const std::string& name) {
    for (const Difference& d : all)
        if (d.parameter == name) return &d;
    return nullptr;
}

} // namespace

// Two lines with nothing in common but the scatter: se² = s²·(1/Sxx₁ + 1/Sxx₂) with all degrees of freedom.
TEST(Differences, OfTwoSlopesAreTheClosedForm) {
    Random random(1);
    const FitReport r =
        *fit::fit({.members = {lineOf("a", random, 1, 2, 0.5), lineOf("b", random, 0, 2.3, 0.5)}});
    const auto all = differencesOf(r);
    const Difference* slope = of(all, "slope");
    ASSERT_TRUE(slope);
    double sxx = 0;
    for (int i = 0; i < 20; ++i) sxx += std::pow(0.5 * i - 4.75, 2);
    const double s2 = r.rss / 36, se = std::sqrt(2 * s2 / sxx);
    EXPECT_NEAR(slope->se, se, 1e-10);
    EXPECT_EQ(slope->dof, 36);
    EXPECT_NEAR(slope->value, r.members[0].parameters[1].value - r.members[1].parameters[1].value, 1e-12);
    const double t = slope->value / se;
    EXPECT_NEAR(slope->p, 2 * boost::math::cdf(complement(boost::math::students_t(36), std::abs(t))), 1e-12);
    EXPECT_NEAR(slope->high - slope->low, 2 * tQuantile(0.95, 36) * se, 1e-9);
}

// With one slope for both the intercepts are correlated: by the closed form of the analysis of covariance.
TEST(Differences, OfInterceptsWithOneSlopeKnowWhatTheyShare) {
    Random random(2);
    FitProblem p{.members = {lineOf("a", random, 1, 2, 0.5), lineOf("b", random, 4, 2, 0.5)}};
    p.parameters = {{.name = "slope", .shared = true}};
    const FitReport r = *fit::fit(p);
    const auto all = differencesOf(r);
    EXPECT_FALSE(of(all, "slope")) << "it is one";
    const Difference* intercept = of(all, "intercept");
    ASSERT_TRUE(intercept);
    // Both have the same x: the difference of intercepts is that of the means, whose errors the slope does
    // not touch.
    EXPECT_NEAR(intercept->se, std::sqrt(r.rss / 37 * 2 / 20), 1e-10);
}

TEST(Differences, OfFitsOfTheirOwnScatterAreWelchs) {
    Random random(3);
    const FitReport a = *fit::fit({.members = {lineOf("a", random, 1, 2, 0.2)}}),
                    b = *fit::fit({.members = {lineOf("b", random, 1, 2, 3, 8)}});
    auto estimates = estimatesOf(a, "slope");
    for (const Estimate& e : estimatesOf(b, "slope")) estimates.push_back(e);
    const auto d = differencesOf("slope", estimates, 0.95);
    ASSERT_EQ(d.size(), 1U);
    const double va = std::pow(a.one().parameters[1].se, 2), vb = std::pow(b.one().parameters[1].se, 2);
    EXPECT_NEAR(d[0].se, std::sqrt(va + vb), 1e-12);
    EXPECT_NEAR(d[0].dof, (va + vb) * (va + vb) / (va * va / 18 + vb * vb / 6), 1e-9);
    EXPECT_LT(d[0].dof, 7) << "nearly those of the worse";
}

TEST(Differences, FalseAlarmsAreAsOftenAsTheLevelSays) {
    Random random(4);
    int plain = 0, any = 0;
    const int rounds = 600;
    for (int round = 0; round < rounds; ++round) {
        FitProblem p;
        for (const char* name : {"a", "b", "c", "d"}) p.members.push_back(lineOf(name, random, 1, 2, 1, 10));
        const FitReport r = *fit::fit(p);
        const auto all = differencesOf("slope", estimatesOf(r, "slope"), 0.95);
        ASSERT_EQ(all.size(), 6U);
        plain += all[0].p < 0.05;
        any += std::ranges::any_of(all, [](const Difference& d) { return d.corrected < 0.05; });
    }
    EXPECT_NEAR(plain, 0.05 * rounds, 4 * std::sqrt(0.05 * 0.95 * rounds));
    EXPECT_LT(any, 0.05 * rounds + 3 * std::sqrt(0.05 * 0.95 * rounds))
        << "after the correction not more of all six";
}

// S. Holm: the k-th smallest of m times m − k + 1, never falling.
TEST(Differences, AreCorrectedByHolm) {
    Random random(5);
    FitProblem p;
    for (const double slope : {2.0, 2.1, 2.4, 3.0})
        p.members.push_back(
            lineOf(std::string(1, static_cast<char>('a' + p.members.size())), random, 1, slope, 1, 12));
    const FitReport r = *fit::fit(p);
    auto all = differencesOf("slope", estimatesOf(r, "slope"), 0.95);
    std::ranges::sort(all, {}, &Difference::p);
    double before = 0;
    for (std::size_t k = 0; k < all.size(); ++k) {
        const double wanted = std::max(before, std::min(1.0, all[k].p * static_cast<double>(all.size() - k)));
        EXPECT_NEAR(all[k].corrected, wanted, 1e-12);
        before = wanted;
    }
}

// Of two lines with all points together, by ordinary regressions: parallel ones share Sxy/Sxx, one line forgets the groups.
TEST(Equalities, OfLinesAreTheAnalysisOfCovariance) {
    Random random(9);
    FitProblem p;
    p.members = {lineOf("a", random, 1, 2, 0.5), lineOf("b", random, 1.6, 2.05, 0.5)};
    struct Sums {
        double n = 0, x = 0, y = 0, xx = 0, xy = 0, yy = 0;
        void add(const FitMember& m) {
            for (std::size_t i = 0; i < m.y.size(); ++i) {
                const double u = m.predictors[0][i], v = m.y[i];
                ++n, x += u, y += v, xx += u * u, xy += u * v, yy += v * v;
            }
        }
        double sxx() const { return xx - x * x / n; }
        double sxy() const { return xy - x * y / n; }
        double syy() const { return yy - y * y / n; }
    };
    Sums a, b, both;
    a.add(p.members[0]), b.add(p.members[1]), both.add(p.members[0]), both.add(p.members[1]);
    const auto rss = [](double syy, double sxy, double sxx) { return syy - sxy * sxy / sxx; };
    const double apart = rss(a.syy(), a.sxy(), a.sxx()) + rss(b.syy(), b.sxy(), b.sxx());
    const double parallel = rss(a.syy() + b.syy(), a.sxy() + b.sxy(), a.sxx() + b.sxx());
    const double one = rss(both.syy(), both.sxy(), both.sxx());
    const auto found = equalitiesOf(p);
    ASSERT_EQ(found.size(), 3U);
    const auto testOf = [&](const std::string& what) {
        return std::ranges::find(found, what, &Equality::parameter)->test;
    };
    EXPECT_NEAR(testOf("slope").f, (parallel - apart) / 1 / (apart / 36), 1e-8);
    EXPECT_EQ(testOf("slope").dof[0], 1);
    EXPECT_EQ(testOf("slope").dof[1], 36);
    EXPECT_NEAR(testOf("").f, (one - apart) / 2 / (apart / 36), 1e-8);
    EXPECT_EQ(testOf("").dof[0], 2);
    p.parameters = {{.name = "slope", .shared = true}};
    const auto again = equalitiesOf(p);
    EXPECT_NEAR(std::ranges::find(again, "slope", &Equality::parameter)->test.f, testOf("slope").f, 1e-8)
        << "whatever the fit shares itself";
    p.members.pop_back();
    EXPECT_TRUE(equalitiesOf(p).empty());
}

TEST(Equalities, AreWrongAsOftenAsTheySay) {
    Random random(10);
    int slopes = 0, curves = 0;
    const int rounds = 500;
    for (int round = 0; round < rounds; ++round) {
        FitProblem p;
        p.members = {lineOf("a", random, 1, 2, 0.5, 8), lineOf("b", random, 1, 2, 0.5, 8), lineOf("c", random, 1, 2, 0.5, 8)};
        for (const Equality& e : equalitiesOf(p)) {
            slopes += e.parameter == "slope" && e.test.p < 0.05;
            curves += e.parameter.empty() && e.test.p < 0.05;
        }
    }
    EXPECT_NEAR(slopes, 0.05 * rounds, 15);
    EXPECT_NEAR(curves, 0.05 * rounds, 15);
}
