// SPDX-License-Identifier: GPL-3.0-or-later
// Where the marks of a figure are, and which corner has room for a note.
#include "figure/crowd.h"
#include "figure/places.h"

#include <cmath>
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

// Counted in cells of half a millimetre: the sums over rectangles are those of counting one by one.
TEST(Places, ACrowdCountsSymbolsAndPointsAlongLines) {
    std::mt19937 random(8);
    std::uniform_real_distribution<double> across(0, 40);
    std::vector<draw::Point> places;
    draw::Group group;
    draw::Symbols symbols;
    for (int i = 0; i < 500; ++i) symbols.places.push_back({5 + across(random), 7 + across(random)});
    places = symbols.places;
    draw::Path path;
    path.lines.push_back({.points = {{10, 10}, {10, 20}, {13, 20}}});
    for (int k = 0; k <= 10; ++k) places.push_back({10, 10.0 + k}); // a millimetre apart
    for (int k = 1; k <= 3; ++k) places.push_back({10.0 + k, 20});
    group.items = {{ElementId{2}, symbols}, {ElementId{3}, path}};
    Crowd crowd({0, 0, 50, 50});
    crowd.add(group);
    crowd.sum();
    EXPECT_EQ(crowd.within({0, 0, 50, 50}), 514);
    for (int trial = 0; trial < 300; ++trial) {
        const auto cell = [&] { return std::floor(2 * across(random)) / 2; };
        const draw::Rect r{cell(), cell(), cell() / 2, cell() / 2};
        const auto upTo = [](double mm) { return std::floor(2 * mm + 1e-9) / 2 + 0.5; }; // its cell counts too
        const auto expected = std::ranges::count_if(places, [&](const draw::Point& p) {
            return p.x >= r.x && p.x < upTo(r.right()) && p.y >= r.y && p.y < upTo(r.bottom());
        });
        EXPECT_EQ(crowd.within(r), expected) << r.x << " " << r.y << " " << r.width << " " << r.height;
    }
}
