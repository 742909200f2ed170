// SPDX-License-Identifier: GPL-3.0-or-later
// Functions as datasets, and datasets joined by x.
#include "evaluate/sources.h"

#include "evaluate/evaluator.h"
#include "evaluate/results.h"
#include "support/sample_project.h"

#include <array>
#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::evaluate;
using testing::DoubleNear;
using testing::ElementsAre;
using testing::HasSubstr;

namespace {

Curve curve(std::vector<double> x, std::vector<double> y, std::vector<double> sigma = {}) {
    Curve c;
    c.x = std::move(x);
    c.y = std::move(y);
    c.sigma = std::move(sigma);
    for (std::size_t i = 0; i < c.size(); ++i) c.rowIds.push_back(static_cast<std::uint32_t>(i + 1));
    return c;
}

Curve joined(const Curve& a, const Curve& b, const char* match, double tolerance,
             std::vector<Issue>& issues) {
    Settings s;
    s.set("match", match);
    s.set("tolerance", Value(tolerance));
    const std::array<const Curve*, 2> inputs = {&a, &b};
    return sourceCatalogue().find("join")->curve(s, inputs, issues);
}

Settings function(const char* text, Numbers range, int points) {
    Settings s;
    s.set("expression", text);
    s.set("range", Value(std::move(range)));
    s.set("points", points);
    return s;
}

Dataset made(const char* kind, std::vector<DatasetId> inputs, Settings settings = {}) {
    Dataset d;
    d.name = kind;
    d.source.kind = kind;
    d.source.inputs = std::move(inputs);
    d.source.settings = std::move(settings);
    return d;
}

} // namespace

TEST(Functions, AreComputedOverTheirRange) {
    std::vector<Issue> issues;
    const Curve c = sourceCatalogue().find("function")->curve(function("x^2 - 1", {0, 4}, 5), {}, issues);
    EXPECT_THAT(c.x, ElementsAre(0, 1, 2, 3, 4));
    EXPECT_THAT(c.y, ElementsAre(-1, 0, 3, 8, 15));
    EXPECT_TRUE(issues.empty());
    Settings s = function("x", {1, 100}, 3);
    s.set("spacing", "logarithmic");
    EXPECT_THAT(sourceCatalogue().find("function")->curve(s, {}, issues).x,
                ElementsAre(1, DoubleNear(10, 1e-12), 100));
}

TEST(Functions, SayWhatIsWrong) {
    Settings byRatio = function("x", {0, 1}, 9);
    byRatio.set("spacing", "logarithmic");
    const std::pair<Settings, const char*> cases[] = {{function("a*x", {0, 1}, 9), "may only use x"},
                                                      {function("x +", {0, 1}, 9), "expected"},
                                                      {byRatio, "begin above zero"},
                                                      {function("ln(x)", {-1, 1}, 5), "at 3 of 5 points"}};
    for (const auto& [settings, words] : cases) {
        std::vector<Issue> issues;
        sourceCatalogue().find("function")->curve(settings, {}, issues);
        EXPECT_EQ(issues.size(), 1U) << words;
        if (issues.empty()) continue;
        EXPECT_THAT(issues[0].text, HasSubstr(words));
    }
}

TEST(Joins, TakePartnersByEachRule) {
    const Curve a = curve({0, 1, 2, 3}, {10, 20, 30, 40});
    const Curve b = curve({0.1, 1.5, 2.5}, {1, 2, 4});
    std::vector<Issue> issues;
    const Curve line = joined(a, b, "interpolated", 0, issues);
    EXPECT_THAT(line.x, ElementsAre(20, 30)) << "0 and 3 lie outside";
    EXPECT_THAT(line.y, ElementsAre(DoubleNear(1 + 0.9 / 1.4, 1e-14), 3));
    ASSERT_EQ(issues.size(), 1U);
    EXPECT_THAT(issues[0].text, HasSubstr("2 of 4 points"));
    issues.clear();
    EXPECT_THAT(joined(a, b, "nearest", 0.2, issues).y, ElementsAre(1));
    EXPECT_THAT(joined(a, b, "averaged", 0.5, issues).y, ElementsAre(1, 2, 3, 4));
    EXPECT_THAT(joined(a, b, "interpolated", 0.6, issues).y, ElementsAre(3)) << "both neighbours within 0.6";
}

TEST(Joins, CarryUncertaintiesOfBoth) {
    const Curve a = curve({1, 2}, {10, 20}, {0.1, 0.2});
    const Curve b = curve({0, 2}, {0, 4}, {0.3, 0.4});
    std::vector<Issue> issues;
    const Curve c = joined(a, b, "interpolated", 0, issues);
    EXPECT_THAT(c.sigmaX, ElementsAre(0.1, 0.2));
    EXPECT_THAT(c.sigma, ElementsAre(DoubleNear(std::hypot(0.15, 0.2), 1e-15), 0.4));
    EXPECT_THAT(joined(a, b, "averaged", 1, issues).sigma, ElementsAre(DoubleNear(0.25, 1e-15), 0.4));
}

TEST(Joins, PassOverExcludedPointsAndEmptyCurves) {
    Curve a = curve({0, 1, 2}, {1, 2, 3});
    a.excluded = {0, 1, 0};
    std::vector<Issue> issues;
    EXPECT_THAT(joined(a, a, "nearest", 0.1, issues).x, ElementsAre(1, 3));
    EXPECT_EQ(joined(a, Curve{}, "nearest", 0.1, issues).size(), 0U);
    EXPECT_EQ(joined(Curve{}, a, "averaged", 0.1, issues).size(), 0U);
}

TEST(Joins, FollowTheProtocolOfTheirDatasetsAndRefuseCircles) {
    Project p = test::sampleProject();
    const DatasetId first = p.datasets[0].id, second = p.datasets[1].id;
    p = *edits::addDataset(made("join", {first, second})).apply(p);
    const DatasetId join = p.datasets[p.datasets.size() - 1].id;
    Evaluator e;
    const auto before = e.protocol(p, join).end().curve();
    ASSERT_GT(before.size(), 10U);
    Settings crop;
    crop.set("span", Value(Numbers{2, 9}));
    p = *edits::addStep(first, "crop", crop, "Crop").apply(p);
    EXPECT_LT(e.protocol(p, join).end().curve().size(), before.size()) << "the first was cropped";
    p = *edits::changeDataset(join, "x", [join, first](Dataset& d) {
             d.source.inputs = {first, join};
         }).apply(p);
    const auto circle = e.protocol(p, join);
    ASSERT_EQ(circle.issues.size(), 1U);
    EXPECT_THAT(circle.issues[0].text, HasSubstr("made of itself"));
    p = *edits::removeDataset(second).apply(p);
    EXPECT_EQ(e.protocol(p, join).end().curve().size(), 0U);
}

TEST(MadeDatasets, TellWhereTheirNumbersComeFrom) {
    Project p = test::sampleProject();
    const DatasetId first = p.datasets[0].id, second = p.datasets[1].id;
    auto told = [&](Dataset d) {
        Project q = *edits::addDataset(std::move(d)).apply(p);
        const DatasetId id = q.datasets[q.datasets.size() - 1].id;
        Analysis line{.name = "line", .inputs = {{.dataset = id}}, .model = {.kind = "line"}};
        q = *edits::addAnalysis(line).apply(q);
        Evaluator e;
        const auto rows = resultRows(q, e);
        const auto row = std::ranges::find(rows, id, &ResultRow::dataset);
        EXPECT_NE(row, rows.end());
        return provenance(q, e, *row).front().sentence;
    };
    EXPECT_EQ(told(made("function", {}, function("2*x", {0, 1}, 9))), "Computed as y = 2*x.");
    EXPECT_EQ(told(made("join", {first, second})),
              "Joined from “" + p.datasets[0].name + "” and “" + p.datasets[1].name + "”.");
}
