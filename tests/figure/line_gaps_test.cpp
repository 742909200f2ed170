// SPDX-License-Identifier: GPL-3.0-or-later
// Lines end where the next point is far: at a distance told, and over times by themselves. The same for a few points
// and for a curve drawn from its overview.
#include "support/drawn.h"

#include <cmath>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::figure;
using test::Drawing;

namespace {

std::size_t piecesOf(const Drawing& d) {
    std::size_t pieces = 0;
    for (const draw::Path& p : d.paths()) pieces += p.lines.size();
    return pieces;
}

// Every minute, without those of the gaps.
std::vector<double> minutes(std::size_t count, const std::vector<std::pair<std::size_t, std::size_t>>& gaps) {
    std::vector<double> x;
    for (std::size_t i = 0; i < count; ++i)
        if (std::ranges::none_of(gaps, [&](const auto& g) { return i >= g.first && i < g.second; }))
            x.push_back(1.9e9 + 60.0 * static_cast<double>(i));
    return x;
}

void asTimes(Drawing& d) {
    const TableId table = d.p.tables[0].id;
    const ColumnId x = d.p.tables[0].columns[0].id;
    d.p = *edits::changeColumn(table, x, "times", [](Column& c) { c.kind = ColumnKind::DateTime; }).apply(d.p);
}

} // namespace

TEST(LineGaps, AreOnlyThoseTold) {
    Drawing d;
    d.data({1, 2, 3, 7, 8}, {1, 2, 1, 2, 1});
    d.lay({d.mark("line")});
    EXPECT_EQ(piecesOf(d), 1U) << "numbers are joined";
    for (const auto& [gap, pieces] : {std::pair(4.0, 1U), {3.9, 2U}, {0.5, 0U}}) {
        Element line = d.mark("line");
        line.settings.set("gap", Value(gap));
        d.lay({line});
        EXPECT_EQ(piecesOf(d), pieces) << gap;
    }
}

TEST(LineGaps, OfTimesAreSeen) {
    for (const std::size_t count : {400U, 60000U}) // as points, and from the overview
        for (const std::size_t hole : {3U, 9U, 40U, 80U}) {
            Drawing d;
            const auto x = minutes(count, {{100, 100 + hole}, {count / 2, count / 2 + hole}});
            std::vector<double> y;
            for (double v : x) y.push_back(std::sin(v / 500));
            d.data(x, y);
            asTimes(d);
            const double begin = x.front(), end = x[std::min<std::size_t>(x.size() - 1, 390)];
            d.lay({d.mark("line")}, [&](Element& axis, Element&) {
                axis.settings.set("range", Value(Numbers{begin, end}));
            });
            const std::size_t gaps = hole < 10 ? 0 : count == 400 ? 2 : 1;
            EXPECT_EQ(piecesOf(d), gaps + 1) << count << " points, without " << hole;
        }
}

TEST(LineGaps, OfAWholeDenseCurveToo) {
    Drawing d;
    const auto x = minutes(100000, {{30000, 36000}, {70000, 72000}});
    d.data(x, std::vector<double>(x.size(), 1.0));
    asTimes(d);
    d.lay({d.mark("line")});
    EXPECT_EQ(piecesOf(d), 3U);
    Element line = d.mark("line");
    line.settings.set("gap", Value(3000.0 * 60));
    d.lay({line});
    EXPECT_EQ(piecesOf(d), 2U);
}

// A cut line holds every point of the whole one: nothing but the bridges is gone.
TEST(LineGaps, LoseNoPoint) {
    for (unsigned seed = 1; seed <= 30; ++seed) {
        std::mt19937 random(seed);
        std::vector<double> x, y;
        double at = 0;
        for (int i = 0; i < 60; ++i) {
            at += random() % 7 == 0 ? 5 : 0.5;
            x.push_back(at);
            y.push_back(static_cast<double>(random() % 100));
        }
        Drawing d;
        d.data(x, y);
        Element line = d.mark("points-line");
        line.settings.set("gap", Value(1.0));
        d.lay({line});
        std::size_t inLines = 0, alone = 0;
        for (const draw::Path& p : d.paths())
            for (const draw::Polyline& l : p.lines) inLines += l.points.size();
        for (std::size_t i = 0; i < x.size(); ++i) {
            const bool before = i > 0 && x[i] - x[i - 1] <= 1, after = i + 1 < x.size() && x[i + 1] - x[i] <= 1;
            alone += !before && !after;
        }
        EXPECT_EQ(inLines + alone, x.size()) << seed;
        EXPECT_EQ(d.symbols().size(), x.size()) << seed;
    }
}
