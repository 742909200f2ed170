// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/peak_finding.h"

#include <algorithm>
#include <cmath>
#include <gmock/gmock.h>
#include <random>

using namespace jointer::fit;

namespace {

struct Line {
    std::vector<double> x, y;
};

Line noise(std::size_t n, double sd, unsigned seed) {
    std::mt19937 random(seed);
    std::normal_distribution<double> e(0, sd);
    Line l;
    for (std::size_t i = 0; i < n; ++i) {
        l.x.push_back(static_cast<double>(i));
        l.y.push_back(e(random));
    }
    return l;
}
void add(Line& l, double place, double height, double width) {
    for (std::size_t i = 0; i < l.x.size(); ++i)
        l.y[i] += height * std::exp(-4 * std::log(2) * std::pow((l.x[i] - place) / width, 2));
}

} // namespace

TEST(PeakFinding, KnowsTheNoiseUnderPeaks) {
    for (unsigned seed = 0; seed < 5; ++seed) {
        Line l = noise(2000, 0.7, seed);
        for (int k = 0; k < 30; ++k) add(l, 60.0 * k + 40, 50, 20);
        EXPECT_NEAR(noiseOf(l.y), 0.7, 0.08);
    }
    EXPECT_EQ(noiseOf(std::vector<double>(50, 3.0)), 0);
    EXPECT_EQ(noiseOf({}), 0);
}

TEST(PeakFinding, SeesNoneInNoise) {
    std::size_t found = 0;
    for (unsigned seed = 0; seed < 60; ++seed)
        for (const std::size_t n : {100U, 1000U, 5000U}) {
            const Line l = noise(n, 1, seed);
            found += findPeaks(l.x, l.y, {.direction = Direction::Both}).size();
        }
    EXPECT_LE(found, 1U);
}

TEST(PeakFinding, SeesShouldersAndPeaksOnSlopes) {
    Line l = noise(600, 0.3, 3);
    add(l, 200, 40, 30);
    add(l, 232, 12, 30); // no maximum of its own
    add(l, 450, 15, 20);
    for (std::size_t i = 0; i < l.y.size(); ++i) l.y[i] += 30 - 0.05 * l.x[i];
    const auto peaks = findPeaks(l.x, l.y);
    ASSERT_EQ(peaks.size(), 3U);
    EXPECT_NEAR(peaks[0].place, 200, 3);
    EXPECT_NEAR(peaks[1].place, 233, 6);
    EXPECT_NEAR(peaks[2].place, 450, 2);
    EXPECT_NEAR(peaks[2].width, 20, 6);
    EXPECT_NEAR(peaks[2].height, 15, 4);
    EXPECT_EQ(findPeaks(l.x, l.y, {.most = 2}).size(), 2U);
    EXPECT_EQ(findPeaks(l.x, l.y, {.prominence = 0.9}).size(), 1U);
    for (double& v : l.y) v = -v;
    EXPECT_EQ(findPeaks(l.x, l.y, {.direction = Direction::Down}).size(), 3U);
    for (const FoundPeak& p : findPeaks(l.x, l.y, {.direction = Direction::Down})) EXPECT_LT(p.height, 0);
}

// The same in other units, at other distances, with points missing, and turned round.
TEST(PeakFinding, DoesNotDependOnUnits) {
    Line l = noise(800, 0.5, 5);
    for (const double place : {120.0, 300.0, 345.0, 610.0}) add(l, place, 20, 25);
    const auto first = findPeaks(l.x, l.y);
    ASSERT_EQ(first.size(), 4U);
    Line other = l;
    for (double& x : other.x) x = 1e-7 * x - 3;
    for (double& y : other.y) y = 1e9 * y + 4e10;
    const auto again = findPeaks(other.x, other.y);
    ASSERT_EQ(again.size(), 4U);
    for (std::size_t k = 0; k < 4; ++k) {
        EXPECT_NEAR((again[k].place + 3) * 1e7, first[k].place, 1e-3);
        EXPECT_NEAR(again[k].signalToNoise, first[k].signalToNoise, 1e-3 * first[k].signalToNoise);
    }
    std::mt19937 random(2);
    Line holes;
    for (std::size_t i = 0; i < l.x.size(); ++i)
        if (random() % 4) holes.x.push_back(l.x[i]), holes.y.push_back(random() % 50 ? l.y[i] : NAN);
    EXPECT_EQ(findPeaks(holes.x, holes.y).size(), 4U);
}

TEST(PeakFinding, TakesAnyCurve) {
    for (const std::size_t n : {0U, 1U, 2U, 4U, 5U, 6U, 9U, 30U}) {
        const Line l = noise(n, 1, 1);
        EXPECT_LE(findPeaks(l.x, l.y).size(), n);
        (void)peakAt(l.x, l.y, 2, true);
    }
    const Line l = noise(50, 1, 1);
    EXPECT_TRUE(findPeaks(l.x, std::vector<double>(50, 7.0)).empty());
    EXPECT_TRUE(findPeaks(l.x, std::vector<double>(50, NAN)).empty());
    EXPECT_TRUE(findPeaks(std::vector<double>(50, 1.0), l.y).empty());
    std::vector<double> huge(50, 1e308);
    huge[20] = -1e308;
    (void)findPeaks(l.x, huge);
    // Without noise every bend is seen: the peaks themselves and nothing else.
    Line clean = noise(300, 0, 1);
    add(clean, 100, 5, 20);
    add(clean, 200, 3, 20);
    EXPECT_EQ(findPeaks(clean.x, clean.y, {.most = 2}).size(), 2U);
}

TEST(PeakFinding, ReadsWhereAHandPoints) {
    Line l = noise(400, 0.2, 9);
    add(l, 150, 10, 30);
    const FoundPeak snapped = peakAt(l.x, l.y, 144, true), free = peakAt(l.x, l.y, 144, false);
    EXPECT_NEAR(snapped.place, 150, 2);
    EXPECT_EQ(free.place, 144);
    EXPECT_NEAR(free.width, 30, 9);
    const FoundPeak nowhere = peakAt(l.x, l.y, 320, true);
    EXPECT_EQ(nowhere.place, 320);
    EXPECT_GT(nowhere.width, 0);
    EXPECT_GT(nowhere.height, 0);
    EXPECT_LT(peakAt(l.x, l.y, 320, true, Direction::Down).height, 0);
}

// Noise on the tops of wide peaks of many points is no needle; six are six.
TEST(PeakFinding, SeesNoNeedlesOnWidePeaks) {
    std::size_t wrong = 0;
    for (unsigned seed = 1; seed <= 120; ++seed) {
        std::mt19937 random(seed);
        std::normal_distribution<double> e(0, 6);
        std::uniform_real_distribution<double> u(200, 900);
        std::vector<double> x, y;
        for (int i = 0; i < 2000; ++i) {
            x.push_back(200 + 0.5 * i);
            y.push_back(50 + 0.02 * x.back() + e(random));
        }
        for (int k = 0; k < 6; ++k) {
            const double height = u(random), centre = 280 + 150 * k;
            for (std::size_t i = 0; i < x.size(); ++i) {
                const double t = (x[i] - centre) / 26;
                y[i] += height * (0.7 * std::exp(-4 * std::log(2) * t * t) + 0.3 / (1 + 4 * t * t));
            }
        }
        wrong += findPeaks(x, y, {}).size() != 6;
    }
    EXPECT_LE(wrong, 2U);
}
