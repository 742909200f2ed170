// SPDX-License-Identifier: GPL-3.0-or-later
// Columns that follow a fit.
#include "evaluate/evaluator.h"
#include "project/project_file.h"
#include "project/references.h"
#include "support/fitted.h"
#include "support/sample_project.h"

#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::evaluate;
using testing::HasSubstr;

namespace {

// A calibration of absorbance over dose, and a table of doses to ask for.
struct Calibration {
    Project p;
    TableId standards, samples;
    AnalysisId fit;
};

Calibration calibration() {
    Calibration c;
    Table s{.name = "standards"};
    s.columns = {numberColumn("dose", "mg/L", {0, 1, 2, 3, 4, 5}),
                 numberColumn("absorbance", "", {0.02, 0.21, 0.37, 0.56, 0.72, 0.88})};
    c.p = *edits::addTable(s).apply({});
    c.standards = c.p.tables[0].id;
    const Table& made = c.p.tables[0];
    Dataset d{.name = "curve", .source = {.table = made.id}};
    d.source.roles = {{Role::X, made.columns[0].id}, {Role::Y, made.columns[1].id}};
    c.p = *edits::addDataset(d).apply(c.p);
    Analysis a{.name = "Calibration", .inputs = {{.dataset = c.p.datasets[0].id}}};
    a.model.kind = "polynomial-2";
    c.p = *edits::addAnalysis(a).apply(c.p);
    c.fit = c.p.analyses[0].id;
    Table t{.name = "samples"};
    t.columns = {numberColumn("sample dose", "mg/L", {0.5, 2.5, std::nan(""), 7, -1})};
    c.p = *edits::addTable(t).apply(c.p);
    c.samples = c.p.tables[1].id;
    return c;
}

Project withColumn(const Calibration& c, const std::string& shown) {
    const auto table = c.p.tables.find(c.samples);
    return *edits::addComputedColumn(c.samples, "made", formulaStored(shown, *table, &c.p)).apply(c.p);
}

} // namespace

TEST(PredictedColumns, FollowTheFit) {
    const Calibration c = calibration();
    Evaluator e;
    const auto f = test::fitOf(e, c.p, c.p.analyses[0]);
    const auto b = f.one().values();
    auto curve = [&](double x) { return b[0] + b[1] * x + b[2] * x * x; };
    const Project p = withColumn(c, "100*predicted('Calibration', 'sample dose') + 1");
    const Table& t = *p.tables.find(c.samples);
    EXPECT_EQ(formulaShown(t.columns[1].formula, t, &p), "100*predicted('Calibration', 'sample dose') + 1");
    const auto out = e.table(p, c.samples);
    const auto values = out.value.findByName("made")->numbers();
    ASSERT_EQ(values.size(), 5U);
    EXPECT_NEAR(values[0], 100 * curve(0.5) + 1, 1e-9);
    EXPECT_NEAR(values[1], 100 * curve(2.5) + 1, 1e-9);
    EXPECT_TRUE(std::isnan(values[2]));
    EXPECT_NEAR(values[3], 100 * curve(7) + 1, 1e-9);
    ASSERT_EQ(out.issues.size(), 1U);
    EXPECT_EQ(out.issues[0].code, "extrapolated");
    EXPECT_THAT(out.issues[0].text, HasSubstr("rows 4, 5"));
    // A standard that is typed anew moves them.
    const Table& s = *p.tables.find(c.standards);
    const Project typed = *test::typeValue(c.standards, s.columns[1].id, 5, 1.5).apply(p);
    const auto after = e.table(typed, c.samples);
    EXPECT_GT(std::abs(after.value.findByName("made")->numbers()[1] - values[1]), 1);
    // And so does a name: the formula keeps its fit.
    const Project named =
        *edits::changeAnalysis(c.fit, "Name", [](Analysis& a) { a.name = "other"; }).apply(p);
    EXPECT_EQ(formulaShown(named.tables.find(c.samples)->columns[1].formula, t, &named),
              "100*predicted('other', 'sample dose') + 1");
}

TEST(PredictedColumns, GiveTheBandToo) {
    const Calibration c = calibration();
    Evaluator e;
    const auto f = test::fitOf(e, c.p, c.p.analyses[0]);
    const analyses::Sampled at = f.outcome->curve("fit")->sample({0.5, 2.5});
    const auto out = e.table(withColumn(c, "confidence('Calibration', 'sample dose')"), c.samples);
    EXPECT_NEAR(out.value.findByName("made")->numbers()[0], at.confidence[0], 1e-12);
    EXPECT_NEAR(out.value.findByName("made")->numbers()[1], at.confidence[1], 1e-12);
}

TEST(PredictedColumns, SayWhatIsWrong) {
    const Calibration c = calibration();
    Evaluator e;
    auto issue = [&](const std::string& formula) {
        const auto out = e.table(withColumn(c, formula), c.samples);
        return out.issues.empty() ? std::string() : out.issues[0].text;
    };
    EXPECT_THAT(issue("predicted('nobody', 'sample dose')"), HasSubstr("name of a fit"));
    EXPECT_THAT(issue("predicted(3, 'sample dose')"), HasSubstr("name of a fit"));
    EXPECT_THAT(issue("predicted('Calibration')"), HasSubstr("at least 2 arguments"));
    EXPECT_THAT(issue("predicted('Calibration', nothing)"), HasSubstr("no column of numbers"));
    // The fit is removed: the column says so, and nothing else is lost.
    const Project p = withColumn(c, "predicted('Calibration', 'sample dose')");
    const Project gone = *edits::removeAnalysis(c.fit).apply(p);
    const auto out = e.table(gone, c.samples);
    ASSERT_FALSE(out.issues.empty());
    EXPECT_THAT(out.issues[0].text, HasSubstr("name of a fit"));
    EXPECT_EQ(out.value.columns.size(), 2U);
}

// A fit of the very column that follows it is told as the circle that it is.
TEST(PredictedColumns, SeeCircles) {
    Calibration c = calibration();
    const auto table = c.p.tables.find(c.standards);
    Project p = *edits::addComputedColumn(c.standards, "made",
                                          formulaStored("predicted('Calibration', dose)", *table, &c.p))
                     .apply(c.p);
    const Table& t = *p.tables.find(c.standards);
    p = *edits::changeDataset(p.datasets[0].id, "y", [&](Dataset& d) {
             d.source.roles[1].column = t.columns[2].id;
         }).apply(p);
    Evaluator e;
    const auto out = e.table(p, c.standards);
    ASSERT_FALSE(out.issues.empty());
    EXPECT_THAT(out.issues[0].text, HasSubstr("circle"));
    EXPECT_FALSE(test::fitOf(e, p, p.analyses[0]).good());
}

TEST(PredictedColumns, SurviveSavingAndCopying) {
    const Calibration c = calibration();
    const Project p = withColumn(c, "predicted('Calibration', 'sample dose')");
    int links = 0;
    eachReference(p, [&](const Link& link) { links += link.to == c.fit.text(); });
    EXPECT_EQ(links, 1);
    const Project renamed = withReferences(
        p, [&](const Link& link) { return link.to == c.fit.text() ? std::string("a77") : link.to; });
    EXPECT_THAT(renamed.tables.find(c.samples)->columns[1].formula, HasSubstr("'a77'"));
}
