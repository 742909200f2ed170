// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/kinds.h"
#include "figure/layout.h"
#include "figure/marks/mark.h"
#include "figure/page/live_text.h"
#include "figure/thin.h"
#include "project/edit.h"
#include "support/fitted.h"
#include "support/sample_project.h"

#include <cmath>
#include <gmock/gmock.h>
#include <set>

using namespace jointer;
using namespace jointer::figure;
using testing::ElementsAre;

namespace {

std::vector<Tick> ticksOf(const Range& range, const TickWish& wish = {}, const char* scale = "linear") {
    Settings settings;
    settings.set("scale", scale);
    return scaleFor({settings, {}})->ticks(range, wish);
}

std::vector<std::string> labels(const Range& range, const TickWish& wish = {}, const char* scale = "linear") {
    std::vector<std::string> out;
    for (const Tick& t : ticksOf(range, wish, scale))
        if (!t.label.empty()) out.push_back(t.label);
    return out;
}

Project withFigure(const std::function<void(Element&)>& change = {}) {
    Project p = test::sampleProject();
    for (HouseStyle s : shippedStyles()) {
        s.id = p.newId<StyleId>();
        p.styles = p.styles.with(s);
    }
    Element points = newMark("points", p.datasets[0].id.text()),
            curve = newMark("curve", p.analyses[0].id.text());
    curve.settings.set("band", "confidence");
    Figure f = newFigure("F", p.styles[0].id, {points, curve});
    if (change) change(f.elements[0]);
    return *edits::addFigure(f).apply(p);
}

Layout laidOut(const Project& p) {
    evaluate::Evaluator e;
    return layOut(p, p.figures[p.figures.size() - 1], e);
}

std::string textsOf(const Layout& l) {
    std::string out;
    for (const draw::Item& item : l.list.items)
        if (const auto* run = std::get_if<draw::TextRun>(&item.what)) out += run->text + "|";
    return out;
}

// Items of one sort that an element drew, also within groups.
template <class What>
std::size_t countOf(const std::vector<draw::Item>& items, ElementId element, bool within = false) {
    std::size_t n = 0;
    for (const draw::Item& item : items) {
        const bool own = within || item.element == element;
        if (const auto* group = std::get_if<draw::Group>(&item.what))
            n += countOf<What>(group->items, element, own);
        n += own && std::holds_alternative<What>(item.what);
    }
    return n;
}

} // namespace

TEST(Ticks, AreRoundAndLabelledAsPrinted) {
    EXPECT_THAT(labels({.low = 0, .high = 10}), ElementsAre("0", "2", "4", "6", "8", "10"));
    EXPECT_THAT(labels({.low = -1, .high = 1}, {.about = 4}),
                ElementsAre("−1.0", "−0.5", "0.0", "0.5", "1.0"));
    EXPECT_THAT(labels({.low = 0, .high = 20000}, {.about = 4}),
                ElementsAre("0", "5000", "10\u2009000", "15\u2009000", "20\u2009000"));
    EXPECT_THAT(labels({.low = 0, .high = 3e-5}, {.about = 3}),
                ElementsAre("0", "1×10^{−5}", "2×10^{−5}", "3×10^{−5}"));
    EXPECT_THAT(labels({0.1, 1000}, {}, "log"), ElementsAre("0.1", "1", "10", "100", "1000"));
    EXPECT_THAT(labels({1e-6, 1e2}, {.about = 9}, "log"), testing::Contains("10^{−6}"));
    EXPECT_THAT(labels({.low = 640, .high = 800}, {.every = 40}),
                ElementsAre("640", "680", "720", "760", "800"));
    EXPECT_TRUE(ticksOf({.low = 1, .high = 1}, {}).empty());
    EXPECT_LT(ticksOf({.low = 0, .high = 1e9}, {.every = 1e-3}).size(), 2000U)
        << "a typed distance cannot hang the program";
}

TEST(Ticks, HaveEqualDistancesAtEveryScale) {
    for (double size = 1e-12; size < 1e12; size *= 3.7)
        for (double low : {0.0, -0.31 * size, 17.3 * size}) {
            const auto ticks = ticksOf({low, low + size});
            std::vector<double> major;
            for (const Tick& t : ticks)
                if (t.major) major.push_back(t.value);
            ASSERT_GE(major.size(), 3U);
            ASSERT_LE(major.size(), 14U);
            for (std::size_t i = 2; i < major.size(); ++i)
                EXPECT_NEAR(major[i] - major[i - 1], major[1] - major[0], 1e-9 * size);
            std::set<std::string> different;
            for (const Tick& t : ticks)
                EXPECT_TRUE(!t.major || different.insert(t.label).second)
                    << t.label << " twice at " << low << " + " << size;
        }
}

TEST(Layout, IsDeterministicAndInsideThePage) {
    const Project p = withFigure();
    const Layout a = laidOut(p), b = laidOut(p);
    EXPECT_TRUE(a.list == b.list);
    EXPECT_EQ(a.list.widthMm, 85);
    ASSERT_EQ(a.panels.size(), 1U);
    const draw::Rect area = a.panels[0].area;
    EXPECT_GT(area.width, 60);
    for (const draw::Item& item : a.list.items)
        if (const auto* run = std::get_if<draw::TextRun>(&item.what)) {
            EXPECT_GE(run->origin.x, 0) << run->text;
            EXPECT_LE(run->origin.x + (run->angleDeg == 0 ? run->widthMm : 0), 85.05) << run->text;
            EXPECT_LE(run->origin.y, 65);
        }
}

TEST(Layout, TitlesComeFromTheDataAndCanBeOverridden) {
    EXPECT_THAT(textsOf(laidOut(withFigure())), testing::HasSubstr("shift (cm|−1|)"));
    const std::string own = textsOf(laidOut(withFigure([](Element& panel) {
        panel.children[0].settings.set("name", "Raman shift");
        panel.children[1].settings.set("name", "-");
    })));
    EXPECT_THAT(own, testing::HasSubstr("Raman shift (cm|−1|)"));
    EXPECT_THAT(own, testing::Not(testing::HasSubstr("counts")));
}

TEST(Layout, ReversedAndLogarithmicAxes) {
    const Layout l = laidOut(withFigure([](Element& panel) {
        panel.children[0].settings.set("reversed", Value(true));
        panel.children[0].settings.set("scale", "log");
        panel.children[0].settings.set("range", Value(Numbers{0.1, 100}));
    }));
    EXPECT_GT(l.panels[0].x.place(0.2), l.panels[0].x.place(50));
    const Layout bad = laidOut(withFigure([](Element& panel) {
        panel.children[0].settings.set("scale", "log");
        panel.children[0].settings.set("range", Value(Numbers{-5, 100}));
    }));
    EXPECT_EQ(std::ranges::count(bad.issues, "log-range", &Issue::code), 1);
}

TEST(Layout, NumbersNeverCollide) {
    for (double size : {4.0, 8.0, 20.0, 40.0}) {
        Project p = withFigure();
        p = *edits::setElement(p.figures[1].id, {}, "text-size", Value(size)).apply(p);
        const Layout l = laidOut(p);
        std::vector<std::pair<double, double>> spans; // of the numbers under the x axis
        for (const draw::Item& item : l.list.items) {
            const auto* run = std::get_if<draw::TextRun>(&item.what);
            if (!run || run->angleDeg != 0 || run->origin.y < l.panels[0].area.bottom() ||
                !std::isdigit(static_cast<unsigned char>(run->text[0])))
                continue;
            spans.emplace_back(run->origin.x, run->origin.x + run->widthMm);
        }
        std::ranges::sort(spans);
        EXPECT_GE(spans.size(), 2U) << "an axis says nothing with fewer numbers, at " << size << " pt";
        for (std::size_t i = 1; i < spans.size(); ++i)
            EXPECT_GE(spans[i].first, spans[i - 1].second) << "at " << size << " pt";
    }
}

TEST(Layout, EveryKindOfMarkDraws) {
    for (const MarkKind& kind : markCatalogue()) {
        Project p = withFigure();
        Settings smooth;
        p = *edits::addStep(p.datasets[0].id, "smooth", smooth, "").apply(p);
        p = *edits::changeAnalysis(p.analyses[0].id, "", [](Analysis& a) {
                 a.parameters.clear();
                 a.model = {
                     .kind = "sum",
                     .children = {{.kind = "gaussian", .component = 1}, {.kind = "line", .component = 2}}};
             }).apply(p);
        Dataset lists{.name = "lists", .colour = "#8a4c82"};
        lists.source = {.kind = "groups", .table = p.tables[0].id};
        for (std::size_t k : {1U, 4U}) lists.source.roles.push_back({Role::Y, p.tables[0].columns[k].id});
        p = *edits::addDataset(lists).apply(p);
        p = *edits::setRowKind(p.tables[0].id, {10, 30}, RowKind::Unknown).apply(p);
        p = *edits::addAnalysis({.kind = "unknowns",
                                 .inputs = {{.dataset = p.datasets[0].id}},
                                 .analyses = {p.analyses[0].id}})
                 .apply(p);
        const AnalysisId samples = p.analyses[p.analyses.size() - 1].id;
        p = *edits::addDataset({.name = "plane", .source = {.kind = "plane"}}).apply(p);
        const DatasetId plane = p.datasets[p.datasets.size() - 1].id;
        p = *edits::addDataset({.name = "flow", .source = {.kind = "flow"}}).apply(p);
        const DatasetId flow = p.datasets[p.datasets.size() - 1].id;
        Dataset waters{.name = "waters", .source = {.kind = "ions", .table = p.tables[0].id}};
        for (const auto& [ion, k] : {std::pair("Ca", 1U), std::pair("Mg", 1U), std::pair("Na", 1U),
                                     std::pair("Cl", 1U), std::pair("SO4", 1U), std::pair("HCO3", 1U)})
            waters.source.roles.push_back({Role::Component, p.tables[0].columns[k].id, ion});
        p = *edits::addDataset(waters).apply(p);
        const DatasetId ions = p.datasets[p.datasets.size() - 1].id;
        const bool vectors = kind.info.key == "arrows" || kind.info.key == "places";
        Element mark = newMark(kind.info.key, kind.info.key == "ion-patterns" ? ions.text()
                                              : !kind.of.empty()            ? (vectors ? flow : plane).text()
                                              : kind.info.key == "readings" ? samples.text()
                                              : kind.takes == Takes::Analysis ? p.analyses[0].id.text()
                                              : kind.takes == Takes::Groups   ? p.datasets[2].id.text()
                                              : kind.takes == Takes::Nothing  ? ""
                                                                              : p.datasets[0].id.text());
        if (kind.info.key == "ion-patterns")
            mark.settings.set("part", Value(Numbers{1, 10})); // some of the rows
        Figure made = newFigure("G", p.styles[0].id, {mark});
        if (!kind.coordinates.empty()) made.elements[0].settings.set("coordinates", kind.coordinates);
        p = *edits::addFigure(made).apply(p);
        const Layout l = laidOut(p);
        const ElementId id = p.figures[2].elements[0].children[2].id;
        EXPECT_TRUE(std::ranges::any_of(l.list.items, [&](const draw::Item& i) { return i.element == id; }))
            << kind.info.key;
        EXPECT_TRUE(l.issues.empty()) << kind.info.key << ": " << l.issues[0].text;
        for (const Setting& s : kind.info.settings)
            EXPECT_FALSE(s.help.empty()) << kind.info.key << "." << s.key;
    }
}

// Points left out stand alone in the strip of what was taken away; noise is a curve.
TEST(Layout, WhatWasTakenAwayIsPointsOrACurve) {
    for (const bool smoothed : {false, true}) {
        Project p = withFigure();
        const DatasetId d = p.datasets[0].id;
        p = *(smoothed ? edits::addStep(d, "smooth", {}, "") : edits::excludeRows(d, {41}, true)).apply(p);
        p = *edits::addFigure(newFigure("G", p.styles[0].id, {newMark("taken", d.text())})).apply(p);
        const Layout l = laidOut(p);
        const ElementId mark = p.figures[p.figures.size() - 1].elements[0].children[2].id;
        EXPECT_EQ(countOf<draw::Symbols>(l.list.items, mark), smoothed ? 0U : 1U);
        EXPECT_EQ(countOf<draw::Path>(l.list.items, mark), smoothed ? 1U : 0U);
    }
}

TEST(Layout, ALegendNamesOnlyWhatIsDrawn) {
    Project p = withFigure();
    p = *edits::changeDataset(p.datasets[0].id, "", [](Dataset& x) { x.protocol.clear(); }).apply(p);
    const std::string d = p.datasets[0].id.text();
    Element line = newMark("line", d), points = newMark("points", d), none = newMark("baseline", d);
    line.settings.set("label", "curve");
    points.settings.set("label", "measured");
    none.settings.set("label", "phantom");
    p = *edits::addFigure(newFigure("G", p.styles[0].id, {line, points, none})).apply(p);
    const std::string texts = textsOf(laidOut(p));
    EXPECT_THAT(texts, testing::HasSubstr("measured"));
    EXPECT_THAT(texts, testing::Not(testing::HasSubstr("phantom")));
}

TEST(Layout, MarksWithoutSourceSaySo) {
    const Layout l = laidOut(withFigure([](Element& panel) {
        panel.children.push_back(newMark("points", "d999"));
        panel.children.push_back(newMark("curve", "a999"));
    }));
    EXPECT_EQ(std::ranges::count(l.issues, "source-gone", &Issue::code), 2);
}

TEST(Notes, FollowTheirFit) {
    const Project p = withFigure();
    evaluate::Evaluator e;
    const auto fit = e.analysis(p, p.analyses[0]);
    EXPECT_THAT(filledIn("x_{0} = {centre}", fit),
                testing::MatchesRegex("x_\\{0\\} = \\(7\\.99.* ± .*\\).*cm\\^\\{-1\\}"));
    EXPECT_EQ(filledIn("{unknown}", fit), "{unknown}") << "stands for itself";
    EXPECT_THAT(filledIn("area {area}", fit), testing::HasSubstr("±"));
}

TEST(Styles, AreLookedUpElementThenStyleThenDefault) {
    const auto styles = shippedStyles();
    const KindInfo& figure = *elementKinds().find("figure");
    Settings own;
    EXPECT_EQ(Look(figure, own, &styles[1]).number("width"), 240);
    own.set("width", Value(100.0));
    EXPECT_EQ(Look(figure, own, &styles[1]).number("width"), 100);
    EXPECT_EQ(Look(figure, {}, nullptr).number("width"), 85);
    for (const HouseStyle& s : styles)
        for (const auto& [kind, look] : s.looks)
            for (const auto& [key, value] : look.entries()) {
                ASSERT_TRUE(elementKinds().find(kind)) << kind;
                EXPECT_TRUE(elementKinds().find(kind)->find(key)) << kind << "." << key;
            }
}

TEST(Thin, KeepsExtremesOfEachColumn) {
    std::vector<draw::Point> line;
    for (int i = 0; i < 100000; ++i) line.push_back({i * 0.001, std::sin(i * 0.1) + (i == 50000 ? 30 : 0)});
    const auto thin = thinnedLine(line, 0.1);
    EXPECT_LE(thin.size(), 4100U);
    EXPECT_TRUE(std::ranges::any_of(thin, [](const draw::Point& p) { return p.y > 29; }));
    EXPECT_EQ(thinnedCloud(std::vector<draw::Point>(10000, {1, 1}), 0.1).size(), 1U);
}
