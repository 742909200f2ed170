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
