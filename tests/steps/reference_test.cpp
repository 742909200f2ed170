// SPDX-License-Identifier: GPL-3.0-or-later
// Steps against answers computed independently (tools/step_references), and against closed forms.
#include "make_curve.h"

#include "base/text.h"

#include <fstream>
#include <nlohmann/json.hpp>
#include <numbers>

using namespace jointer;
using namespace jointer::steps;

namespace {

// "kind key=value key=value", without quotes.
std::pair<std::string, Settings> stepOf(const std::string& text) {
    const auto words = split(text, ' ');
    const StepKind* kind = catalogue().find(words[0]);
    Settings settings;
    for (std::size_t i = 1; i < words.size(); ++i) {
        const auto parts = split(words[i], '=');
        const auto value = parseValue(*kind->info.find(parts[0]), parts[1]);
        EXPECT_TRUE(value) << words[i];
        settings.set(std::string(parts[0]), *value);
    }
    if (settings.has("anchors")) settings.set("place", "free");
    return {std::string(words[0]), settings};
}

} // namespace

TEST(StepReferences, AgreeWithTheScript) {
    std::ifstream file(std::string(JOINTER_SOURCE_DIR) + "/tests/data_files/steps/reference.json");
    const auto cases = nlohmann::json::parse(file);
    ASSERT_GE(cases.size(), 40U);
    for (const auto& test : cases) {
        const std::string text = test["step"];
        SCOPED_TRACE(text);
        Curve c;
        c.x = test["x"].get<std::vector<double>>();
        c.y = test["y"].get<std::vector<double>>();
        c.xMeaning.isTime = text.find("calendar") != text.npos;
        if (test.contains("sigma")) c.sigma = test["sigma"].get<std::vector<double>>();
        const auto [kind, settings] = stepOf(text);
        const auto out = apply(kind, c, settings);
        const auto want = test["want"].get<std::vector<double>>();
        const double tolerance = test["tolerance"];
        ASSERT_EQ(out.value.curve.size(), want.size());
        double size = 0;
        for (double w : want) size = std::max(size, std::abs(w));
        for (std::size_t i = 0; i < want.size(); ++i)
            ASSERT_NEAR(out.value.curve.y[i], want[i], tolerance * size) << "point " << i;
        if (test.contains("want_x")) {
            const auto xs = test["want_x"].get<std::vector<double>>();
            for (std::size_t i = 0; i < xs.size(); ++i)
                ASSERT_NEAR(out.value.curve.x[i], xs[i], 1e-9 * (1 + std::abs(xs[i])));
        }
        if (!test.contains("want_sigma")) continue;
        const auto sigma = test["want_sigma"].get<std::vector<double>>();
        for (std::size_t i = 0; i < sigma.size(); ++i)
            ASSERT_NEAR(out.value.curve.sigma[i], sigma[i], std::max(tolerance, 1e-8)) << "point " << i;
    }
}

TEST(Smooth, PolynomialsUpToTheDegreePassUnchangedToTheEnds) {
    const Curve cubic = curveOf(30, [](double x) { return 1 - x + 0.1 * x * x - 0.01 * x * x * x; });
    Curve uneven = cubic;
    for (std::size_t i = 0; i < uneven.size(); ++i) {
        double& x = uneven.x[i];
        x += 0.4 * std::sin(3 * x);
        uneven.y[i] = 1 - x + 0.1 * x * x - 0.01 * x * x * x;
    }
    for (const Curve* c : {&cubic, static_cast<const Curve*>(&uneven)}) {
        const auto out = apply("smooth", *c, with({{"window", 9.0}, {"degree", 3.0}}));
        for (std::size_t i = 0; i < c->size(); ++i) EXPECT_NEAR(out.value.curve.y[i], c->y[i], 1e-9);
    }
    const Curve line = curveOf(30, [](double x) { return 2 * x; });
    for (const char* method : {"moving-average", "median", "loess", "whittaker", "savitzky-golay"}) {
        const auto out =
            apply("smooth", line, with({{"method", word(method)}, {"window", 7.0}, {"degree", 1.0}}));
        for (std::size_t i = 0; i < line.size(); ++i)
            EXPECT_NEAR(out.value.curve.y[i], line.y[i], 1e-9) << method;
    }
}

TEST(Smooth, ALowPassKeepsSlowWavesAndTakesFastOnes) {
    constexpr double kTau = 2 * std::numbers::pi;
    for (const auto& [period, left] : {std::pair(100.0, 1.0), {20.0, 0.5}, {5.0, 0.0}}) {
        // A cosine of whole periods about the middle of the first point is its own mirror image.
        const Curve wave = curveOf(400, [&](double x) { return std::cos(kTau * (x + 0.5) / period); });
        const auto out = apply("smooth", wave, with({{"method", word("low-pass")}, {"window", 20.0}}));
        for (std::size_t i = 0; i < wave.size(); ++i)
            EXPECT_NEAR(out.value.curve.y[i], left * wave.y[i], 2e-5) << period;
    }
}

TEST(Smooth, PassesOverWhatDoesNotCountAndOverGaps) {
    Curve c = curveOf(21, [](double) { return 1.0; });
    c.excluded.assign(21, 0);
    c.excluded[10] = 1;
    c.y[10] = 1000;
    const auto out = apply("smooth", c, with({{"method", word("moving-average")}, {"window", 5.0}}));
    for (std::size_t i = 0; i < c.size(); ++i) EXPECT_NEAR(out.value.curve.y[i], i == 10 ? 1000 : 1, 1e-12);
    EXPECT_NEAR(out.value.curve.sigma[5], 0.5 / std::sqrt(5.0), 1e-12);
    // A gap wider than the window parts the curve: the level before it does not leak over.
    Curve gap = curveOf(60, [](double x) { return x < 30 ? 0.0 : 1.0; });
    for (std::size_t i = 30; i < gap.size(); ++i) gap.x[i] += 40;
    const auto parted = apply("smooth", gap, with({{"method", word("moving-average")}, {"window", 9.0}}));
    for (std::size_t i = 0; i < gap.size(); ++i) EXPECT_NEAR(parted.value.curve.y[i], gap.y[i], 1e-12);
    EXPECT_THAT(parted.value.detail, testing::HasSubstr("2 pieces"));
}

TEST(Baseline, LinesAndSplinesGoThroughTheirAnchors) {
    const Curve c = curveOf(10, [](double x) { return 3 + 2 * x; });
    for (const char* through : {"line", "spline", "shape", "polynomial"}) {
        const auto out = apply(
            "baseline", c,
            with({{"through", word(through)}, {"mean-over", 1.0}, {"anchors", Numbers{1, 0, 4, 0, 8, 0}}}));
        for (double y : out.value.curve.y) EXPECT_NEAR(y, 0, 1e-12) << through;
    }
    const auto free = apply("baseline", c, with({{"place", word("free")}, {"anchors", Numbers{0, 1, 9, 1}}}));
    EXPECT_NEAR(free.value.curve.y[0], 2, 1e-12);
    const auto shown = apply("baseline", c, with({{"remove", word("no")}, {"anchors", Numbers{0, 1}}}));
    EXPECT_EQ(shown.value.curve.y, c.y);
    EXPECT_TRUE(shown.value.layer("baseline"));
}

// Automatic baselines over many made-up spectra: what is left of the true baseline is small beside the lines.
TEST(Baseline, FoundOnesComeNearTheTrueOne) {
    for (const char* method : {"als", "arpls", "rolling-ball", "snip", "polynomial"}) {
        double worst = 0;
        for (std::uint32_t seed = 1; seed <= 30; ++seed) {
            const Spectrum s = spectrum(500, seed, 12, 1, 5);
            const auto out = apply("baseline", s.curve,
                                   with({{"method", word(method)},
                                         {"radius", 30.0},
                                         {"degree", 4.0},
                                         {"smoothness", 1e5},
                                         {"asymmetry", 0.02}}));
            const Layer* line = out.value.layer("baseline");
            ASSERT_TRUE(line);
            std::vector<double> off;
            for (std::size_t i = 0; i < line->x.size(); ++i)
                off.push_back(std::abs(line->y[i] - (50 + 30 * std::sin(line->x[i] / 500 * 3))));
            std::ranges::sort(off);
            worst = std::max(worst, off[off.size() / 2]);
        }
        EXPECT_LT(worst, 6) << method; // of lines up to 420 high, noise 1
    }
}

TEST(Baseline, ADraftTakenAsAnchorsFollowsIt) {
    for (const char* method : {"als", "arpls", "rolling-ball", "polynomial", "shirley"}) {
        const Spectrum s = spectrum(400, 9, 15, 0.5, 3);
        const auto found = apply("baseline", s.curve, with({{"method", word(method)}}));
        ASSERT_TRUE(found.value.draft) << method;
        ASSERT_GE(found.value.handles.size(), 2U);
        for (const Handle& h : found.value.handles) EXPECT_EQ(h.state, HandleState::Proposed);
        const auto taken = apply("baseline", s.curve, *found.value.draft);
        const Layer *a = found.value.layer("baseline"), *b = taken.value.layer("baseline");
        double worst = 0, size = 0;
        for (std::size_t i = 0; i < a->y.size(); ++i) {
            worst = std::max(worst, std::abs(a->y[i] - b->y[i]));
            size = std::max(size, std::abs(a->y[i]));
        }
        EXPECT_LT(worst, 0.1 * size) << method;
        for (const Handle& h : taken.value.handles) EXPECT_EQ(h.state, HandleState::Accepted);
        EXPECT_FALSE(taken.value.draft);
    }
}

TEST(Baseline, AStepsBackgroundDoesNotDependOnTheDirectionOfX) {
    Curve c = curveOf(120, [](double x) {
        return 100 + 80 / (1 + std::exp(-(x - 60) / 3)) + 500 * std::exp(-0.5 * (x - 58) * (x - 58) / 25);
    });
    Curve turned = c;
    for (std::size_t i = 0; i < c.size(); ++i) {
        turned.x[i] = static_cast<double>(i) - 119;
        turned.y[i] = c.y[119 - i];
    }
    const Settings shirley = with({{"method", word("shirley")}});
    const auto a = apply("baseline", c, shirley), b = apply("baseline", turned, shirley);
    for (std::size_t i = 0; i < c.size(); ++i)
        EXPECT_NEAR(a.value.curve.y[i], b.value.curve.y[119 - i], 1e-6);
    Settings losses = with({{"method", word("tougaard")}});
    const auto up = apply("baseline", c, losses);
    losses.set("losses", "down");
    const auto down = apply("baseline", turned, losses);
    for (std::size_t i = 0; i < c.size(); ++i)
        EXPECT_NEAR(up.value.curve.y[i], down.value.curve.y[119 - i], 1e-6);
    Curve shortSide = c;
    for (double& x : shortSide.x) x *= 0.2; // 12 eV of losses only
    EXPECT_EQ(apply("baseline", shortSide, with({{"method", word("tougaard")}})).issues.at(0).code,
              "short-loss-side");
}

TEST(Convert, KnownValues) {
    auto one = [](double x, const char* from, const char* to, Settings more = {}) {
        Curve c;
        c.x = {x, x * 1.01};
        c.y = {1, 1};
        more.set("from", from);
        more.set("to", to);
        const Curve out = apply("convert", c, more).value.curve;
        return std::pair(out.x[0], out.x[1]);
    };
    EXPECT_NEAR(one(1239.8419843320026, "nm", "ev").second, 1, 1e-12);
    EXPECT_NEAR(one(500, "nm", "wavenumber").second, 20000, 1e-8);
    EXPECT_NEAR(one(1, "ev", "wavenumber").first, 8065.543937, 1e-6); // e/(h·c·100), CODATA
    // A line at 546.07 nm under a laser of 532 nm is shifted by 1e7·(1/532 − 1/546.07).
    EXPECT_NEAR(one(546.07, "nm", "raman").first, 1e7 * (1 / 532.0 - 1 / 546.07), 1e-8);
    // Bragg: copper Kα₁ on the (111) of silicon, d = 3.1356 Å, stands at 28.44°.
    EXPECT_NEAR(one(3.1356, "d", "two-theta").second, 28.4426, 1e-3);
    EXPECT_NEAR(one(28.4426, "two-theta", "q").first, 2 * std::numbers::pi / 3.1356, 1e-4);
    EXPECT_NEAR(one(25, "celsius", "inverse-kelvin").second, 1 / 298.15, 1e-12);
}

// The area of a spectral density is the same over any x.
TEST(Convert, ADensityKeepsItsArea) {
    const Curve c = [] {
        Curve made = curveOf(4000, [](double x) { return std::exp(-0.5 * (x - 2000) * (x - 2000) / 1e5); });
        for (double& x : made.x) x = 400 + x * 0.1;
        return made;
    }();
    const double before = numbersOfSpan(c, 0, 1e9).area;
    for (const char* to : {"ev", "wavenumber", "um"}) {
        const auto out = apply(
            "convert", c, with({{"from", word("nm")}, {"to", word(to)}, {"intensity", word("density")}}));
        EXPECT_NEAR(numbersOfSpan(out.value.curve, 0, 1e9).area, before, 1e-5 * before) << to;
        EXPECT_TRUE(std::ranges::is_sorted(out.value.curve.x));
    }
}

TEST(Align, FindsTheShiftThatWasMade) {
    for (std::uint32_t seed = 1; seed <= 20; ++seed) {
        const double shift = 0.37 * seed - 3;
        auto lines = [](double x) {
            return 100 * std::exp(-0.5 * (x - 60) * (x - 60) / 9) +
                   40 * std::exp(-0.5 * (x - 85) * (x - 85) / 16);
        };
        std::mt19937 random(seed);
        std::normal_distribution<double> normal(0, 0.5);
        Curve c = curveOf(150, [&](double x) { return lines(x + shift) + normal(random); });
        const Curve onto = curveOf(150, [&](double x) { return lines(x) + normal(random); });
        const auto out = applyWith("align", c, onto,
                                   with({{"by", word("curve")},
                                         {"with", Reference{"d7"}},
                                         {"span", Numbers{40, 110}},
                                         {"farthest", 10.0}}));
        EXPECT_NEAR(out.value.curve.x[0] - c.x[0], shift, 0.05);
        const auto peak = apply("align", c, with({{"span", Numbers{45, 75}}, {"at", 60.0}}));
        EXPECT_NEAR(peak.value.curve.x[0], shift, 0.3);
    }
}

// A long curve with itself: no shift, though the first grid of shifts is coarse.
TEST(Align, ACurveIsNotMovedOntoItself) {
    Curve c = curveOf(40000, [](double x) { return 50 + 20 * std::sin(x * 1e-3) + std::fmod(x * 7919, 13); });
    EXPECT_EQ(
        applyWith("align", c, c, with({{"by", word("curve")}, {"with", Reference{"d7"}}})).value.curve.x[0],
        0);
}

TEST(Calibrate, KnownLinesComeToTheirPlaces) {
    const std::vector<double> known = {400.2, 455.1, 512.7, 560.3};
    auto seen = [](double x) { return 1.5 + 0.998 * x + 2e-6 * x * x; }; // what the instrument shows
    Curve c;
    Numbers lines;
    for (int i = 0; i < 2000; ++i) {
        const double x = 390 + 0.1 * i;
        double y = 0;
        for (double k : known) y += std::exp(-0.5 * std::pow((x - seen(k)) / 0.6, 2));
        c.x.push_back(x);
        c.y.push_back(y);
    }
    for (double k : known) lines.push_back(std::round(seen(k))), lines.push_back(k);
    const auto out =
        apply("calibrate", c, with({{"lines", lines}, {"by", word("parabola")}, {"within", 2.0}}));
    EXPECT_TRUE(out.issues.empty());
    for (double k : known) {
        const std::size_t near = nearestPoint(c.x, seen(k));
        EXPECT_NEAR(out.value.curve.x[near] - k, c.x[near] - seen(k), 0.01);
    }
}

TEST(Derivative, OfSineIsCosine) {
    Curve c;
    for (int i = 0; i < 400; ++i)
        c.x.push_back(0.01 * i + 0.001 * std::sin(i)), c.y.push_back(std::sin(c.x.back()));
    const auto first = apply("derivative", c, with({{"window", 7.0}, {"degree", 4.0}}));
    const auto second =
        apply("derivative", c, with({{"window", 11.0}, {"degree", 5.0}, {"order", word("2")}}));
    for (std::size_t i = 0; i < c.size(); ++i) {
        EXPECT_NEAR(first.value.curve.y[i], std::cos(c.x[i]), 1e-5);
        EXPECT_NEAR(second.value.curve.y[i], -std::sin(c.x[i]), 1e-3);
    }
}

// Stripping gives back the single lines from which a doublet was made.
TEST(StripDoublet, GivesTheFirstLineBack) {
    constexpr double first = 1.540593, second = 1.544427;
    auto line = [](double x, double at) { return 1000 * std::exp(-0.5 * std::pow((x - at) / 0.06, 2)); };
    Curve c;
    std::vector<double> clean;
    for (int i = 0; i < 4000; ++i) {
        const double x = 25 + 0.01 * i;
        double a = 20, b = 10;
        for (double d : {3.3, 2.5, 1.9}) {
            auto theta = [&](double wavelength) {
                return 360 / std::numbers::pi * std::asin(wavelength / (2 * d));
            };
            a += line(x, theta(first));
            b += 0.5 * line(x, theta(second));
        }
        c.x.push_back(x);
        c.y.push_back(a + b);
        clean.push_back(a);
    }
    const auto out = apply("strip-doublet", c, {});
    for (std::size_t i = 0; i < c.size(); ++i)
        EXPECT_NEAR(out.value.curve.y[i], clean[i], 12) << c.x[i]; // 1.2 % of a line
}

TEST(Combine, AFittedFactorLeavesNothing) {
    const Curve other = curveOf(50, [](double x) { return 3 + std::sin(x / 5); });
    Curve c = curveOf(50, [](double x) { return 2.5 * (3 + std::sin(x / 5)) + (x > 30 ? 10 : 0); });
    const auto out =
        applyWith("subtract", c, other, with({{"with", Reference{"d7"}}, {"fit-in", Numbers{0, 30}}}));
    for (std::size_t i = 0; i < 30; ++i) EXPECT_NEAR(out.value.curve.y[i], 0, 1e-12);
    EXPECT_NEAR(out.value.curve.y[40], 10, 1e-12);
    // Beyond the other curve there is nothing to take off.
    Curve shorter = other;
    shorter.x.resize(20), shorter.y.resize(20), shorter.sigma.resize(20), shorter.rowIds.resize(20);
    const auto part = applyWith("divide", c, shorter, with({{"with", Reference{"d7"}}}));
    EXPECT_EQ(std::ranges::count(part.value.curve.excluded, 1), 30);
    EXPECT_NEAR(part.value.curve.y[10], 2.5, 1e-12);
}

TEST(Average, OfReplicatesHasTheirScatter) {
    Curve c;
    c.x = {1, 2};
    c.replicates = {{1, 4}, {2, NAN}, {6, 8}};
    c.y = {3, 6};
    const auto sem = apply("average", c, {});
    EXPECT_THAT(sem.value.curve.y, testing::ElementsAre(3, 6));
    EXPECT_NEAR(sem.value.curve.sigma[0], std::sqrt(7.0 / 3), 1e-12); // SD √7 of 1, 2, 6
    EXPECT_NEAR(sem.value.curve.sigma[1], 2, 1e-12);                  // SD √8 of 4, 8 over √2
    EXPECT_EQ(apply("average", c, with({{"statistic", word("median")}})).value.curve.y[0], 2);
    EXPECT_TRUE(sem.value.curve.replicates.empty());
}

TEST(JoinPieces, AFactorBringsScansTogether) {
    auto f = [](double x) { return 50 * std::exp(-x / 20); };
    const Curve low = curveOf(40, f);
    Curve high = curveOf(40, [&](double x) { return f(x + 25) / 8; });
    for (double& x : high.x) x += 25;
    for (const char* overlap : {"all", "blend", "first"}) {
        const auto out = applyWith(
            "join-pieces", low, high,
            with({{"with", References{{"d7"}}}, {"match", word("factor")}, {"overlap", word(overlap)}}));
        EXPECT_EQ(out.value.curve.size(), std::string_view(overlap) == "all" ? 80U : 65U);
        for (std::size_t i = 0; i < out.value.curve.size(); ++i)
            EXPECT_NEAR(out.value.curve.y[i], f(out.value.curve.x[i]), 1e-9) << overlap;
    }
}

// Two flat scans of different height: whatever ends where, the joined curve has no step, and is the one scan
// where only that goes.
TEST(JoinPieces, GoingOverEvenlyLeavesNoStep) {
    const std::pair<double, double> reaches[] = {{-20, 10}, {10, 20}, {20, 60}, {-20, 60}, {0, 40}, {0, 60}};
    for (const auto& [low, high] : reaches) {
        const Curve flat = curveOf(41, [](double) { return 1.0; });
        Curve more;
        for (double x = low; x <= high; x += 0.5) more.x.push_back(x), more.y.push_back(3);
        const auto out = applyWith("join-pieces", flat, more,
                                   with({{"with", References{{"d7"}}}, {"overlap", word("blend")}}));
        const Curve& c = out.value.curve;
        for (std::size_t i = 1; i < c.size(); ++i) {
            EXPECT_LE(std::abs(c.y[i] - c.y[i - 1]), 2 * (c.x[i] - c.x[i - 1]) / 5 + 1e-9)
                << low << " " << c.x[i];
            const bool flatThere = c.x[i] >= 0 && c.x[i] <= 40, moreThere = c.x[i] >= low && c.x[i] <= high;
            if (flatThere != moreThere) { EXPECT_EQ(c.y[i], flatThere ? 1 : 3); }
        }
    }
}

// The standard deviation of the median of many normal readings is √(π/2) times that of their mean; of two it
// is the mean.
TEST(Average, ACarriedUncertaintyOfTheMedianIsThatOfTheMedian) {
    for (const int n : {2, 101}) {
        Curve c;
        c.x = {1};
        c.sigma = {0.5 / std::sqrt(n)}; // of the mean of the replicates
        std::mt19937 random(5);
        std::normal_distribution<double> normal;
        for (int k = 0; k < n; ++k) c.replicates.push_back({normal(random)});
        c.y = {0};
        const Settings median = with({{"statistic", word("median")}, {"uncertainty", word("carried")}});
        EXPECT_NEAR(apply("average", c, median).value.curve.sigma[0],
                    0.5 / std::sqrt(n) * (n > 2 ? std::sqrt(std::numbers::pi / 2) : 1), 1e-12);
    }
}
