// SPDX-License-Identifier: GPL-3.0-or-later
// Dense curves are drawn from an overview; the picture must be that of all points.
#include "figure/kinds.h"
#include "figure/layout.h"
#include "figure/thin.h"
#include "project/edit.h"

#include <cmath>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::figure;

namespace {

Project denseProject(std::vector<double> x, std::vector<double> y) {
    Project p;
    Table t;
    t.columns = {numberColumn("x", "", std::move(x)), numberColumn("y", "", std::move(y))};
    p = *edits::addTable(t).apply(p);
    Dataset d;
    d.colour = "#2f6091";
    d.source.table = p.tables[0].id;
    d.source.roles = {{Role::X, p.tables[0].columns[0].id}, {Role::Y, p.tables[0].columns[1].id}};
    return *edits::addDataset(d).apply(p);
}

Layout lineOf(const Project& p, const std::function<void(Element& x, Element& y)>& change = {}) {
    Figure f = newFigure("F", {}, {newMark("line", p.datasets[0].id.text())});
    auto& axes = f.elements[0].children;
    if (change) change(axes[0], axes[1]);
    giveIds(const_cast<Project&>(p), f.elements[0]);
    evaluate::Evaluator e;
    return layOut(p, f, e, {.pixelsPerMm = 4});
}

// All points of the drawn lines.
std::vector<std::vector<draw::Point>> drawn(const Layout& l) {
    std::vector<std::vector<draw::Point>> out;
    for (const draw::Item& item : l.list.items)
        if (const auto* group = std::get_if<draw::Group>(&item.what))
            for (const draw::Item& inner : group->items)
                if (const auto* path = std::get_if<draw::Path>(&inner.what))
                    for (const draw::Polyline& line : path->lines) out.push_back(line.points);
    return out;
}

std::vector<double> ramp(std::size_t n, double by = 1e-3) {
    std::vector<double> x(n);
    for (std::size_t i = 0; i < n; ++i) x[i] = by * static_cast<double>(i);
    return x;
}

} // namespace

TEST(Dense, EachColumnReachesItsExtremes) {
    const std::size_t n = 300000;
    const auto x = ramp(n);
    std::vector<double> y(n);
    std::mt19937 random(5);
    std::normal_distribution<double> noise(0, 1);
    for (double& v : y) v = noise(random);
    y[123456] = 40; // one spike among many points must be seen
    const Layout l = lineOf(denseProject(x, y));
    const auto& g = l.panels[0];
    const auto lines = drawn(l);
    ASSERT_EQ(lines.size(), 1U);
    EXPECT_LT(lines[0].size(), 4 * g.area.width * 4 + 20) << "about four points a pixel";
    const double columnMm = 0.25;
    const auto columns = static_cast<std::size_t>(g.area.width / columnMm) + 1;
    std::vector<double> low(columns, 1e9), high(columns, -1e9), drawnLow(columns, 1e9),
        drawnHigh(columns, -1e9);
    auto columnOf = [&](double mm) {
        return std::min(columns - 1, static_cast<std::size_t>(std::max(0.0, (mm - g.area.x) / columnMm)));
    };
    for (std::size_t i = 0; i < n; ++i) {
        const std::size_t c = columnOf(g.x.place(x[i]));
        low[c] = std::min(low[c], g.y.place(y[i])), high[c] = std::max(high[c], g.y.place(y[i]));
    }
    for (const draw::Point& p : lines[0]) {
        const std::size_t c = columnOf(p.x);
        drawnLow[c] = std::min(drawnLow[c], p.y), drawnHigh[c] = std::max(drawnHigh[c], p.y);
    }
    for (std::size_t c = 1; c + 2 < columns; ++c) {
        // A point on a border may fall to the neighbour.
        EXPECT_LE(std::min({drawnLow[c - 1], drawnLow[c], drawnLow[c + 1]}), low[c] + 1e-9) << c;
        EXPECT_GE(std::max({drawnHigh[c - 1], drawnHigh[c], drawnHigh[c + 1]}), high[c] - 1e-9) << c;
    }
    EXPECT_GE(g.y.high(), 40) << "the range knows the spike";
}

TEST(Dense, GapsStayGaps) {
    const std::size_t n = 200000;
    std::vector<double> y(n, 1.0);
    std::fill(y.begin() + 80000, y.begin() + 120000, std::nan(""));
    const auto lines = drawn(lineOf(denseProject(ramp(n), y)));
    ASSERT_EQ(lines.size(), 2U);
    const Layout l = lineOf(denseProject(ramp(n), y));
    EXPECT_NEAR(l.panels[0].x.value(lines[0].back().x), 80, 0.6);
    EXPECT_NEAR(l.panels[0].x.value(lines[1].front().x), 120, 0.6);
}

TEST(Dense, LogarithmicAxesLeaveOutWhatTheyCannotShow) {
    const std::size_t n = 100000;
    std::vector<double> x = ramp(n), y(n);
    for (std::size_t i = 0; i < n; ++i) x[i] += 0.001, y[i] = i % 5 == 0 ? -1.0 : 0.5 + 100 * x[i] / 100;
    const Layout l = lineOf(denseProject(x, y), [](Element& ax, Element& ay) {
        ax.settings.set("scale", "log");
        ay.settings.set("scale", "log");
    });
    EXPECT_GT(l.panels[0].y.low(), 0);
    EXPECT_GT(l.panels[0].y.low(), 0.1) << "the smallest positive value, not the negative ones";
    for (const auto& line : drawn(l))
        for (const draw::Point& p : line) ASSERT_TRUE(std::isfinite(p.x) && std::isfinite(p.y));
}

TEST(Dense, ReversedAxesRunBackwards) {
    const std::size_t n = 60000;
    const auto x = ramp(n);
    const Layout l =
        lineOf(denseProject(x, x), [](Element& ax, Element&) { ax.settings.set("reversed", Value(true)); });
    const auto lines = drawn(l);
    ASSERT_EQ(lines.size(), 1U);
    EXPECT_GT(lines[0].front().x, lines[0].back().x);
    EXPECT_NEAR(l.panels[0].x.value(lines[0].front().x), 0, 0.1);
}

TEST(Dense, ZoomedRangesTakeTheirYFromWhatIsShown) {
    const std::size_t n = 500000;
    auto x = ramp(n), y = x;
    const Layout l = lineOf(denseProject(x, y), [](Element& ax, Element&) {
        ax.settings.set("range", Value(Numbers{100, 200}));
    });
    EXPECT_NEAR(l.panels[0].y.low(), 100, 12);
    EXPECT_NEAR(l.panels[0].y.high(), 200, 12);
}

TEST(Thin, CloudsKeepOnePointOfEachCell) {
    std::mt19937 random(2);
    std::uniform_real_distribution<double> place(0, 10);
    std::vector<draw::Point> cloud(50000);
    for (draw::Point& p : cloud) p = {place(random), place(random)};
    const auto thin = thinnedCloud(cloud, 0.5);
    EXPECT_LE(thin.size(), 21U * 21U);
    EXPECT_GE(thin.size(), 19U * 19U) << "no cell with points goes empty";
    const std::vector<draw::Point> few(cloud.begin(), cloud.begin() + 100);
    EXPECT_EQ(thinnedCloud(few, 0.5).size(), 100U);
}
