// SPDX-License-Identifier: GPL-3.0-or-later
// Relative potency by parallel curves, and distributions of values: against closed forms and known truth.
#include "analyses/answers.h"
#include "evaluate/evaluator.h"
#include "project/edit.h"
#include "support/random.h"

#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::analyses;
using testing::HasSubstr;

namespace {

// Datasets over doses, each with a fit of the model, and the analysis of the kind over all fits.
struct Assay {
    Project project;
    evaluate::Evaluator evaluator;

    void add(const std::string& name, const std::vector<double>& x, const std::vector<double>& y,
             const ModelNode& model) {
        Table t{.name = name};
        t.columns = {numberColumn("dose", "mg", x), numberColumn("response", "", y)};
        project = *edits::addTable(t).apply(project);
        const Table& own = project.tables[project.tables.size() - 1];
        Dataset d{.name = name, .source = {.kind = "columns", .table = own.id}};
        d.source.roles = {{Role::X, own.columns[0].id}, {Role::Y, own.columns[1].id}};
        project = *edits::addDataset(d).apply(project);
        const DatasetId id = project.datasets[project.datasets.size() - 1].id;
        project =
            *edits::addAnalysis({.kind = "fit", .inputs = {{.dataset = id}}, .model = model}).apply(project);
    }
    evaluate::AnalysisOutcome potency(const std::string& doses) {
        Analysis a{.kind = "potency"};
        a.settings.set("doses", Value(doses));
        for (const auto& fit : project.analyses) a.analyses.push_back(fit->id);
        a.inputs = {{.dataset = project.datasets[0].id}};
        return evaluator.analysis(project, a);
    }
};

const std::vector<double> kDoses = {0.1, 0.3, 1, 3, 10, 30, 100};

std::vector<double> logistic(double midpoint, test::Random& random, double noise = 0.01,
                             double steepness = 1.2) {
    std::vector<double> y;
    for (double x : kDoses)
        y.push_back(1 / (1 + std::pow(x / midpoint, steepness)) + noise * random.normal());
    return y;
}

} // namespace

TEST(Potency, ParallelLogisticsGiveTheirRatio) {
    test::Random random(4);
    int held = 0, refused = 0;
    constexpr int kTrials = 60;
    for (int trial = 0; trial < kTrials; ++trial) {
        Assay assay;
        assay.add("set reference", kDoses, logistic(4, random), {.kind = "logistic-4"});
        assay.add("set sample", kDoses, logistic(2.5, random), {.kind = "logistic-4"});
        const auto out = assay.potency("dose");
        ASSERT_TRUE(out.exists()) << out.result.error().text;
        const Quantity* q = out->find("relative potency");
        ASSERT_TRUE(q);
        EXPECT_NEAR(q->value, 1.6, 0.15);
        EXPECT_EQ(q->subject, "set sample");
        held += q->low <= 1.6 && 1.6 <= q->high;
        refused += out->find("parallel")->value < 0.05;
    }
    EXPECT_GE(held, kTrials * 0.85);
    EXPECT_LE(refused, kTrials * 0.15) << "parallel curves are found to be so";
}

TEST(Potency, CurvesThatAreNotParallelAreSaidToBe) {
    test::Random random(8);
    Assay assay;
    assay.add("reference", kDoses, logistic(4, random), {.kind = "logistic-4"});
    assay.add("sample", kDoses, logistic(3, random, 0.01, 2.5), {.kind = "logistic-4"});
    const auto out = assay.potency("dose");
    ASSERT_TRUE(out.exists());
    EXPECT_FALSE(out->good);
    EXPECT_THAT(out->issues.at(0).text, HasSubstr("not parallel"));
}

// Of parallel lines over log10 of the dose the ratio has a closed form: the horizontal distance.
TEST(Potency, ParallelLines) {
    test::Random random(2);
    const std::vector<double> x = {0, 0.5, 1, 1.5, 2};
    std::vector<double> a, b;
    for (double v : x)
        a.push_back(3 + 2 * v + 0.05 * random.normal()), b.push_back(3.6 + 2 * v + 0.05 * random.normal());
    Assay assay;
    assay.add("reference", x, a, {.kind = "line"});
    assay.add("sample", x, b, {.kind = "line"});
    const auto out = assay.potency("log10");
    ASSERT_TRUE(out.exists()) << out.result.error().text;
    double sxx = 0, sxy = 0, ma = 0, mb = 0;
    for (std::size_t i = 0; i < x.size(); ++i) ma += a[i] / 5, mb += b[i] / 5;
    for (std::size_t i = 0; i < x.size(); ++i)
        sxx += 2 * (x[i] - 1) * (x[i] - 1), sxy += (x[i] - 1) * (a[i] + b[i]);
    EXPECT_NEAR(out->find("relative potency")->value, std::pow(10, (mb - ma) / (sxy / sxx)), 1e-6);
    EXPECT_THAT(assay.potency("dose").result.error().text, HasSubstr("logarithm of the dose"));
    Assay alone;
    alone.add("reference", x, a, {.kind = "line"});
    EXPECT_FALSE(alone.potency("log10").exists());
}

TEST(Distribution, SpeaksForWhereTheValuesComeFrom) {
    test::Random random(6);
    for (const bool logs : {false, true}) {
        Curve c;
        for (int i = 0; i < 300; ++i) {
            c.x.push_back(i);
            const double z = random.normal();
            c.y.push_back(logs ? std::exp(1 + 0.5 * z) : 20 + 3 * z);
        }
        c.yMeaning = {"length", "µm"};
        Analysis spec{.kind = "distribution", .inputs = {{}}};
        Task task{.spec = spec};
        task.inputs.push_back({.curve = std::make_shared<const Curve>(c)});
        const auto r = distributionAnalysis().compute(task, {});
        ASSERT_TRUE(r);
        EXPECT_THAT(r->sentence, HasSubstr(logs ? "log-normal" : "a normal"));
        // The difference of both by the densities themselves, summed.
        double mean = 0, meanLog = 0, ss = 0, ssLog = 0, likely = 0, likelyLog = 0;
        for (double v : c.y) mean += v / 300, meanLog += std::log(v) / 300;
        for (double v : c.y)
            ss += std::pow(v - mean, 2) / 300, ssLog += std::pow(std::log(v) - meanLog, 2) / 300;
        for (double v : c.y) {
            likely += -0.5 * std::log(2 * M_PI * ss) - std::pow(v - mean, 2) / (2 * ss);
            likelyLog += -0.5 * std::log(2 * M_PI * ssLog) -
                         std::pow(std::log(v) - meanLog, 2) / (2 * ssLog) - std::log(v);
        }
        EXPECT_NEAR(r->find("aicc-difference")->value, 2 * (likelyLog - likely), 1e-8);
        EXPECT_NEAR(r->find("geometric-mean")->value, std::exp(meanLog), 1e-9);
        ASSERT_EQ(r->tables.size(), 1U);
        EXPECT_EQ(r->tables[0].table.rowCount(), 300U);
        EXPECT_TRUE(std::ranges::is_sorted(r->tables[0].table.columns[1].numbers()));
        // The picture of the values, and of their logarithms: they lie about the line of their mean and SD.
        for (const bool ofLogs : {false, true}) {
            const std::string label = ofLogs ? "logarithms" : "values";
            const NamedCurve* points = r->curve("quantiles", {}, label);
            const NamedCurve* line = r->curve("quantile-line", {}, label);
            ASSERT_TRUE(points && line) << label;
            ASSERT_EQ(points->points->size(), 300U);
            EXPECT_NEAR(points->points->x.front(), -points->points->x.back(), 1e-12);
            EXPECT_NEAR(line->sample({0}).y[0], ofLogs ? meanLog : mean, 1e-9);
            EXPECT_NEAR(line->sample({1}).y[0] - line->sample({0}).y[0],
                        std::sqrt((ofLogs ? ssLog : ss) * 300 / 299), 1e-9);
            EXPECT_THAT(points->says, HasSubstr("normal: p"));
            if (logs || !ofLogs) {
                EXPECT_EQ(points->says.find("p < 0.001") != std::string::npos, logs && !ofLogs)
                    << points->says;
            }
        }
    }
}

TEST(Distribution, TheQuantilesOfManyAreThinnedWithBothEnds) {
    Curve c;
    for (int i = 0; i < 10001; ++i) c.x.push_back(i), c.y.push_back(std::sqrt(i));
    Analysis spec{.kind = "distribution", .inputs = {{}}};
    Task task{.spec = spec};
    task.inputs.push_back({.curve = std::make_shared<const Curve>(c)});
    const auto r = distributionAnalysis().compute(task, {});
    ASSERT_TRUE(r);
    const Curve& shown = *r->curve("quantiles", {}, "values")->points;
    EXPECT_LE(shown.size(), 4001U);
    EXPECT_EQ(shown.y.front(), 0);
    EXPECT_EQ(shown.y.back(), 100);
    EXPECT_TRUE(std::ranges::is_sorted(shown.x));
}

TEST(Distribution, OfWhatHasNone) {
    const auto of = [](std::vector<double> y) {
        Curve c;
        for (std::size_t i = 0; i < y.size(); ++i) c.x.push_back(static_cast<double>(i));
        c.y = std::move(y);
        Analysis spec{.kind = "distribution", .inputs = {{}}};
        Task task{.spec = spec};
        task.inputs.push_back({.curve = std::make_shared<const Curve>(c)});
        return distributionAnalysis().compute(task, {});
    };
    EXPECT_FALSE(of({}));
    EXPECT_FALSE(of({1, 1, 1, 1}));
    EXPECT_FALSE(of({NAN, 1, 2}));
    const auto negative = of({-1, 0, 2, 3});
    ASSERT_TRUE(negative);
    EXPECT_FALSE(negative->find("geometric-mean"));
}
