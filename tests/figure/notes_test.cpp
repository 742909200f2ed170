// SPDX-License-Identifier: GPL-3.0-or-later
// Notes stay where they are anchored, whatever happens to the figure; what has no place is said.
#include "draw/revise.h"
#include "figure/anchors.h"
#include "figure/kinds.h"
#include "figure/layout.h"
#include "figure/moves.h"
#include "figure/note_actions.h"
#include "figure/page/live_text.h"
#include "figure/wavelength.h"
#include "project/edit.h"
#include "support/random.h"
#include "support/sample_project.h"

#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::figure;
using testing::HasSubstr;

namespace {

struct Noted {
    Project p = test::sampleProject();
    FigureId id;
    ElementId panel;
    evaluate::Evaluator e;

    Noted() {
        for (HouseStyle s : shippedStyles()) {
            s.id = p.newId<StyleId>();
            p.styles = p.styles.with(s);
        }
        p = *edits::addFigure(newFigure("Notes", p.styles[0].id,
                                        {newMark("points", p.datasets[0].id.text()),
                                         newMark("curve", p.analyses[0].id.text())}))
                 .apply(p);
        id = p.figures[p.figures.size() - 1].id;
        panel = figure().elements[0].id;
    }
    const Figure& figure() const { return *p.figures.find(id); }
    ElementId add(Element e, bool onPage = false) {
        p = *edits::addElement(id, onPage ? ElementId{} : panel, std::move(e)).apply(p);
        return onPage ? figure().elements.back().id : figure().find(panel)->children.back().id;
    }
    void set(ElementId element, const std::string& key, Value v) {
        p = *edits::setElement(id, element, key, std::move(v)).apply(p);
    }
    Layout lay() { return layOut(p, figure(), e); }
    std::string issues() {
        std::string out;
        for (const Issue& i : lay().issues) out += i.text + "\n";
        return out;
    }
    std::string words(ElementId element) {
        std::string out;
        for (const draw::Item& item : lay().list.items)
            if (const auto* run = std::get_if<draw::TextRun>(&item.what); run && item.element == element)
                out += run->text;
        return out;
    }
};

Element note(const std::string& kind, std::initializer_list<std::pair<const char*, Value>> settings) {
    Element e{.kind = kind};
    for (const auto& [key, value] : settings) e.settings.set(key, value);
    return e;
}
Value word(const char* text) {
    return Value(std::string(text));
}

} // namespace

// Random rescaling, resizing and other data: every point stays where it is anchored to, to 0.01 mm.
TEST(Anchors, HoldThroughWhateverHappens) {
    test::Random random(31);
    static const std::vector<const char*> anchors = {"panel", "data", "page"};
    for (int round = 0; round < 120; ++round) {
        Noted page;
        struct Anchored {
            ElementId id;
            std::string x, y; // anchors
            double vx, vy;
        };
        std::vector<Anchored> all;
        for (int k = 0; k < 4; ++k) {
            const std::string x = anchors[random.below(3)], y = anchors[random.below(3)];
            const auto value = [&](const std::string& anchor, bool ofY) {
                return anchor == "panel"  ? random.between(0, 1)
                       : anchor == "page" ? random.between(5, 50)
                       : ofY              ? random.between(0.5, 4.5)
                                          : random.between(3, 17);
            };
            const double vx = value(x, false), vy = value(y, true);
            const ElementId id = page.add(note("note", {{"text", word("X")},
                                                        {"align", word("left")},
                                                        {"anchor", Value(x)},
                                                        {"anchor-y", Value(y)},
                                                        {"x", Value(vx)},
                                                        {"y", Value(vy)}}));
            all.push_back({id, x, y, vx, vy});
        }
        page.set({}, "width", Value(random.between(60, 180)));
        page.set({}, "height", Value(random.between(50, 140)));
        const Element first = page.figure().find(page.panel)->children[0];
        page.set(first.id, "range", Value(Numbers{random.between(-5, 2), random.between(18, 40)}));
        if (random.below(2)) page.set(first.id, "reversed", Value(true));
        if (random.below(2))
            page.set(page.figure().find(page.panel)->children[1].id, "range",
                     Value(Numbers{-1, random.between(5, 9)}));
        if (random.below(2)) page.set(page.panel, "room-right", Value(random.between(0, 15)));
        const Layout laid = page.lay();
        const PanelGeometry* g = laid.panel(page.panel);
        for (const Anchored& a : all) {
            const auto bounds = boundsOf(laid, {a.id, {}});
            ASSERT_TRUE(bounds) << a.x << a.y;
            const double x = a.x == "page"    ? a.vx
                             : a.x == "panel" ? g->area.x + a.vx * g->area.width
                                              : g->x.place(a.vx),
                         y = a.y == "page"    ? a.vy
                             : a.y == "panel" ? g->area.bottom() - a.vy * g->area.height
                                              : g->y.place(a.vy);
            EXPECT_NEAR(bounds->x, x, 0.01);
            EXPECT_NEAR(bounds->y, y, 0.01);
        }
    }
}

// Telling it in another way changes nothing on the page.
TEST(Anchors, ToldInAnotherWayNothingMoves) {
    test::Random random(7);
    for (const char* kind : {"note", "arrow", "shape", "brace"})
        for (int round = 0; round < 12; ++round) {
            Noted page;
            Element e = note(kind, {{"text", word("T")}});
            for (const std::string_view suffix : pointsOf(kind)) {
                e.settings.set("x" + std::string(suffix), Value(random.between(0.1, 0.9)));
                e.settings.set("y" + std::string(suffix), Value(random.between(0.1, 0.9)));
            }
            const ElementId id = page.add(e);
            const auto before = boundsOf(page.lay(), {id, {}});
            ASSERT_TRUE(before);
            for (const char* anchor : {"data", "page", "panel", "page", "data"}) {
                const auto edit = anchorTo(page.figure(), page.lay(), id, anchor);
                ASSERT_TRUE(edit);
                page.p = *edit->apply(page.p);
                const auto after = boundsOf(page.lay(), {id, {}});
                ASSERT_TRUE(after);
                EXPECT_NEAR(after->x, before->x, 1e-9) << kind << anchor;
                EXPECT_NEAR(after->y, before->y, 1e-9) << kind << anchor;
                EXPECT_EQ(page.figure().find(id)->settings.text("anchor"), anchor);
            }
        }
}

TEST(Anchors, GoAlongWithAnElement) {
    Noted page;
    const ElementId box = page.add(
        note("shape", {{"x", Value(0.2)}, {"y", Value(0.2)}, {"x-2", Value(0.4)}, {"y-2", Value(0.5)}}));
    const ElementId label = page.add(note("note", {{"text", word("in it")},
                                                   {"anchor", word("element")},
                                                   {"of", Value(Reference{box.text()})},
                                                   {"x", Value(0.5)},
                                                   {"y", Value(1.0)}}));
    const auto beside = [&] {
        const Layout laid = page.lay();
        const draw::Rect b = *boundsOf(laid, {box, {}}), l = *boundsOf(laid, {label, {}});
        EXPECT_NEAR(l.x, b.x + b.width / 2, 1e-9);
        EXPECT_NEAR(l.y, b.y, 1e-9);
    };
    beside();
    page.p =
        *editOf(page.id, "Move", {}, changesOf({page.figure(), page.lay(), {box, {}}}, {5, 3})).apply(page.p);
    beside();
    page.p = *edits::removeElements(page.id, {box}).apply(page.p);
    EXPECT_THAT(page.issues(), HasSubstr("what it is anchored to is not there"));
}

TEST(Notes, AreDraggedByTheirGrips) {
    Noted page;
    for (const char* kind : {"arrow", "brace", "shape"}) {
        const ElementId id = page.add(
            note(kind, {{"x", Value(0.3)}, {"y", Value(0.3)}, {"x-2", Value(0.6)}, {"y-2", Value(0.5)}}));
        const Layout laid = page.lay();
        const auto grips = gripsOf(page.figure(), laid, {id, {}});
        ASSERT_EQ(grips.size(), kind == std::string("shape") ? 8U : 2U);
        for (const GripPlace& grip : grips) {
            Project now =
                *editOf(page.id, "Drag", {}, changesOf({page.figure(), laid, {id, {}}, grip.grip}, {4, -3}))
                     .apply(page.p);
            const Layout after = layOut(now, *now.figures.find(page.id), page.e);
            bool found = false;
            for (const GripPlace& other : gripsOf(*now.figures.find(page.id), after, {id, {}}))
                found = found || (other.grip == grip.grip && (std::abs(other.at.x - grip.at.x - 4) < 1e-6 ||
                                                              std::abs(other.at.y - grip.at.y + 3) < 1e-6));
            EXPECT_TRUE(found) << kind << " grip " << static_cast<int>(grip.grip);
        }
    }
}

TEST(Notes, WhatLeavesTheAxesIsSaid) {
    Noted page;
    page.add(note(
        "note", {{"text", word("far out")}, {"anchor", word("data")}, {"x", Value(1e6)}, {"y", Value(1.0)}}));
    EXPECT_THAT(page.issues(), HasSubstr("“far out” stands at values that the axes do not show"));
    Noted other;
    other.add(note("scale-bar", {{"length", Value(1e9)}}));
    EXPECT_THAT(other.issues(), HasSubstr("scale bar reaches over the end"));
    Noted third;
    third.add(note("note", {{"text", word("led")}, {"leader", word("line")}, {"leader-x", Value(-1e9)}}));
    EXPECT_THAT(third.issues(), HasSubstr("leads to values that the axes do not show"));
}

TEST(Notes, AScaleBarIsAsLongAsItSays) {
    Noted page;
    const ElementId id = page.add(note("scale-bar", {{"length", Value(3.0)}}));
    const Layout laid = page.lay();
    const PanelGeometry* g = laid.panel(page.panel);
    double length = 0;
    for (const draw::Item& item : laid.list.items)
        if (const auto* path = std::get_if<draw::Path>(&item.what); path && item.element == id)
            length = path->lines[0].points[1].x - path->lines[0].points[0].x;
    EXPECT_NEAR(length, g->x.place(3) - g->x.place(0), 1e-9);
    EXPECT_THAT(page.words(id), HasSubstr("3"));
}

TEST(LiveText, KnowsNumbersAttributesAndCounts) {
    Noted page;
    Dataset d = page.p.datasets[0];
    d.attributes = {{"age", "28", "d"}};
    page.p.datasets = page.p.datasets.with(d);
    const auto said = [&](const std::string& text, const std::string& source) {
        const ElementId id = page.add({.kind = "note", .source = source});
        page.set(id, "text", Value(text));
        return page.words(id);
    };
    const std::string fit = page.p.analyses[0].id.text(), data = d.id.text();
    EXPECT_EQ(said("{age}", data), "28\u2009d");
    EXPECT_EQ(said("{age.}", fit), "28") << "of the dataset that is fitted";
    EXPECT_EQ(said("{name}", data), d.name);
    EXPECT_THAT(said("\\textbf{{centre:2}}", fit), HasSubstr("±"));
    EXPECT_EQ(said("\\frac{a}{b}", fit), "ab") << "braces of markup are no names";
    EXPECT_THAT(said("{" + d.name + "/centre}", ""), HasSubstr("±"));
    EXPECT_GT(std::stoi(said("{n}", data)), 10);
    EXPECT_EQ(said("{date}", data).size(), 10U);
    EXPECT_EQ(said("{wrong}", fit), "wrong");
    EXPECT_THAT(page.issues(), HasSubstr("“{wrong}” in a text stands for nothing"));
    const auto names = liveNames(page.p, page.e, {.kind = "note", .source = fit});
    EXPECT_TRUE(
        std::ranges::any_of(names, [](const LiveName& n) { return n.name == "centre" && !n.now.empty(); }));
    EXPECT_TRUE(std::ranges::any_of(names, [](const LiveName& n) { return n.name == "age"; }));
}

TEST(LiveText, StandsInTitlesLegendsAndAxesToo) {
    Noted page;
    const auto children = page.figure().find(page.panel)->children;
    const std::string name = page.p.datasets[0].name;
    page.set(page.panel, "title", Value("{" + name + "/centre:1}"));
    page.set(children[0].id, "name", Value("Shift of {" + name + "/centre:1}"));
    page.set(children[3].id, "label", word("fit at {centre:1}"));
    EXPECT_THAT(page.words(page.panel), HasSubstr("±"));
    EXPECT_THAT(page.words(children[0].id), HasSubstr("±"));
    EXPECT_THAT(page.words(children[4].id), HasSubstr("±")) << "in the legend";
    page.set(page.panel, "title", word("{gone/centre}"));
    EXPECT_THAT(page.issues(), HasSubstr("{gone/centre}"));
}

TEST(Notes, NewOnesAreDrawnWithinThePage) {
    for (const NewNote& n : newNotes()) {
        Noted page;
        const Layout before = page.lay();
        const std::string source =
            n.key == std::string("table") ? page.p.tables[0].id.text() : page.p.analyses[0].id.text();
        const ElementId id = page.add(noteOf(n.key, before, page.panel, source, "A note"));
        const Layout laid = page.lay();
        EXPECT_EQ(laid.issues.size(), before.issues.size()) << n.key;
        const auto bounds = boundsOf(laid, {id, {}});
        ASSERT_TRUE(bounds) << n.key;
        EXPECT_TRUE(laid.panel(page.panel)->area.grown(1).contains({bounds->x, bounds->y})) << n.key;
        EXPECT_TRUE(laid.panel(page.panel)->area.grown(1).contains({bounds->right(), bounds->bottom()}))
            << n.key;
    }
}

// Any values of any settings: nothing crashes, and nothing lies outside of what a backend takes.
TEST(Notes, RandomSettingsAreDrawn) {
    test::Random random(3);
    for (int round = 0; round < 400; ++round) {
        Noted page;
        const char* kind = std::array{"note", "arrow", "shape", "brace", "scale-bar"}[random.below(5)];
        Element e{.kind = kind, .source = random.below(2) ? page.p.analyses[0].id.text() : ""};
        for (const Setting& s : kindOf(kind).settings) {
            if (random.below(3) == 0) continue;
            if (s.kind == SettingKind::Choice)
                e.settings.set(s.key, Value(s.choices[random.below(s.choices.size())].key));
            else if (s.kind == SettingKind::Number)
                e.settings.set(s.key,
                               Value(random.below(8)
                                         ? random.between(std::max(s.lowest, -3.0), std::min(s.highest, 30.0))
                                         : std::clamp(random.ofAnySize(-5, 300), s.lowest, s.highest)));
            else if (s.key == "text")
                e.settings.set(s.key, Value(std::string("a^{2}\n\\frac{x}{y}")));
            else if (s.kind == SettingKind::Reference)
                e.settings.set(s.key, Value(Reference{page.panel.text()}));
        }
        page.add(e, random.below(6) == 0);
        const Layout laid = page.lay();
        draw::eachItem(laid.list.items, [](const draw::Item& item) {
            const auto* path = std::get_if<draw::Path>(&item.what);
            for (const draw::Polyline& l : path ? path->lines : std::vector<draw::Polyline>{})
                for (const draw::Point& at : l.points)
                    EXPECT_TRUE(std::abs(at.x) <= 1.0001e4 && std::abs(at.y) <= 1.0001e4);
        });
    }
}

TEST(Light, HasTheColoursOfTheSpectrum) {
    const draw::Colour red = colourOfLight(640), green = colourOfLight(530), blue = colourOfLight(450);
    EXPECT_TRUE(red.r > 200 && red.g < 120 && red.b < 80);
    EXPECT_TRUE(green.g > 200 && green.r < 160 && green.b < 120);
    EXPECT_TRUE(blue.b > 200 && blue.r < 160 && blue.g < 120);
    EXPECT_EQ(colourOfLight(1000), draw::Colour{});
    EXPECT_EQ(colourOfLight(NAN), draw::Colour{});
    EXPECT_LT(colourOfLight(770).r, colourOfLight(650).r);
}
