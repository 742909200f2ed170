// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/fitted.h"
#include "support/sample_project.h"

#include "evaluate/results.h"

#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::analyses;

namespace {

// Rows over two blocks with one direction in common: the covariance by hand.
ErrorRow row(int block, double own, double common) {
    return {block, Eigen::RowVectorXd::Constant(1, own), Eigen::RowVectorXd::Constant(1, common)};
}

} // namespace

TEST(Covariance, KnowsWhatQuantitiesHaveInCommon) {
    Covariance c;
    c.add(row(0, 3, 1));
    c.add(row(1, 2, 1));
    c.add(row(0, 1, 0));
    EXPECT_EQ(c.of(0, 0), 10);
    EXPECT_EQ(c.of(0, 1), 1) << "only what all share";
    EXPECT_EQ(c.of(0, 2), 3);
    const double difference[] = {1, -1, 0}, all[] = {1, 1, 1};
    EXPECT_DOUBLE_EQ(c.error(difference), std::sqrt(9 + 4));
    EXPECT_DOUBLE_EQ(c.error(all), std::sqrt(16 + 4 + 4));
    c.add({.known = false});
    EXPECT_TRUE(std::isnan(c.of(0, 3)));
    const double withUnknown[] = {1, 0, 0, 1}, without[] = {1, 0, 0, 0};
    EXPECT_TRUE(std::isnan(c.error(withUnknown)));
    EXPECT_DOUBLE_EQ(c.error(without), std::sqrt(10));
}

// The covariance that a result tells is that of the fit.
TEST(FitAnalysis, TellsTheCovarianceOfItsQuantities) {
    evaluate::Evaluator e;
    const Project p = test::sampleProject();
    const auto f = test::fitOf(e, p, p.analyses[0]);
    ASSERT_TRUE(f.good());
    const AnalysisResult& r = *f.outcome;
    ASSERT_EQ(r.covariance.size(), r.quantities.size());
    const Eigen::MatrixXd C = f.one().root * f.one().root.transpose();
    for (std::size_t i = 0; i < f.one().parameters.size(); ++i)
        for (std::size_t k = 0; k < f.one().parameters.size(); ++k) {
            const double c = C(static_cast<Eigen::Index>(i), static_cast<Eigen::Index>(k));
            EXPECT_NEAR(r.covariance.of(i, k), c, 1e-12 * std::abs(c));
        }
    for (std::size_t i = 0; i < r.quantities.size(); ++i)
        if (std::isfinite(r.quantities[i].se) && r.quantities[i].state != "fixed") {
            EXPECT_NEAR(std::sqrt(r.covariance.of(i, i)), r.quantities[i].se, 1e-9 * r.quantities[i].se)
                << r.quantities[i].key;
        }
}

// Closed forms of the numbers of a span, over two datasets.
TEST(SummaryAnalysis, GivesTheNumbersOfASpan) {
    Project p = test::sampleProject();
    Analysis a{.kind = "summary"};
    for (const auto& d : p.datasets)
        a.inputs.push_back({.dataset = d->id, .point = {CurvePoint::Place::Measured}, .span = Span(5, 9)});
    p = *edits::addAnalysis(a).apply(p);
    evaluate::Evaluator e;
    const auto outcome = e.analysis(p, p.analyses[p.analyses.size() - 1]);
    ASSERT_TRUE(outcome.exists());
    const auto curve = e.measured(p, p.datasets[1].id).value;
    double sum = 0, n = 0, squares = 0;
    for (std::size_t i = 0; i < curve->size(); ++i)
        if (curve->x[i] >= 5 && curve->x[i] <= 9) sum += curve->y[i], ++n;
    for (std::size_t i = 0; i < curve->size(); ++i)
        if (curve->x[i] >= 5 && curve->x[i] <= 9) squares += std::pow(curve->y[i] - sum / n, 2);
    const std::string second = " of " + p.datasets[1].id.text();
    EXPECT_EQ(outcome->find("n" + second)->value, n);
    EXPECT_NEAR(outcome->find("mean" + second)->value, sum / n, 1e-12 * std::abs(sum / n));
    EXPECT_NEAR(outcome->find("mean" + second)->se, std::sqrt(squares / (n - 1) / n), 1e-9);
    EXPECT_EQ(outcome->find("mean" + second)->member, p.datasets[1].id);
    EXPECT_EQ(outcome->find("mean" + second)->unit, curve->yMeaning.unit);
}

namespace {

struct Largest final : Detail {
    double value = 0;
};

// A kind that no other place knows: the largest y, times a factor.
AnalysisKind largestKind() {
    return {
        .info = {.key = "test-largest",
                 .name = "Largest value",
                 .purpose = "The largest y",
                 .settings = {{.key = "factor", .label = "Factor", .fallback = 1.0, .help = "Times this."}}},
        .slots = {{.key = "datasets", .label = "Datasets", .of = "dataset"}},
        .compute = [](const Task& task, const Taken&) -> Result<AnalysisResult> {
            AnalysisResult out{.state = "done"};
            const Curve& c = *task.inputs.at(0).curve;
            out.quantities.push_back({.key = "largest",
                                      .label = "largest",
                                      .unit = c.yMeaning.unit,
                                      .value = *std::ranges::max_element(c.y) *
                                               kindOf(task.spec)->info.number(task.spec.settings, "factor"),
                                      .state = "summary"});
            out.sentence = "Looked for the largest.";
            return out;
        },
        .costly = false};
}

} // namespace

// Another kind is found wherever results are read, and reacts to its settings.
TEST(Analyses, AnotherKindIsFoundWithoutBeingNamed) {
    if (!catalogue().find("test-largest")) addKind(largestKind());
    Project p = test::sampleProject();
    Analysis a{.kind = "test-largest", .inputs = {{.dataset = p.datasets[0].id}}};
    p = *edits::addAnalysis(a).apply(p);
    evaluate::Evaluator e;
    const auto rows = evaluate::resultRows(p, e);
    const auto at = std::ranges::find(rows, std::string("largest"), &evaluate::ResultRow::quantity);
    ASSERT_NE(at, rows.end());
    EXPECT_TRUE(at->good);
    const auto sources = evaluate::provenance(p, e, *at);
    EXPECT_EQ(sources.back().sentence, "Looked for the largest.");
    const double before = at->value;
    p = *edits::changeAnalysis(at->analysis, "", [](Analysis& x) {
             x.settings.set("factor", Value(2.0));
         }).apply(p);
    EXPECT_DOUBLE_EQ(e.analysis(p, *p.analyses.find(at->analysis))->find("largest")->value, 2 * before);
    EXPECT_EQ(nameOf(*p.analyses.find(at->analysis)), "Largest value");
}

// One that a newer version wrote is kept, and said.
TEST(Analyses, AnUnknownKindSaysSo) {
    Project p = test::sampleProject();
    p = *edits::addAnalysis({.kind = "of-tomorrow", .inputs = {{.dataset = p.datasets[0].id}}}).apply(p);
    evaluate::Evaluator e;
    const auto outcome = e.analysis(p, p.analyses[p.analyses.size() - 1]);
    ASSERT_FALSE(outcome.exists());
    EXPECT_THAT(outcome.result.error().text, testing::HasSubstr("of-tomorrow"));
}

// An analysis that takes itself is named as a loop.
TEST(Analyses, ALoopIsNamed) {
    Project p = test::sampleProject();
    p = *edits::addAnalysis({.kind = "summary", .name = "mine", .inputs = {{.dataset = p.datasets[0].id}}})
             .apply(p);
    const AnalysisId id = p.analyses[p.analyses.size() - 1].id;
    p = *edits::changeAnalysis(id, "", [&](Analysis& a) { a.analyses = {id}; }).apply(p);
    evaluate::Evaluator e;
    const auto outcome = e.analysis(p, *p.analyses.find(id));
    ASSERT_FALSE(outcome.exists());
    EXPECT_EQ(outcome.result.error().code, "circle");
    EXPECT_THAT(outcome.result.error().text, testing::HasSubstr("mine"));
}

// Several datasets: quantities of each and of all, renaming kept apart, one dataset taken away leaves the
// others.
TEST(FitAnalysis, OverSeveralDatasetsTellsWhatIsOfWhich) {
    Project p = test::sampleProject();
    Analysis a = test::gaussianFit(p.datasets[0].id);
    a.inputs.push_back({.dataset = p.datasets[1].id, .span = Span(2, 18)});
    a.parameters = {{.name = "fwhm", .treatment = Treatment::Shared}};
    p = *edits::addAnalysis(a).apply(p);
    const AnalysisId id = p.analyses[p.analyses.size() - 1].id;
    evaluate::Evaluator e;
    const auto f = test::fitOf(e, p, *p.analyses.find(id));
    ASSERT_TRUE(f.good());
    EXPECT_EQ(f.outcome->find("fwhm")->member, DatasetId{});
    EXPECT_EQ(f.outcome->find("fwhm")->state, "shared");
    EXPECT_EQ(f.outcome->find("centre of " + p.datasets[1].id.text())->member, p.datasets[1].id);
    EXPECT_NEAR(f.outcome->find("centre of " + p.datasets[1].id.text())->value, 12, 0.5);
    ASSERT_TRUE(f.report->comparison);
    EXPECT_TRUE(f.outcome->curve("fit", p.datasets[1].id));
    // Stored and found again.
    evaluate::Evaluator reopened;
    reopened.adopt(e.collect(p));
    const auto again =
        test::fitOf(reopened, p, *p.analyses.find(id), {.effort = evaluate::Effort::Remembered});
    ASSERT_TRUE(again.good());
    for (std::size_t i = 0; i < f.outcome->quantities.size(); ++i)
        EXPECT_EQ(again.outcome->quantities[i].value, f.outcome->quantities[i].value);
    EXPECT_EQ(again.report->comparison->f, f.report->comparison->f);
    p = *edits::removeDataset(p.datasets[1].id).apply(p);
    ASSERT_TRUE(p.analyses.find(id));
    EXPECT_EQ(p.analyses.find(id)->inputs.size(), 1U);
}
