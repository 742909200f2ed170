// SPDX-License-Identifier: GPL-3.0-or-later
// Three hundred panels on one page: each has its room, none lies on another, and the page is laid out while
// one waits.
#include "figure/kinds.h"
#include "figure/layout.h"
#include "project/figure_edits.h"
#include "support/sample_project.h"

#include <chrono>
#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::figure;

namespace {

bool overlap(const draw::Rect& a, const draw::Rect& b) {
    return a.x < b.right() && b.x < a.right() && a.y < b.bottom() && b.y < a.bottom();
}

// A page with as many panels, in rows of fifteen.
Project withPanels(std::size_t count, double widthMm, double heightMm) {
    Project p = test::sampleProject();
    Figure f = newFigure("Many", {}, {newMark("points", p.datasets[0].id.text())});
    const Element one = f.elements[0];
    f.elements.assign(count, one);
    f.settings.set("rows", Value(static_cast<double>((count + 14) / 15)));
    f.settings.set("columns", Value(15.0));
    f.settings.set("width", Value(widthMm));
    f.settings.set("height", Value(heightMm));
    f.settings.set("letters", "a");
    return *edits::addFigure(f).apply(p);
}

} // namespace

TEST(ManyPanels, ThreeHundredStandBesideEachOther) {
    const Project p = withPanels(300, 900, 900);
    evaluate::Evaluator evaluator;
    const auto begin = std::chrono::steady_clock::now();
    const Layout l = layOut(p, p.figures[p.figures.size() - 1], evaluator);
    const std::chrono::duration<double> took = std::chrono::steady_clock::now() - begin;
    EXPECT_LT(took.count(), 5) << "also unoptimised and beside other tests";
    ASSERT_EQ(l.panels.size(), 300U);
    for (std::size_t a = 0; a < 300; ++a) {
        const draw::Rect& area = l.panels[a].area;
        EXPECT_GT(area.width, 20);
        EXPECT_GT(area.height, 15);
        EXPECT_TRUE(area.x >= 0 && area.right() <= 900 && area.y >= 0 && area.bottom() <= 900) << a;
        for (std::size_t b = a + 1; b < 300; ++b)
            EXPECT_FALSE(overlap(area, l.panels[b].area)) << a << ", " << b;
    }
    std::set<std::string> letters;
    for (const draw::Item& item : l.list.items)
        if (const auto* run = std::get_if<draw::TextRun>(&item.what);
            run && run->face.find("bold") != run->face.npos)
            letters.insert(run->text);
    EXPECT_EQ(letters.size(), 300U) << "each has a letter of its own: a … z, aa …";
}

// Where they have no room the page says so, and nothing ends.
TEST(ManyPanels, WithoutRoomSaySo) {
    const Project p = withPanels(300, 60, 60);
    evaluate::Evaluator evaluator;
    const Layout l = layOut(p, p.figures[p.figures.size() - 1], evaluator);
    EXPECT_EQ(l.panels.size(), 300U);
    EXPECT_FALSE(l.issues.empty());
    for (const PanelGeometry& g : l.panels) EXPECT_TRUE(std::isfinite(g.area.width) && g.area.width >= 0);
}
