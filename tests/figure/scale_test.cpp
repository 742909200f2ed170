// SPDX-License-Identifier: GPL-3.0-or-later
// Every scale of the catalogue, with breaks and bound to another axis: there and back, monotone, ticks
// inside.
#include "figure/axis_map.h"

#include <cmath>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::figure;

namespace {

using Random = std::mt19937_64;

double between(Random& random, double low, double high) {
    return std::uniform_real_distribution(low, high)(random);
}

// Settings of a scale and a range in its domain.
struct Case {
    std::string key;
    Settings settings;
    Range range;
};

Case caseOf(const std::string& key, Random& random) {
    Case c{.key = key};
    c.settings.set("scale", Value(key));
    const double size = std::pow(10.0, between(random, -9, 9));
    c.range.low = size * between(random, -2, 2);
    c.range.high = c.range.low + size * between(random, 0.01, 3);
    if (key == "log" && random() % 2) {
        c.settings.set("linear-to", Value(size * between(random, 1e-3, 1)));
        return c;
    }
    if (key == "log") c.settings.set("log-base", Value(random() % 2 ? 10.0 : between(random, 1.5, 20)));
    if (key == "log" || key == "reciprocal" || key == "square-root") {
        c.range.low = size * between(random, 0.001, 2);
        c.range.high = c.range.low * between(random, 1.01, 1000);
    }
    if (key == "probability") {
        const bool shares = random() % 2;
        c.settings.set("probabilities", shares ? "shares" : "percent");
        const double whole = shares ? 1 : 100;
        c.range.low = whole * between(random, 0.0001, 0.4);
        c.range.high = whole * between(random, 0.45, 0.9999);
    }
    if (key == "formula") {
        c.settings.set("spread", "x^3 + x");
        c.range = {between(random, -50, 0), between(random, 1, 50)};
    }
    if (key == "time") c.range = {between(random, -1e9, 1e9), between(random, 1e9 + 1, 3e9)};
    return c;
}

ScalePtr scaleOf(const Case& c) {
    return scaleFor({c.settings, {}});
}

} // namespace

class EveryScale : public testing::TestWithParam<std::string> {};

TEST_P(EveryScale, GoesThereAndBack) {
    Random random(7);
    for (int round = 0; round < 120; ++round) {
        const Case c = caseOf(GetParam(), random);
        Breaks breaks;
        const double span = c.range.high - c.range.low;
        if (round % 3 == 1) breaks.skipped = {{c.range.low + 0.3 * span, c.range.low + 0.5 * span}};
        const bool turned = round % 2;
        const AxisMap map(scaleOf(c), c.range, turned ? 95 : 12, turned ? 12 : 95, breaks);
        double before = NAN;
        for (int k = 0; k <= 50; ++k) {
            const double v = c.range.low + span * k / 50;
            const double p = map.place(v);
            ASSERT_TRUE(std::isfinite(p)) << GetParam() << " " << v;
            ASSERT_GE(p, 12 - 1e-9);
            ASSERT_LE(p, 95 + 1e-9);
            EXPECT_TRUE(k == 0 || (turned ? p < before : p > before)) << "monotone";
            before = p;
            if (map.isSkipped(v)) continue;
            // As exactly as the place tells the value: 10⁻¹² of the axis.
            EXPECT_NEAR(map.place(map.value(p)), p, 1e-12 * 95) << GetParam() << " round " << round;
        }
    }
}

TEST_P(EveryScale, HasItsTicksInsideAndTheirLabelsDifferent) {
    Random random(11);
    for (int round = 0; round < 150; ++round) {
        const Case c = caseOf(GetParam(), random);
        const AxisMap map(scaleOf(c), c.range, 0, 80);
        const TickWish wish{.about = static_cast<int>(2 + random() % 9)};
        std::set<std::string> labels;
        const double slack = 1e-9 * (c.range.high - c.range.low);
        double before = -1e9;
        for (const Tick& t : map.ticks(wish)) {
            EXPECT_GE(t.value, c.range.low - slack - 1e-9 * std::abs(c.range.low));
            EXPECT_LE(t.value, c.range.high + slack + 1e-9 * std::abs(c.range.high));
            const double place = map.place(t.value);
            EXPECT_GE(place, before - 1e-6);
            before = place;
            if (t.label.empty()) continue;
            EXPECT_TRUE(labels.insert(t.label + t.below).second || GetParam() == "time")
                << t.label << " twice, round " << round << " from " << c.range.low << " to " << c.range.high;
        }
    }
}

TEST_P(EveryScale, PadsWithinItsDomain) {
    Random random(3);
    for (int round = 0; round < 200; ++round) {
        const Case c = caseOf(GetParam(), random);
        const ScalePtr scale = scaleOf(c);
        for (const Range& data : {c.range, Range{c.range.high, c.range.high}}) {
            const Range padded = scale->padded(data, 0.05);
            EXPECT_LE(padded.low, data.low);
            EXPECT_GE(padded.high, data.high);
            EXPECT_LT(padded.low, padded.high) << GetParam();
            EXPECT_TRUE(scale->takes(padded.low) && scale->takes(padded.high)) << GetParam();
        }
    }
}

INSTANTIATE_TEST_SUITE_P(Catalogue, EveryScale, testing::ValuesIn(scaleCatalogue().keys()),
                         [](const auto& each) {
                             std::string name = each.param;
                             std::erase(name, '-');
                             return name;
                         });

TEST(Scale, ProbabilityIsThatOfTables) {
    Settings s;
    s.set("scale", "probability");
    const ScalePtr scale = scaleFor({s, {}});
    // Quantiles of the normal distribution, M. Abramowitz, I. Stegun, table 26.
    EXPECT_NEAR(scale->forward(97.5), 1.959963984540054, 1e-12);
    EXPECT_NEAR(scale->forward(0.1), -3.090232306167814, 1e-12);
    EXPECT_NEAR(scale->back(1), 84.1344746068543, 1e-11);
    EXPECT_FALSE(std::isfinite(scale->forward(0)));
}

TEST(Scale, ALinearPartGivesZeroAPlace) {
    Settings s;
    s.set("scale", "log");
    s.set("linear-to", Value(0.1));
    const ScalePtr scale = scaleFor({s, {}});
    EXPECT_EQ(scale->forward(0), 0);
    EXPECT_NEAR(scale->forward(1e6) - scale->forward(1e5), 1, 1e-9) << "a decade far out";
    EXPECT_NEAR(scale->forward(-5), -scale->forward(5), 1e-15);
    // Beyond the linear part the small ticks are those of decades, at both sides.
    std::vector<double> small;
    for (const Tick& t : scale->ticks({-3, 30}, {}))
        if (!t.major) small.push_back(t.value);
    EXPECT_THAT(small, testing::ElementsAre(-3, -2, testing::DoubleEq(-0.9), testing::DoubleEq(-0.8),
                                            testing::DoubleEq(-0.7), testing::DoubleEq(-0.6), -0.5, -0.4,
                                            testing::DoubleEq(-0.3), testing::DoubleEq(0.3), 0.4, 0.5,
                                            testing::DoubleEq(0.6), testing::DoubleEq(0.7), testing::DoubleEq(0.8),
                                            testing::DoubleEq(0.9), 2, 3, 4, 5, 6, 7, 8, 9, 20, 30));
}

TEST(Scale, DataOnTheScaleShowTheirOriginals) {
    Settings s;
    s.set("scale", "log");
    s.set("applied", Value(true));
    std::vector<std::string> labels;
    const auto ticks = scaleFor({s, {}})->ticks({-1, 3}, {});
    for (const Tick& t : ticks)
        if (!t.label.empty()) labels.push_back(t.label);
    EXPECT_THAT(labels, testing::ElementsAre("0.1", "1", "10", "100", "1000"));
    EXPECT_NEAR(ticks.front().value, -1, 1e-12);
}

// Natural logarithms by the name of what they are: ticks stand at decades of the originals, not at powers of e.
TEST(Scale, NaturalLogarithmsShowDecadesOfTheirOriginals) {
    Settings s;
    s.set("scale", "log");
    s.set("applied", Value(true));
    const AxisMeaning activity{.name = "ln(activity/Bq)"};
    std::vector<std::string> labels;
    const auto ticks = scaleFor({s, activity})->ticks({std::log(50.0), std::log(2e4)}, {});
    for (const Tick& t : ticks)
        if (!t.label.empty()) {
            labels.push_back(t.label);
            EXPECT_NEAR(std::exp(t.value) / std::pow(10, std::round(t.value / std::log(10))), 1, 1e-12);
        }
    EXPECT_THAT(labels, testing::ElementsAre("10^{2}", "10^{3}", "10^{4}"));
    s.set("log-base", Value(2.0));
    for (const Tick& t : scaleFor({s, activity})->ticks({std::log(1.5), std::log(100.0)}, {}))
        if (t.major) {
            EXPECT_NEAR(std::remainder(t.value / std::log(2), 1), 0, 1e-9) << "powers of two, in ln";
        }
}

TEST(Scale, ASecondAxisIsComputedBothWays) {
    const AxisMap nm(scaleFor({{}, {}}), {400, 800}, 10, 90);
    const auto formula = MonotoneFormula::make("1239.841984/x", "");
    ASSERT_TRUE(formula.has_value());
    const AxisMap eV = AxisMap::bound(nm, *formula);
    EXPECT_NEAR(eV.low(), 1239.841984 / 800, 1e-12);
    EXPECT_NEAR(eV.place(2), nm.place(619.920992), 1e-9);
    EXPECT_NEAR(eV.value(nm.place(500)), 2.479683968, 1e-9);
    for (const Tick& t : eV.ticks({.about = 5})) EXPECT_TRUE(eV.contains(t.value));
    EXPECT_FALSE(MonotoneFormula::make("1239/y", "").has_value());
}

TEST(Breaks, LeaveAGapAndKeepOrder) {
    const AxisMap map(scaleFor({{}, {}}), {0, 100}, 0, 80,
                      {.skipped = {{20, 90}}, .shares = {1, 1}, .gapMm = 2});
    EXPECT_NEAR(map.place(20), 39, 1e-12);
    EXPECT_NEAR(map.place(90), 41, 1e-12);
    EXPECT_NEAR(map.place(10), 19.5, 1e-12);
    EXPECT_TRUE(map.isSkipped(50));
    EXPECT_GT(map.place(60), map.place(40));
    for (const Tick& t : map.ticks({})) EXPECT_FALSE(map.isSkipped(t.value));
    EXPECT_FALSE(AxisMap(scaleFor({{}, {}}), {0, 10}, 0, 80, {.skipped = {{8, 12}}}).isBroken());
}

// Two seasons with a winter left out: few labels are wished for, yet each part tells its distance.
TEST(Breaks, EachPartHasTwoTicks) {
    constexpr double kDay = 86400;
    Settings time;
    time.set("scale", Value(std::string("time")));
    const double first = 1914451200, last = first + 330 * kDay; // from 1 September 2030
    const AxisMap map(scaleFor({time, {}}), {first, last}, 0, 70,
                      {.skipped = {{first + 90 * kDay, first + 260 * kDay}}});
    for (const int about : {3, 4, 6}) {
        const std::vector<Tick> ticks = map.ticks({.about = about});
        for (const Piece& p : map.pieces())
            EXPECT_GE(
                std::ranges::count_if(
                    ticks, [&](const Tick& t) { return t.major && t.value >= p.low && t.value <= p.high; }),
                2)
                << about << " wished for, from " << p.low;
    }
}
