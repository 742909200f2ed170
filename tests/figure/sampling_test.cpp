// SPDX-License-Identifier: GPL-3.0-or-later
// Curves are asked where they turn: what is drawn misses them by less than a hair, and smooth ones cost no more.
#include "figure/marks/sampling.h"

#include "figure/marks/parts.h"
#include "support/drawn.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

using namespace jointer;
using namespace jointer::figure;

namespace {

struct Line {
    double place, width, height;
};

AskedAt patternOf(const std::vector<Line>& lines, bool lorentzian) {
    return [lines, lorentzian](const std::vector<double>& xs) {
        std::vector<double> ys;
        for (double x : xs) {
            double y = 1;
            for (const Line& l : lines) {
                const double u = 2 * (x - l.place) / l.width;
                y += l.height * (lorentzian ? 1 / (1 + u * u) : std::exp(-std::log(2.0) * u * u));
            }
            ys.push_back(y);
        }
        return ys;
    };
}

// How far the straight pieces miss the curve at worst, looked at very closely.
double worst(const Sampling& s, const AskedAt& curve) {
    double most = 0;
    std::vector<double> at;
    for (std::size_t i = 0; i + 1 < s.xs.size(); ++i)
        for (const double share : {0.25, 0.5, 0.75}) at.push_back(std::lerp(s.xs[i], s.xs[i + 1], share));
    const std::vector<double> ys = curve(at);
    for (std::size_t k = 0; k < at.size(); ++k) {
        const std::size_t i = k / 3;
        const double share = 0.25 * static_cast<double>(k % 3 + 1);
        most = std::max(most, std::abs(std::lerp(s.ys[i], s.ys[i + 1], share) - ys[k]));
    }
    return most;
}

} // namespace

TEST(Sampling, NarrowLinesOfWidePatternsAreDrawnToTheirTops) {
    for (unsigned seed = 0; seed < 60; ++seed) {
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> u(0, 1);
        const double points = std::pow(10, 3 + 2 * u(random)), spacing = 70 / points;
        std::vector<Line> lines;
        double highest = 0;
        for (int k = 0; k < 12; ++k) {
            lines.push_back({12 + 66 * u(random), spacing * (8 + 40 * u(random)), std::pow(10, 2 * u(random))});
            highest = std::max(highest, lines.back().height);
        }
        const AskedAt curve = patternOf(lines, seed % 2);
        std::vector<double> seeds;
        for (double x = 10; x < 80; x += spacing) seeds.push_back(x);
        const Sampling s = sampledWell(curve, evenly(10, 80, kEvenPlaces), seeds);
        ASSERT_EQ(s.xs.size(), s.ys.size());
        EXPECT_EQ(s.xs.front(), 10);
        EXPECT_EQ(s.xs.back(), 80);
        EXPECT_TRUE(std::ranges::is_sorted(s.xs, std::ranges::less_equal{}));
        EXPECT_LT(worst(s, curve), 1.5e-3 * highest) << "seed " << seed;
        EXPECT_LT(s.xs.size(), 6000u) << "seed " << seed;
        for (const Line& l : lines) { // also each top by itself
            const auto i = static_cast<std::size_t>(std::ranges::lower_bound(s.xs, l.place) - s.xs.begin());
            const double share = (l.place - s.xs[i - 1]) / (s.xs[i] - s.xs[i - 1]);
            EXPECT_NEAR(std::lerp(s.ys[i - 1], s.ys[i], share), curve({l.place})[0], 1.5e-3 * highest)
                << "seed " << seed;
        }
    }
}

TEST(Sampling, SmoothCurvesAreAskedEvenly) {
    const AskedAt line = [](const std::vector<double>& xs) {
        std::vector<double> ys;
        for (double x : xs) ys.push_back(std::sin(x) + 0.2 * x);
        return ys;
    };
    std::vector<double> seeds;
    for (int k = 0; k < 3000; ++k) seeds.push_back(0.0033 * k);
    // A few more near nought, for logarithmic axes.
    EXPECT_LT(sampledWell(line, evenly(0, 10, kEvenPlaces), seeds).xs.size(), 640u);
    EXPECT_LT(sampledWell(line, evenly(0, 10, kEvenPlaces), {}).xs.size(), 640u);
}

TEST(Sampling, TakesCurvesThatEndOrJumpOrAreNothing) {
    const AskedAt odd = [](const std::vector<double>& xs) {
        std::vector<double> ys;
        for (double x : xs) ys.push_back(x < 3 ? NAN : x < 5 ? 1 : x < 7 ? 1e300 : -INFINITY);
        return ys;
    };
    const Sampling s = sampledWell(odd, evenly(0, 10, kEvenPlaces), std::vector<double>{1, 2, 3, 4, 5, 6, 7});
    EXPECT_LT(s.xs.size(), 700u);
    EXPECT_TRUE(std::ranges::is_sorted(s.xs, std::ranges::less_equal{}));
    EXPECT_TRUE(sampledWell(odd, {}, {}).xs.empty());
    EXPECT_TRUE(sampledWell(odd, {2, 2, 2}, {}).xs.empty());
    const double next = std::nextafter(2.0, 3.0);
    EXPECT_EQ(sampledWell(odd, {2, next}, std::vector<double>{1, 2, 3}).xs.size(), 2u);
    const Sampling flat = sampledWell([](const auto& xs) { return std::vector<double>(xs.size(), 4.0); },
                                      evenly(0, 1, 10), {});
    EXPECT_EQ(flat.xs.size(), 11u);
}

// As a diffraction pattern on one page: what is drawn of each line reaches its top, and wings that nobody could see
// are left out.
TEST(Sampling, AWidePatternOnAPageHasItsTops) {
    std::mt19937 random(7);
    std::normal_distribution<double> noise(0, 0.5);
    test::Drawing d;
    std::vector<double> x, y;
    const std::vector<Line> lines = {{23.017, 0.13, 200}, {38.4443, 0.13, 400}, {61.003, 0.16, 120}};
    for (int i = 0; i < 3500; ++i) x.push_back(10 + 0.02 * i);
    y = patternOf(lines, false)(x);
    for (double& v : y) v += 10 + noise(random);
    d.data(x, y);
    Analysis peaks{.kind = "peaks", .inputs = {{.dataset = d.p.datasets[0].id}}, .model = {.kind = "gaussian"}};
    d.p = *edits::addAnalysis(std::move(peaks)).apply(d.p);
    const std::string source = d.p.analyses[0].id.text();
    d.lay({newMark("curve", source), newMark("components", source)});
    std::vector<double> tops;
    double covered = 0;
    for (const draw::Path& path : d.paths(1))
        for (const draw::Polyline& line : path.lines) {
            double top = 0, left = 100, right = 0;
            for (const auto& [px, py] : d.values(line)) {
                top = std::max(top, py);
                left = std::min(left, px);
                right = std::max(right, px);
            }
            tops.push_back(top);
            covered += right - left;
        }
    ASSERT_EQ(tops.size(), lines.size());
    for (std::size_t k = 0; k < lines.size(); ++k) EXPECT_NEAR(tops[k], lines[k].height + 11, 1.5) << k;
    EXPECT_LT(covered, 3);
    const test::Values curve = d.values(d.paths(0).at(0).lines[0]);
    for (const Line& l : lines) {
        double top = 0;
        for (const auto& [px, py] : curve)
            if (std::abs(px - l.place) < l.width) top = std::max(top, py);
        EXPECT_NEAR(top, l.height + 11, 1.5) << l.place;
    }
}
