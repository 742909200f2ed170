// SPDX-License-Identifier: GPL-3.0-or-later
// Contours against closed forms, and what must hold for all of them: closed, not crossing, no gaps between
// cells.
#include "fields/contours.h"

#include <cmath>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <map>
#include <numbers>
#include <random>
#include <set>

namespace jointer::fields {

namespace {

Field fieldOf(std::size_t columns, std::size_t rows, double low, double high, const auto& z) {
    Field f;
    for (std::size_t i = 0; i < columns; ++i)
        f.x.push_back(std::lerp(low, high, static_cast<double>(i) / static_cast<double>(columns - 1)));
    for (std::size_t j = 0; j < rows; ++j)
        f.y.push_back(std::lerp(low, high, static_cast<double>(j) / static_cast<double>(rows - 1)));
    for (const double y : f.y)
        for (const double x : f.x) f.z.push_back(z(x, y));
    return f;
}

double areaOf(const std::vector<ContourLine>& rings) {
    double area = 0;
    for (const ContourLine& ring : rings)
        for (std::size_t k = 0; k < ring.points.size(); ++k) {
            const Place a = ring.points[k], b = ring.points[(k + 1) % ring.points.size()];
            area += (a.x * b.y - b.x * a.y) / 2;
        }
    return area;
}

double lengthOf(const ContourLine& line) {
    double length = 0;
    const std::size_t n = line.points.size();
    for (std::size_t k = 0; k + (line.closed ? 0 : 1) < n; ++k) {
        const Place a = line.points[k], b = line.points[(k + 1) % n];
        length += std::hypot(b.x - a.x, b.y - a.y);
    }
    return length;
}

Field randomField(unsigned seed, bool holes) {
    std::mt19937 random(seed);
    std::normal_distribution<double> normal;
    std::uniform_int_distribution<int> size(2, 14);
    const auto columns = static_cast<std::size_t>(size(random)),
               rows = static_cast<std::size_t>(size(random));
    return fieldOf(columns, rows, -1, 1, [&](double, double) {
        if (holes && random() % 9 == 0) return std::nan("");
        return seed % 3 == 0 ? std::round(normal(random)) : normal(random); // many nodes just at a level
    });
}

} // namespace

TEST(Contours, ACircleHasItsAreaAndPerimeter) {
    const Field f = fieldOf(401, 401, -2, 2, [](double x, double y) { return x * x + y * y; });
    const auto lines = contourLines(f, {1.0, 2.25});
    for (const auto& [k, radius] : {std::pair(std::size_t{0}, 1.0), std::pair(std::size_t{1}, 1.5)}) {
        ASSERT_EQ(lines[k].size(), 1U);
        EXPECT_TRUE(lines[k][0].closed);
        EXPECT_NEAR(lengthOf(lines[k][0]), 2 * std::numbers::pi * radius, 1e-4);
        EXPECT_NEAR(areaOf(lines[k]), -std::numbers::pi * radius * radius, 1e-3)
            << "higher ground at the left: outside";
    }
    const auto regions = regionsAbove(f, {1.0, -INFINITY});
    EXPECT_NEAR(areaOf(regions[0]), 16 - std::numbers::pi, 1e-3);
    EXPECT_NEAR(areaOf(regions[1]), 16, 1e-12);
}

// The area above a level of a plane over a square, in closed form.
TEST(Contours, AreasAboveAPlaneAreExact) {
    const Field f = fieldOf(7, 5, 0, 1, [](double x, double y) { return x + y; });
    std::vector<double> levels;
    for (int k = 0; k <= 40; ++k) levels.push_back(k / 20.0);
    const auto regions = regionsAbove(f, levels);
    for (std::size_t k = 0; k < levels.size(); ++k) {
        const double l = levels[k];
        const double below = l <= 1 ? l * l / 2 : 1 - (2 - l) * (2 - l) / 2;
        EXPECT_NEAR(areaOf(regions[k]), 1 - below, 1e-12) << l;
    }
}

// What holds for any field: rings are closed, open lines end at the border, points lie at the level by
// interpolation, areas fall as the level rises, and the area above all is that of the whole cells.
TEST(Contours, HoldWhatMustHoldForRandomFields) {
    for (unsigned seed = 0; seed < 400; ++seed) {
        const Field f = randomField(seed, seed % 2 == 1);
        const std::vector<double> levels{-INFINITY, -1.0, -0.3, 0.0, 0.5, 1.0, 2.0};
        const auto regions = regionsAbove(f, levels);
        const auto lines = contourLines(f, levels);
        double cells = 0;
        for (std::size_t j = 0; j + 1 < f.rows(); ++j)
            for (std::size_t i = 0; i + 1 < f.columns(); ++i)
                if (std::isfinite(f.at(i, j) + f.at(i + 1, j) + f.at(i, j + 1) + f.at(i + 1, j + 1)))
                    cells += (f.x[i + 1] - f.x[i]) * (f.y[j + 1] - f.y[j]);
        ASSERT_NEAR(areaOf(regions[0]), cells, 1e-9) << seed;
        for (std::size_t k = 0; k < levels.size(); ++k) {
            for (const ContourLine& ring : regions[k])
                ASSERT_TRUE(ring.closed) << seed << " level " << levels[k];
            if (k > 0) {
                ASSERT_LE(areaOf(regions[k]), areaOf(regions[k - 1]) + 1e-9) << seed;
            }
            if (k == 0) continue;
            for (const ContourLine& line : lines[k])
                for (const Place p : line.points) {
                    const double z =
                        valueAt(f, p.x, p.y); // NaN on a side between a whole cell and a missing one
                    if (std::isfinite(z)) {
                        ASSERT_NEAR(z, levels[k], 1e-9) << seed;
                    }
                }
        }
    }
}

// On each side of the grid levels are met in order: so no line of one crosses that of another.
TEST(Contours, DoNotCrossEachOther) {
    const auto crosses = [](Place a, Place b, Place c, Place d) {
        const auto turn = [](Place p, Place q, Place r) {
            return (q.x - p.x) * (r.y - p.y) - (q.y - p.y) * (r.x - p.x);
        };
        constexpr double hair = 1e-13;
        const double t1 = turn(a, b, c), t2 = turn(a, b, d), t3 = turn(c, d, a), t4 = turn(c, d, b);
        return ((t1 > hair && t2 < -hair) || (t1 < -hair && t2 > hair)) &&
               ((t3 > hair && t4 < -hair) || (t3 < -hair && t4 > hair));
    };
    for (unsigned seed = 1; seed < 60; ++seed) {
        const Field f = randomField(seed, false);
        const auto lines = contourLines(f, {-0.6, -0.2, 0.1, 0.4, 0.9});
        std::vector<std::pair<Place, Place>> all;
        for (const auto& level : lines)
            for (const ContourLine& line : level)
                for (std::size_t k = 0; k + (line.closed ? 0 : 1) < line.points.size(); ++k)
                    all.emplace_back(line.points[k], line.points[(k + 1) % line.points.size()]);
        for (std::size_t a = 0; a < all.size(); ++a)
            for (std::size_t b = a + 1; b < all.size(); ++b)
                ASSERT_FALSE(crosses(all[a].first, all[a].second, all[b].first, all[b].second)) << seed;
    }
}

TEST(Contours, LevelsAreRoundOrAsListed) {
    EXPECT_THAT(levelsFor(0.3, 9.7, 5, 0, {}), testing::ElementsAre(2, 4, 6, 8));
    EXPECT_THAT(levelsFor(0, 10, 5, 2.5, {}), testing::ElementsAre(0, 2.5, 5, 7.5, 10));
    EXPECT_THAT(levelsFor(0, 10, 5, 2.5, {7, 1, 1, NAN}), testing::ElementsAre(1, 7));
    EXPECT_THAT(levelsFor(1, 1, 5, 0, {}), testing::IsEmpty());
    EXPECT_LE(levelsFor(0, 1e6, 5, 1e-9, {}).size(), 1002U);
}

// Once found: a range so narrow that the next level is the same number made levels without an end.
TEST(Levels, OfRangesThatNumbersCannotDivideAreNone) {
    EXPECT_TRUE(levelsFor(1, std::nextafter(1, 2), 10, 0, {}).empty());
    EXPECT_TRUE(levelsFor(1e300, 1e300 * (1 + 1e-15), 10, 0, {}).empty());
    EXPECT_EQ(levelsFor(1e9, 1e9 + 4, 4, 0, {}).size(), 5U);
}

} // namespace jointer::fields
