// SPDX-License-Identifier: GPL-3.0-or-later
// Areas without a fit against closed forms, and their errors against simulated noise.
#include "analyses/areas/areas.h"
#include "analyses/areas/separation.h"

#include <cmath>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::analyses;
using testing::SizeIs;

namespace {

constexpr double kRoot = 1.0644670194312262; // of a Gaussian: area over height and FWHM, √(π/ln 16)

double gauss(double x, double centre, double height, double width) {
    return height * std::exp(-4 * std::log(2) * std::pow((x - centre) / width, 2));
}

PeakPoints points(double from, double to, double step, const std::function<double(double)>& f,
                  double sigma = 0) {
    PeakPoints p;
    for (int i = 0; from + i * step <= to + step / 2; ++i) {
        p.x.push_back(from + i * step);
        p.y.push_back(f(p.x.back()));
        p.sigma.push_back(sigma);
    }
    return p;
}

Result<AnalysisResult> areasOf(const PeakPoints& p, Settings settings = {}) {
    Analysis a{.kind = "areas"};
    a.settings = std::move(settings);
    a.inputs = {{.dataset = DatasetId{1}}};
    auto curve = std::make_shared<Curve>();
    curve->x = p.x;
    curve->y = p.y;
    curve->xMeaning.unit = "min";
    curve->yMeaning.unit = "mAU";
    Task task{.spec = a, .inputs = {{.name = "run", .curve = curve, .spec = a.inputs[0]}}};
    return areasAnalysis().compute(task, {});
}

double valueOf(const AnalysisResult& r, const std::string& key) {
    const Quantity* q = r.find(key);
    return q ? q->value : std::nan("");
}

} // namespace

TEST(Areas, OfTrianglesAreExact) {
    const auto triangle = [](double x) { return 2 + 0.5 * x + std::max(0.0, 6 - 2 * std::abs(x - 5)); };
    const PeakPoints p = points(0, 10, 0.25, triangle);
    for (const Ground ground : {Ground::Drop, Ground::Valley}) {
        const PeakLimits l{1, 9, ground};
        const MeasuredPeak m = measure(p, {&l, 1})[0];
        EXPECT_NEAR(m.area.value, 18, 1e-12) << "base 6, height 6";
        EXPECT_NEAR(m.width.value, 3, 0.15) << "its sharp top is taken as a round one";
        EXPECT_NEAR(m.asymmetry, 1, 1e-9);
        EXPECT_NEAR(m.centroid.value, 5, 1e-9);
    }
    const PeakLimits zero{1, 9, Ground::Zero};
    EXPECT_NEAR(measure(p, {&zero, 1})[0].area.value, 18 + 8 * (2 + 0.5 * 5), 1e-12);
    const PeakLimits between{1.1, 8.93, Ground::Zero}; // between points
    EXPECT_NEAR(measure(p, {&between, 1})[0].area.value, 18 + (8.93 - 1.1) * (2 + 0.25 * (8.93 + 1.1)), 1e-9);
}

TEST(Areas, OfGaussiansComeBack) {
    const PeakPoints p = points(0, 40, 0.05, [](double x) { return 3 + 0.1 * x + gauss(x, 17.3, 80, 2.4); });
    const PeakLimits l{10, 25, Ground::Valley};
    const MeasuredPeak m = measure(p, {&l, 1})[0];
    EXPECT_NEAR(m.area.value, kRoot * 80 * 2.4, 1e-6);
    EXPECT_NEAR(m.height.value, 80, 0.05);
    EXPECT_NEAR(m.place.value, 17.3, 1e-3);
    EXPECT_NEAR(m.width.value, 2.4, 2e-3);
    EXPECT_NEAR(m.widthAtTwentieth, 2.4 * std::sqrt(std::log(20) / std::log(2)), 5e-3);
    EXPECT_NEAR(tailing(m.widthAtTwentieth, m.front), 1, 2e-3);
}

TEST(Areas, StandOnWhatTheyAreTold) {
    // Two that overlap on a level of 5.
    const auto f = [](double x) { return 5 + gauss(x, 10, 50, 3) + gauss(x, 13.5, 30, 3); };
    const PeakPoints p = points(0, 25, 0.02, f);
    const double valley = 12.2;
    std::vector<PeakLimits> l = {{3, valley, Ground::Drop}, {valley, 21, Ground::Drop}};
    const auto dropped = measure(p, l);
    const double all = kRoot * 3 * 80;
    EXPECT_NEAR(dropped[0].area.value + dropped[1].area.value, all, 1e-3) << "nothing lost at the valley";
    for (PeakLimits& one : l) one.ground = Ground::Valley;
    const auto toValley = measure(p, l);
    EXPECT_LT(toValley[0].area.value + toValley[1].area.value, 0.9 * all);
    const double chord = 5 + 0.5 * (f(valley) - 5);
    EXPECT_NEAR(toValley[0].area.value, dropped[0].area.value - (valley - 3) * (chord - 5), 1e-2);
}

// A small peak on the tail of a large one: what is skimmed is its own, the rest stays with the large one.
TEST(Areas, ASkimmedRiderLeavesTheTailToItsNeighbour) {
    const auto tail = [](double x) { return x < 5 ? gauss(x, 5, 100, 1.5) : 100 * std::exp(-(x - 5) / 4); };
    const auto f = [&](double x) { return tail(x) + gauss(x, 14, 6, 1.2); };
    const PeakPoints p = points(0, 40, 0.02, f);
    const std::vector<PeakLimits> l = {{1, 12, Ground::Drop}, {12, 18, Ground::Tangent}};
    const auto m = measure(p, l);
    const double own = kRoot * 6 * 1.2;
    EXPECT_NEAR(m[1].area.value, own, 0.3 * own) << "a chord lies above a tail that bends: a little is lost";
    EXPECT_LT(m[1].area.value, own);
    EXPECT_GT(m[1].low, 12);
    EXPECT_GT(m[1].high, 14.5);
    EXPECT_LT(m[1].high, 18.0001);
    EXPECT_NEAR(m[0].area.value + m[1].area.value,
                measure(p, std::vector<PeakLimits>{{1, 18, Ground::Drop}})[0].area.value, 1e-6)
        << "together they are what one would be";
    for (double x = m[1].low; x <= m[1].high; x += 0.05)
        EXPECT_LE(m[1].groundAt(x), f(x) + 0.02) << "from below";
    // The mirror image is the same.
    PeakPoints turned = p;
    std::ranges::reverse(turned.y);
    const std::vector<PeakLimits> lt = {{22, 28, Ground::Tangent}, {28, 39, Ground::Drop}};
    const auto mt = measure(turned, lt);
    EXPECT_NEAR(mt[0].area.value, m[1].area.value, 1e-9);
    EXPECT_NEAR(mt[1].area.value, m[0].area.value, 1e-6);
}

TEST(Areas, ErrorsAreThoseOfTheNoise) {
    const auto f = [](double x) { return 3 + gauss(x, 10, 40, 2) + gauss(x, 13, 25, 2); };
    const double sigma = 0.8;
    const std::vector<PeakLimits> l = {{6, 11.6, Ground::Drop}, {11.6, 17, Ground::Drop}};
    std::mt19937 random(2);
    std::normal_distribution<double> e(0, sigma);
    struct Spread {
        std::vector<double> values;
        double se = 0;
    };
    std::array<Spread, 6> seen;
    const int rounds = 600;
    for (int k = 0; k < rounds; ++k) {
        PeakPoints p = points(
            0, 25, 0.05, [&](double x) { return f(x) + e(random); }, sigma);
        p.ends = 9;
        const auto m = measure(p, l);
        std::size_t at = 0;
        for (const MeasuredPeak& one : m)
            for (const Measured* n : {&one.area, &one.height, &one.place}) {
                seen[at].values.push_back(n->value);
                seen[at++].se += n->se / rounds;
            }
    }
    for (const Spread& s : seen) {
        double mean = 0, square = 0;
        for (double v : s.values) mean += v / rounds;
        for (double v : s.values) square += (v - mean) * (v - mean) / (rounds - 1);
        EXPECT_NEAR(s.se / std::sqrt(square), 1, 0.18);
    }
}

TEST(Areas, FollowThePharmacopoeia) {
    EXPECT_NEAR(plateNumber({5, 0}, {0.1, 0}).value, 5.54 * 2500, 1e-9);
    EXPECT_NEAR(plateNumber({5, 0.05}, {0.1, 0}).se, 2 * 0.01 * 5.54 * 2500, 1e-6);
    EXPECT_NEAR(resolution({5, 0}, {0.1, 0}, {6, 0}, {0.1, 0}).value, 5.9, 1e-12);
    EXPECT_NEAR(retentionFactor({5, 0.02}, 1.25).value, 3, 1e-12);
    EXPECT_NEAR(retentionFactor({5, 0.02}, 1.25).se, 0.016, 1e-12);
    EXPECT_NEAR(tailing(0.3, 0.1), 1.5, 1e-12);
    EXPECT_NEAR(signalToNoise({40, 0.2}, 4).value, 20, 1e-12);
    EXPECT_NEAR(signalToNoise({40, 0.2}, 4).se, 0.1, 1e-12);
}

TEST(Areas, AreFoundMeasuredAndTold) {
    std::mt19937 random(5);
    std::normal_distribution<double> e(0, 0.3);
    const PeakPoints p = points(0, 30, 0.02, [&](double x) {
        return 10 + 0.2 * x + gauss(x, 6, 60, 0.5) + gauss(x, 14, 90, 0.8) + gauss(x, 22, 30, 1.2) +
               e(random);
    });
    Settings s;
    s.set("numbers", "separation");
    s.set("dead-time", 2.0);
    s.set("factors", Value(std::string("2=2")));
    const auto r = areasOf(p, s);
    ASSERT_TRUE(r) << r.error().text;
    ASSERT_THAT(areasDetail(*r)->peaks, SizeIs(3));
    EXPECT_TRUE(areasDetail(*r)->draft);
    EXPECT_NEAR(valueOf(*r, "area_2"), kRoot * 90 * 0.8, 4 * r->find("area_2")->se + 0.3);
    EXPECT_NEAR(valueOf(*r, "place_1"), 6, 0.01);
    EXPECT_NEAR(valueOf(*r, "retention_factor_2"), 6, 0.01);
    EXPECT_NEAR(valueOf(*r, "plates_3"), 5.54 * std::pow(22 / 1.2, 2), 120);
    EXPECT_NEAR(valueOf(*r, "resolution_1"), 1.18 * 8 / 1.3, 0.3);
    EXPECT_NEAR(valueOf(*r, "tailing_2"), 1, 0.1);
    EXPECT_NEAR(valueOf(*r, "signal_to_noise_1"), 2 * 60 / (6 * 0.3), 20);
    const double whole = valueOf(*r, "area_1") + 2 * valueOf(*r, "area_2") + valueOf(*r, "area_3");
    EXPECT_NEAR(valueOf(*r, "area_share_2"), 200 * valueOf(*r, "area_2") / whole, 1e-9);
    EXPECT_EQ(r->find("area_1")->unit, "mAU·min");
    ASSERT_TRUE(r->curve("baseline", DatasetId{1}));
    ASSERT_TRUE(r->curve("component", DatasetId{1}, {}, 2));
    EXPECT_NEAR(r->curve("component", DatasetId{1}, {}, 2)->sample({14}).y[0], 90, 1.5);
}

TEST(Areas, EventsHoldAlongX) {
    EXPECT_THAT(*areaEvents(" 2:5 valley; 8:9 leave-out "), SizeIs(2));
    EXPECT_THAT(*areaEvents(""), SizeIs(0));
    for (const char* wrong : {"2:5", "5:2 valley", "2-5 valley", "2:5 jump", "valley 2:5"})
        EXPECT_FALSE(areaEvents(wrong)) << wrong;
    const PeakPoints p = points(0, 30, 0.02, [](double x) {
        return gauss(x, 6, 60, 0.5) + gauss(x, 14, 90, 0.8) + gauss(x, 22, 30, 1.2) +
               1e-3 * std::sin(50 * x * x);
    });
    Settings s;
    s.set("events", Value(std::string("12:16 leave-out; 20:24 valley")));
    const auto r = areasOf(p, s);
    ASSERT_TRUE(r) << r.error().text;
    ASSERT_THAT(areasDetail(*r)->peaks, SizeIs(2));
    EXPECT_EQ(areasDetail(*r)->peaks[0].limits.ground, Ground::Drop);
    EXPECT_EQ(areasDetail(*r)->peaks[1].limits.ground, Ground::Valley);
    s.set("events", Value(std::string("here and there")));
    EXPECT_EQ(areasOf(p, s).error().code, "events");
}

TEST(Areas, AHandTakesThemOver) {
    const PeakPoints p = points(0, 30, 0.02, [](double x) {
        return gauss(x, 6, 60, 2) + gauss(x, 9, 90, 2) + 1e-3 * std::sin(50 * x * x);
    });
    const auto r = areasOf(p);
    ASSERT_TRUE(r);
    const AreasDetail& shown = *areasDetail(*r);
    ASSERT_THAT(shown.peaks, SizeIs(2));
    Analysis a{.kind = "areas"};
    moveLimit(a, shown, 1, true, 7.2);
    const RowList rows = a.settings.rows("limits");
    ASSERT_THAT(rows, SizeIs(2));
    EXPECT_DOUBLE_EQ(rows[0].number("high"), 7.2);
    EXPECT_DOUBLE_EQ(rows[1].number("low"), 7.2) << "its neighbour goes along";
    moveLimit(a, shown, 2, false, 40);
    EXPECT_DOUBLE_EQ(a.settings.rows("limits")[1].number("low"), 7.2) << "not beyond its other end";
    standOn(a, shown, 2, Ground::Tangent);
    nameArea(a, shown, 2, "caffeine");
    EXPECT_EQ(a.settings.rows("limits")[1].text("ground"), "tangent");
    const int added = addArea(a, &shown, 20, 18);
    EXPECT_EQ(added, 3);
    const auto again = areasOf(p, a.settings);
    ASSERT_TRUE(again);
    EXPECT_FALSE(areasDetail(*again)->draft);
    EXPECT_EQ(again->find("area_2")->subject, "caffeine");
    removeArea(a, shown, 1);
    removeArea(a, shown, 2);
    removeArea(a, shown, 3);
    EXPECT_FALSE(a.settings.has("limits")) << "without any they are found anew";
}

TEST(Areas, TakeAnyCurve) {
    for (const double v : {0.0, 1.0, std::nan("")}) {
        PeakPoints p = points(0, 10, 0.5, [&](double) { return v; });
        EXPECT_FALSE(areasOf(p));
        const PeakLimits l{2, 4, Ground::Tangent};
        EXPECT_THAT(measure(p, {&l, 1}), SizeIs(1));
    }
    EXPECT_FALSE(areasOf({}));
    Settings s;
    Settings row;
    row.set("number", 1);
    row.set("low", 100.0);
    row.set("high", 120.0);
    s.set("limits", Value(std::make_shared<const RowList>(RowList{row})));
    const auto beyond = areasOf(points(0, 10, 0.5, [](double x) { return x; }), s);
    ASSERT_TRUE(beyond);
    EXPECT_FALSE(beyond->good) << "limits beyond the points are told";
}
