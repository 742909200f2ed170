// SPDX-License-Identifier: GPL-3.0-or-later
// The same curve in other units gives the same peaks, areas and numbers of a summary in those units.
#include "support/peak_pictures.h"

#include <cmath>
#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::analyses;
using namespace jointer::test;

namespace {

struct Units {
    double x, y;
};
const Units kUnits[] = {{1000, 1}, {1e-3, 1}, {1, 1e6}, {1, 1e-9}, {2.54, 0.3048}, {1e4, 1e-4}};

// Three lines on a slope, with noise that is the same in all units.
Curve curveIn(const Units& u) {
    Curve c = curveOf({}, {});
    std::mt19937 random(17);
    std::normal_distribution<double> noise(0, 0.15);
    for (int i = 0; i <= 600; ++i) {
        const double x = 0.2 * i;
        double y = 4 + 0.02 * x;
        for (const auto& [at, height, width] :
             {std::array{30.0, 20.0, 5.0}, {52.0, 12.0, 7.0}, {90.0, 16.0, 4.0}})
            y += height * std::exp(-4 * std::log(2) * std::pow((x - at) / width, 2));
        c.x.push_back(u.x * x);
        c.y.push_back(u.y * (y + noise(random)));
    }
    return c;
}

// How a number of this unit grows: by x, y, both, or not at all.
double factorOf(std::string_view name, const Units& u) {
    if (name.find("share") != name.npos) return 1;
    if (name.find("area") != name.npos) return u.x * u.y;
    if (name.find("height") != name.npos) return u.y;
    for (const char* along : {"centre", "fwhm", "maximum", "width", "centroid", "apex", "place"})
        if (name.find(along) != name.npos) return u.x;
    return NAN; // of another sort
}

void expectScaled(const AnalysisResult& plain, const AnalysisResult& scaled, const Units& u, double within) {
    ASSERT_EQ(plain.quantities.size(), scaled.quantities.size());
    std::size_t compared = 0;
    for (std::size_t k = 0; k < plain.quantities.size(); ++k) {
        const Quantity &a = plain.quantities[k], &b = scaled.quantities[k];
        const double factor = factorOf(a.label, u);
        if (std::isnan(factor) || !std::isfinite(a.value) || std::abs(a.value) < 1e-6) continue; // on a limit
        EXPECT_EQ(a.key, b.key);
        EXPECT_NEAR(b.value / (factor * a.value), 1, within) << a.key << " in units " << u.x << ", " << u.y;
        if (std::isfinite(a.se) && a.se > 0) {
            EXPECT_NEAR(b.se / (factor * a.se), 1, 20 * within) << "error of " << a.key;
        }
        ++compared;
    }
    EXPECT_GT(compared, 2U);
}

} // namespace

TEST(AnalysesInUnits, PeaksAreFoundAndFittedAlike) {
    for (const char* shape : {"gaussian", "lorentzian", "pseudo-voigt"}) {
        const PeaksRun plain = runPeaks(curveIn({1, 1}), peaksOf(shape));
        EXPECT_EQ(plain.detail().plan.peaks.size(), 3U) << shape;
        for (const Units& u : kUnits) {
            const PeaksRun scaled = runPeaks(curveIn(u), peaksOf(shape));
            ASSERT_EQ(scaled.detail().plan.peaks.size(), 3U) << shape << " " << u.x << " " << u.y;
            expectScaled(*plain.result, *scaled.result, u, 2e-4);
        }
    }
}

// Moved along x, and turned over: places move, widths and areas stay.
TEST(AnalysesInUnits, PeaksFollowAShift) {
    const PeaksRun plain = runPeaks(curveIn({1, 1}), peaksOf("gaussian"));
    for (const double by : {-500.0, 25.0, 1e4}) {
        Curve c = curveIn({1, 1});
        for (double& x : c.x) x += by;
        const PeaksRun moved = runPeaks(c, peaksOf("gaussian"));
        ASSERT_EQ(moved.detail().plan.peaks.size(), 3U) << by;
        for (std::size_t k = 0; k < 3; ++k) {
            const PeakNumbers &a = plain.detail().numbers[k], &b = moved.detail().numbers[k];
            EXPECT_NEAR(b.centre.value - by, a.centre.value, 1e-3);
            EXPECT_NEAR(b.fwhm.value / a.fwhm.value, 1, 1e-3);
            EXPECT_NEAR(b.area.value / a.area.value, 1, 1e-3);
        }
    }
}

TEST(AnalysesInUnits, TurnedOverPeaksAreDips) {
    const PeaksRun plain = runPeaks(curveIn({1, 1}), peaksOf("gaussian"));
    Curve c = curveIn({1, 1});
    for (double& y : c.y) y = -y;
    const PeaksRun dips = runPeaks(c, peaksOf("gaussian", {{"direction", "down"}}));
    ASSERT_EQ(dips.detail().plan.peaks.size(), 3U);
    for (std::size_t k = 0; k < 3; ++k) {
        EXPECT_NEAR(dips.detail().numbers[k].centre.value, plain.detail().numbers[k].centre.value, 1e-3);
        EXPECT_NEAR(dips.detail().numbers[k].height.value, -plain.detail().numbers[k].height.value, 1e-2);
    }
}
