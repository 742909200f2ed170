// SPDX-License-Identifier: GPL-3.0-or-later
// Courses in time: areas and slopes against closed forms of exponentials, times above a limit, units.
#include "analyses/course/course.h"
#include "support/random.h"

#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::analyses;
using testing::HasSubstr;

namespace {

Curve course(const std::function<double(double)>& f, const std::vector<double>& t) {
    Curve c;
    c.x = t;
    for (double v : t) c.y.push_back(f(v));
    c.xMeaning = {"time", "h"};
    c.yMeaning = {"concentration", "mg/L"};
    return c;
}

Result<AnalysisResult> analysed(const Curve& curve, const Settings& settings = {}) {
    Analysis spec{.kind = "course", .inputs = {{}}};
    spec.settings = settings;
    Task task{.spec = spec};
    task.inputs.push_back({.name = "d", .curve = std::make_shared<const Curve>(curve)});
    return courseAnalysis().compute(task, {});
}

double of(const AnalysisResult& r, const char* key) {
    const Quantity* q = r.find(key);
    EXPECT_TRUE(q) << key;
    return q ? q->value : NAN;
}

const std::vector<double> kTimes = {0, 0.5, 1, 2, 3, 4, 6, 8, 10, 12};

} // namespace

// Of one exponential all numbers have closed forms, and logarithmic trapezoids are exact.
TEST(Course, AnExponentialIsExact) {
    const double c0 = 12, k = 0.3, end = 12;
    Settings s;
    s.set("dose", Value(60.0));
    s.set("dose-unit", "mg");
    s.set("limit", Value(3.0));
    const auto r = analysed(course([&](double t) { return c0 * std::exp(-k * t); }, kTimes), s);
    ASSERT_TRUE(r) << r.error().text;
    EXPECT_NEAR(of(*r, "area"), c0 / k * (1 - std::exp(-k * end)), 1e-10);
    EXPECT_NEAR(of(*r, "area-to-infinity"), c0 / k, 1e-10);
    EXPECT_NEAR(of(*r, "rate"), k, 1e-12);
    EXPECT_NEAR(of(*r, "half-life"), std::log(2) / k, 1e-10);
    EXPECT_NEAR(of(*r, "mean-residence"), 1 / k, 1e-9);
    EXPECT_NEAR(of(*r, "clearance"), 60 / (c0 / k), 1e-10);
    EXPECT_NEAR(of(*r, "volume"), 60 / c0, 1e-9);
    EXPECT_NEAR(of(*r, "extrapolated"), 100 * std::exp(-k * end), 1e-9);
    EXPECT_EQ(of(*r, "episodes"), 1);
    EXPECT_EQ(r->find("area")->unit, "mg h/L");
    EXPECT_EQ(r->find("clearance")->unit, "L/h");
    EXPECT_EQ(r->find("volume")->unit, "L");
    EXPECT_EQ(r->find("half-life")->unit, "h");
    EXPECT_EQ(r->find("rate")->unit, "1/h");
}

TEST(Course, LinearTrapezoidsByHand) {
    Settings s;
    s.set("rule", "linear");
    const auto r = analysed(course([](double t) { return t < 2 ? 2 * t : 8 - 2 * t; }, {0, 1, 2, 3, 4}), s);
    ASSERT_TRUE(r);
    EXPECT_DOUBLE_EQ(of(*r, "area"), 8);
    EXPECT_DOUBLE_EQ(of(*r, "maximum"), 4);
    EXPECT_DOUBLE_EQ(of(*r, "at"), 2);
    EXPECT_FALSE(r->find("half-life")) << "two points above zero behind the maximum are too few";
    ASSERT_EQ(r->issues.size(), 1U);
}

// Absorption, then decay: sampled densely the areas are those of the curve, and the end has the slower rate.
TEST(Course, TwoExponentials) {
    const double ka = 2, k = 0.2, f = 10;
    std::vector<double> t;
    for (int i = 0; i <= 3000; ++i) t.push_back(0.01 * i);
    const auto r = analysed(
        course([&](double x) { return f * ka / (ka - k) * (std::exp(-k * x) - std::exp(-ka * x)); }, t));
    ASSERT_TRUE(r);
    EXPECT_NEAR(of(*r, "rate"), k, 3e-3 * k) << "of nearly straight ends the longest is taken";
    EXPECT_NEAR(of(*r, "area-to-infinity"), f / k, 1e-4 * f / k);
    EXPECT_NEAR(of(*r, "at"), std::log(ka / k) / (ka - k), 0.006);
    EXPECT_NEAR(of(*r, "mean-residence"), 1 / k + 1 / ka, 1e-3);
}

// Errors of the areas follow those of the points; the interval of the half-life holds the truth.
TEST(Course, ErrorsAndIntervals) {
    Curve c = course([](double t) { return 9 * std::exp(-0.25 * t); }, kTimes);
    c.sigma.assign(c.size(), 0.1);
    const CourseArea area = areaOf(c.x, c.y, AreaRule::LinearUpLogDown);
    for (std::size_t i = 0; i < c.size(); ++i) { // the slopes against differences
        std::vector<double> up = c.y, down = c.y;
        up[i] += 1e-6, down[i] -= 1e-6;
        const double slope = (areaOf(c.x, up, AreaRule::LinearUpLogDown).area -
                              areaOf(c.x, down, AreaRule::LinearUpLogDown).area) /
                             2e-6;
        EXPECT_NEAR(area.areaBy[i], slope, 1e-6) << i;
    }
    test::Random random(9);
    int held = 0, heldHalf = 0;
    for (int trial = 0; trial < 500; ++trial) {
        Curve noisy = c;
        for (double& y : noisy.y) y *= std::exp(0.05 * random.normal());
        Settings s;
        s.set("terminal", Value(6.0));
        const auto r = analysed(noisy, s);
        ASSERT_TRUE(r);
        const Quantity *rate = r->find("rate"), *half = r->find("half-life");
        held += rate->low <= 0.25 && 0.25 <= rate->high;
        heldHalf += half->low <= std::log(2) / 0.25 && std::log(2) / 0.25 <= half->high;
    }
    EXPECT_NEAR(held / 500.0, 0.95, 0.03);
    EXPECT_EQ(held, heldHalf);
}

TEST(Course, TimesAboveALimit) {
    const std::vector<double> t = {0, 1, 2, 3, 4, 5, 6}, y = {0, 2, 0, 0, 4, 4, 0};
    const Above above = timeAbove(t, y, 1);
    EXPECT_EQ(above.episodes, 2);
    EXPECT_DOUBLE_EQ(above.first, 0.5);
    EXPECT_DOUBLE_EQ(above.time, 0.5 + 0.5 + 0.75 + 1 + 0.75);
    EXPECT_EQ(timeAbove(t, y, 10).episodes, 0);
    EXPECT_EQ(timeAbove(std::vector<double>{1.0}, std::vector<double>{5.0}, 1).episodes, 1);
}

// Moments come in the unit that fits them, and what does not fall has no end.
TEST(Course, DatesAndWhatDoesNotFall) {
    Curve dates = course([](double t) { return 5 * std::exp(-0.1 * t); }, {0, 1, 2, 3, 4, 5, 6, 7, 8});
    for (double& x : dates.x) x = 1.9e9 + 86400 * x;
    dates.xMeaning = {"date", "", true};
    const auto r = analysed(dates);
    ASSERT_TRUE(r);
    EXPECT_EQ(r->find("rate")->unit, "1/d");
    EXPECT_NEAR(of(*r, "rate"), 0.1, 1e-9);
    const NamedCurve* line = r->curve("fit");
    ASSERT_TRUE(line);
    EXPECT_NEAR(line->sample({dates.x[8]}).y[0], dates.y[8], 1e-9)
        << "the line stands on the axis of moments";
    const auto rising = analysed(course([](double t) { return 1 + t; }, kTimes));
    ASSERT_TRUE(rising);
    EXPECT_FALSE(rising->find("half-life"));
    EXPECT_FALSE(analysed(course([](double) { return 1.0; }, {1})));
    const auto flat = analysed(course([](double) { return 1.0; }, kTimes));
    ASSERT_TRUE(flat);
    EXPECT_FALSE(flat->find("half-life"));
    const auto zero = analysed(course([](double) { return 0.0; }, kTimes));
    ASSERT_TRUE(zero);
}
