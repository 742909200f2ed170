// SPDX-License-Identifier: GPL-3.0-or-later
// What each kind of mark draws, read back from the page in the values of its axes and held against what it
// shall show: given points, closed forms, published formulas.
#include "answers.h"
#include "figure/actions.h"
#include "figure/marks/mark.h"
#include "figure/marks/peak_labels.h"
#include "project/table_edits.h"
#include "stats/two_samples.h"
#include "support/drawn.h"
#include "support/fitted.h"
#include "support/sample_project.h"

#include <cmath>
#include <gmock/gmock.h>
#include <numbers>
#include <random>

using namespace jointer;
using namespace jointer::figure;
using test::Drawing;
using test::Values;

namespace {

constexpr double kClose = 1e-9; // of an axis that is ten long: places are doubles

// The axes from 0 to 10 each, so that values are read back without rounding of the range.
void ten(Element& x, Element& y) {
    x.settings.set("range", Value(Numbers{0, 10}));
    y.settings.set("range", Value(Numbers{0, 10}));
}

void expectNear(const Values& got, const Values& wanted, double within = kClose) {
    ASSERT_EQ(got.size(), wanted.size());
    for (std::size_t k = 0; k < got.size(); ++k) {
        EXPECT_NEAR(got[k].first, wanted[k].first, within) << "x of vertex " << k;
        EXPECT_NEAR(got[k].second, wanted[k].second, within) << "y of vertex " << k;
    }
}

struct Reach {
    double left, right, bottom, top;
};
Reach reachOf(const Values& v) {
    Reach r{1e300, -1e300, 1e300, -1e300};
    for (const auto& [x, y] : v)
        r = {std::min(r.left, x), std::max(r.right, x), std::min(r.bottom, y), std::max(r.top, y)};
    return r;
}
std::vector<Reach> boxesOf(const Drawing& d, std::size_t mark = 0, std::size_t path = 0) {
    std::vector<Reach> out;
    const draw::Path drawn = d.paths(mark).at(path);
    for (const draw::Polyline& l : drawn.lines) out.push_back(reachOf(d.values(l)));
    return out;
}

Element with(Element e, std::initializer_list<std::pair<const char*, Value>> settings) {
    for (const auto& [key, value] : settings) e.settings.set(key, value);
    return e;
}
Value word(const char* text) {
    return Value(std::string(text));
}

} // namespace

// --- Steps, stems, areas, bands ---------------------------------------------------------------------------

TEST(MarkSteps, ChangeBeforeHalfWayOrAfter) {
    Drawing d;
    d.data({1, 3, 4}, {1, 3, 2});
    const std::pair<const char*, Values> cases[] = {
        {"middle", {{1, 1}, {2, 1}, {2, 3}, {3, 3}, {3.5, 3}, {3.5, 2}, {4, 2}}},
        {"after", {{1, 1}, {3, 1}, {3, 3}, {3, 3}, {4, 3}, {4, 2}, {4, 2}}},
        {"before", {{1, 1}, {1, 1}, {1, 3}, {3, 3}, {3, 3}, {3, 2}, {4, 2}}}};
    for (const auto& [at, wanted] : cases) {
        d.lay({with(d.mark("steps"), {{"change", word(at)}})}, ten);
        SCOPED_TRACE(at);
        ASSERT_EQ(d.paths().size(), 1U);
        expectNear(d.values(d.paths()[0].lines[0]), wanted);
    }
}

TEST(MarkStems, GoFromTheirFootToThePoint) {
    Drawing d;
    d.data({2, 5, 8}, {3, 1, 7});
    d.lay({with(d.mark("stems"), {{"level", Value(2.0)}})}, ten);
    const auto lines = d.paths().at(0).lines;
    ASSERT_EQ(lines.size(), 3U);
    expectNear(d.values(lines[0]), {{2, 2}, {2, 3}});
    expectNear(d.values(lines[1]), {{5, 2}, {5, 1}});
    d.lay({with(d.mark("stems"), {{"foot", word("axis")}})}, ten);
    expectNear(d.values(d.paths().at(0).lines[2]), {{8, 0}, {8, 7}});
}

TEST(MarkArea, EndsAtAValueTheAxisOrAnotherCurve) {
    Drawing d;
    d.data({1, 2, 4}, {3, 5, 4});
    d.data({1, 3, 4}, {1, 2, 1});
    d.lay({with(d.mark("area"), {{"level", Value(2.0)}, {"outlined", Value(false)}})}, ten);
    expectNear(d.values(d.paths().at(0).lines[0]), {{1, 3}, {2, 5}, {4, 4}, {4, 2}, {1, 2}});
    d.lay({with(d.mark("area"), {{"to", word("edge")}, {"outlined", Value(false)}})}, ten);
    expectNear(d.values(d.paths().at(0).lines[0]), {{1, 3}, {2, 5}, {4, 4}, {4, 0}, {1, 0}});
    d.lay({with(d.mark("area"), {{"to", word("dataset")},
                                 {"other", Value(Reference{d.p.datasets[1].id.text()})},
                                 {"outlined", Value(false)}})},
          ten);
    expectNear(d.values(d.paths().at(0).lines[0]), {{1, 3}, {2, 5}, {4, 4}, {4, 1}, {3, 2}, {1, 1}});
}

TEST(MarkArea, IsOnePieceAcrossMissingValues) {
    Drawing d;
    d.data({1, 2, 3, 4}, {3, NAN, 5, 4});
    d.lay({d.mark("area")}, ten);
    EXPECT_EQ(d.paths().at(0).lines.size(), 1U) << "pieces would leave seams";
    EXPECT_FALSE(d.paths().at(0).stroke) << "a line around would be a seam too";
}

// A dense area is drawn from the overview of its curve: its edge must reach the same extremes.
TEST(MarkArea, OfAMillionPointsReachesTheExtremesOfEachColumn) {
    std::vector<double> x, y;
    for (int i = 0; i < 1000000; ++i) {
        x.push_back(i * 1e-5);
        y.push_back(5 + 3 * std::sin(x.back()) + (i == 345678 ? 5.5 : 0));
    }
    Drawing d;
    d.data(x, y);
    d.lay({with(d.mark("area"), {{"outlined", Value(false)}})}, ten, 4);
    const auto points = d.paths().at(0).lines.at(0).points;
    EXPECT_LT(points.size(), 3000U);
    const Reach r = reachOf(d.values({points}));
    EXPECT_NEAR(r.top, y[345678], 1e-9) << "one point stands out";
    EXPECT_NEAR(r.bottom, 0, 1e-9);
    EXPECT_NEAR(r.left, 0, 0.05);
    EXPECT_NEAR(r.right, 10, 0.05);
}

TEST(MarkBand, ReachesSoManyUncertainties) {
    Drawing d;
    d.data({1, 2, 3}, {4, 5, 6}, {0.5, 0.25, 1});
    d.lay({with(d.mark("band"), {{"times", Value(2.0)}})}, ten);
    expectNear(d.values(d.paths().at(0).lines[0]), {{1, 5}, {2, 5.5}, {3, 8}, {3, 4}, {2, 4.5}, {1, 3}});
}

// A table with columns beside y, not in the order of x, one cell missing.
TEST(MarksOfColumns, TakeTheirValuesFromTheRowsOfTheirPoints) {
    Drawing d;
    Table t;
    t.columns = {numberColumn("x", "", {5, 1, 3}), numberColumn("y", "", {5, 4, 6}),
                 numberColumn("upper", "", {7, 5, 9}), numberColumn("lower", "", {4.5, 2, NAN}),
                 numberColumn("fit", "", {5.5, 3.5, 6.5})};
    d.p = *edits::addTable(std::move(t)).apply(d.p);
    const Table& made = d.p.tables[0];
    Dataset own{.name = "own", .colour = "#2f6091"};
    own.source.table = made.id;
    own.source.roles = {{Role::X, made.columns[0].id},
                        {Role::Y, made.columns[1].id},
                        {Role::Companion, made.columns[4].id, "fit"}};
    d.p = *edits::addDataset(std::move(own)).apply(d.p);
    auto column = [&](std::size_t k) { return Value(Reference{d.p.tables[0].columns[k].id.text()}); };
    d.lay({with(d.mark("line"), {{"companion", word("fit")}})}, ten);
    expectNear(d.values(d.paths().at(0).lines[0]), {{1, 3.5}, {3, 6.5}, {5, 5.5}});
    // A row is deleted: those that stay keep what belongs to them.
    const Project whole = d.p;
    d.p = *edits::deleteRows(d.p.tables[0].id, {1}).apply(d.p);
    d.lay({with(d.mark("line"), {{"companion", word("fit")}})}, ten);
    expectNear(d.values(d.paths().at(0).lines[0]), {{3, 6.5}, {5, 5.5}});
    d.p = whole;
    d.lay({with(d.mark("band"), {{"upper", column(2)}, {"lower", column(3)}})}, ten);
    const Values edge = d.values(d.paths().at(0).lines[0]);
    EXPECT_NEAR(edge[0].second, 5, kClose);
    EXPECT_NEAR(edge[1].second, 9, kClose);
    EXPECT_NEAR(edge[2].second, 7, kClose);
    EXPECT_NEAR(edge[3].second, 4.5, kClose);
    EXPECT_NEAR(edge[4].second, 0, kClose) << "none: as far as the axis goes";
    EXPECT_NEAR(edge[5].second, 2, kClose);
}

TEST(MarkPoints, ErrorBarsEndAtTheirMultiplesAndSides) {
    Drawing d;
    d.data({2, 5}, {4, 6}, {1, 0.5});
    struct Case {
        const char* sides;
        double times;
        Values ends; // low and high of the two bars
    };
    for (const Case& c : {Case{"both", 1, {{3, 5}, {5.5, 6.5}}}, Case{"both", 2, {{2, 6}, {5, 7}}},
                          Case{"up", 1, {{4, 5}, {6, 6.5}}}, Case{"down", 1, {{3, 4}, {5.5, 6}}}}) {
        d.lay(
            {with(d.mark("points"),
                  {{"error-sides", word(c.sides)}, {"error-times", Value(c.times)}, {"caps", Value(false)}})},
            ten);
        SCOPED_TRACE(c.sides);
        std::vector<Reach> bars;
        for (const draw::Path& path : d.paths())
            for (const draw::Polyline& l : path.lines) bars.push_back(reachOf(d.values(l)));
        ASSERT_EQ(bars.size(), 2U);
        for (std::size_t k = 0; k < 2; ++k) {
            EXPECT_NEAR(bars[k].bottom, c.ends[k].first, kClose);
            EXPECT_NEAR(bars[k].top, c.ends[k].second, kClose);
            EXPECT_NEAR(bars[k].left, bars[k].right, kClose);
        }
    }
}

TEST(MarkPoints, APartOfThemEveryNthAndNoneTooNear) {
    Drawing d;
    std::vector<double> x, y;
    for (int i = 0; i <= 100; ++i) {
        x.push_back(0.1 * i);
        y.push_back(5);
    }
    d.data(x, y);
    d.lay({with(d.mark("points"), {{"part", Value(Numbers{2, 4})}})}, ten);
    EXPECT_EQ(d.symbols().size(), 21U);
    d.lay({with(d.mark("points"), {{"nth", Value(10.0)}})}, ten);
    EXPECT_EQ(d.symbols().size(), 11U);
    EXPECT_NEAR(d.symbols()[1].first, 1, kClose);
    d.lay({with(d.mark("points"), {{"spacing", Value(3.0)}})}, ten);
    const double perUnit = d.panel().area.width / 10;
    const Values sparse = d.symbols();
    EXPECT_GT(sparse.size(), 10U);
    for (std::size_t k = 1; k < sparse.size(); ++k)
        EXPECT_GE((sparse[k].first - sparse[k - 1].first) * perUnit, 3 - 1e-9);
}

// --- Bars -------------------------------------------------------------------------------------------------

TEST(MarkBars, StandOnTheirBaseAtTheMeanOfEachPlace) {
    Drawing d;
    d.data({1, 1, 2, 3}, {2, 4, 5, 1});
    d.lay({with(d.mark("bars"), {{"share", Value(0.5)}, {"base", Value(2.0)}, {"errors", Value(false)}})},
          ten);
    const auto bars = boxesOf(d);
    ASSERT_EQ(bars.size(), 3U);
    const double heights[] = {3, 5, 1};
    for (std::size_t k = 0; k < 3; ++k) {
        EXPECT_NEAR(bars[k].left, static_cast<double>(k) + 0.75, kClose);
        EXPECT_NEAR(bars[k].right, static_cast<double>(k) + 1.25, kClose);
        EXPECT_NEAR(bars[k].bottom, std::min(2.0, heights[k]), kClose);
        EXPECT_NEAR(bars[k].top, std::max(2.0, heights[k]), kClose);
    }
}

TEST(MarkBars, StandBesideEachOtherStackedAndToAHundred) {
    Drawing d;
    const std::vector<std::vector<double>> heights = {{1, 2}, {3, 1}, {4, 1}};
    for (const auto& h : heights) d.data({2, 4}, h);
    auto lay = [&](const char* how, bool level = false) {
        std::vector<Element> marks;
        for (std::size_t k = 0; k < 3; ++k)
            marks.push_back(with(d.mark("bars", k), {{"together", word(how)},
                                                     {"share", Value(0.6)},
                                                     {"direction", word(level ? "level" : "upright")}}));
        d.lay(marks, [&](Element& x, Element& y) {
            const bool shares = std::string(how) == "shares";
            x.settings.set("range", Value(Numbers{0, level && shares ? 100.0 : 10.0}));
            y.settings.set("range", Value(Numbers{0, !level && shares ? 100.0 : 10.0}));
        });
    };
    lay("beside");
    for (std::size_t k = 0; k < 3; ++k) { // the width of 0.6 × 2 in three
        EXPECT_NEAR(boxesOf(d, k)[0].left, 2 - 0.6 + 0.4 * static_cast<double>(k), kClose);
        EXPECT_NEAR(boxesOf(d, k)[0].right, 2 - 0.6 + 0.4 * static_cast<double>(k + 1), kClose);
        EXPECT_NEAR(boxesOf(d, k)[1].top, heights[k][1], kClose);
    }
    lay("stacked");
    double sum = 0;
    for (std::size_t k = 0; k < 3; ++k) {
        EXPECT_NEAR(boxesOf(d, k)[0].bottom, sum, kClose);
        sum += heights[k][0];
        EXPECT_NEAR(boxesOf(d, k)[0].top, sum, kClose);
        EXPECT_NEAR(boxesOf(d, k)[0].left, 1.4, kClose);
    }
    lay("shares");
    EXPECT_NEAR(boxesOf(d, 0)[0].top, 12.5, 1e-7);
    EXPECT_NEAR(boxesOf(d, 1)[0].top, 50, 1e-7);
    EXPECT_NEAR(boxesOf(d, 2)[0].top, 100, 1e-7);
    EXPECT_NEAR(boxesOf(d, 2)[1].top, 100, 1e-7);
    EXPECT_EQ(d.panel().axes[1].meaning.unit, "%");
    lay("stacked", true);
    EXPECT_NEAR(boxesOf(d, 2)[0].left, 4, kClose) << "level: values along x";
    EXPECT_NEAR(boxesOf(d, 2)[0].right, 8, kClose);
    EXPECT_NEAR(boxesOf(d, 2)[0].bottom, 1.4, kClose);
}

TEST(MarkBars, NegativeOnesAreStackedBelow) {
    Drawing d;
    d.data({1}, {3});
    d.data({1}, {-2});
    d.data({1}, {-1});
    std::vector<Element> marks;
    for (std::size_t k = 0; k < 3; ++k)
        marks.push_back(with(d.mark("bars", k), {{"together", word("stacked")}}));
    d.lay(marks, [](Element&, Element& y) { y.settings.set("range", Value(Numbers{-5, 5})); });
    EXPECT_NEAR(boxesOf(d, 0)[0].top, 3, kClose);
    EXPECT_NEAR(boxesOf(d, 1)[0].bottom, -2, kClose);
    EXPECT_NEAR(boxesOf(d, 2)[0].top, -2, kClose);
    EXPECT_NEAR(boxesOf(d, 2)[0].bottom, -3, kClose);
}

// --- Lists of values --------------------------------------------------------------------------------------

namespace {

// Ten values with quartiles by hand: at 1 + 9·p between the ordered ones.
const std::vector<double> kList = {1, 2, 3, 4, 5, 6, 7, 8, 9, 40};
Drawing listDrawing() {
    Drawing d;
    d.groups(std::vector<std::string>(10, "a"), kList);
    return d;
}

} // namespace

TEST(MarkBoxes, ShowQuartilesFencesAndWhatLiesOutside) {
    Drawing d = listDrawing();
    d.lay({d.mark("boxes")});
    const Reach box = boxesOf(d, 0, 0)[0];
    EXPECT_NEAR(box.bottom, 3.25, 1e-7);
    EXPECT_NEAR(box.top, 7.75, 1e-7);
    const auto lines = boxesOf(d, 0, 1); // the median, then whiskers with their caps
    EXPECT_NEAR(lines[0].top, 5.5, 1e-7);
    EXPECT_NEAR(lines[1].bottom, 1, 1e-7) << "the outermost value within 1.5 quartile ranges";
    EXPECT_NEAR(lines[3].top, 9, 1e-7);
    ASSERT_EQ(d.symbols().size(), 1U);
    EXPECT_NEAR(d.symbols()[0].second, 40, 1e-6);
    d.lay({with(d.mark("boxes"), {{"outliers", Value(false)}})});
    EXPECT_TRUE(d.symbols().empty());
    EXPECT_LT(d.panel().y.high(), 15) << "the axis need not reach what is not shown";
}

TEST(MarkBoxes, WhiskersReachAsTold) {
    Drawing d = listDrawing();
    const std::tuple<const char*, double, double> cases[] = {
        {"extremes", 1, 40}, {"percentiles-5", 1.45, 26.05}, {"percentiles-10", 1.9, 12.1}};
    for (const auto& [how, low, high] : cases) {
        d.lay({with(d.mark("boxes"), {{"whiskers", word(how)}})});
        const auto lines = boxesOf(d, 0, 1);
        EXPECT_NEAR(lines[1].bottom, low, 1e-6) << how;
        EXPECT_NEAR(lines[3].top, high, 1e-6) << how;
    }
    d.lay({with(d.mark("boxes"), {{"whiskers", word("none")}})});
    EXPECT_EQ(boxesOf(d, 0, 1).size(), 1U);
}

TEST(MarkBoxes, ShowTheMeanWithItsSpread) {
    Drawing d = listDrawing();
    double mean = 0, sum = 0;
    for (double v : kList) mean += v / 10;
    for (double v : kList) sum += (v - mean) * (v - mean);
    const double sd = std::sqrt(sum / 9);
    const std::pair<const char*, double> cases[] = {
        {"sd", sd}, {"sem", sd / std::sqrt(10.0)}, {"interval", 2.262157162740992 * sd / std::sqrt(10.0)}};
    for (const auto& [how, half] : cases) { // Student's t of 9 degrees of freedom at 97.5 %
        d.lay({with(d.mark("boxes"), {{"box", word(how)}, {"whiskers", word("none")}})});
        EXPECT_NEAR(boxesOf(d, 0, 0)[0].top, mean + half, 1e-6) << how;
        EXPECT_NEAR(boxesOf(d, 0, 0)[0].bottom, mean - half, 1e-6) << how;
        EXPECT_NEAR(boxesOf(d, 0, 1)[0].top, mean, 1e-6) << how;
    }
}

// Half the notch is 1.57 quartile ranges over √n (McGill, Tukey and Larsen 1978).
TEST(MarkBoxes, NotchesEndWhereMediansDiffer) {
    Drawing d = listDrawing();
    d.lay({with(d.mark("boxes"), {{"notch", Value(true)}})});
    const Values edge = d.values(d.paths().at(0).lines[0]);
    ASSERT_EQ(edge.size(), 10U);
    const double half = 1.57 * 4.5 / std::sqrt(10.0);
    EXPECT_NEAR(edge[2].second, 5.5 - half, 1e-6);
    EXPECT_NEAR(edge[3].second, 5.5, 1e-6);
    EXPECT_NEAR(edge[4].second, 5.5 + half, 1e-6);
    EXPECT_LT(std::abs(edge[3].first - 1), std::abs(edge[2].first - 1)) << "narrower at the median";
}

TEST(MarkViolins, AreSymmetricWithTheDensityOfTheirKernels) {
    Drawing d;
    std::mt19937 random(3);
    std::normal_distribution<double> normal(20, 4);
    std::vector<double> v(200);
    for (double& each : v) each = normal(random);
    d.groups(std::vector<std::string>(v.size(), "a"), v);
    d.lay(
        {with(d.mark("violins"), {{"cut", Value(false)}, {"inside", word("none")}, {"share", Value(0.8)}})});
    const Values edge = d.values(d.paths().at(0).lines[0]);
    const std::size_t n = edge.size();
    double area = 0, mean = 0, widest = 0;
    for (std::size_t k = 0; k < n / 2; ++k) {
        const auto &right = edge[k], &left = edge[n - 1 - k];
        EXPECT_NEAR(right.first - 1, 1 - left.first, 1e-9);
        EXPECT_NEAR(right.second, left.second, 1e-7);
        widest = std::max(widest, right.first - 1);
        if (k == 0) continue;
        const double step = right.second - edge[k - 1].second, width = right.first + edge[k - 1].first - 2;
        area += 0.5 * step * width;
        mean += 0.5 * step * width * (right.second + edge[k - 1].second) / 2;
    }
    double truth = 0;
    for (double each : v) truth += each / 200;
    EXPECT_NEAR(widest, 0.4, 1e-6) << "as wide as told";
    EXPECT_NEAR(mean / area, truth, 0.02) << "kernels are symmetric: the mean stays";
}

TEST(MarkStrips, ShowEveryValueWithoutCoveringAnother) {
    Drawing d;
    std::mt19937 random(5);
    std::normal_distribution<double> normal(0, 1);
    std::vector<double> v(60);
    for (double& each : v) each = normal(random);
    d.groups(std::vector<std::string>(v.size(), "a"), v);
    for (const char* how : {"beside", "jitter", "line"}) {
        d.lay({with(d.mark("strips"),
                    {{"spread", word(how)}, {"size", Value(2.0)}, {"middle", word("median")}})});
        const auto shown = test::itemsOf<draw::Symbols>(layOut(d.p, d.p.figures[0], d.evaluator()).list.items,
                                                        d.element(0).id);
        const auto& places = shown.at(0).places;
        ASSERT_EQ(places.size(), v.size()) << how;
        Values got = d.symbols();
        std::vector<double> values;
        for (const auto& [x, y] : got) values.push_back(y);
        std::ranges::sort(values);
        std::vector<double> wanted = v;
        std::ranges::sort(wanted);
        for (std::size_t k = 0; k < v.size(); ++k) EXPECT_NEAR(values[k], wanted[k], 1e-7) << how;
        EXPECT_NEAR(d.values(d.paths().back().lines[0])[0].second, (wanted[29] + wanted[30]) / 2, 1e-7);
        for (const auto& [x, y] : got) EXPECT_LE(std::abs(x - 1), 0.35 + 1e-9) << how;
        if (std::string(how) != "beside") continue;
        for (std::size_t a = 0; a < places.size(); ++a)
            for (std::size_t b = 0; b < a; ++b)
                EXPECT_GE(std::hypot(places[a].x - places[b].x, places[a].y - places[b].y),
                          shown[0].sizeMm * 0.999);
    }
}

TEST(MarkBracket, StandsAboveItsGroupsWithTheirP) {
    Drawing d;
    const std::vector<double> a = {4.1, 5.2, 4.8, 5.9, 5.1}, b = {6.0, 7.2, 6.6, 7.9, 6.9};
    std::vector<double> all = a;
    all.insert(all.end(), b.begin(), b.end());
    std::vector<std::string> names(5, "low");
    names.resize(10, "high");
    d.groups(names, all);
    d.lay({d.mark("strips"), d.mark("bracket")});
    const double p = stats::differenceOfMeans(a, b).p;
    char words[32];
    std::snprintf(words, sizeof words, p < 0.1 ? "%.3f" : "%.2f", p);
    EXPECT_NE(d.texts(1).find(words), std::string::npos) << d.texts(1);
    const Reach line = reachOf(d.values(d.paths(1).at(0).lines[0]));
    EXPECT_GT(line.bottom, 7.9);
    EXPECT_NEAR(line.left, 1, 1e-9);
    EXPECT_NEAR(line.right, 2, 1e-9);
    EXPECT_LE(line.top, d.panel().y.high()) << "the axis has room for it";
    d.lay({d.mark("strips"), with(d.mark("bracket"), {{"shows", word("text")}, {"label", word("n.s.")}})});
    EXPECT_EQ(d.texts(1), "n.s.");
}

TEST(MarkHistogram, CountsEveryValueOnceAndItsCurveHasItsArea) {
    Drawing d;
    std::mt19937 random(11);
    std::normal_distribution<double> normal(5, 1);
    std::vector<double> x, y;
    for (int i = 0; i < 500; ++i) {
        x.push_back(i);
        y.push_back(normal(random));
    }
    d.data(x, y);
    for (const auto& [shows, whole] :
         {std::pair("count", 500.0), std::pair("share", 100.0), std::pair("density", 1.0)}) {
        d.lay({with(d.mark("histogram"),
                    {{"bin-width", Value(0.5)}, {"shows", word(shows)}, {"density", word("normal")}})});
        double sum = 0, area = 0;
        const auto bins = d.paths().at(0).lines;
        for (const draw::Polyline& l : bins) {
            const Reach r = reachOf(d.values(l));
            sum += std::string(shows) == "density" ? (r.top - r.bottom) * 0.5 : r.top - r.bottom;
            EXPECT_NEAR(std::remainder(r.left, 0.5), 0, 1e-6) << "bins begin at multiples of their width";
        }
        EXPECT_NEAR(sum, whole, 1e-6 * whole) << shows;
        const Values curve = d.values(d.paths().back().lines[0]);
        for (std::size_t k = 1; k < curve.size(); ++k)
            area += (curve[k].first - curve[k - 1].first) * (curve[k].second + curve[k - 1].second) / 2;
        const double wanted = std::string(shows) == "density" ? 1 : whole * 0.5;
        EXPECT_NEAR(area, wanted, 0.02 * wanted) << shows;
    }
}

// --- Without data -----------------------------------------------------------------------------------------

TEST(MarkFunction, LiesOnItsExpressionAndBreaksAtPoles) {
    Drawing d;
    d.data({0, 10}, {0, 10});
    Element f = with(newMark("function", ""), {{"expression", word("3 + 2*sin(x)")}});
    d.lay({d.mark("points"), f}, ten);
    for (const auto& [x, y] : d.values(d.paths(1).at(0).lines[0])) EXPECT_NEAR(y, 3 + 2 * std::sin(x), 1e-9);
    f.settings.set("ends", Value(Numbers{2, 4}));
    d.lay({d.mark("points"), f}, ten);
    const Reach r = reachOf(d.values(d.paths(1).at(0).lines[0]));
    EXPECT_NEAR(r.left, 2, 1e-9);
    EXPECT_NEAR(r.right, 4, 1e-9);
    f = with(newMark("function", ""), {{"expression", word("1/(x - 5)")}});
    d.lay({d.mark("points"), f}, ten);
    EXPECT_EQ(d.paths(1).at(0).lines.size(), 2U) << "no line through the pole";
}

TEST(MarkReference, LinesAndRangesStandAtTheirValues) {
    Drawing d;
    d.data({0, 10}, {0, 10});
    const Element line = with(newMark("reference-line", ""),
                              {{"of", word("y")}, {"at", Value(Numbers{3, 7})}, {"label", word("limit")}});
    const Element range = with(newMark("reference-range", ""), {{"range", Value(Numbers{4, INFINITY})}});
    d.lay({d.mark("points"), line, range}, ten);
    std::size_t lines = 1, ranges = 2;
    const auto across = boxesOf(d, lines);
    ASSERT_EQ(across.size(), 2U);
    EXPECT_NEAR(across[0].bottom, 3, kClose);
    EXPECT_NEAR(across[1].top, 7, kClose);
    EXPECT_NEAR(across[0].left, 0, kClose);
    EXPECT_NEAR(across[0].right, 10, kClose);
    EXPECT_EQ(d.texts(lines), "limitlimit") << "at each of them";
    const Reach filled = boxesOf(d, ranges)[0];
    EXPECT_NEAR(filled.left, 4, kClose);
    EXPECT_NEAR(filled.right, 10, kClose) << "an open end goes on";
    EXPECT_NEAR(filled.top, 10, kClose);
}

// --- Fits -------------------------------------------------------------------------------------------------

namespace {

// The sample's first fit, or one of two parts.
struct Fit {
    Drawing d;
    std::string source;

    explicit Fit(bool parts = false) {
        d.p = test::sampleProject();
        source = d.p.analyses[0].id.text();
        if (!parts) return;
        d.p = *edits::changeAnalysis(d.p.analyses[0].id, "", [](Analysis& a) {
                   a.parameters.clear();
                   a.model = {
                       .kind = "sum",
                       .children = {{.kind = "gaussian", .component = 1}, {.kind = "line", .component = 2}}};
               }).apply(d.p);
    }
    test::Fitted numbers() { return test::fitOf(d.evaluator(), d.p, d.p.analyses[0]); }
    const analyses::NamedCurve* curve(const char* role, int component = 0) {
        result_ = *d.evaluator().analysis(d.p, d.p.analyses[0], {}).result;
        return result_->curve(role, d.p.datasets[0].id, "", component);
    }

private:
    analyses::ResultPtr result_;
};

} // namespace

TEST(MarkCurve, IsThatOfTheFitOverItsSpanTheAxisOrATypedPart) {
    Fit f;
    const std::tuple<const char*, double, double> cases[] = {
        {"span", 2, 18}, {"axis", 0, 20}, {"typed", 5, 18}};
    for (const auto& [extent, low, high] : cases) {
        f.d.lay({with(newMark("curve", f.source),
                      {{"extent", word(extent)}, {"ends", Value(Numbers{5, INFINITY})}})},
                [](Element& x, Element&) {
                    x.settings.set("range", Value(Numbers{0, 20}));
                });
        const Values drawn = f.d.values(f.d.paths().at(0).lines[0]);
        EXPECT_NEAR(drawn.front().first, low, 1e-7) << extent;
        EXPECT_NEAR(drawn.back().first, high, 1e-7) << extent;
        std::vector<double> xs;
        for (const auto& [x, y] : drawn) xs.push_back(x);
        const auto truth = f.curve("fit")->sample(xs);
        for (std::size_t k = 0; k < xs.size(); ++k) EXPECT_NEAR(drawn[k].second, truth.y[k], 1e-6) << extent;
    }
}

TEST(MarkCurve, ItsBandHasTheWidthOfTheInterval) {
    for (const char* kind : {"confidence", "prediction"}) {
        Fit f;
        f.d.lay({with(newMark("curve", f.source), {{"band", word(kind)}})});
        const Values edge = f.d.values(f.d.paths().at(0).lines[0]);
        const std::size_t half = edge.size() / 2;
        std::vector<double> xs;
        for (std::size_t k = 0; k < half; ++k) xs.push_back(edge[k].first);
        const auto truth = f.curve("fit")->sample(xs);
        const auto& widths = std::string(kind) == "confidence" ? truth.confidence : truth.prediction;
        for (std::size_t k = 0; k < half; ++k) {
            const auto &top = edge[k], &bottom = edge[edge.size() - 1 - k];
            EXPECT_NEAR(top.second - bottom.second, 2 * widths[k], 1e-6) << kind;
        }
    }
}

TEST(MarkComponents, StandOnTheBaselineAndAddUpToTheFit) {
    Fit f(true);
    f.d.lay({newMark("components", f.source)});
    ASSERT_EQ(f.d.paths().size(), 1U) << "one peak; the line is no peak";
    const Values edge = f.d.values(f.d.paths()[0].lines[0]);
    const std::size_t half = edge.size() / 2;
    std::vector<double> xs;
    for (std::size_t k = 0; k < half; ++k) xs.push_back(edge[k].first);
    const auto sum = f.curve("fit")->sample(xs), base = f.curve("component", 2)->sample(xs);
    for (std::size_t k = 0; k < half; ++k) {
        EXPECT_NEAR(edge[k].second, sum.y[k], 1e-6) << "peak upon baseline is the sum";
        EXPECT_NEAR(edge[edge.size() - 1 - k].second, base.y[k], 1e-6);
    }
}

TEST(MarkComponents, NamesOrPlacesStandAboveTheTops) {
    Fit f(true);
    const double centre = f.numbers().report->members.at(0).parameters.at(0).value;
    for (const char* what : {"none", "places", "names"}) {
        const Layout l = f.d.lay({with(newMark("components", f.source), {{"labels", word(what)}})});
        const auto runs = test::itemsOf<draw::TextRun>(l.list.items, f.d.element(0).id);
        if (std::string(what) == "none") {
            EXPECT_TRUE(runs.empty());
            continue;
        }
        ASSERT_EQ(runs.size(), 1U) << what;
        const auto [x, y] = f.d.value({runs[0].origin.x + runs[0].widthMm / 2, runs[0].origin.y});
        const double top = f.curve("fit")->sample(std::vector{centre}).y[0];
        EXPECT_NEAR(x, centre, 0.02) << "in the middle above it";
        EXPECT_GT(y, top) << "it does not touch";
        EXPECT_GT(runs[0].origin.y, l.panels[0].area.y + 2) << "inside";
        if (std::string(what) == "places") {
            EXPECT_NEAR(std::stod(runs[0].text), centre, 0.005);
        }
    }
}

// Many close tops: no label touches another, and each is at its place in x.
TEST(MarkComponents, LabelsOfCloseTopsStandAboveEachOther) {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> u(0, 1);
    for (int round = 0; round < 200; ++round) {
        const AxisMap x(scaleFor({{}, {}}), {0, 100}, 10, 80), y(scaleFor({{}, {}}), {0, 10}, 60, 5);
        const Frame frame{x, y, {10, 5, 70, 55}, 20, {}};
        std::vector<PeakLabel> labels;
        for (int k = 0; k < 12; ++k)
            labels.push_back({100 * u(random), 6 * u(random), std::to_string(1000 + k)});
        std::vector<draw::TextRun> runs;
        for (const draw::Item& part : peakLabelTexts(labels, frame))
            runs.push_back(std::get<draw::TextRun>(part.what));
        ASSERT_EQ(runs.size(), labels.size());
        for (std::size_t a = 0; a < runs.size(); ++a)
            for (std::size_t b = 0; b < a; ++b) {
                const double apart = std::abs(runs[a].origin.y - runs[b].origin.y);
                const bool beside = runs[a].origin.x > runs[b].origin.x + runs[b].widthMm ||
                                    runs[b].origin.x > runs[a].origin.x + runs[a].widthMm;
                EXPECT_TRUE(beside || apart > 0.9 * runs[a].sizePt * draw::kMmPerPt) << round;
            }
    }
}

// Between two points far outside of what is shown, the line runs as it does when all is shown.
TEST(MarkSeries, ALineKeepsItsSlopeHoweverCloseOneLooks) {
    for (const double by : {1e2, 1e4, 1e6, 1e8}) {
        Drawing d;
        d.data({-by, 2 * by}, {-3 * by, 6 * by}); // y = 3·x
        d.lay({d.mark("line")}, [](Element& x, Element& y) {
            x.settings.set("range", Value(Numbers{-1, 1}));
            y.settings.set("range", Value(Numbers{-1, 1}));
        });
        const auto paths = d.paths();
        ASSERT_EQ(paths.size(), 1U);
        ASSERT_FALSE(paths[0].lines.empty());
        for (const auto& line : paths[0].lines)
            for (const auto& [x, y] : d.values(line)) EXPECT_NEAR(y, 3 * x, 1e-6 * std::abs(x)) << by;
    }
}

TEST(MarkSeries, SaysWhichPointsALogarithmicAxisHasNoPlaceFor) {
    Drawing d;
    d.data({0, 1, 2, 3}, {5, -1, 2, 4});
    const auto said = [&](const char* of) {
        const Layout l = d.lay({d.mark("points"), d.mark("line")}, [&](Element& x, Element& y) {
            (*of == 'x' ? x : y).settings.set("scale", "log");
        });
        std::string all;
        for (const Issue& issue : l.issues) all += issue.text;
        return all;
    };
    EXPECT_THAT(said("x"), testing::HasSubstr("1 point is not above zero: “x” has no place for it."));
    EXPECT_THAT(said("y"),
                testing::HasSubstr("1 point is not above zero: “y” has no place for it. “Linear to”"));
}

TEST(MarkResiduals, AreDataMinusCurve) {
    Fit f;
    f.d.lay({newMark("residuals", f.source)});
    const Curve data = f.d.evaluator().protocol(f.d.p, f.d.p.datasets[0].id).end().curve();
    std::map<double, double> byX;
    for (std::size_t i = 0; i < data.size(); ++i) byX[data.x[i]] = data.y[i];
    std::size_t seen = 0;
    for (const auto& [x, y] : f.d.symbols()) {
        const double place = std::round(x * 4) / 4;
        const auto at = f.curve("fit")->sample(std::vector{place});
        EXPECT_NEAR(y, byX.at(place) - at.y[0], 1e-6);
        ++seen;
    }
    EXPECT_GT(seen, 60U);
}

TEST(MarkTable, ShowsValuesWithErrorsEitherWay) {
    Fit f;
    Element table = with(newMark("results-table", f.source), {{"quantities", word("centre,height")}});
    table.settings.set("datasets", Value(References{{f.d.p.datasets[0].id.text()}}));
    const auto& one = f.numbers().report->members.at(0);
    for (const bool brackets : {false, true})
        for (const int digits : {1, 2}) {
            table.settings.set("errors", word(brackets ? "brackets" : "plus-minus"));
            table.settings.set("digits", digits);
            f.d.lay({f.d.mark("points"), table});
            const std::string shown = f.d.texts(1);
            EXPECT_NE(shown.find(f.d.p.datasets[0].name), std::string::npos) << shown;
            for (std::size_t k : {0U, 1U}) { // so many digits of the error, the value as far as these
                const double value = one.parameters[k].value, se = one.parameters[k].se;
                const int decimals = digits - 1 - static_cast<int>(std::floor(std::log10(se)));
                char text[64];
                if (brackets)
                    std::snprintf(text, sizeof text, "%.*f(%.0f)", decimals, value,
                                  se * std::pow(10, decimals));
                else
                    std::snprintf(text, sizeof text, "%.*f ± %.*f", decimals, value, decimals, se);
                EXPECT_NE(shown.find(text), std::string::npos) << text << " in " << shown;
            }
        }
}

// --- All of them ------------------------------------------------------------------------------------------

// Whatever a mark shows of data is where the data are, also moved up by an offset, on each scale.
TEST(EveryMark, ShiftsByItsOffsetAsItsScaleDoes) {
    Drawing d;
    d.data({1, 2, 3, 4, 5}, {2, 3, 5, 4, 3});
    for (const MarkKind& kind : markCatalogue()) {
        if (!kind.info.find("offset") || kind.takes != Takes::Dataset) continue;
        for (const char* scale : {"linear", "log"}) {
            auto lay = [&](double offset) {
                d.lay({with(d.mark(kind.info.key.c_str()), {{"offset", Value(offset)}})},
                      [&](Element& x, Element& y) {
                          ten(x, y);
                          y.settings.set("range", Value(Numbers{0.1, 1000}));
                          y.settings.set("scale", Value(std::string(scale)));
                      });
                double top = -1e300;
                for (const draw::Path& path : d.paths())
                    for (const draw::Polyline& l : path.lines) top = std::max(top, reachOf(d.values(l)).top);
                for (const auto& [x, y] : d.symbols()) top = std::max(top, y);
                return top;
            };
            const double plain = lay(0), moved = lay(1);
            if (plain < -1e299) continue; // it draws nothing of these data
            const double wanted = std::string(scale) == "log" ? plain * 10 : plain + 1;
            EXPECT_NEAR(moved, wanted, 1e-6 * wanted) << kind.info.key << " on " << scale;
        }
    }
}

// Of an analysis of samples a row for each of them.
TEST(MarkTable, ListsTheSubjectsOfOneAnalysis) {
    const Project p = demo::answersDemo();
    const auto unknowns =
        std::ranges::find_if(p.analyses, [](const auto& a) { return a->kind == "unknowns"; });
    ASSERT_NE(unknowns, p.analyses.end());
    Figure f = newFigure("table", {}, {});
    Project with = *edits::addFigure(f).apply(p);
    const FigureId id = with.figures[with.figures.size() - 1].id;
    with = *addTableOf(id, {}, {.analysis = (*unknowns)->id, .bySubject = true, .quantities = {"Nitrate"}})
                .apply(with);
    evaluate::Evaluator evaluator;
    const Layout layout = layOut(with, *with.figures.find(id), evaluator);
    std::string words;
    const std::function<void(const std::vector<draw::Item>&)> read =
        [&](const std::vector<draw::Item>& items) {
            for (const draw::Item& item : items)
                if (const auto* run = std::get_if<draw::TextRun>(&item.what))
                    words += run->text + "|";
                else if (const auto* group = std::get_if<draw::Group>(&item.what))
                    read(group->items);
        };
    read(layout.list.items);
    for (const char* part : {"Creek mouth", "Spring 2", "29", ".63 ± 0.15", "µmol/L"})
        EXPECT_NE(words.find(part), std::string::npos) << part << " in " << words;
}
