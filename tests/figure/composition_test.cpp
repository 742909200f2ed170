// SPDX-License-Identifier: GPL-3.0-or-later
// Artwork and figures on a page, and how elements of a page stand to each other: by the numbers of their
// places.
#include "draw/png.h"
#include "draw/revise.h"
#include "figure/anchors.h"
#include "figure/artwork.h"
#include "figure/compose.h"
#include "figure/journal.h"
#include "figure/kinds.h"
#include "figure/moves.h"
#include "figure/note_actions.h"
#include "support/random.h"
#include "support/sample_project.h"

#include <gmock/gmock.h>
#include <numeric>

using namespace jointer;
using namespace jointer::figure;
using draw::Rect;
using testing::HasSubstr;

namespace {

// A drawing of 60 × 30 mm with a square millimetre at (10, 5) from its upper left corner.
Asset scheme() {
    static const auto bytes = std::make_shared<const std::string>(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"60mm\" height=\"30mm\" viewBox=\"0 0 60 "
        "30\"><path d=\"M 10 5 L 11 "
        "5 L 11 6 L 10 6 Z\" style=\"fill:#ff0000;stroke:#000000;stroke-width:0.05\"/></svg>");
    return {.id = {}, .name = "scheme.svg", .type = "image/svg+xml", .bytes = bytes};
}

Asset photo(std::size_t columns, std::size_t rows, double dpi) {
    const auto pixels =
        std::make_shared<const std::vector<std::uint8_t>>(4 * columns * rows, std::uint8_t{200});
    return {.id = {},
            .name = "photo.png",
            .type = "image/png",
            .bytes = std::make_shared<const std::string>(
                draw::pngOf({.bounds = {}, .columns = columns, .rows = rows, .pixels = pixels}, dpi))};
}

struct Page {
    Project p = test::sampleProject();
    FigureId id;
    evaluate::Evaluator e;

    explicit Page(std::vector<Element> elements = {}) {
        for (HouseStyle s : shippedStyles()) {
            s.id = p.newId<StyleId>();
            p.styles = p.styles.with(s);
        }
        Figure f{.name = "Page",
                 .style = p.styles[0].id,
                 .settings = {},
                 .elements = std::move(elements),
                 .extra = {}};
        f.settings.set("width", Value(120.0));
        f.settings.set("height", Value(80.0));
        apply(edits::addFigure(f));
        id = p.figures[p.figures.size() - 1].id;
    }
    void apply(const Edit& edit) {
        const auto after = edit.apply(p);
        ASSERT_TRUE(after) << after.error().text;
        p = *after;
    }
    const Figure& figure() const { return *p.figures.find(id); }
    const Element& element(std::size_t k) const { return figure().elements[k]; }
    void set(std::size_t k, std::initializer_list<std::pair<const char*, Value>> settings) {
        for (const auto& [key, value] : settings) apply(edits::setElement(id, element(k).id, key, value));
    }
    Layout lay() { return layOut(p, figure(), e); }
    Rect area(std::size_t k) { return lay().panel(element(k).id)->area; }
    std::string issues() {
        std::string out;
        for (const Issue& i : lay().issues) out += i.text + "\n";
        return out;
    }
    // Where the little square of the scheme ends up: the middle of what is red.
    std::optional<draw::Point> square() {
        std::optional<draw::Point> at;
        const auto walk = [&](const std::vector<draw::Item>& items, const draw::Matrix& m,
                              auto&& self) -> void {
            for (const draw::Item& item : items) {
                if (const auto* g = std::get_if<draw::Group>(&item.what))
                    self(g->items, g->matrix ? m * *g->matrix : m, self);
                const auto* path = std::get_if<draw::Path>(&item.what);
                if (path && path->fill == draw::Colour{255, 0, 0, 255}) at = m({10.5, 5.5});
            }
        };
        walk(lay().list.items, {}, walk);
        return at;
    }
};

Value word(const char* text) {
    return Value(std::string(text));
}

void expectNear(const Rect& a, const Rect& b, double by = 1e-6) {
    EXPECT_NEAR(a.x, b.x, by);
    EXPECT_NEAR(a.y, b.y, by);
    EXPECT_NEAR(a.width, b.width, by);
    EXPECT_NEAR(a.height, b.height, by);
}

} // namespace

TEST(Artwork, FillsItsCellInProportion) {
    Page page;
    page.apply(placeArtwork(page.id, scheme()));
    page.apply(edits::setElement(page.id, {}, "margin", Value(5.0)));
    Rect area = page.area(0); // 110 × 70 is left: it is twice as wide as high
    EXPECT_NEAR(area.width, 110, 1e-6);
    EXPECT_NEAR(area.height, 55, 1e-6);
    EXPECT_NEAR(area.y, 5 + (70 - 55) / 2.0, 1e-6);
    const auto square = page.square();
    ASSERT_TRUE(square);
    EXPECT_NEAR(square->x, area.x + 10.5 / 60 * 110, 1e-6);
    EXPECT_NEAR(square->y, area.y + 5.5 / 30 * 55, 1e-6);
    page.set(0, {{"scale", word("own")}, {"align", word("right")}, {"align-y", word("bottom")}});
    expectNear(page.area(0), {55, 45, 60, 30});
    page.set(0, {{"scale", word("factor")},
                 {"factor", Value(0.5)},
                 {"align", word("left")},
                 {"align-y", word("top")}});
    expectNear(page.area(0), {5, 5, 30, 15});
}

// Turned, cut, scaled and with a scale of its own, by chance: values along its edges stay with what is drawn.
TEST(Artwork, ItsScaleHoldsHoweverItStands) {
    test::Random random(12);
    for (int round = 0; round < 200; ++round) {
        Page page;
        page.apply(placeArtwork(page.id, scheme()));
        const char* turns[] = {"0", "90", "180", "270"};
        const char* turned = turns[random.below(4)];
        const double crops[] = {random.between(0, 15), random.between(0, 40), random.between(0, 15),
                                random.between(0, 40)};
        page.set(0, {{"turned", word(turned)},
                     {"crop-left", Value(crops[0])},
                     {"crop-right", Value(crops[1])},
                     {"crop-top", Value(crops[2])},
                     {"crop-bottom", Value(crops[3])},
                     {"stands-for", Value(240.0)},
                     {"unit", word("µm")}});
        if (random.below(2))
            page.set(0, {{"place", word("free")},
                         {"left", Value(random.between(-5, 50))},
                         {"top", Value(random.between(0, 30))},
                         {"area-width", Value(random.between(10, 90))}});
        const std::string by = turned;
        const bool lies = by == "90" || by == "270";
        const double w = lies ? 30 : 60, h = lies ? 60 : 30;
        const draw::Point own = by == "90"    ? draw::Point{5.5, 60 - 10.5}
                                : by == "180" ? draw::Point{60 - 10.5, 30 - 5.5}
                                : by == "270" ? draw::Point{30 - 5.5, 10.5}
                                              : draw::Point{10.5, 5.5};
        const auto square = page.square();
        const Layout layout = page.lay();
        const PanelGeometry& g = *layout.panel(page.element(0).id);
        ASSERT_TRUE(square);
        EXPECT_NEAR(g.x.value(square->x), own.x / w * 240, 1e-6);
        EXPECT_NEAR(g.y.value(square->y), (h - own.y) / w * 240, 1e-6);
        EXPECT_NEAR(g.area.height / g.area.width,
                    h * (1 - (crops[2] + crops[3]) / 100) / (w * (1 - (crops[0] + crops[1]) / 100)), 1e-9);
        EXPECT_EQ(g.unit, "µm");
    }
}

TEST(Artwork, CornersScaleItAndSidesCutIt) {
    Page page;
    page.apply(placeArtwork(page.id, scheme()));
    page.set(
        0,
        {{"place", word("free")}, {"left", Value(10.0)}, {"top", Value(10.0)}, {"area-width", Value(60.0)}});
    const auto drag = [&](Grip grip, draw::Point by) {
        const Layout layout = page.lay();
        page.apply(editOf(page.id, "Resize", {},
                          changesOf({page.figure(), layout, {page.element(0).id, {}}, grip}, by)));
    };
    drag(Grip::BottomRight, {20, 1});
    expectNear(page.area(0), {10, 10, 80, 40});
    drag(Grip::TopLeft, {20, 0}); // the other corner stays
    expectNear(page.area(0), {30, 20, 60, 30});
    drag(Grip::Whole, {-5, 5});
    expectNear(page.area(0), {25, 25, 60, 30});
    const auto before = page.square();
    drag(Grip::Left, {6, 0}); // a tenth is cut off; the rest stays where it is
    expectNear(page.area(0), {31, 25, 54, 30}, 1e-3);
    drag(Grip::Bottom, {0, -15});
    expectNear(page.area(0), {31, 25, 54, 15}, 1e-3);
    const auto after = page.square();
    EXPECT_NEAR(before->x, after->x, 1e-3);
    EXPECT_NEAR(before->y, after->y, 1e-3);
    drag(Grip::Left, {-50, 0}); // no more is given back than was cut
    EXPECT_NEAR(page.element(0).settings.number("crop-left"), 0, 1e-9);
    EXPECT_NEAR(page.area(0).width, 60, 1e-3);
    drag(Grip::Right, {-500, 0}); // something stays
    EXPECT_GT(page.area(0).width, 0.5);
    page.set(0, {{"crop-left", Value(50.0)}, {"crop-right", Value(50.0)}}); // nothing is left
    drag(Grip::Left, {-1, 0});
    EXPECT_LT(page.element(0).settings.number("crop-left"), 50);
    EXPECT_GE(page.element(0).settings.number("crop-left"), 0);
}

TEST(Artwork, StandsAmongPanelsWithALetterAndHoldsNotes) {
    Page page({newPanel({}), newPanel({})});
    page.apply(edits::setElement(page.id, {}, "letters", word("a")));
    page.apply(edits::setElement(page.id, {}, "columns", Value(2.0)));
    page.apply(placeArtwork(page.id, scheme()));
    EXPECT_EQ(page.figure().settings.integer("rows", 1) * page.figure().settings.integer("columns", 1) >= 3,
              true);
    const ElementId art = page.element(2).id;
    std::string letters;
    for (const draw::Item& item : page.lay().list.items)
        if (const auto* run = std::get_if<draw::TextRun>(&item.what); run && item.element == art)
            letters += run->text;
    EXPECT_EQ(letters, "c");
    // A scale bar of 50 µm where the width is 200 µm.
    page.set(2, {{"stands-for", Value(200.0)}, {"unit", word("µm")}});
    Element bar{.kind = "scale-bar"};
    bar.settings.set("length", Value(50.0));
    page.apply(edits::addElement(page.id, art, bar));
    const ElementId barId = page.figure().find(art)->children.back().id;
    const Layout layout = page.lay();
    std::string words;
    double length = 0;
    for (const draw::Item& item : layout.list.items) {
        if (item.element != barId) continue;
        if (const auto* run = std::get_if<draw::TextRun>(&item.what)) words += run->text;
        if (const auto* path = std::get_if<draw::Path>(&item.what))
            length = std::abs(path->lines[0].points[1].x - path->lines[0].points[0].x);
    }
    EXPECT_THAT(words, HasSubstr("50"));
    EXPECT_THAT(words, HasSubstr("µm"));
    EXPECT_NEAR(length, layout.panel(art)->area.width / 4, 1e-6);
    // Within a panel it is an inset.
    page.apply(edits::addElement(page.id, page.element(0).id,
                                 {.kind = "artwork", .source = page.element(2).source}));
    const ElementId inset = page.element(0).children.back().id;
    page.apply(edits::setElement(page.id, inset, "place", word("inset")));
    const Layout again = page.lay();
    const Rect in = again.panel(page.element(0).id)->area, own = again.panel(inset)->area;
    EXPECT_NEAR(own.x, in.x + 0.55 * in.width, 1e-6);
    EXPECT_NEAR(own.bottom(), in.bottom() - 0.55 * in.height, 1e-6);
    EXPECT_NEAR(own.height, own.width / 2, 1e-6);
    EXPECT_EQ(again.panel(inset)->parent, page.element(0).id);
}

TEST(PlacedFigures, FollowTheirOwnAndNeverHoldThemselves) {
    Page page;
    Figure other =
        newFigure("Shells", page.p.styles[0].id, {newMark("points", page.p.datasets[0].id.text())});
    page.apply(edits::addFigure(other));
    const FigureId shells = page.p.figures[page.p.figures.size() - 1].id;
    page.apply(placeFigure(page.id, shells));
    const auto symbols = [&] {
        std::size_t n = 0;
        draw::eachItem(page.lay().list.items, [&](const draw::Item& item) {
            if (const auto* s = std::get_if<draw::Symbols>(&item.what)) n += s->places.size();
            EXPECT_TRUE(!item.element || item.element == page.element(0).id)
                << "culprits are those of this page";
        });
        return n;
    };
    const std::size_t before = symbols();
    EXPECT_GT(before, 0u);
    page.apply(edits::addElement(shells, page.p.figures.find(shells)->elements[0].id,
                                 newMark("points", page.p.datasets[0].id.text())));
    EXPECT_GE(symbols(), 2 * before); // and keys of a legend
    EXPECT_FALSE(placeFigure(page.id, page.id).apply(page.p));
    page.apply(placeFigure(shells, page.id)); // each in the other
    EXPECT_THAT(page.issues(), testing::Not(HasSubstr("“Shells” cannot be shown within itself")))
        << "said where it is";
    EXPECT_GT(page.lay().list.items.size(), 0u);
    page.apply(edits::removeFigure(shells));
    EXPECT_TRUE(page.figure().elements.empty()) << "what showed it goes with it";
}

TEST(Artwork, JournalsWantPixelsAndLinesOfTheirSize) {
    Page page;
    page.apply(placeArtwork(page.id, photo(400, 200, 300))); // 34 mm at its own size, shown at 117
    JournalProfile profile{.name = "Ours"};
    profile.dpi = 300;
    const auto findings = [&] { return journalFindings(page.p, page.figure(), page.lay(), profile); };
    auto found = findings();
    ASSERT_EQ(found.size(), 1u);
    EXPECT_EQ(found[0].code, "artwork-dpi");
    EXPECT_EQ(found[0].element, page.element(0).id);
    EXPECT_THAT(page.issues(), HasSubstr("dots per inch"));
    page.apply(*found[0].mend);
    EXPECT_TRUE(findings().empty());
    EXPECT_NEAR(*resolutionOf(page.p, page.lay(), page.element(0)), 300, 1);

    Page lines;
    lines.apply(placeArtwork(lines.id, scheme()));
    profile.smallestLinePt = 0.3; // 0.05 mm are 0.14 pt, and twice that here
    found = journalFindings(lines.p, lines.figure(), lines.lay(), profile);
    ASSERT_EQ(found.size(), 1u);
    EXPECT_EQ(found[0].code, "line-too-thin");
    EXPECT_FALSE(resolutionOf(lines.p, lines.lay(), lines.element(0))) << "it has no pixels";
}

// Edges meet, gaps are equal, and nothing moves in the other direction; by chance.
TEST(Composition, EdgesMeetAndGapsAreEqual) {
    test::Random random(77);
    for (int round = 0; round < 20; ++round) {
        Page page;
        const std::size_t n = 3 + random.below(4);
        for (std::size_t k = 0; k < n; ++k) {
            Element e{.kind = k % 2 ? "shape" : "panel"};
            if (k % 2) {
                const double x = random.between(0, 80), y = random.between(0, 50);
                for (const char* suffix : {"", "-2"}) e.settings.set(std::string("anchor") + suffix, "page");
                e.settings.set("x", Value(x));
                e.settings.set("y", Value(y));
                e.settings.set("x-2", Value(x + random.between(3, 30)));
                e.settings.set("y-2", Value(y + random.between(3, 20)));
            } else {
                e.settings.set("place", "free");
                e.settings.set("left", Value(random.between(5, 60)));
                e.settings.set("top", Value(random.between(5, 40)));
                e.settings.set("area-width", Value(random.between(10, 50)));
                e.settings.set("area-height", Value(random.between(10, 30)));
            }
            page.apply(edits::addElement(page.id, {}, e));
        }
        std::vector<ElementId> all;
        for (const Element& e : page.figure().elements) all.push_back(e.id);
        const auto bounds = [&] {
            const Layout layout = page.lay();
            std::vector<Rect> out;
            for (const ElementId id : all) out.push_back(*boundsOf(layout, {id, {}}));
            return out;
        };
        for (const Composition& c : compositions()) {
            const std::vector<Rect> before = bounds();
            const auto edit = compose(page.figure(), page.lay(), all, c.key);
            ASSERT_TRUE(edit) << c.key;
            page.apply(*edit);
            const std::vector<Rect> after = bounds();
            const std::string how = c.key;
            const bool alongX = how == "left" || how == "centre" || how == "right" || how == "across";
            for (std::size_t k = 0; k < n && how != "size"; ++k) {
                EXPECT_NEAR(alongX ? after[k].y : after[k].x, alongX ? before[k].y : before[k].x, 1e-6)
                    << how;
                EXPECT_NEAR(after[k].width, before[k].width, 1e-6) << how;
                const auto line = [&](const Rect& r) {
                    return how == "left"     ? r.x
                           : how == "right"  ? r.right()
                           : how == "centre" ? r.x + r.width / 2
                           : how == "top"    ? r.y
                           : how == "bottom" ? r.bottom()
                                             : r.y + r.height / 2;
                };
                if (how != "across" && how != "down") {
                    EXPECT_NEAR(line(after[k]), line(after[0]), 1e-6) << how;
                }
            }
            if (how == "across" || how == "down") {
                const auto begin = [&](const Rect& r) { return alongX ? r.x : r.y; };
                const auto length = [&](const Rect& r) { return alongX ? r.width : r.height; };
                std::vector<std::size_t> order(n);
                std::iota(order.begin(), order.end(), 0);
                std::ranges::sort(order, {},
                                  [&](std::size_t k) { return begin(before[k]) + length(before[k]) / 2; });
                const auto gap = [&](std::size_t k) {
                    return begin(after[order[k]]) - begin(after[order[k - 1]]) - length(after[order[k - 1]]);
                };
                for (std::size_t k = 2; k < n; ++k) EXPECT_NEAR(gap(k), gap(1), 1e-6) << how;
                EXPECT_NEAR(begin(after[order.front()]), begin(before[order.front()]), 1e-6);
                EXPECT_NEAR(begin(after[order.back()]), begin(before[order.back()]), 1e-6);
            }
            if (how == "size")
                for (std::size_t k = 2; k < n; k += 2) {
                    EXPECT_NEAR(after[k].width, after[0].width, 1e-6);
                    EXPECT_NEAR(after[k].height, after[0].height, 1e-6);
                }
        }
    }
}

TEST(Composition, EqualGapsBetweenThree) {
    Page page;
    const double lefts[] = {10, 37, 80}, widths[] = {10, 20, 6};
    for (int k = 0; k < 3; ++k) {
        Element e{.kind = "panel"};
        e.settings.set("place", "free");
        e.settings.set("left", Value(lefts[k]));
        e.settings.set("area-width", Value(widths[k]));
        page.apply(edits::addElement(page.id, {}, e));
    }
    std::vector<ElementId> all;
    for (const Element& e : page.figure().elements) all.push_back(e.id);
    page.apply(*compose(page.figure(), page.lay(), all, "across"));
    EXPECT_NEAR(page.area(0).x, 10, 1e-9);
    EXPECT_NEAR(page.area(1).x, 40, 1e-9); // 20 mm at both sides
    EXPECT_NEAR(page.area(2).x, 80, 1e-9);
    EXPECT_FALSE(compose(page.figure(), page.lay(), all, "across")) << "it stands so already";
    EXPECT_FALSE(compose(page.figure(), page.lay(), {all[0], all[1]}, "down")) << "two have no gap to share";
    EXPECT_FALSE(compose(page.figure(), page.lay(), all, "nonsense"));
}

TEST(Composition, WhatIsKeptTogetherIsFoundFromEach) {
    Page page({newPanel({}), newPanel({}), {.kind = "note"}});
    const ElementId a = page.element(0).id, b = page.element(1).id, c = page.element(2).id;
    page.apply(keepTogether(page.id, {a, c}));
    EXPECT_THAT(togetherWith(page.figure(), a), testing::UnorderedElementsAre(a, c));
    EXPECT_THAT(togetherWith(page.figure(), c), testing::UnorderedElementsAre(a, c));
    EXPECT_THAT(togetherWith(page.figure(), b), testing::ElementsAre(b));
    page.apply(letApart(page.id, {a, c}));
    EXPECT_THAT(togetherWith(page.figure(), a), testing::ElementsAre(a));
}

TEST(Composition, WhatIsDraggedSnapsToGuides) {
    Page page({newPanel({})});
    page.apply(edits::setElement(page.id, {}, "guides-x", Value(Numbers{33.5})));
    const Layout layout = page.lay();
    const Snapped met = snapped(layout, {page.element(0).id, {}}, {20, 20, 10, 10}, {13, 0}, 1);
    EXPECT_EQ(met.x, 33.5);
    EXPECT_NEAR(met.by.x, 13.5, 1e-9);
}

TEST(TableNotes, SetColumnsWithTheirPointsBelowEachOther) {
    Page page;
    Table t;
    t.id = page.p.newId<TableId>();
    t.name = "Springs";
    t.columns = {textColumn("Spring", {"Alder", "Reed mouth", "Sill"}),
                 numberColumn("Chloride", "mg/L", {12.5, 103.25, -7})};
    for (Column& c : t.columns) c.id = page.p.newId<ColumnId>();
    page.p.tables = page.p.tables.with(t);
    Element e = noteOf("table", page.lay(), {}, t.id.text(), "");
    page.apply(edits::addElement(page.id, {}, e));
    const Layout layout = page.lay();
    std::map<std::string, draw::Point> at;
    std::size_t rules = 0;
    for (const draw::Item& item : layout.list.items) {
        if (item.element != page.element(0).id) continue;
        if (const auto* run = std::get_if<draw::TextRun>(&item.what)) at[run->text] = run->origin;
        if (const auto* path = std::get_if<draw::Path>(&item.what)) rules += path->stroke.has_value();
    }
    EXPECT_EQ(rules, 3u);
    ASSERT_TRUE(at.contains("Reed mouth") && at.contains("103") && at.contains(".25") && at.contains("−7"));
    EXPECT_NEAR(at.at("Alder").x, at.at("Reed mouth").x, 1e-9) << "words to the left";
    EXPECT_NEAR(at.at(".25").x, at.at(".50").x, 1e-9) << "points below each other";
    EXPECT_EQ(boundsOf(layout, {page.element(0).id, {}}).has_value(), true);
    page.apply(edits::setElement(page.id, page.element(0).id, "columns",
                                 Value(References{{t.columns[1].id.text()}})));
    page.apply(edits::setElement(page.id, page.element(0).id, "digits", Value(2.0)));
    std::string words;
    for (const draw::Item& item : page.lay().list.items)
        if (const auto* run = std::get_if<draw::TextRun>(&item.what)) words += run->text + "|";
    EXPECT_THAT(words, testing::Not(HasSubstr("Alder")));
    EXPECT_THAT(words, HasSubstr("|12|103|−7|"));
    page.apply(edits::setElement(page.id, page.element(0).id, "first", Value(9.0)));
    EXPECT_THAT(page.issues(), HasSubstr("no such rows"));
    const Project without = *edits::removeTable(t.id).apply(page.p);
    EXPECT_TRUE(without.figures.find(page.id)->elements.empty());
}
