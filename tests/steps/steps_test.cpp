// SPDX-License-Identifier: GPL-3.0-or-later
#include "steps/step.h"

#include "numerics/savitzky_golay.h"

#include <cmath>
#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::steps;
using testing::ElementsAre;
using testing::HasSubstr;

namespace {

Curve curveOf(std::size_t n, double (*f)(double)) {
    Curve c;
    for (std::size_t i = 0; i < n; ++i) {
        c.x.push_back(static_cast<double>(i));
        c.y.push_back(f(c.x.back()));
        c.sigma.push_back(0.5);
        c.rowIds.push_back(static_cast<std::uint32_t>(i + 1));
    }
    return c;
}

Settings with(std::initializer_list<std::pair<const char*, Value>> list) {
    Settings s;
    for (const auto& [k, v] : list) s.set(k, v);
    return s;
}

// Settings under which each step really does something.
Settings active(const std::string& key) {
    if (key == "exclude") return with({{"rows", Numbers{2, 3}}, {"keep-y", Numbers{-1e9, 1e9}}});
    if (key == "crop") return with({{"range", Numbers{2, 8}}});
    if (key == "baseline") return with({{"anchors", Numbers{0, 0, 9, 9}}});
    if (key == "transform") return with({{"formula", Value(std::string("ln(y)"))}});
    return {};
}

} // namespace

// What holds for each step, whatever it does.
TEST(Steps, SurviveEveryInput) {
    Curve empty, one = curveOf(1, [](double) { return 2.0; }),
                 constant = curveOf(20, [](double) { return 1.0; });
    Curve nan = curveOf(20, [](double x) { return x; });
    for (std::size_t i = 0; i < nan.size(); i += 3) nan.y[i] = NAN;
    Curve allNaN = curveOf(20, [](double) { return std::nan(""); });
    for (const StepKind& kind : catalogue())
        for (const Settings& settings : {Settings{}, active(kind.info.key)})
            for (const Curve* curve : {&empty, &one, &constant, &nan, &allNaN}) {
                const auto out = apply(kind.info.key, *curve, settings);
                const Curve& c = out.value.curve;
                EXPECT_EQ(c.x.size(), c.y.size()) << kind.info.key;
                EXPECT_LE(c.x.size(), curve->x.size());
                EXPECT_TRUE(c.sigma.empty() || c.sigma.size() == c.x.size()) << kind.info.key;
                EXPECT_TRUE(c.excluded.empty() || c.excluded.size() == c.x.size()) << kind.info.key;
                EXPECT_EQ(out.value.takenX.size(), out.value.takenY.size());
                EXPECT_THAT(out.value.sentence, testing::EndsWith(".")) << kind.info.key;
                EXPECT_FALSE(kind.info.purpose.empty());
                EXPECT_EQ(digestOf(apply(kind.info.key, *curve, settings).value.curve), digestOf(c))
                    << "not deterministic";
            }
    for (const StepKind& kind : catalogue())
        for (const Setting& s : kind.info.settings)
            EXPECT_FALSE(s.help.empty()) << kind.info.key << "." << s.key;
}

TEST(Steps, UnknownKindsChangeNothing) {
    const Curve c = curveOf(3, [](double x) { return x; });
    const auto out = apply("from-the-future", c, {});
    EXPECT_EQ(digestOf(out.value.curve), digestOf(c));
    EXPECT_EQ(out.issues.at(0).code, "unknown-step");
}

TEST(Exclude, LeavesOutByHandAndByRule) {
    const Curve c = curveOf(5, [](double x) { return x * x; });
    const auto out = apply("exclude", c, with({{"rows", Numbers{2}}, {"keep-y", Numbers{0, 9}}}));
    EXPECT_THAT(out.value.curve.excluded, ElementsAre(0, 1, 0, 0, 1));
    EXPECT_EQ(out.value.sentence, "Left out 2 points.");
    EXPECT_EQ(apply("exclude", c, with({{"rows", Numbers{2}}})).value.sentence, "Left out 1 point by hand.");
    EXPECT_EQ(apply("exclude", c, with({{"rows", Numbers{2}}})).value.detail, "point 2");
    EXPECT_TRUE(apply("exclude", c, with({{"rows", Numbers{2}}})).issues.empty())
        << "an odd number of points is no mistake";
}

TEST(Smooth, PolynomialsUpToTheOrderPassUnchangedToTheEnds) {
    const Curve cubic = curveOf(30, [](double x) { return 1 - x + 0.1 * x * x - 0.01 * x * x * x; });
    const auto out = apply("smooth", cubic, with({{"window", 9.0}, {"order", 3.0}}));
    for (std::size_t i = 0; i < cubic.size(); ++i) EXPECT_NEAR(out.value.curve.y[i], cubic.y[i], 1e-10);
    const Curve line = curveOf(30, [](double x) { return 2 * x; });
    const auto mean =
        apply("smooth", line, with({{"method", Value(std::string("moving-average"))}, {"window", 7.0}}));
    for (std::size_t i = 0; i < line.size(); ++i) EXPECT_NEAR(mean.value.curve.y[i], line.y[i], 1e-12);
}

TEST(Smooth, WeightsAreThePublishedOnes) {
    // Savitzky & Golay (1964), table I: five points, quadratic: (−3, 12, 17, 12, −3)/35.
    const auto w = numerics::savitzkyGolayWeights(5, 2, 2);
    const double expected[] = {-3, 12, 17, 12, -3};
    for (std::size_t i = 0; i < 5; ++i) EXPECT_NEAR(w[i], expected[i] / 35, 1e-15);
}

TEST(Smooth, CarriesUncertaintiesAndPassesOverExcludedPoints) {
    Curve c = curveOf(21, [](double) { return 1.0; });
    c.excluded.assign(21, 0);
    c.excluded[10] = 1;
    c.y[10] = 1000;
    const auto out =
        apply("smooth", c, with({{"method", Value(std::string("moving-average"))}, {"window", 5.0}}));
    for (std::size_t i = 0; i < c.size(); ++i) EXPECT_NEAR(out.value.curve.y[i], i == 10 ? 1000 : 1, 1e-12);
    EXPECT_NEAR(out.value.curve.sigma[5], 0.5 / std::sqrt(5.0), 1e-12);
}

TEST(Baseline, LinesAndSplinesGoThroughTheirAnchors) {
    const Curve c = curveOf(10, [](double x) { return 3 + 2 * x; });
    for (const char* through : {"line", "spline"}) {
        const auto out = apply("baseline", c,
                               with({{"through", Value(std::string(through))},
                                     {"mean-over", 1.0},
                                     {"anchors", Numbers{1, 0, 4, 0, 8, 0}}}));
        for (double y : out.value.curve.y) EXPECT_NEAR(y, 0, 1e-12);
    }
    const auto free =
        apply("baseline", c, with({{"place", Value(std::string("free"))}, {"anchors", Numbers{0, 1, 9, 1}}}));
    EXPECT_NEAR(free.value.curve.y[0], 2, 1e-12);
    const auto shown =
        apply("baseline", c, with({{"then", Value(std::string("show"))}, {"anchors", Numbers{0, 1}}}));
    EXPECT_EQ(shown.value.curve.y, c.y);
    EXPECT_TRUE(shown.value.baseline);
}

TEST(Transform, CarriesUncertaintiesByItsDerivative) {
    const Curve c = curveOf(5, [](double x) { return x + 1; });
    const auto out = apply("transform", c, with({{"formula", Value(std::string("ln(y)"))}}));
    EXPECT_NEAR(out.value.curve.y[3], std::log(4.0), 1e-15);
    EXPECT_NEAR(out.value.curve.sigma[3], 0.5 / 4, 1e-15);
}

TEST(Transform, CountsWhatHasNoValue) {
    const Curve c = curveOf(5, [](double x) { return x - 2; });
    const auto out = apply("transform", c, with({{"formula", Value(std::string("ln(y)"))}}));
    EXPECT_EQ(out.value.curve.size(), 2U);
    EXPECT_THAT(out.value.detail, HasSubstr("3 points without a value left out"));
    const auto replaced = apply("transform", c,
                                with({{"formula", Value(std::string("ln(y)"))},
                                      {"outside", Value(std::string("replace"))},
                                      {"replacement", -9.0}}));
    EXPECT_EQ(replaced.value.curve.y[0], -9);
    EXPECT_EQ(apply("transform", c, with({{"formula", Value(std::string("ln("))}})).issues.at(0).code,
              "formula");
}

// The mean of logarithms is not the logarithm of the mean; each lost replicate is counted.
TEST(Transform, WorksOnEachReplicate) {
    Curve c;
    c.x = {1, 2};
    c.replicates = {{1, 4}, {std::exp(2.0), -3}};
    c.y = {(1 + std::exp(2.0)) / 2, 0.5};
    const auto out = apply("transform", c, with({{"formula", Value(std::string("ln(y)"))}}));
    ASSERT_EQ(out.value.curve.size(), 2U);
    EXPECT_DOUBLE_EQ(out.value.curve.y[0], 1);
    EXPECT_DOUBLE_EQ(out.value.curve.y[1], std::log(4));
    EXPECT_TRUE(std::isnan(out.value.curve.replicates[1][1]));
    ASSERT_EQ(out.issues.size(), 1U);
    EXPECT_THAT(out.issues[0].text, HasSubstr("1 replicate value"));
    const auto put = apply("transform", c,
                           with({{"formula", Value(std::string("ln(y)"))},
                                 {"outside", Value(std::string("replace"))},
                                 {"replacement", Value(-9.0)}}));
    EXPECT_DOUBLE_EQ(put.value.curve.replicates[1][1], -9);
    EXPECT_DOUBLE_EQ(put.value.curve.y[1], (std::log(4) - 9) / 2);
}

TEST(Transform, NewXIsInOrderAgain) {
    const Curve c = curveOf(4, [](double x) { return 10 * x; });
    const auto out = apply("transform", c,
                           with({{"what", Value(std::string("x"))}, {"formula", Value(std::string("1/x"))}}));
    EXPECT_THAT(out.value.curve.x, ElementsAre(1.0 / 3, 0.5, 1));
    EXPECT_THAT(out.value.curve.rowIds, ElementsAre(4, 3, 2));
}
