// SPDX-License-Identifier: GPL-3.0-or-later
// Sets of peaks: found, fitted and read on random pictures with known truth; limits, ties, partners,
// baselines; what is said of doubtful ones.
#include "support/peak_pictures.h"

#include <cstdlib>
#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::analyses;
using namespace jointer::test;

namespace {

// A picture by its peaks: (place, height, width) of one shape on a straight line.
struct Told {
    double place, height, width;
};
Curve pictureOf(const std::string& shape, const std::vector<Told>& peaks, double noise, double level = 5,
                double slope = 0.02, unsigned seed = 1, std::size_t points = 400, double range = 100) {
    std::mt19937 random(seed);
    std::normal_distribution<double> e(0, 1);
    Curve c;
    const auto s = *models::peakShape(shape, {});
    for (std::size_t i = 0; i < points; ++i)
        c.x.push_back(range * static_cast<double>(i) / static_cast<double>(points - 1));
    c.y.resize(points);
    const std::span<const double> column(c.x);
    std::vector<double> one(points);
    for (const Told& p : peaks) {
        s.model->evaluate({&column, 1}, s.traits->begin(p.place, p.height, p.width), one);
        for (std::size_t i = 0; i < points; ++i) c.y[i] += one[i];
    }
    for (std::size_t i = 0; i < points; ++i) c.y[i] += level + slope * c.x[i] + noise * e(random);
    return c;
}

Settings tieRow(const char* what, int of, int to, double value) {
    Settings row;
    row.set("what", what);
    row.set("of", of);
    row.set("to", to);
    row.set("value", Value(value));
    return row;
}

} // namespace

// Number of peaks right in 95 %, intervals at 93–97 %, where peaks are a width apart and stand out; of the
// others what there is, without a claim. JOINTER_PICTURES gives more.
TEST(Peaks, AreFoundAndTheirIntervalsHold) {
    const char* more = std::getenv("JOINTER_PICTURES");
    const unsigned pictures = more ? static_cast<unsigned>(std::atoi(more)) : 200;
    for (const char* shape : {"gaussian", "lorentzian", "voigt"}) {
        int clear = 0, right = 0, numbers = 0, inside = 0, rest = 0, restRight = 0;
        for (unsigned seed = 0; seed < pictures; ++seed) {
            const PeakPicture p = peakPicture(shape, seed);
            const PeaksRun run = runPeaks(curveOf(p.x, p.y), peaksOf(shape));
            ASSERT_TRUE(run.result) << shape << " " << seed << ": " << run.result.error().text;
            const auto& peaks = run.detail().plan.peaks;
            bool all = peaks.size() == p.places.size();
            for (std::size_t k = 0; all && k < peaks.size(); ++k)
                all = std::abs(run.detail().numbers[k].maximum.value - p.places[k]) < 0.5 * p.widths[k];
            (p.isClear() ? clear : rest)++;
            (p.isClear() ? right : restRight) += all;
            if (!p.isClear() || !all) continue;
            for (std::size_t k = 0; k < peaks.size(); ++k)
                for (const auto& [name, truth] :
                     {std::pair("centre", p.places[k]), {"height", p.heights[k]}}) {
                    const Quantity& q = run.quantity(models::nameInWhole(name, peaks[k].number));
                    ++numbers;
                    inside += q.low <= truth && truth <= q.high;
                }
        }
        const double share = static_cast<double>(inside) / numbers;
        EXPECT_GE(right, 0.95 * clear) << shape << ": " << right << " of " << clear;
        EXPECT_GT(share, 0.92) << shape;
        EXPECT_LT(share, 0.985) << shape;
        std::printf("%s: %d of %d clear ones, intervals hold in %.1f %%; %d of the %d others\n", shape, right,
                    clear, 100 * share, restRight, rest);
    }
}

// Every shape on its own picture without noise comes back to the truth; so does what is read from it.
TEST(Peaks, OfEveryShapeComeBackToTheTruth) {
    for (const std::string& shape : models::peakShapeKeys()) {
        const std::vector<Told> told = {{30, 20, 6}, {47, 12, 8}, {75, 30, 5}};
        const Curve c = pictureOf(shape, told, 1e-9);
        const Analysis a = peaksOf(
            shape, {{"peaks", peakRows({peakRow(1, 30.5, 7), peakRow(2, 46, 7), peakRow(3, 75.3, 6)})}});
        const PeaksRun run = runPeaks(c, a);
        ASSERT_TRUE(run.result) << shape << ": " << run.result.error().text;
        EXPECT_LT(run.detail().report.rss, 1e-10) << shape << " " << run.result->state;
        const auto s = *models::peakShape(shape, {});
        for (int k = 1; k <= 3; ++k) {
            const Told& t = told[static_cast<std::size_t>(k - 1)];
            const std::vector<double> p = s.traits->begin(t.place, t.height, t.width);
            const models::PeakReading truth(*s.model, *s.traits, p);
            const PeakNumbers& n = run.detail().numbers[static_cast<std::size_t>(k - 1)];
            EXPECT_NEAR(n.maximum.value, truth.maximum().value, 1e-5) << shape;
            EXPECT_NEAR(n.height.value, truth.height().value, 1e-4) << shape;
            EXPECT_NEAR(n.fwhm.value, truth.width(0.5).value, 1e-4) << shape;
        }
    }
}

TEST(Peaks, StandOnEveryBaseline) {
    const std::vector<Told> told = {{30, 20, 6}, {60, 12, 8}};
    for (const Choice& base : peaksSettings().find("baseline")->choices) {
        Curve c = pictureOf("gaussian", told, 0.05, 0, 0);
        for (std::size_t i = 0; i < c.size(); ++i) {
            const double x = c.x[i], u = (x - 50) / 50;
            const std::string& key = base.key;
            if (key == "constant") c.y[i] += 7;
            if (key == "line") c.y[i] += 7 + 0.1 * x;
            if (key.starts_with("polynomial")) c.y[i] += 7 + u + 2 * u * u;
            if (key == "exponential-decay") c.y[i] += 3 + 15 * std::exp(-x / 20);
        }
        if (base.key == "shirley") {
            double area = 0;
            std::vector<double> peaks(c.size());
            for (std::size_t i = 0; i < c.size(); ++i) peaks[i] = c.y[i];
            for (std::size_t i = 0; i < c.size(); ++i) {
                area += peaks[i] * 100 / 399;
                c.y[i] += 4 + 0.03 * area;
            }
        }
        const PeaksRun run =
            runPeaks(c, peaksOf("gaussian", {{"baseline", Value(base.key)}, {"count", 2.0}}));
        ASSERT_TRUE(run.result) << base.key << ": " << run.result.error().text;
        EXPECT_EQ(run.detail().report.state, fit::FitState::Converged) << base.key;
        for (int k = 1; k <= 2; ++k) {
            const Quantity& h = run.quantity(models::nameInWhole("height", k));
            EXPECT_NEAR(h.value, told[static_cast<std::size_t>(k - 1)].height, std::max(5 * h.se, 0.1))
                << base.key;
        }
        const std::vector<double> b = run.detail().baseline(c.x), one = run.detail().peak(0, c.x),
                                  two = run.detail().peak(1, c.x);
        for (std::size_t i = 0; i < c.size(); i += 7)
            EXPECT_NEAR(b[i] + one[i] + two[i], c.y[i], 0.4) << base.key;
    }
}

TEST(Peaks, PointDownwardsToo) {
    Curve c = pictureOf("lorentzian", {{30, -20, 6}, {60, 12, 8}}, 0.2);
    EXPECT_EQ(runPeaks(c, peaksOf("lorentzian", {{"direction", "down"}})).detail().plan.peaks.size(), 1U);
    const PeaksRun both = runPeaks(c, peaksOf("lorentzian", {{"direction", "both"}}));
    ASSERT_EQ(both.detail().plan.peaks.size(), 2U);
    EXPECT_NEAR(both.quantity("height_1").value, -20, 1);
    EXPECT_NEAR(both.quantity("height_2").value, 12, 1);
}

TEST(Peaks, ShareOneWidthOrALaw) {
    const std::vector<Told> told = {{20, 20, 4}, {50, 12, 6}, {80, 15, 8}}; // 1/15 for each unit of x
    const Curve c = pictureOf("gaussian", told, 0.05);
    const PeaksRun alike = runPeaks(c, peaksOf("gaussian", {{"widths", "alike"}}));
    ASSERT_EQ(alike.detail().plan.peaks.size(), 3U);
    EXPECT_EQ(alike.quantity("fwhm_1").value, alike.quantity("fwhm_3").value);
    EXPECT_EQ(alike.quantity("fwhm_3").state, "tied");
    EXPECT_GT(alike.quantity("fwhm_3").se, 0);
    const PeaksRun line = runPeaks(c, peaksOf("gaussian", {{"widths", "line"}}));
    EXPECT_EQ(line.detail().report.state, fit::FitState::Converged);
    EXPECT_NEAR(line.quantity("fwhm_growth").value, 1.0 / 15, 5 * line.quantity("fwhm_growth").se);
    EXPECT_NEAR(line.quantity("fwhm_middle").value, 6, 5 * line.quantity("fwhm_middle").se);
    for (int k = 1; k <= 3; ++k)
        EXPECT_NEAR(line.quantity(models::nameInWhole("fwhm", k)).value,
                    told[static_cast<std::size_t>(k - 1)].width, 0.1);
    const Curve squares = pictureOf(
        "gaussian", {{20, 20, std::sqrt(16.0)}, {50, 12, std::sqrt(25.0)}, {80, 15, std::sqrt(34.0)}}, 0.05);
    const PeaksRun root = runPeaks(squares, peaksOf("gaussian", {{"widths", "root"}}));
    EXPECT_NEAR(root.quantity("fwhm_growth").value, 0.3, 6 * root.quantity("fwhm_growth").se);
    Analysis shared = peaksOf("voigt");
    shared.parameters = {{.name = "fwhm", .treatment = Treatment::Shared}};
    const PeaksRun parts = runPeaks(c, shared);
    EXPECT_EQ(parts.quantity("gauss_1").value, parts.quantity("gauss_2").value);
    EXPECT_EQ(parts.quantity("lorentz_1").value, parts.quantity("lorentz_3").value);
}

TEST(Peaks, AreTiedTwoByTwo) {
    const Curve c = pictureOf("lorentzian", {{30, 20, 6}, {47, 12, 8}, {75, 30, 5}}, 0.1);
    const auto run = [&](Settings row) {
        return runPeaks(
            c, peaksOf("lorentzian",
                       {{"peaks", peakRows({peakRow(1, 30, 6), peakRow(2, 47, 7), peakRow(3, 75, 6)})},
                        {"ties", peakRows({std::move(row)})}}));
    };
    const PeaksRun distance = run(tieRow("distance", 2, 1, 17.5));
    EXPECT_NEAR(distance.quantity("centre_2").value - distance.quantity("centre_1").value, 17.5, 1e-9);
    const PeaksRun area = run(tieRow("area-ratio", 2, 3, 0.7));
    EXPECT_NEAR(area.quantity("area_2").value / area.quantity("area_3").value, 0.7, 1e-9);
    const PeaksRun height = run(tieRow("height-ratio", 1, 3, 0.6));
    EXPECT_NEAR(height.quantity("height_1").value / height.quantity("height_3").value, 0.6, 1e-9);
    const PeaksRun width = run(tieRow("width-ratio", 2, 1, 1.3));
    EXPECT_NEAR(width.quantity("fwhm_2").value / width.quantity("fwhm_1").value, 1.3, 1e-9);
    EXPECT_EQ(run(tieRow("distance", 2, 9, 1)).result.error().code, "tie");
}

// A doublet of two wavelengths comes back, with its ratio and place; freed, so does its ratio.
TEST(Peaks, HavePartners) {
    const double first = 1.540593, second = 1.544427;
    std::vector<Told> told;
    for (const auto& [place, height] : {std::pair(38.0, 40.0), {62.0, 25.0}, {88.0, 30.0}}) {
        told.push_back({place, height, 0.25});
        told.push_back(
            {2 * std::asin(second / first * std::sin(place * M_PI / 360)) * 180 / M_PI, height / 2, 0.25});
    }
    const Curve c = pictureOf("lorentzian", told, 0.2, 5, 0.01, 3, 6000);
    Analysis a = peaksOf(
        "lorentzian", {{"partner", "wavelengths"},
                       {"wavelength", first},
                       {"wavelength-2", second},
                       {"peaks", peakRows({peakRow(1, 38, 0.3), peakRow(2, 62, 0.3), peakRow(3, 88, 0.3)})}});
    const PeaksRun run = runPeaks(c, a);
    EXPECT_EQ(run.detail().report.state, fit::FitState::Converged);
    for (int k = 1; k <= 3; ++k) {
        const std::size_t at = 2 * static_cast<std::size_t>(k - 1);
        const Quantity &q = run.quantity(models::nameInWhole("centre", k)),
                       &partner = run.quantity(models::nameInWhole("partner_centre", k));
        EXPECT_NEAR(q.value, told[at].place, 5 * q.se);
        EXPECT_NEAR(partner.value, told[at + 1].place, 5 * partner.se);
        EXPECT_NEAR(run.quantity(models::nameInWhole("partner_area", k)).value,
                    0.5 * run.quantity(models::nameInWhole("area", k)).value, 1e-9);
    }
    a.parameters = {{.name = "ratio", .lower = 0.1, .upper = 2}};
    const PeaksRun freed = runPeaks(c, a);
    for (int k = 1; k <= 3; ++k)
        EXPECT_NEAR(freed.quantity(models::nameInWhole("ratio", k)).value, 0.5,
                    5 * freed.quantity(models::nameInWhole("ratio", k)).se);
    const NamedCurve* curve = run.result->curve("partner", {}, "2");
    ASSERT_TRUE(curve);
    EXPECT_NEAR(curve->sample({told[3].place}).y[0], 12.5, 0.5);
}

// A broad hump and a needle where there should be two alike: limits that come from the data prevent it.
TEST(Peaks, AreKeptApartByProposedLimits) {
    const Curve c = pictureOf("gaussian", {{45, 10, 8}, {51, 9, 8}}, 0.6, 3, 0.01, 5);
    const Value rows = peakRows({peakRow(1, 44, 7), peakRow(2, 52, 7)});
    const PeaksRun limited = runPeaks(c, peaksOf("gaussian", {{"peaks", rows}}));
    for (const char* name : {"fwhm_1", "fwhm_2"}) {
        EXPECT_GE(limited.quantity(name).value, limited.detail().plan.widths.first);
        EXPECT_LE(limited.quantity(name).value, limited.detail().plan.widths.second);
    }
    EXPECT_NEAR(limited.detail().plan.widths.second, 21, 1e-9);
    Settings own;
    const PeaksRun narrow = runPeaks(
        c, peaksOf("gaussian", {{"peaks", rows}, {"limits", "own"}, {"width-limits", Value(Numbers{6, 7})}}));
    EXPECT_EQ(narrow.quantity("fwhm_1").value, 7);
    EXPECT_TRUE(narrow.says("peak-on-limit"));
    EXPECT_FALSE(narrow.result->good);
    const PeaksRun off = runPeaks(c, peaksOf("gaussian", {{"peaks", rows}, {"limits", "off"}}));
    EXPECT_EQ(off.detail().plan.widths.first, off.detail().plan.widths.second);
}

TEST(Peaks, ThatRunAwayAreNamed) {
    const Curve c = pictureOf("gaussian", {{40, 20, 6}}, 0.3, 5, 0.0, 7);
    for (std::size_t i = 0; i < c.size(); ++i) const_cast<Curve&>(c).y[i] += 4 * std::sin(c.x[i] / 30);
    Settings second = peakRow(2, 70, 8);
    second.set("name", "shoulder");
    const PeaksRun run = runPeaks(c, peaksOf("gaussian", {{"peaks", peakRows({peakRow(1, 40, 6), second})},
                                                          {"limits", "off"},
                                                          {"baseline", "constant"}}));
    EXPECT_TRUE(run.says("became-baseline") || run.says("peak-moved")) << run.result->sentence;
    const auto named = std::ranges::find_if(
        run.result->issues, [](const Issue& i) { return i.text.find("shoulder") != std::string::npos; });
    EXPECT_NE(named, run.result->issues.end());
    // Two that stand for one hump, and one that is not there.
    const Curve one = pictureOf("gaussian", {{50, 20, 10}}, 1, 5, 0, 8);
    const PeaksRun hump =
        runPeaks(one, peaksOf("gaussian", {{"peaks", peakRows({peakRow(1, 48.5, 9), peakRow(2, 51.5, 9)})}}));
    EXPECT_TRUE(hump.says("one-hump") || hump.says("weak-peak"));
    const PeaksRun weak =
        runPeaks(one, peaksOf("gaussian", {{"peaks", peakRows({peakRow(1, 50, 10), peakRow(2, 80, 6)})}}));
    EXPECT_TRUE(weak.says("weak-peak"));
    EXPECT_FALSE(weak.result->good);
}

TEST(Peaks, FitOneAloneAndProposeFurtherOnes) {
    const Curve c = pictureOf("gaussian", {{30, 20, 6}, {47, 12, 8}, {75, 8, 5}}, 0.1);
    const Value rows = peakRows({peakRow(1, 30.5, 7), peakRow(2, 46.2, 7)});
    const PeaksRun both = runPeaks(c, peaksOf("gaussian", {{"peaks", rows}}));
    ASSERT_FALSE(both.detail().further().empty());
    EXPECT_TRUE(std::ranges::any_of(both.detail().further(),
                                    [](const fit::FoundPeak& f) { return std::abs(f.place - 75) < 1; }));
    const PeaksRun one = runPeaks(c, peaksOf("gaussian", {{"peaks", rows}, {"only", 2.0}}));
    EXPECT_EQ(one.quantity("centre_1").state, "fixed");
    EXPECT_EQ(one.quantity("centre_1").value, 30.5);
    EXPECT_EQ(one.quantity("centre_2").state, "free");
    EXPECT_NEAR(one.quantity("centre_2").value, 47, 0.7);
}

// A doublet of two wavelengths seen as such: its second line is the partner of the first, not a peak of its
// own.
TEST(Peaks, APartnerIsNotFoundAsAPeak) {
    std::mt19937 random(3);
    Curve c;
    for (double x = 34; x < 37; x += 0.01) {
        const auto line = [&](double at, double height) {
            const double u = (x - at) / 0.05;
            return height * std::exp(-0.5 * u * u);
        };
        const double theta = std::asin(1.54443 / 1.5406 * std::sin(35.15 / 360 * std::numbers::pi));
        const double mean = 120 + line(35.15, 9000) + line(theta * 360 / std::numbers::pi, 4500);
        c.x.push_back(x);
        c.y.push_back(std::poisson_distribution<int>(mean)(random));
    }
    const PeaksRun two = runPeaks(c, peaksOf("gaussian", {}));
    EXPECT_EQ(two.detail().plan.peaks.size(), 2U) << "without a rule both are peaks";
    const PeaksRun one =
        runPeaks(c, peaksOf("gaussian", {{"partner", "wavelengths"}, {"wavelength-2", 1.54443}}));
    EXPECT_EQ(one.detail().plan.peaks.size(), 1U);
    EXPECT_NEAR(one.quantity("centre_1").value, 35.15, 0.001);
    EXPECT_TRUE(one.detail().further().empty()) << "noise of counts on a high line is no peak";
    const PeaksRun apart = runPeaks(c, peaksOf("gaussian", {{"partner", "distance"}, {"distance", 1.0}}));
    EXPECT_EQ(apart.detail().plan.peaks.size(), 2U) << "there the partner stands elsewhere";
}

// Whatever the peaks have in common and whatever they stand on: what is drawn below them is what the fit
// leaves without them.
TEST(Peaks, AndTheirBaselineAddUpToTheFit) {
    const Curve c = pictureOf("gaussian", {{30, 20, 6}, {47, 12, 8}, {75, 8, 5}}, 0.1);
    const std::vector<double> xs = {c.x.front(), 25, 33, 50, 71.5, c.x.back()};
    for (const Choice& widths : peaksSettings().find("widths")->choices)
        for (const Choice& baseline : peaksSettings().find("baseline")->choices) {
            const PeaksRun run =
                runPeaks(c, peaksOf("gaussian", {{"widths", widths.key}, {"baseline", baseline.key}}));
            const PeaksDetail& d = run.detail();
            std::vector<double> sum = d.baseline(xs);
            for (std::size_t k = 0; k < d.plan.peaks.size(); ++k) {
                const std::vector<double> one = d.peak(k, xs);
                for (std::size_t i = 0; i < xs.size(); ++i) sum[i] += one[i];
            }
            const std::vector<double> fitted = d.fitted(xs);
            for (std::size_t i = 0; i < xs.size(); ++i)
                EXPECT_NEAR(sum[i], fitted[i], 1e-9 * (1 + std::abs(fitted[i])))
                    << widths.key << ", " << baseline.key << " at " << xs[i];
        }
}

TEST(Peaks, AreCalledByTheirList) {
    const Curve c = pictureOf("gaussian", {{30, 20, 6}, {47, 12, 8}, {75, 8, 5}}, 0.1);
    Settings a, b;
    a.set("name", "inner");
    a.set("place", Value(46.0));
    b.set("name", "outer");
    b.set("place", Value(76.0));
    const PeaksRun near = runPeaks(c, peaksOf("gaussian", {{"names", peakRows({a, b})}}));
    EXPECT_EQ(near.quantity("area_2").subject, "inner");
    EXPECT_EQ(near.quantity("area_3").subject, "outer");
    EXPECT_EQ(near.quantity("area_1").subject, "1");
    const PeaksRun order =
        runPeaks(c, peaksOf("gaussian", {{"names", peakRows({a, b})}, {"naming", "order"}}));
    EXPECT_EQ(order.quantity("area_1").subject, "inner");
    EXPECT_EQ(order.quantity("area_2").subject, "outer");
    const PeaksRun height =
        runPeaks(c, peaksOf("gaussian", {{"names", peakRows({a, b})}, {"naming", "height"}}));
    EXPECT_EQ(height.quantity("area_1").subject, "inner") << "20, 12, 8 high";
    EXPECT_EQ(height.quantity("area_2").subject, "outer");
}

// The nearest of all pairs counts, whatever the order of the list; within a told reach the highest can be
// meant.
TEST(Peaks, AreCalledByTheBestPair) {
    const Curve c = pictureOf("gaussian", {{30, 20, 6}, {47, 12, 8}, {75, 8, 5}}, 0.1);
    Settings a, b;
    a.set("name", "far");
    a.set("place", Value(58.0)); // 11 from the second, which the other name is nearer to
    b.set("name", "near");
    b.set("place", Value(46.0));
    const PeaksRun near = runPeaks(c, peaksOf("gaussian", {{"names", peakRows({a, b})}}));
    EXPECT_EQ(near.quantity("area_2").subject, "near");
    EXPECT_EQ(near.quantity("area_3").subject, "3") << "beyond two of its widths";
    Settings strong;
    strong.set("name", "strong");
    strong.set("place", Value(48.0));
    strong.set("reach", Value(20.0));
    const auto called = [&](const char* rule) {
        const PeaksRun run =
            runPeaks(c, peaksOf("gaussian", {{"names", peakRows({strong})}, {"naming", rule}}));
        for (const char* area : {"area_1", "area_2", "area_3"})
            if (run.quantity(area).subject == "strong") return std::string(area);
        return std::string();
    };
    EXPECT_EQ(called("nearest"), "area_2");
    EXPECT_EQ(called("highest"), "area_1");
}

// What is stored is what was computed; start values are shown as they stand, heights too.
TEST(Peaks, AreStoredAndShownWhileTheyAreDragged) {
    const Curve c = pictureOf("voigt", {{30, 20, 6}, {47, 12, 8}}, 0.1);
    const AnalysisKind kind = peaksAnalysis();
    const Analysis spec = peaksOf("voigt");
    Task task{.spec = spec};
    task.inputs.push_back(
        {.name = "picture", .curve = std::make_shared<const Curve>(c), .spec = spec.inputs[0]});
    const Taken taken = kind.take(task);
    const auto computed = kind.compute(task, taken);
    const auto again = kind.fromText(kind.text(*computed), task, taken);
    ASSERT_TRUE(again) << again.error().text;
    ASSERT_EQ(again->quantities.size(), computed->quantities.size());
    for (std::size_t i = 0; i < again->quantities.size(); ++i) {
        EXPECT_EQ(again->quantities[i].key, computed->quantities[i].key);
        EXPECT_NEAR(again->quantities[i].value, computed->quantities[i].value,
                    1e-9 * std::abs(computed->quantities[i].value));
    }
    EXPECT_FALSE(kind.fromText("{\"report\": 3}", task, taken));
    Settings row = peakRow(1, 30, 6);
    row.set("height", Value(17.0));
    const PeaksRun dragged =
        runPeaks(c, peaksOf("gaussian", {{"peaks", peakRows({row})}}), Effort::Provisional);
    EXPECT_EQ(dragged.quantity("height_1").value, 17);
    EXPECT_EQ(dragged.quantity("centre_1").value, 30);
    EXPECT_FALSE(dragged.result->whole);
}

TEST(Peaks, SayWhatCannotBeDone) {
    const Curve flat = pictureOf("gaussian", {}, 0.5);
    EXPECT_EQ(runPeaks(flat, peaksOf("gaussian")).result.error().code, "no-peaks");
    Analysis wrong = peaksOf("gaussian");
    wrong.parameters = {{.name = "curvature", .start = 1}};
    const Curve c = pictureOf("gaussian", {{30, 20, 6}}, 0.1);
    EXPECT_EQ(runPeaks(c, wrong).result.error().code, "unknown-parameter");
    EXPECT_EQ(runPeaks(c, peaksOf("line")).result.error().code, "no-shape");
    EXPECT_EQ(runPeaks(curveOf({}, {}), peaksOf("gaussian")).result.error().code, "no-points");
}

// Far from nought the coefficients of a baseline go against each other: nothing to be said of the peaks.
TEST(Peaks, CoefficientsOfABaselineAreNoDoubt) {
    Curve c = pictureOf("lorentzian", {{30, 80, 6}, {60, 50, 8}}, 0.6);
    for (double& x : c.x) x += 900;
    Analysis spec = peaksOf("lorentzian");
    spec.settings.set("baseline", "polynomial-2");
    const PeaksRun run = runPeaks(c, spec);
    ASSERT_TRUE(run.result);
    for (const Issue& issue : run.result->issues) EXPECT_NE(issue.code, "correlated") << issue.text;
}
