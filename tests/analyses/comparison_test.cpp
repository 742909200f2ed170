// SPDX-License-Identifier: GPL-3.0-or-later
// Comparisons as analyses: they take the fits of a dataset by themselves, follow them, and say what they
// cannot.
#include "analyses/comparison.h"

#include "analyses/first_inputs.h"
#include "evaluate/evaluator.h"
#include "project/edit.h"
#include "support/drawn.h"

#include <cmath>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::analyses;

namespace {

// A quadratic with the fits that are named.
struct Compared {
    test::Drawing d;

    explicit Compared(const std::vector<const char*>& models) {
        std::mt19937_64 random(4);
        std::normal_distribution<double> normal(0, 1);
        std::vector<double> x, y;
        for (int i = 0; i < 40; ++i) {
            x.push_back(0.25 * i);
            y.push_back(1 + x.back() - 0.2 * x.back() * x.back() + 0.3 * normal(random));
        }
        d.data(x, y);
        for (const char* model : models) addFit(model);
    }
    void addFit(const char* model) {
        d.p = *edits::addAnalysis(
                   {.kind = "fit", .inputs = {{.dataset = d.p.datasets[0].id}}, .model = {.kind = model}})
                   .apply(d.p);
    }
    evaluate::AnalysisOutcome compare(Settings settings = {}) {
        Analysis a{.kind = "comparison",
                   .inputs = {{.dataset = d.p.datasets[0].id}},
                   .settings = std::move(settings)};
        giveFirstInputs(a, d.p);
        d.p = *edits::addAnalysis(std::move(a)).apply(d.p);
        return again();
    }
    evaluate::AnalysisOutcome again() {
        return d.evaluator().analysis(d.p, d.p.analyses[d.p.analyses.size() - 1]);
    }
};

} // namespace

TEST(Comparison, TakesAllFitsOfItsDataset) {
    Compared c({"line", "polynomial-2", "polynomial-5"});
    const auto outcome = c.compare();
    ASSERT_TRUE(outcome.exists()) << outcome.result.error().text;
    const ComparisonDetail* detail = comparisonDetail(*outcome);
    ASSERT_TRUE(detail);
    EXPECT_EQ(detail->comparison.models.size(), 3U);
    EXPECT_EQ(detail->comparison.tests.size(), 3U);
    double weights = 0;
    for (const Quantity& q : outcome->quantities)
        if (q.label == "weight") weights += q.value;
    EXPECT_NEAR(weights, 1, 1e-12);
    EXPECT_THAT(outcome->sentence, testing::HasSubstr("Polynomial of degree 2"));
    ASSERT_EQ(outcome->tables.size(), 2U);
    EXPECT_EQ(outcome->tables[0].table.rowCount(), 3U);
    EXPECT_EQ(outcome->tables[1].table.rowCount(), 3U);
}

TEST(Comparison, CrossValidationIsToldWhereItIsAskedFor) {
    Compared c({"line", "polynomial-2"});
    Settings s;
    s.set("leave-out", "points");
    const auto outcome = c.compare(s);
    std::vector<double> errors;
    for (const Quantity& q : outcome->quantities)
        if (q.label == "prediction error") errors.push_back(q.value);
    ASSERT_EQ(errors.size(), 2U);
    EXPECT_NEAR(std::ranges::min(errors), 0.3, 0.1) << "about the scatter";
    EXPECT_GT(std::ranges::max(errors), 2 * std::ranges::min(errors)) << "a line predicts badly";
}

TEST(Comparison, FollowsItsFits) {
    Compared c({"line", "polynomial-2"});
    const std::string before = c.compare()->sentence;
    c.d.p = *edits::changeAnalysis(c.d.p.analyses[1].id, "x", [](Analysis& a) {
                 a.model.kind = "polynomial-3";
             }).apply(c.d.p);
    EXPECT_NE(c.again()->sentence, before);
}

TEST(Comparison, OfOneNameAreToldApart) {
    Compared c({"line", "line", "polynomial-2"});
    const auto outcome = c.compare();
    std::set<std::string> names;
    for (const fit::Compared& m : comparisonDetail(*outcome)->comparison.models) names.insert(m.name);
    EXPECT_EQ(names.size(), 3U);
}

// A spline that may not bend is the line: the same criteria, the same prediction of what is left out.
TEST(Comparison, ACurveWithoutAFormulaIsJudgedAsAFit) {
    Compared c({"line"});
    Settings stiff;
    stiff.set("method", "smoothing-spline");
    stiff.set("smoothness", Value(30.0));
    c.d.p = *edits::addAnalysis(
                 {.kind = "free-curve", .inputs = {{.dataset = c.d.p.datasets[0].id}}, .settings = stiff})
                 .apply(c.d.p);
    Settings s;
    s.set("leave-out", "points");
    const auto outcome = c.compare(s);
    ASSERT_TRUE(outcome.exists()) << outcome.result.error().text;
    const auto& models = comparisonDetail(*outcome)->comparison.models;
    ASSERT_EQ(models.size(), 2U);
    const fit::Compared &line = models[models[0].free ? 1 : 0], &spline = models[models[0].free ? 0 : 1];
    ASSERT_TRUE(spline.free && !line.free);
    EXPECT_NEAR(spline.k, 2, 1e-3);
    EXPECT_NEAR(spline.rss / line.rss, 1, 1e-5);
    EXPECT_NEAR(spline.aicc, line.aicc, 1e-2);
    EXPECT_NEAR(spline.bic, line.bic, 1e-2);
    EXPECT_NEAR(spline.predictionError / line.predictionError, 1, 1e-3);
    EXPECT_TRUE(comparisonDetail(*outcome)->comparison.tests.empty()) << "no F test between them";
}

TEST(Comparison, WhereNoFormulaFitsTheFreeCurveIsPreferred) {
    test::Drawing d;
    std::mt19937_64 random(4);
    std::normal_distribution<double> normal(0, 1);
    std::vector<double> x, y;
    for (int i = 0; i < 150; ++i)
        x.push_back(0.1 * i), y.push_back(std::sin(x.back()) + 0.1 * normal(random));
    d.data(x, y);
    const AnalysisInput input{.dataset = d.p.datasets[0].id};
    for (const char* model : {"line", "polynomial-2"})
        d.p = *edits::addAnalysis({.kind = "fit", .inputs = {input}, .model = {.kind = model}}).apply(d.p);
    Settings narrow;
    narrow.set("fraction", Value(0.2));
    d.p = *edits::addAnalysis({.kind = "free-curve", .inputs = {input}, .settings = narrow}).apply(d.p);
    Analysis a{.kind = "comparison", .inputs = {input}};
    giveFirstInputs(a, d.p);
    EXPECT_EQ(a.analyses.size(), 3U) << "it is taken beside the fits";
    d.p = *edits::addAnalysis(std::move(a)).apply(d.p);
    const auto outcome = d.evaluator().analysis(d.p, d.p.analyses[d.p.analyses.size() - 1]);
    ASSERT_TRUE(outcome.exists());
    EXPECT_THAT(outcome->sentence, testing::HasSubstr("LOESS"));
    const auto& against = comparisonDetail(*outcome)->verdict.against;
    EXPECT_THAT(against, testing::Contains(testing::HasSubstr("no formula")));
}

TEST(Comparison, SaysWhatItCannot) {
    Compared one({"line"});
    const auto few = one.compare();
    ASSERT_FALSE(few.exists());
    EXPECT_FALSE(few.result.error().text.empty());
    Compared spans({"line"});
    spans.d.p = *edits::addAnalysis({.kind = "fit",
                                     .inputs = {{.dataset = spans.d.p.datasets[0].id, .span = Span(2, 6)}},
                                     .model = {.kind = "polynomial-2"}})
                     .apply(spans.d.p);
    const auto other = spans.compare();
    ASSERT_FALSE(other.exists());
    EXPECT_EQ(other.result.error().code, "different-points");
}

namespace {

// Two datasets whose lines have the same slope but not the same intercept.
struct TwoLines {
    test::Drawing d;

    TwoLines() {
        std::mt19937_64 random(8);
        std::normal_distribution<double> normal(0, 1);
        for (const double intercept : {1.0, 3.0}) {
            std::vector<double> x, y;
            for (int i = 0; i < 25; ++i) {
                x.push_back(0.4 * i);
                y.push_back(intercept + 0.7 * x.back() + 0.2 * normal(random));
            }
            d.data(x, y);
        }
    }
    AnalysisId fit(std::vector<AnalysisInput> inputs) {
        d.p = *edits::addAnalysis({.kind = "fit", .inputs = std::move(inputs), .model = {.kind = "line"}})
                   .apply(d.p);
        return d.p.analyses[d.p.analyses.size() - 1].id;
    }
    evaluate::AnalysisOutcome differences(std::vector<AnalysisId> fits, Settings settings = {}) {
        d.p = *edits::addAnalysis({.kind = "differences",
                                   .inputs = {{.dataset = d.p.datasets[0].id}},
                                   .analyses = std::move(fits),
                                   .settings = std::move(settings)})
                   .apply(d.p);
        return d.evaluator().analysis(d.p, d.p.analyses[d.p.analyses.size() - 1]);
    }
    DatasetId dataset(std::size_t k) const { return d.p.datasets[k].id; }
};

} // namespace

TEST(DifferencesAnalysis, OfAJointFitAndOfTwoFitsAgree) {
    TwoLines t;
    const AnalysisId joint = t.fit({{.dataset = t.dataset(0)}, {.dataset = t.dataset(1)}}),
                     one = t.fit({{.dataset = t.dataset(0)}}), two = t.fit({{.dataset = t.dataset(1)}});
    const auto together = t.differences({joint}), apart = t.differences({one, two});
    ASSERT_TRUE(together.exists()) << together.result.error().text;
    ASSERT_TRUE(apart.exists()) << apart.result.error().text;
    for (const char* name : {"intercept", "slope"}) {
        const Quantity *a = together->find(name), *b = apart->find(name);
        ASSERT_TRUE(a && b) << name;
        EXPECT_NEAR(a->value, b->value, 1e-9);
        EXPECT_NEAR(a->se, b->se, 0.2 * a->se) << "the scatter is about the same";
        EXPECT_EQ(a->state, "difference");
    }
    EXPECT_THAT(
        together->sentence,
        testing::StartsWith("intercept differs between the datasets. For all would do one slope (p = "));
    EXPECT_THAT(together->sentence, testing::EndsWith("; one curve would not (p < 0.001)."));
    EXPECT_NEAR(together->find("p of one slope")->value, apart->find("p of one slope")->value, 1e-9)
        << "of the same points";
    Settings only;
    only.set("parameter", Value(std::string("intercept")));
    EXPECT_THAT(t.differences({joint}, only)->sentence,
                testing::ContainsRegex("^intercept of .* is lower than that of .* by 2.* \\(p < 0.001\\).$"));
    only.set("parameter", Value(std::string("slope")));
    EXPECT_THAT(t.differences({joint}, only)->sentence,
                testing::HasSubstr("do not differ beyond their errors"));
    EXPECT_NEAR(together->find("intercept")->value, -2, 0.4);
}

TEST(DifferencesAnalysis, WithoutAPairItSaysWhatToDo) {
    TwoLines t;
    const auto alone = t.differences({t.fit({{.dataset = t.dataset(0)}})});
    ASSERT_FALSE(alone.exists());
    EXPECT_EQ(alone.result.error().code, "no-pairs");
}
