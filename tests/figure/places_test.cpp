// SPDX-License-Identifier: GPL-3.0-or-later
// Where the marks of a figure are, and which corner has room for a note.
#include "figure/places.h"

#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::figure;

namespace {

// A panel of 100 × 100 mm with points in a part of it.
Layout withPoints(double left, double top, std::size_t count, unsigned seed = 1) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> within(0, 1);
    Layout l;
    l.panels.push_back({.panel = ElementId{1}, .area = {10, 10, 100, 100}});
    draw::Symbols symbols;
    for (std::size_t i = 0; i < count; ++i)
        symbols.places.push_back({10 + left + 45 * within(random), 10 + top + 15 * within(random)});
    draw::Group group;
    group.items.push_back({ElementId{2}, symbols});
    l.list.items.push_back({ElementId{2}, group});
    return l;
}

} // namespace

TEST(Places, TheEmptiestPlaceHidesNothing) {
    for (unsigned seed = 1; seed <= 20; ++seed)
        for (const double left : {0.0, 55.0})
            for (const double top : {0.0, 85.0}) {
                const Layout l = withPoints(left, top, 50, seed);
                const draw::Point corner = emptiestPlace(l);
                EXPECT_FALSE((corner.x > 0.5) == (left > 50) && (corner.y > 0.5) == (top > 50))
                    << left << ", " << top;
            }
    EXPECT_EQ(emptiestPlace({}).x, 0) << "without a panel";
}

TEST(Places, BetweenTwoPeaksWhereCornersAreTaken) {
    Layout l = withPoints(0, 0, 200, 3);
    for (const auto& [left, top] : {std::pair(0.0, 85.0), {55.0, 85.0}, {55.0, 0.0}})
        for (const draw::Item& item : withPoints(left, top, 200, 5).list.items) l.list.items.push_back(item);
    const draw::Point place = emptiestPlace(l);
    EXPECT_GT(place.y, 0.1);
    EXPECT_LT(place.y, 0.9);
}

TEST(Places, ALegendTakesItsCorner) {
    Layout l = withPoints(30, 40, 0);
    l.list.regions.push_back({.element = ElementId{3}, .bounds = {12, 12, 30, 10}}); // top left
    const draw::Point corner = emptiestPlace(l);
    EXPECT_FALSE(corner.x < 0.5 && corner.y < 0.5);
}

TEST(Places, SymbolsAndPointsAlongLinesAreSeen) {
    Layout l = withPoints(0, 0, 7);
    draw::Path path;
    path.lines.push_back({.points = {{0, 0}, {10, 0}, {10, 10}}});
    draw::Group group;
    group.items.push_back({ElementId{4}, path});
    l.list.items.push_back({ElementId{4}, group});
    std::size_t symbols = 0, along = 0;
    forEachPlace(l, [&](ElementId id, const draw::Point& p) {
        ++(id == ElementId{2} ? symbols : along);
        EXPECT_TRUE(id == ElementId{2} || p.x == 10 || p.y == 0);
    });
    EXPECT_EQ(symbols, 7U);
    EXPECT_EQ(along, 4U) << "both ends of each piece, and its middle, once";
}
