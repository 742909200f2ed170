// SPDX-License-Identifier: GPL-3.0-or-later
// Surfaces through scattered places: exact at the places, exact for planes, nothing outside.
#include "fields/scattered.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

namespace jointer::fields {

namespace {

Scatter someScatter(std::size_t n, unsigned seed, const auto& z) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> x(-3, 5), y(100, 900); // units far apart
    Scatter s;
    for (std::size_t k = 0; k < n; ++k) {
        s.x.push_back(x(random));
        s.y.push_back(y(random));
        s.z.push_back(z(s.x.back(), s.y.back()));
    }
    return s;
}

std::vector<Place> placesOf(const Scatter& s) {
    std::vector<Place> at;
    for (std::size_t k = 0; k < s.x.size(); ++k) at.push_back({s.x[k], s.y[k]});
    return at;
}

} // namespace

class EveryInterpolation : public testing::TestWithParam<Interpolation> {};

TEST_P(EveryInterpolation, IsExactAtThePlaces) {
    const Scatter s =
        someScatter(300, 3, [](double x, double y) { return std::sin(2 * x) + std::cos(y / 90); });
    const auto at = interpolated(s, {.by = GetParam()}, placesOf(s));
    for (std::size_t k = 0; k < s.z.size(); ++k) EXPECT_NEAR(at.value[k], s.z[k], 1e-8) << k;
}

TEST_P(EveryInterpolation, MeetsPlanesEverywhere) {
    const auto plane = [](double x, double y) { return 2 + 3 * x - 0.01 * y; };
    const Scatter s = someScatter(150, 5, plane);
    const auto grid = gridded(s, {.by = GetParam(), .columns = 23, .rows = 31, .beyondHull = false});
    ASSERT_FALSE(grid.value.isEmpty());
    const Scatter inner = someScatter(200, 9, plane);
    const auto at = interpolated(s, {.by = GetParam()}, placesOf(inner));
    std::size_t inside = 0;
    for (std::size_t k = 0; k < inner.z.size(); ++k) {
        if (!std::isfinite(at.value[k])) continue;
        ++inside;
        EXPECT_NEAR(at.value[k], inner.z[k], 1e-8) << k;
    }
    EXPECT_GT(inside, 150U);
}

INSTANTIATE_TEST_SUITE_P(Scattered, EveryInterpolation,
                         testing::Values(Interpolation::NaturalNeighbour, Interpolation::Flat,
                                         Interpolation::ThinPlate));

namespace {

// The digits of k, mirrored at the point: places that fill a square evenly.
double mirrored(int k, int base) {
    double share = 1, out = 0;
    for (; k > 0; k /= base) {
        share /= base;
        out += share * (k % base);
    }
    return out;
}

} // namespace

// Values of other programs at ten places among the corners of the unit square and 24 places within it.
// Sources: natural neighbours by the areas of Voronoi cells clipped half-plane by half-plane (NumPy 1.24);
// flat by LinearNDInterpolator, plates with smoothing 0 and 0.05 by RBFInterpolator of SciPy 1.10.
TEST(Scattered, AgreesWithOtherPrograms) {
    Scatter s{{0, 1, 0, 1}, {0, 0, 1, 1}, {}};
    for (int k = 1; k <= 24; ++k) {
        s.x.push_back(mirrored(k, 2));
        s.y.push_back(mirrored(k, 3));
    }
    for (std::size_t k = 0; k < s.x.size(); ++k)
        s.z.push_back(std::sin(3 * s.x[k]) + s.y[k] * s.y[k] - s.x[k] * s.y[k]);
    const struct {
        double x, y, natural, flat, plate, smooth;
    } known[] = {
        {0.60000000000000009, 0.42857142857142855, 0.849530899911, 0.855261635611, 0.899883946093,
         0.891865144273},
        {0.80000000000000004, 0.5714285714285714, 0.530480760006, 0.528877755698, 0.533523451036,
         0.543106086709},
        {0.040000000000000001, 0.71428571428571419, 0.627262366588, 0.623584236695, 0.621876804681,
         0.658972662800},
        {0.24000000000000002, 0.8571428571428571, 1.079488962673, 1.088264585611, 1.158663090203,
         1.140139087542},
        {0.44, 0.020408163265306121, 0.497464573494, 0.554901352843, 0.930616470876, 0.867797136463},
        {0.64000000000000012, 0.16326530612244897, 0.852369775905, 0.855739596696, 0.866906721291,
         0.857881848892},
        {0.84000000000000008, 0.30612244897959184, 0.406750657662, 0.398775330956, 0.406014564013,
         0.427808811107},
        {0.080000000000000002, 0.44897959183673469, 0.420606787906, 0.420579589688, 0.410700919727,
         0.432160615111},
        {0.28000000000000003, 0.59183673469387754, 0.914002151338, 0.909272005015, 0.927001008010,
         0.917997084662},
        {0.48000000000000004, 0.73469387755102034, 1.145693554974, 1.154891898876, 1.183544179646,
         1.180859402643},
    };
    std::vector<Place> at;
    for (const auto& k : known) at.push_back({k.x, k.y});
    const auto values = [&](Interpolation by, double smoothing) {
        return interpolated(s, {.by = by, .smoothing = smoothing}, at).value;
    };
    const auto natural = values(Interpolation::NaturalNeighbour, 0), flat = values(Interpolation::Flat, 0),
               plate = values(Interpolation::ThinPlate, 0), smooth = values(Interpolation::ThinPlate, 0.05);
    for (std::size_t k = 0; k < at.size(); ++k) {
        if (k == 4) { // in a sliver at the border, where nothing is shown
            EXPECT_TRUE(std::isnan(natural[k]) && std::isnan(flat[k]));
        } else {
            EXPECT_NEAR(natural[k], known[k].natural, 1e-9) << k;
            EXPECT_NEAR(flat[k], known[k].flat, 1e-9) << k;
        }
        EXPECT_NEAR(plate[k], known[k].plate, 1e-9) << k;
        EXPECT_NEAR(smooth[k], known[k].smooth, 1e-9) << k;
    }
}

TEST(Scattered, StaysWithinTheHull) {
    const Scatter s{{0, 1, 0, 1, 0.5}, {0, 0, 1, 1, 0.5}, {1, 2, 3, 4, 10}};
    const auto at = interpolated(s, {}, {{0.5, 0.5}, {-0.1, 0.5}, {2, 2}, {0, 0.5}});
    EXPECT_NEAR(at.value[0], 10, 1e-12);
    EXPECT_TRUE(std::isnan(at.value[1]));
    EXPECT_TRUE(std::isnan(at.value[2]));
    EXPECT_NEAR(at.value[3], 2, 1e-9) << "half way along the edge";
    EXPECT_EQ(gridded(s, {}).value.outline.size(), 4U);
    EXPECT_TRUE(gridded(s, {.beyondHull = true}).value.outline.empty());
}

// The flat triangle along the lower side bridges places that have nothing to do with each other.
TEST(Scattered, LeavesSliversAtTheBorderAway) {
    const Scatter s{{0, 1, 1, 0, 0.5}, {0, 0, 1, 1, 0.02}, {1, 2, 3, 4, 10}};
    const auto outline = gridded(s, {}).value.outline;
    ASSERT_EQ(outline.size(), 5U);
    double area = 0; // counter-clockwise
    for (std::size_t k = 0; k < outline.size(); ++k) {
        const Place a = outline[k], b = outline[(k + 1) % outline.size()];
        area += (a.x * b.y - b.x * a.y) / 2;
    }
    EXPECT_NEAR(area, 1 - 0.02 / 2, 1e-12);
    const auto at = interpolated(s, {}, {{0.5, 0.005}, {0.5, 0.5}, {0.25, 0.01}});
    EXPECT_TRUE(std::isnan(at.value[0]));
    EXPECT_TRUE(std::isfinite(at.value[1]));
    EXPECT_NEAR(at.value[2], 5.5, 1e-6) << "half way along the new border";
}

// Natural neighbours never leave the range of the values; a smoothed plate comes near noisy values.
TEST(Scattered, KeepsWhatEachKindPromises) {
    std::mt19937 random(2);
    std::normal_distribution<double> noise(0, 0.3);
    const Scatter s = someScatter(400, 8, [&](double x, double) { return x + noise(random); });
    const auto natural = gridded(s, {.columns = 40, .rows = 40});
    const auto [low, high] = std::ranges::minmax(s.z);
    const auto extent = *natural.value.extent();
    EXPECT_GE(extent.first, low - 1e-9);
    EXPECT_LE(extent.second, high + 1e-9);
    const auto through = interpolated(s, {.by = Interpolation::ThinPlate}, placesOf(s)),
               near = interpolated(s, {.by = Interpolation::ThinPlate, .smoothing = 5}, placesOf(s));
    double rough = 0, error = 0;
    for (std::size_t k = 0; k < s.z.size(); ++k) {
        rough += std::pow(through.value[k] - s.x[k], 2);
        error += std::pow(near.value[k] - s.x[k], 2);
    }
    EXPECT_LT(error, 0.2 * rough) << "smoothing brings the truth nearer";
}

TEST(Scattered, SaysWhatIsNoSurface) {
    EXPECT_EQ(gridded({{0, 1}, {0, 1}, {0, 1}}, {}).issues.at(0).code, "few-places");
    EXPECT_EQ(gridded({{0, 1, 2, 3}, {0, 1, 2, 3}, {0, 1, 5, 1}}, {}).issues.at(0).code, "one-line");
    EXPECT_EQ(gridded({{0, 0, 0, 0}, {0, 1, 2, 3}, {0, 1, 5, 1}}, {}).issues.at(0).code, "one-line");
    const auto twice = gridded({{0, 1, 0, 0}, {0, 0, 1, 0}, {1, 5, 5, 3}}, {});
    EXPECT_EQ(twice.issues.at(0).code, "repeated-places");
    EXPECT_NEAR(valueAt(twice.value, 0, 0), 2, 1e-9);
    EXPECT_TRUE(gridded({{0, NAN, 0, 1}, {0, 0, 1, 0}, {1, 5, NAN, INFINITY}}, {}).value.isEmpty());
}

} // namespace jointer::fields
