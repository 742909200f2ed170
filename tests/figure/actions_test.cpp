// SPDX-License-Identifier: GPL-3.0-or-later
// What takes ten settings by hand, as one edit each; copies of figures and what they refer to.
#include "figure/actions.h"

#include "figure/kinds.h"
#include "figure/layout.h"
#include "support/sample_project.h"

#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::figure;

namespace {

// Two datasets as points with their fits.
struct Fixture {
    Project p = test::sampleProject();
    FigureId figure;
    ElementId panel;
    evaluate::Evaluator evaluator;

    Fixture() {
        std::vector<Element> marks;
        for (std::size_t k = 0; k < 2; ++k) {
            marks.push_back(newMark("points", p.datasets[k].id.text()));
            marks.push_back(newMark("curve", p.analyses[k].id.text()));
        }
        p = *edits::addFigure(newFigure("F", {}, marks)).apply(p);
        const Figure& f = p.figures[p.figures.size() - 1];
        figure = f.id;
        panel = f.elements[0].id;
    }
    void apply(const Edit& edit) {
        auto next = edit.apply(p);
        ASSERT_TRUE(next.has_value()) << edit.name << ": " << next.error().text;
        p = std::move(*next);
    }
    const Figure& shown() const { return *p.figures.find(figure); }
    Layout layout() { return layOut(p, shown(), evaluator); }
    std::vector<std::string> kinds() const {
        std::vector<std::string> out;
        for (const Element& e : shown().find(panel)->children) out.push_back(e.kind);
        return out;
    }
    const Element* first(const char* kind) const {
        for (const Element& e : shown().find(panel)->children)
            if (e.kind == kind) return &e;
        return nullptr;
    }
};

} // namespace

TEST(Actions, ADatasetOnTheRightEdgeHasAnAxisOfItsOwn) {
    Fixture f;
    f.apply(addMarks(f.figure, f.panel, {newMark("line", f.p.datasets[1].id.text())}, Drop::RightAxis));
    const Layout l = f.layout();
    ASSERT_EQ(l.panels[0].axes.size(), 3U);
    const AxisGeometry& right = l.panels[0].axes[2];
    EXPECT_EQ(right.side, Side::Right);
    EXPECT_GT(right.bounds.x, l.panels[0].area.right() - 1.1);
    EXPECT_TRUE(l.issues.empty());
}

TEST(Actions, PeaksAreLabelledAndOtherFitsSayThatTheyAreNone) {
    Fixture f;
    const auto refused = labelPeaks(f.p, f.figure, f.panel).apply(f.p);
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().code, "no-peaks");
    f.apply(edits::addAnalysis(
        {.kind = "peaks", .inputs = {{.dataset = f.p.datasets[0].id}}, .model = {.kind = "gaussian"}}));
    const std::string source = f.p.analyses[f.p.analyses.size() - 1].id.text();
    f.apply(addMarks(f.figure, f.panel, {newMark("curve", source)}, Drop::Join));
    for (int times = 0; times < 2; ++times) { // again nothing is added
        f.apply(labelPeaks(f.p, f.figure, f.panel));
        const Element* components = f.first("components");
        ASSERT_TRUE(components);
        EXPECT_EQ(components->source, source);
        EXPECT_EQ(components->settings.text("labels"), "places");
        EXPECT_EQ(std::ranges::count(f.kinds(), "components"), 1);
    }
}

TEST(Actions, AnAxisOfLogarithmsShowsTheOriginals) {
    Fixture f;
    Settings ln;
    ln.set("y-by", "ln");
    for (std::size_t k = 0; k < 2; ++k) f.apply(edits::addStep(f.p.datasets[k].id, "transform", ln, "ln"));
    const AxisGeometry y = f.layout().panels[0].axes[1];
    ASSERT_TRUE(y.meaning.name.starts_with("ln(")) << y.meaning.name;
    f.apply(showOriginals(f.figure, y.axis));
    const Layout l = f.layout();
    std::string texts;
    for (const draw::Item& item : l.list.items)
        if (const auto* run = std::get_if<draw::TextRun>(&item.what)) texts += run->text;
    EXPECT_EQ(texts.find("ln("), texts.npos) << texts;
    EXPECT_FALSE(showOriginals(f.figure, {}).apply(f.p).has_value()) << "there is no such axis";
}

TEST(Actions, AGroupStandsOnTheAxisMadeForIt) {
    for (const Drop where : {Drop::TopLane, Drop::RightAxis}) {
        Fixture f;
        const Element group = groupOf({f.p.datasets[0].id, f.p.datasets[1].id}, {newMark("line", "")});
        f.apply(addMarks(f.figure, f.panel, {group}, where));
        ASSERT_EQ(f.layout().panels[0].axes.size(), 3U);
        const ElementId made = f.layout().panels[0].axes[2].axis;
        for (const Element& e : f.shown().elements[0].children)
            if (e.kind == "group") {
                EXPECT_EQ(e.children[0].settings.reference("y-axis"), made.text());
            }
    }
}

TEST(Actions, LanesDivideTheHeightAndAlternate) {
    Fixture f;
    for (int k = 0; k < 2; ++k)
        f.apply(addMarks(f.figure, f.panel, {newMark("line", f.p.datasets[1].id.text())}, Drop::TopLane));
    const Layout l = f.layout();
    const auto& axes = l.panels[0].axes;
    ASSERT_EQ(axes.size(), 4U);
    EXPECT_EQ(axes[1].side, Side::Left);
    EXPECT_EQ(axes[2].side, Side::Right);
    EXPECT_EQ(axes[3].side, Side::Left);
    double height = 0;
    for (std::size_t k = 1; k < 4; ++k) {
        EXPECT_NEAR(axes[k].lanes.height, l.panels[0].area.height / 3, 1e-9);
        height += axes[k].lanes.height;
    }
    EXPECT_NEAR(height, l.panels[0].area.height, 1e-9);
    EXPECT_GT(axes[1].lanes.y, axes[3].lanes.y) << "the first lane is the lowest";
}

TEST(Actions, AGroupTakesWhatTheMarksHaveInCommon) {
    Fixture f;
    f.apply(groupMarks(f.figure, f.panel));
    EXPECT_THAT(f.kinds(), testing::ElementsAre("axis", "axis", "group", "legend"));
    const Element* group = f.first("group");
    EXPECT_EQ(group->settings.references("datasets").size(), 2U);
    ASSERT_EQ(group->children.size(), 2U);
    const Layout l = f.layout();
    EXPECT_EQ(l.marks.size(), 4U) << "two marks for each of two datasets";
    EXPECT_NE(l.marks[0].of, l.marks[2].of);
}

TEST(Actions, StaggeredCurvesDoNotTouch) {
    Fixture f;
    f.apply(stagger(f.figure, f.panel, "touch"));
    const Layout l = f.layout();
    // The points of each dataset, by their places.
    std::map<DatasetId, std::vector<draw::Point>> places;
    for (const draw::Item& item : l.list.items)
        if (const auto* g = std::get_if<draw::Group>(&item.what); g && g->clip) // legends have none
            for (const draw::Item& inner : g->items)
                if (const auto* s = std::get_if<draw::Symbols>(&inner.what))
                    std::ranges::copy(s->places, std::back_inserter(places[inner.of]));
    ASSERT_EQ(places.size(), 2U);
    const auto& lower = places[f.p.datasets[0].id];
    for (const draw::Point& a : places[f.p.datasets[1].id])
        for (const draw::Point& b : lower)
            EXPECT_TRUE(std::abs(a.x - b.x) >= 0.1 || a.y < b.y)
                << a.x << " " << a.y << " " << b.x << " " << b.y;
}

TEST(Actions, OneEachForFramesNumbersLabelsColours) {
    Fixture f;
    f.apply(frame(f.figure, f.panel, false));
    for (const Element& e : f.shown().find(f.panel)->children)
        EXPECT_TRUE(e.kind != "axis" || e.settings.text("opposite") == "none");
    f.apply(frame(f.figure, f.panel, true));
    for (const Element& e : f.shown().find(f.panel)->children)
        EXPECT_TRUE(e.kind != "axis" || e.settings.text("opposite").empty());
    f.apply(tidyNumbers(f.figure, f.panel));
    f.apply(labelCurves(f.figure, f.panel));
    EXPECT_EQ(f.first("group")->settings.text("labels"), "ends");
    f.apply(spreadColours(f.figure, f.panel));
    EXPECT_TRUE(f.first("colour-bar"));
    f.apply(spreadColours(f.figure, f.panel));
    EXPECT_EQ(std::ranges::count(f.kinds(), "colour-bar"), 1);
    f.apply(reverseOrder(f.figure, f.panel));
    f.apply(orderByAttribute(f.figure, f.panel));
    (void)f.layout();
}

TEST(Actions, ResidualsGoBelowInALaneAThirdAsHigh) {
    Fixture f;
    f.apply(addResiduals(f.figure, f.panel));
    const Layout l = f.layout();
    const auto& axes = l.panels[0].axes;
    ASSERT_EQ(axes.size(), 3U);
    EXPECT_NEAR(axes[1].lanes.height, 3 * axes[2].lanes.height, 1e-9);
    EXPECT_TRUE(l.issues.empty()) << l.issues[0].text;
    EXPECT_FALSE(addResiduals(f.p.figures[0].id, {})
                     .apply(*edits::arrange(f.p.figures[0].id, "",
                                            [](Project&, Figure& g) -> Result<void> {
                                                std::erase_if(g.elements[0].children, [](const Element& e) {
                                                    return e.kind == "curve";
                                                });
                                                return {};
                                            })
                                 .apply(f.p))
                     .has_value())
        << "without a fit it says what is missing";
}

TEST(Actions, PanelsShareAxesAndSizes) {
    Fixture f;
    f.apply(addPanel(f.figure, {newMark("line", f.p.datasets[0].id.text())}));
    f.apply(addPanel(f.figure, {newMark("line", f.p.datasets[1].id.text())}));
    const Layout l = f.layout();
    ASSERT_EQ(l.panels.size(), 3U);
    // Plotting areas are equal and aligned to a hair.
    for (const PanelGeometry& g : l.panels) {
        EXPECT_NEAR(g.area.width, l.panels[0].area.width, 1e-9);
        EXPECT_NEAR(g.area.height, l.panels[0].area.height, 1e-9);
    }
    f.apply(shareAxes(f.figure));
    const Layout shared = f.layout();
    EXPECT_GT(shared.panels[0].area.width * shared.panels[0].area.height,
              l.panels[0].area.width * l.panels[0].area.height);
    f.apply(matchSizes(f.figure));
    f.apply(addInset(f.figure, f.panel, {2, 6}, {0, 3}));
    const Layout inset = f.layout();
    EXPECT_TRUE(
        std::ranges::any_of(inset.panels, [&](const PanelGeometry& g) { return g.parent == f.panel; }));
}

TEST(Actions, BreaksAndSecondAxes) {
    Fixture f;
    const ElementId bottom = f.shown().find(f.panel)->children[0].id;
    f.apply(breakAxis(f.figure, bottom, 14, 9));
    EXPECT_TRUE(f.layout().panels[0].x.isSkipped(10));
    f.apply(addSecondAxis(f.figure, bottom));
    const Layout l = f.layout();
    EXPECT_EQ(l.panels[0].axes[2].side, Side::Top);
    EXPECT_TRUE(l.panels[0].axes[2].map.isBound());
}

TEST(FigureEdits, ACopyRefersToItself) {
    Fixture f;
    f.apply(addMarks(f.figure, f.panel, {newMark("line", f.p.datasets[1].id.text())}, Drop::RightAxis));
    f.apply(edits::duplicateFigure(f.figure, "Copy"));
    ASSERT_EQ(f.p.figures.size(), 3U);
    const Figure& copy = f.p.figures[2];
    EXPECT_EQ(copy.name, "Copy");
    std::string axis;
    for (const Element& e : copy.elements[0].children)
        if (e.settings.has("y-axis")) axis = e.settings.reference("y-axis");
    EXPECT_TRUE(copy.find(ElementId::fromText(axis)));
    EXPECT_FALSE(f.shown().find(ElementId::fromText(axis)));
    EXPECT_TRUE(layOut(f.p, copy, f.evaluator).list.items.size() > 5);
    f.apply(edits::moveFigure(copy.id, -5));
    EXPECT_EQ(f.p.figures[0].name, "Copy");
}

TEST(FigureEdits, ACopyShowsOtherDatasetsAndTheFigureStays) {
    Fixture f;
    const DatasetId a = f.p.datasets[0].id, b = f.p.datasets[1].id;
    const Figure before = f.shown();
    EXPECT_THAT(drawnDatasets(f.p, before), testing::ElementsAre(a, b));
    f.apply(edits::copyWithDatasets(f.figure, "Others", {{a, b}, {b, a}}));
    EXPECT_TRUE(f.shown() == before);
    const auto copy = std::ranges::find_if(f.p.figures, [](const auto& each) { return each->name == "Others"; });
    ASSERT_NE(copy, f.p.figures.end());
    EXPECT_THAT(drawnDatasets(f.p, **copy), testing::ElementsAre(b, a));
    const auto curve = std::ranges::find((*copy)->elements[0].children, "curve", &Element::kind);
    EXPECT_EQ(curve->source, f.p.analyses[1].id.text()) << "the fit of the other";
    EXPECT_FALSE(edits::copyWithDatasets(f.figure, "x", {{a, DatasetId{9999}}}).apply(f.p).has_value());
    EXPECT_FALSE(edits::copyWithDatasets(FigureId{9999}, "x", {{a, b}}).apply(f.p).has_value());
}

TEST(FigureEdits, OtherDatasetsTakeTheirFitsWithThem) {
    Fixture f;
    const DatasetId a = f.p.datasets[0].id, b = f.p.datasets[1].id;
    f.apply(edits::swapDatasets(f.p.figures[0].id, {{a, b}}));
    const auto& children = f.p.figures[0].elements[0].children;
    EXPECT_EQ(children[1].source, b.text());
    EXPECT_EQ(children[2].source, f.p.analyses[1].id.text());
}

TEST(FigureEdits, LooksOfSeveralChangeTogetherAndGoBack) {
    Fixture f;
    const auto& children = f.shown().find(f.panel)->children;
    const std::vector<ElementId> both = {children[2].id, children[4].id};
    const Project before = f.p;
    f.apply(edits::setElements(f.figure, both, "size", Value(6.0)));
    for (ElementId id : both) EXPECT_EQ(f.shown().find(id)->settings.number("size"), 6);
    f.apply(edits::setElements(f.figure, both, "size", Value()));
    EXPECT_TRUE(f.p == before);
    EXPECT_FALSE(edits::setElements(f.figure, {ElementId{99999}}, "size", Value(1.0)).apply(f.p).has_value());
    f.apply(edits::moveElement(f.figure, both[0], 2));
    EXPECT_EQ(f.shown().find(f.panel)->children[4].id, both[0]);
}

TEST(Actions, APanelShownAgainFollowsTheOtherInARangeOfItsOwn) {
    Fixture f;
    f.apply(addMarks(f.figure, f.panel, {newMark("line", f.p.datasets[1].id.text())}, Drop::RightAxis));
    f.apply(addLinkedPanel(f.figure, f.panel));
    const Element& again = f.shown().elements[1];
    f.apply(edits::setElement(f.figure, again.children[0].id, "range", Value(Numbers{4, 9})));
    Layout l = f.layout();
    ASSERT_EQ(l.panels.size(), 2U);
    EXPECT_EQ(l.panels[1].x.low(), 4);
    EXPECT_EQ(l.panels[1].axes.size(), 3U);
    const auto marksOf = [](const Layout& layout, std::size_t panel) {
        return std::ranges::count(layout.marks, panel, &MarkGeometry::panel);
    };
    EXPECT_EQ(marksOf(l, 1), marksOf(l, 0));
    f.apply(edits::removeElement(f.figure, f.first("points")->id));
    l = f.layout();
    EXPECT_EQ(marksOf(l, 1), marksOf(l, 0)) << "a change there is seen here";
}
