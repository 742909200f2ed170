// SPDX-License-Identifier: GPL-3.0-or-later
// The doubt view against doing each variation by hand; what matters most is said; what cannot vary is left
// away.
#include "evaluate/doubt.h"

#include "project/edit.h"
#include "support/drawn.h"

#include <cmath>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::evaluate;

namespace {

// A decay whose rate changes at 6, so that the end of the span decides what is found.
struct Decay {
    test::Drawing d;

    explicit Decay(double bend = 0.3) {
        std::mt19937_64 random(2);
        std::normal_distribution<double> normal(0, 1);
        std::vector<double> x, y;
        for (int i = 0; i < 60; ++i) {
            x.push_back(0.2 * i);
            y.push_back(10 - x.back() + bend * std::max(0.0, x.back() - 6) + 0.02 * normal(random));
        }
        d.data(x, y);
        addFit(Span(0, 8));
    }
    void addFit(const Span& span, const char* model = "line") {
        d.p =
            *edits::addAnalysis(
                 {.kind = "fit", .inputs = {{.dataset = dataset(), .span = span}}, .model = {.kind = model}})
                 .apply(d.p);
    }
    DatasetId dataset() const { return d.p.datasets[0].id; }
    const Analysis& fit() const { return d.p.analyses[d.p.analyses.size() - 1]; }
    Result<Doubt> doubt(const std::string& quantity = "slope") {
        return doubtOf(d.p, fit(), dataset(), quantity, d.evaluator());
    }
};

const DoubtSeries* seriesOf(const Doubt& d, std::string_view choice) {
    const auto at =
        std::ranges::find_if(d.series, [&](const DoubtSeries& s) { return s.choice.starts_with(choice); });
    return at == d.series.end() ? nullptr : &*at;
}

} // namespace

TEST(Doubt, VariationsAreWhatDoingThemByHandGives) {
    Decay k;
    const auto d = k.doubt();
    ASSERT_TRUE(d) << d.error().text;
    const DoubtSeries* end = seriesOf(*d, "end of the span");
    ASSERT_TRUE(end);
    EXPECT_GE(end->points.size(), 6U);
    int chosen = 0;
    for (const DoubtPoint& p : end->points) {
        k.addFit(Span(0, p.place));
        const auto byHand = k.d.evaluator().analysis(k.d.p, k.fit());
        EXPECT_NEAR(p.value, byHand->find("slope")->value, 1e-12) << p.label;
        EXPECT_NEAR(p.low, byHand->find("slope")->low, 1e-9);
        chosen += p.chosen;
    }
    EXPECT_EQ(chosen, 1);
    const auto places = [&] {
        std::vector<double> out;
        for (const DoubtPoint& p : end->points) out.push_back(p.place);
        return out;
    }();
    EXPECT_TRUE(std::ranges::is_sorted(places));
}

TEST(Doubt, SaysWhichChoiceMattersMost) {
    Decay bent;
    const auto d = bent.doubt();
    EXPECT_THAT(d->sentence, testing::ContainsRegex("most with the (end|start) of the span: by"))
        << d->sentence;
    EXPECT_THAT(d->sentence, testing::HasSubstr("times its standard error"));
    Decay straight(0);
    const auto calm = straight.doubt();
    EXPECT_THAT(calm->sentence,
                testing::AnyOf(testing::HasSubstr("hardly moves"), testing::HasSubstr("no further than")))
        << "fewer points alone are no doubt: " << calm->sentence;
}

TEST(Doubt, WeightsAnchorsAndWindowsAreVaried) {
    Decay k;
    Settings baseline;
    baseline.set("method", "anchors");
    baseline.set("anchors", Value(Numbers{0, 0, 11, 0.5}));
    k.d.p = *edits::addStep(k.dataset(), "baseline", baseline, "x").apply(k.d.p);
    Settings smooth;
    smooth.set("window", Value(7.0));
    k.d.p = *edits::addStep(k.dataset(), "smooth", smooth, "x").apply(k.d.p);
    k.addFit(Span());
    const auto d = k.doubt();
    ASSERT_TRUE(d) << d.error().text;
    for (const char* choice : {"weights", "anchors", "window", "points"})
        EXPECT_TRUE(seriesOf(*d, choice)) << choice;
    const DoubtSeries* anchors = seriesOf(*d, "anchors");
    ASSERT_EQ(anchors->points.size(), 5U) << "as placed, and two anchors up and down";
    EXPECT_GT(anchors->reach(), 0);
    const Table t = doubtTable(*d);
    std::size_t rows = 0;
    for (const DoubtSeries& s : d->series) rows += s.points.size();
    EXPECT_EQ(t.rowCount(), rows);
    EXPECT_EQ(t.columns.size(), 6U);
}

// Models that have the number too.
TEST(Doubt, OtherModelsAreTried) {
    test::Drawing d;
    std::vector<double> x, y;
    for (int i = 0; i < 80; ++i) {
        x.push_back(0.1 * i);
        y.push_back(1 + 4 / (1 + std::pow((x.back() - 4) / 0.6, 2)) + 0.01 * std::cos(9.0 * i * i));
    }
    d.data(x, y);
    d.p = *edits::addAnalysis(
               {.kind = "fit", .inputs = {{.dataset = d.p.datasets[0].id}}, .model = {.kind = "gaussian"}})
               .apply(d.p);
    const auto found = doubtOf(d.p, d.p.analyses[0], d.p.datasets[0].id, "centre", d.evaluator());
    ASSERT_TRUE(found) << found.error().text;
    const DoubtSeries* models = seriesOf(*found, "model");
    ASSERT_TRUE(models);
    EXPECT_GE(models->points.size(), 2U);
    EXPECT_TRUE(models->points[0].chosen);
    for (const DoubtPoint& p : models->points) {
        EXPECT_NEAR(p.value, 4, 0.1) << p.label;
        EXPECT_EQ(p.label.find("Log-normal"), std::string::npos) << "far worse ones could not be meant";
    }
}

TEST(Doubt, OverTimesPlacesAreDates) {
    Decay k;
    k.d.p = *edits::onTable(k.d.p.tables[0].id, "times",
                            [](Project&, Table& t) -> Result<void> {
                                std::vector<double> moments;
                                for (double x : t.columns[0].numbers()) moments.push_back(1925769600 + 432000 * x);
                                Column when = numberColumn("when", "", moments);
                                when.kind = ColumnKind::DateTime;
                                when.id = t.columns[0].id;
                                t.columns[0] = when;
                                return {};
                            })
                 .apply(k.d.p);
    k.addFit(Span());
    const auto d = k.doubt();
    ASSERT_TRUE(d) << d.error().text;
    EXPECT_EQ(seriesOf(*d, "start of the span")->points.front().label, "from 2031-01-10");
    EXPECT_THAT(seriesOf(*d, "end of the span")->points.back().label, testing::StartsWith("to 2031-03-"));
}

// Peaks are not sought anew: each variation has as many as were found.
TEST(Doubt, KeepsTheNumberOfPeaks) {
    test::Drawing d;
    std::mt19937_64 random(6);
    std::normal_distribution<double> normal(0, 1);
    std::vector<double> x, y;
    for (int i = 0; i < 400; ++i) {
        x.push_back(0.1 * i);
        y.push_back(30 * std::exp(-std::pow((x.back() - 12) / 1.5, 2)) + 20 * std::exp(-std::pow((x.back() - 27) / 2, 2)) +
                    normal(random));
    }
    d.data(x, y);
    Settings smooth;
    smooth.set("window", Value(9.0));
    d.p = *edits::addStep(d.p.datasets[0].id, "smooth", smooth, "x").apply(d.p);
    d.p = *edits::addAnalysis({.kind = "peaks",
                               .inputs = {{.dataset = d.p.datasets[0].id,
                                           .point = CurvePoint::fromText("before-smoothing")}},
                               .model = {.kind = "gaussian"}})
               .apply(d.p);
    const Analysis& peaks = d.p.analyses[0];
    const auto outcome = d.evaluator().analysis(d.p, peaks);
    ASSERT_TRUE(outcome.exists());
    const auto found = doubtOf(d.p, peaks, d.p.datasets[0].id, outcome->quantities.front().key, d.evaluator());
    ASSERT_TRUE(found) << found.error().text;
    ASSERT_TRUE(seriesOf(*found, "points"));
    for (const DoubtSeries& s : found->series)
        for (const DoubtPoint& p : s.points)
            EXPECT_EQ(p.project->analyses.find(peaks.id)->settings.number("count"), 2) << s.choice << ", " << p.label;
}

TEST(Doubt, TheProjectStaysAsItIs) {
    Decay k;
    const Project before = k.d.p;
    const auto d = k.doubt("intercept");
    ASSERT_TRUE(d);
    EXPECT_TRUE(k.d.p == before);
}

TEST(Doubt, SaysWhatItCannot) {
    Decay k;
    const auto none = k.doubt("nothing");
    ASSERT_FALSE(none);
    EXPECT_EQ(none.error().code, "no-quantity");
    k.addFit(Span(100, 200));
    EXPECT_FALSE(k.doubt());
}
