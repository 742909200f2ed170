// SPDX-License-Identifier: GPL-3.0-or-later
// Results filtered, wide, as text and LaTeX, and what was done for them in words.
#include "session/result_filter.h"
#include "session/result_grid.h"

#include "project/edit.h"
#include "session/trend.h"
#include "support/drawn.h"

#include <gmock/gmock.h>

using namespace jointer;
using testing::ElementsAre;
using testing::HasSubstr;
using testing::SizeIs;

namespace {

// Three datasets with attributes and a line fitted to each; the third has a second fit.
struct Fitted3 {
    test::Drawing d;
    std::vector<evaluate::ResultRow> rows;

    Fitted3() {
        for (const auto& [slope, site, age] :
             {std::tuple(2.0, "north", "7"), {3.0, "south", "28"}, {4.0, "North", "90"}}) {
            std::vector<double> x, y;
            for (int i = 0; i < 12; ++i) x.push_back(i), y.push_back(1 + slope * i + (i % 2 ? 0.1 : -0.1));
            d.data(x, y);
            Dataset set = d.p.datasets[d.p.datasets.size() - 1];
            set.name = std::string("set_") + site;
            set.attributes = {{"site", site, ""}, {"age", age, "d"}};
            d.p.datasets = d.p.datasets.with(set);
            d.p = *edits::addAnalysis(
                       {.name = "Line", .inputs = {{.dataset = set.id}}, .model = {.kind = "line"}})
                       .apply(d.p);
        }
        d.p = *edits::addAnalysis({.name = "Bent",
                                   .inputs = {{.dataset = d.p.datasets[d.p.datasets.size() - 1].id}},
                                   .model = {.kind = "line"}})
                   .apply(d.p);
        rows = evaluate::resultRows(d.p, d.evaluator());
    }
    std::vector<std::size_t> filtered(const std::string& text) {
        return ResultFilter::parse(text)->rows(d.p, rows);
    }
    std::vector<std::string> datasets(const std::string& text) {
        std::vector<std::string> out;
        for (DatasetId id : ResultFilter::parse(text)->datasets(d.p, rows))
            out.push_back(d.p.datasets.find(id)->name);
        return out;
    }
};

} // namespace

TEST(ResultFilter, ByAttributeQuantityAndWord) {
    Fitted3 f;
    EXPECT_EQ(f.filtered("").size(), f.rows.size());
    for (std::size_t k : f.filtered("site = north"))
        EXPECT_NE(f.d.p.datasets.find(f.rows[k].dataset)->name, "set_south");
    EXPECT_THAT(f.filtered("site = south"), SizeIs(3)); // intercept, slope, zero
    EXPECT_THAT(f.filtered("slope > 2.5, age <= 28"), SizeIs(1)) << "both hold of one number";
    EXPECT_THAT(f.filtered("quantity = slope, value >= 2.9"), SizeIs(3));
    EXPECT_THAT(f.filtered("bent"), SizeIs(3));
    EXPECT_THAT(f.filtered("doubtful"), SizeIs(0));
    EXPECT_THAT(f.filtered("nothing such"), SizeIs(0));
    EXPECT_THAT(f.datasets("slope > 2.5"), ElementsAre("set_south", "set_North"));
    EXPECT_THAT(f.datasets("slope > 2.5, site != south"), ElementsAre("set_North"));
}

TEST(ResultFilter, SaysWhatItCannotRead) {
    EXPECT_THAT(ResultFilter::parse("centre >").error().text, HasSubstr("“centre >” lacks a side"));
    EXPECT_THAT(ResultFilter::parse("centre > high").error().text, HasSubstr("“high” is no number"));
    EXPECT_TRUE(ResultFilter::parse(" , ")->isEmpty());
}

TEST(WideResults, HaveARowForEachDatasetAndKeepAnalysesApart) {
    Fitted3 f;
    std::vector<DatasetId> all;
    for (const auto& d : f.d.p.datasets) all.push_back(d->id);
    const Table t = wideResults(f.d.p, f.rows, all);
    EXPECT_EQ(t.rowCount(), 3U);
    std::vector<std::string> names;
    for (const Column& c : t.columns) names.push_back(c.name);
    EXPECT_THAT(names, testing::IsSupersetOf({"dataset", "site", "age"}));
    const Column* slope = t.findByName("slope (Line)");
    ASSERT_TRUE(slope);
    EXPECT_NEAR(slope->numbers()[1], 3, 0.05);
    EXPECT_TRUE(t.findByName("slope (Line) ±"));
    EXPECT_TRUE(t.findByName("age")->isNumeric());
    EXPECT_EQ(t.findByName("age")->unit, "d");
    // A name that two analyses have is told with them.
    std::vector<std::string> headings;
    for (const auto& q : wideGrid(f.d.p, f.rows, all).quantities) headings.push_back(q.name);
    EXPECT_THAT(headings, testing::IsSupersetOf({"intercept (Line)", "intercept (Bent)"}));
}

TEST(WideResults, AttributesThatTellNothingAreKnown) {
    WideGrid grid;
    grid.attributes.columns = {
        textColumn("dataset", {"a", "b", "c"}),          textColumn("instrument", {"one", "one", "one"}),
        textColumn("site", {"north", "south", "north"}), textColumn("Site", {"north", "south", "north"}),
        numberColumn("age", "d", {1, 2, NAN}),           numberColumn("Age", "d", {1, 2, NAN}),
        numberColumn("depth", "m", {NAN, NAN, NAN}),     textColumn("shell", {"a", "b", "c"})};
    EXPECT_THAT(attributesAlike(grid), testing::ElementsAre(1U, 3U, 5U, 6U));
    for (Column& c : grid.attributes.columns)
        c = c.isNumeric() ? numberColumn(c.name, c.unit, {1}) : textColumn(c.name, {"x"});
    EXPECT_THAT(attributesAlike(grid), testing::ElementsAre(2U, 3U, 5U, 6U, 7U))
        << "of one dataset only repetitions";
    EXPECT_THAT(attributesAlike(WideGrid{}), testing::IsEmpty());
}

TEST(ResultsText, WithErrorsAndAsLatex) {
    Fitted3 f;
    const std::vector<evaluate::ResultRow> one = {f.rows[f.filtered("site = south, quantity = slope").at(0)]};
    EXPECT_THAT(resultsText(f.d.p, one), HasSubstr("set_south\tslope\t3.0"));
    EXPECT_THAT(resultsText(f.d.p, one), HasSubstr(" ± 0.0"));
    EXPECT_THAT(resultsLatex(f.d.p, one), HasSubstr("set\\_south & slope & $3.0"));
    EXPECT_THAT(resultsLatex(f.d.p, one), HasSubstr(" \\pm 0.0"));
    evaluate::ResultRow small = one[0];
    small.value = 1.23e-9, small.error = 4e-11, small.unit = "mol/L";
    EXPECT_THAT(resultsLatex(f.d.p, {small}), HasSubstr("\\times 10^{-9}"));
}

TEST(MethodsText, TellsEachWayOnce) {
    Fitted3 f;
    const std::string text = methodsText(f.d.p, f.d.evaluator(), f.rows);
    const auto count = [&](const std::string& what) {
        std::size_t n = 0;
        for (std::size_t at = 0; (at = text.find(what, at)) != std::string::npos; ++at) ++n;
        return n;
    };
    EXPECT_EQ(count("Straight line") + count("straight line"), 1U) << text;
    EXPECT_EQ(count("set_south"), 1U) << text;
    EXPECT_THAT(text, HasSubstr("set_north (typed into the table"));
    EXPECT_THAT(text, HasSubstr(") and set_North ("));
    EXPECT_THAT(text, HasSubstr("): fitted "));
    EXPECT_THAT(text, testing::EndsWith("Evaluated with Jointer 0.1.0."));
}

TEST(ResultTrends, ADatasetOfAQuantityOverAnAttribute) {
    Fitted3 f;
    const auto curves = curvesOf(f.d.p, f.rows);
    ASSERT_THAT(curves, SizeIs(3));
    std::vector<const RunCurve*> each;
    for (const RunCurve& c : curves) each.push_back(&c);
    const Table t = trendTable(each, {"Line", "slope", "", ""}, "age");
    ASSERT_EQ(t.rowCount(), 3U);
    EXPECT_EQ(t.columns[1].numbers()[2], 90);
    EXPECT_NEAR(t.columns[2].numbers()[2], 4, 0.05);
    // What is fitted to it knows that the numbers were not typed.
    const Project with = *keepTrend(t).apply(f.d.p);
    evaluate::Evaluator evaluator;
    const auto way =
        evaluate::provenance(with, evaluator, {.dataset = with.datasets[with.datasets.size() - 1].id});
    ASSERT_EQ(way.size(), 1U);
    EXPECT_EQ(way[0].sentence, "Kept from the results: slope of 3 datasets.");
}

TEST(ResultsText, StatisticsOfTheShownNumbers) {
    evaluate::ResultRow row{.quantity = "slope", .unit = "mg"};
    std::vector<evaluate::ResultRow> rows;
    for (double v : {1.0, 2.0, 3.0, 4.0, 10.0}) row.value = v, rows.push_back(row);
    rows.push_back({.quantity = "intercept", .unit = "mg", .value = 99});
    rows.push_back({.quantity = "slope", .unit = "mg", .value = std::nan("")});
    EXPECT_EQ(statisticsText(rows, row), "mean 4.00, SD 3.54, median 3.00, 1.00 … 10.00 (5 numbers)");
    EXPECT_EQ(statisticsText({row}, row), "");
    for (std::size_t k = 0; k < 5; ++k) rows[k].subject = "sample " + std::to_string(k);
    EXPECT_EQ(statisticsText(rows, rows[0]), "mean 4.00, SD 3.54, median 3.00, 1.00 … 10.00 (5 numbers)");
}

// What a number would be without a step is what it is once the step is off.
TEST(Provenance, WithoutAStep) {
    Fitted3 f;
    Project p = f.d.p;
    const DatasetId id = p.datasets[0].id;
    Settings by;
    by.set("y", Value(10.0));
    p = *edits::addStep(id, "scale", by, "Scale").apply(p);
    const StepId step = p.datasets[0].protocol.back().id;
    evaluate::Evaluator evaluator;
    const auto rows = evaluate::resultRows(p, evaluator);
    const Project off = *edits::switchStep(id, step, false).apply(p);
    const auto plain = evaluate::resultRows(off, evaluator);
    int differ = 0;
    for (const auto& row : rows) {
        if (row.dataset != id) continue;
        const auto without = evaluate::withoutStep(p, evaluator, row, {.step = step, .dataset = row.dataset});
        ASSERT_TRUE(without) << without.error().text;
        const auto expected = std::ranges::find_if(
            plain, [&](const auto& r) { return r.analysis == row.analysis && r.key == row.key; });
        ASSERT_NE(expected, plain.end());
        EXPECT_EQ(without->value, expected->value) << row.key;
        differ += without->value != row.value;
    }
    EXPECT_GT(differ, 0);
    EXPECT_FALSE(
        evaluate::withoutStep(p, evaluator, rows[0], {.step = StepId{99999}, .dataset = rows[0].dataset}));
}
