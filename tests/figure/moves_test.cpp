// SPDX-License-Identifier: GPL-3.0-or-later
// Gestures on pages, without a window: whatever is dragged in any of the demo figures moves as far as the
// pointer, is laid out without a new complaint, and goes back when it is dragged back.
#include "figure/moves.h"

#include "figure/actions.h"
#include "figure/kinds.h"
#include "figures.h"
#include "support/drawn.h"

#include <cmath>
#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::figure;

namespace {

const Project& demo() {
    static const Project p = demo::figureDemo();
    return p;
}

evaluate::Evaluator& evaluator() {
    static evaluate::Evaluator e;
    return e;
}

std::vector<ElementId> elementsOf(const std::vector<Element>& elements) {
    std::vector<ElementId> out;
    for (const Element& e : elements) {
        out.push_back(e.id);
        std::ranges::copy(elementsOf(e.children), std::back_inserter(out));
    }
    return out;
}

Project dragged(const Project& p, const Figure& f, const std::vector<Change>& changes) {
    const auto now = editOf(f.id, "Move", "m", changes).apply(p);
    EXPECT_TRUE(now.has_value());
    return now ? *now : p;
}

void expectAlike(const draw::Rect& a, const draw::Rect& b, const std::string& what) {
    EXPECT_NEAR(a.x, b.x, 1e-6) << what;
    EXPECT_NEAR(a.y, b.y, 1e-6) << what;
    EXPECT_NEAR(a.right(), b.right(), 1e-6) << what;
    EXPECT_NEAR(a.bottom(), b.bottom(), 1e-6) << what;
}
void expectAlike(const AxisMap& a, const AxisMap& b, const std::string& what) {
    EXPECT_NEAR(a.place(a.low()), b.place(a.low()), 1e-6) << what;
    EXPECT_NEAR(a.place(a.high()), b.place(a.high()), 1e-6) << what;
}

class EveryDemoFigure : public testing::TestWithParam<std::size_t> {
protected:
    const Project& p = demo();
    const Figure& f = p.figures[GetParam()];
    Layout l = layOut(p, f, evaluator());
};

} // namespace

// Nothing jumps when a drag begins: what is automatic becomes fixed where it is.
TEST_P(EveryDemoFigure, ADragByNothingChangesNothing) {
    std::size_t movable = 0;
    for (ElementId id : elementsOf(f.elements)) {
        const std::string what = f.name + ", " + f.find(id)->kind + " " + id.text();
        std::vector<GripPlace> grips = gripsOf(f, l, {id, {}});
        grips.push_back({Grip::Whole, {}});
        for (const GripPlace& grip : grips) {
            const auto changes = changesOf({f, l, {id, {}}, grip.grip, grip.which}, {0, 0});
            if (changes.empty()) continue;
            ++movable;
            const Project now = dragged(p, f, changes);
            const Layout same = layOut(now, *now.figures.find(f.id), evaluator());
            if (f.find(id)->kind == "panel" &&
                f.settings.integer("columns", 1) * f.settings.integer("rows", 1) > 1)
                continue; // the others of its grid move up
            ASSERT_EQ(same.panels.size(), l.panels.size()) << what;
            for (std::size_t k = 0; k < l.panels.size(); ++k) {
                expectAlike(same.panels[k].area, l.panels[k].area, what);
                expectAlike(same.panels[k].x, l.panels[k].x, what);
                expectAlike(same.panels[k].y, l.panels[k].y, what);
            }
            const auto before = boundsOf(l, {id, {}}), after = boundsOf(same, {id, {}});
            if (before && after) expectAlike(*after, *before, what);
        }
    }
    EXPECT_GT(movable, 2U) << f.name;
}

// What stands freely goes as far as the pointer.
TEST_P(EveryDemoFigure, WhatIsDraggedGoesAlong) {
    for (ElementId id : elementsOf(f.elements)) {
        const std::string kind = f.find(id)->kind, what = f.name + ", " + kind + " " + id.text();
        if (kind != "note" && kind != "legend" && kind != "results-table") continue;
        const auto before = boundsOf(l, {id, {}});
        if (!before) continue;
        // Towards the middle: a table stays within its panel.
        const draw::Point by{before->x > 0.4 * l.list.widthMm ? -2.0 : 2.0,
                             before->y > 0.4 * l.list.heightMm ? -1.5 : 1.5};
        const Project now = dragged(p, f, changesOf({f, l, {id, {}}, Grip::Whole}, by));
        const auto after = boundsOf(layOut(now, *now.figures.find(f.id), evaluator()), {id, {}});
        ASSERT_TRUE(after) << what;
        if (kind == "legend" && f.find(id)->settings.text("where", "inside") != "hand")
            continue; // may leave room
        EXPECT_NEAR(after->x, before->x + by.x, 1e-6) << what;
        EXPECT_NEAR(after->y, before->y + by.y, 1e-6) << what;
    }
}

TEST_P(EveryDemoFigure, EachGripChangesSomethingAndNothingBreaks) {
    for (ElementId id : elementsOf(f.elements)) {
        const Hit hit{id, {}};
        for (const GripPlace& grip : gripsOf(f, l, hit)) {
            EXPECT_TRUE(l.list.widthMm >= grip.at.x - 1 && grip.at.x >= -1 && grip.at.y >= -1 &&
                        l.list.heightMm >= grip.at.y - 1)
                << "a grip that cannot be reached";
            for (const draw::Point by : {draw::Point{1.3, 0.9}, {-1.1, -1.2}, {500, 500}, {-500, -500}}) {
                const auto changes = changesOf({f, l, hit, grip.grip, grip.which}, by);
                if (changes.empty()) continue;
                const Project now = dragged(p, f, changes);
                const Layout laid = layOut(now, *now.figures.find(f.id), evaluator());
                EXPECT_FALSE(laid.list.items.empty());
                EXPECT_EQ(laid.panels.size(), l.panels.size());
            }
        }
    }
}

// What is drawn lies under the pointer where it is drawn.
TEST_P(EveryDemoFigure, WhatIsDrawnIsFoundAtItsPlace) {
    std::size_t found = 0, tried = 0;
    for (const draw::Item& item : l.list.items) {
        const auto* group = std::get_if<draw::Group>(&item.what);
        if (!group || !group->clip || !group->parts.empty()) continue;
        for (const draw::Symbols& s : test::itemsOf<draw::Symbols>(group->items))
            for (std::size_t k = 0; k < s.places.size(); k += 1 + s.places.size() / 5) {
                const draw::Point at = s.places[k];
                if (!group->clip->contains(at)) continue;
                ++tried;
                const auto hits = hitsAt(l, at, 1);
                found += std::ranges::any_of(hits, [&](const Hit& h) { return h.element == item.element; });
            }
    }
    EXPECT_EQ(found, tried) << f.name;
    for (const PanelGeometry& g : l.panels)
        for (const AxisGeometry& a : g.axes) {
            const draw::Point middle{a.bounds.x + a.bounds.width / 2, a.bounds.y + a.bounds.height / 2};
            if (!a.axis || g.area.grown(-1).contains(middle)) continue;
            const AxisGeometry* at = axisAt(l, middle);
            EXPECT_TRUE(at != nullptr) << f.name;
        }
}

INSTANTIATE_TEST_SUITE_P(Demo, EveryDemoFigure,
                         testing::Range(std::size_t{0}, demo::kDemoFigures));

// --- Breaks -----------------------------------------------------------------------------------------------

namespace {

struct Broken {
    test::Drawing d;
    Layout l;
    ElementId x;

    Broken() {
        d.data({0, 1, 2, 3, 50, 51, 52, 100}, {1, 2, 3, 2, 1, 2, 3, 4});
        l = d.lay({d.mark("points")}, [](Element& axis, Element&) {
            axis.settings.set("range", Value(Numbers{0, 100}));
            axis.settings.set("breaks", Value(Numbers{5, 45, 60, 95}));
        });
        x = d.p.figures[0].elements[0].children[0].id;
    }
    void drag(Grip grip, std::size_t which, double mm) {
        const auto changes = changesOf({d.p.figures[0], l, {x, {}}, grip, which}, {mm, 0});
        ASSERT_FALSE(changes.empty());
        d.p = dragged(d.p, d.p.figures[0], changes);
        l = layOut(d.p, d.p.figures[0], d.evaluator());
    }
    const std::vector<Piece>& pieces() const { return l.panels[0].x.pieces(); }
};

double lengthOf(const Piece& p) {
    return std::abs(p.end - p.start);
}

} // namespace

TEST(Breaks, HaveGripsForTheirEndsAndTheGap) {
    Broken b;
    std::vector<std::pair<Grip, std::size_t>> seen;
    for (const GripPlace& g : gripsOf(b.d.p.figures[0], b.l, {b.x, {}})) seen.emplace_back(g.grip, g.which);
    for (std::size_t k : {0U, 1U})
        for (Grip grip : {Grip::Gap, Grip::BreakFrom, Grip::BreakTo})
            EXPECT_THAT(seen, testing::Contains(std::pair(grip, k)));
}

TEST(Breaks, AreDraggedByTheValueUnderThePointer) {
    Broken b;
    const Piece before = b.pieces()[0];
    b.drag(Grip::BreakFrom, 0, -0.2 * lengthOf(before));
    EXPECT_NEAR(b.pieces()[0].high, 4, 1e-9) << "a fifth of 0 … 5 less";
    EXPECT_NEAR(b.pieces()[1].low, 45, 1e-12);
    b.drag(Grip::BreakTo, 1, 0.5 * lengthOf(b.pieces()[2]));
    EXPECT_NEAR(b.pieces()[2].low, 97.5, 1e-9);
    EXPECT_NEAR(b.pieces()[1].high, 60, 1e-12) << "the other end stays";
    // Never beyond the other end or the next break.
    EXPECT_TRUE(changesOf({b.d.p.figures[0], b.l, {b.x, {}}, Grip::BreakFrom, 0}, {500, 0}).empty());
    EXPECT_TRUE(changesOf({b.d.p.figures[0], b.l, {b.x, {}}, Grip::BreakTo, 0}, {500, 0}).empty());
}

TEST(Breaks, TheGapTakesFromOnePartWhatItGivesToTheOther) {
    Broken b;
    const double first = lengthOf(b.pieces()[0]), second = lengthOf(b.pieces()[1]),
                 third = lengthOf(b.pieces()[2]);
    b.drag(Grip::Gap, 0, 4);
    EXPECT_NEAR(lengthOf(b.pieces()[0]), first + 4, 1e-3);
    EXPECT_NEAR(lengthOf(b.pieces()[1]), second - 4, 1e-3);
    EXPECT_NEAR(lengthOf(b.pieces()[2]), third, 1e-3);
    b.drag(Grip::Gap, 1, 500);
    EXPECT_GT(lengthOf(b.pieces()[2]), 1) << "something is left of it";
}

TEST(Breaks, TheWidestPartWithoutDataIsProposedInRoundNumbers) {
    test::Drawing d;
    d.data({0, 1, 2, 3, 50, 51, 52, 70}, {1, 2, 3, 2, 1, 2, 3, 4});
    const Layout l = d.lay({d.mark("points")});
    const Range gap = widestGap(d.p, d.p.figures[0], l.panels[0].axes[0], d.evaluator());
    EXPECT_GT(gap.low, 3);
    EXPECT_LT(gap.high, 50);
    EXPECT_GT(gap.high - gap.low, 30);
    EXPECT_EQ(gap.low, std::round(gap.low));
    // Where data are everywhere it is a fifth in the middle.
    std::vector<double> x;
    for (int k = 0; k <= 100; ++k) x.push_back(k);
    test::Drawing full;
    full.data(x, x);
    const Layout whole = full.lay({full.mark("points")});
    const Range middle = widestGap(full.p, full.p.figures[0], whole.panels[0].axes[0], full.evaluator());
    EXPECT_NEAR(middle.low, 40, 2.5);
    EXPECT_NEAR(middle.high, 60, 2.5);
}

// --- Companions -------------------------------------------------------------------------------------------

TEST(Companions, OfSeveralDatasetsAreDrawnAtOnceEachInItsOwnWay) {
    Project p;
    std::vector<DatasetId> ids;
    for (int k = 0; k < 2; ++k) {
        Table t;
        t.columns = {numberColumn("x", "", {1, 2, 3}), numberColumn("y", "", {1.0 + k, 2, 3}),
                     numberColumn("fit", "", {1, 2.0 + k, 3}), numberColumn("component 1", "", {0, 1, 0})};
        p = *edits::addTable(std::move(t)).apply(p);
        const Table& made = p.tables[p.tables.size() - 1];
        Dataset d{.name = k == 0 ? "a" : "b", .colour = "#2f6091"};
        d.source.table = made.id;
        d.source.roles = {{Role::X, made.columns[0].id},
                          {Role::Y, made.columns[1].id},
                          {Role::Companion, made.columns[2].id, "fit"},
                          {Role::Companion, made.columns[3].id, "component 1"}};
        p = *edits::addDataset(std::move(d)).apply(p);
        ids.push_back(p.datasets[p.datasets.size() - 1].id);
    }
    const std::vector<Element> marks = companionMarks(p, ids[0]);
    ASSERT_EQ(marks.size(), 2U);
    EXPECT_EQ(marks[0].kind, "line");
    EXPECT_EQ(marks[1].kind, "area") << "components are filled";
    p = *edits::addFigure(newFigure("F", {}, {groupOf(ids, {newMark("points", "")})})).apply(p);
    const FigureId f = p.figures[0].id;
    p = *drawGroup(f, {}, ids, marks).apply(p);
    const Figure& shown = p.figures[0];
    const auto groups = std::ranges::count(shown.elements[0].children, "group", &Element::kind);
    EXPECT_EQ(groups, 1) << "a group of the same datasets takes them in";
    const Layout l = layOut(p, shown, evaluator());
    EXPECT_EQ(l.marks.size(), 6U);
    EXPECT_TRUE(l.issues.empty());
    // Other datasets, or others in number, are another group.
    p = *drawGroup(f, {}, {ids[1]}, marks).apply(p);
    EXPECT_EQ(std::ranges::count(p.figures[0].elements[0].children, "group", &Element::kind), 2);
}

TEST(Times, ElementsTellThemAlongTheirAxis) {
    test::Drawing d;
    d.data({1, 2, 3}, {1, 2, 3});
    Table t;
    t.columns = {numberColumn("when", "", {1.9e9, 1.91e9, 1.92e9}), numberColumn("y", "", {1, 2, 3})};
    t.columns[0].kind = ColumnKind::DateTime;
    d.p = *edits::addTable(std::move(t)).apply(d.p);
    const Table& made = d.p.tables[1];
    Dataset series{.name = "series"};
    series.source.table = made.id;
    series.source.roles = {{Role::X, made.columns[0].id}, {Role::Y, made.columns[1].id}};
    d.p = *edits::addDataset(std::move(series)).apply(d.p);
    const Element line = newMark("reference-line", "");
    for (const std::size_t k : {0U, 1U}) {
        const Layout l = d.lay({d.mark("points", k), line});
        const Figure& f = d.p.figures[0];
        const auto& all = f.elements[0].children;
        const bool times = k == 1;
        EXPECT_EQ(tellsTime(f, l, all[0].id), times) << "x";
        EXPECT_FALSE(tellsTime(f, l, all[1].id)) << "y";
        EXPECT_EQ(tellsTime(f, l, all[2].id), times) << "points";
        EXPECT_EQ(tellsTime(f, l, all[3].id), times) << "a line at x";
        EXPECT_FALSE(tellsTime(f, l, {})) << "the page";
    }
}
