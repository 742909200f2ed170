// SPDX-License-Identifier: GPL-3.0-or-later
// A mark becomes another kind: every kind each other that shows the same, with what both have kept.
#include "figure/drawn_as.h"

#include "figure/kinds.h"
#include "figure/layout.h"
#include "support/random_settings.h"
#include "support/sample_project.h"

#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::figure;

namespace {

struct One {
    Project p = test::sampleProject();
    FigureId figure;
    ElementId mark;
    evaluate::Evaluator evaluator;

    One(const std::string& kind, const std::string& source) {
        p = *edits::addFigure(newFigure("F", {}, {newMark(kind, source)})).apply(p);
        const Figure& f = p.figures[p.figures.size() - 1];
        figure = f.id;
        for (const Element& e : f.elements[0].children)
            if (isMark(e.kind)) mark = e.id;
    }
    const Element& now() const { return *p.figures.find(figure)->find(mark); }
    void apply(const Edit& edit) {
        const auto next = edit.apply(p);
        ASSERT_TRUE(next.has_value()) << edit.name;
        p = *next;
    }
};

std::string sourceFor(const MarkKind& kind, const Project& p) {
    return kind.takes == Takes::Analysis ? p.analyses[0].id.text() : p.datasets[0].id.text();
}

} // namespace

TEST(DrawnAs, EachKindBecomesEachOtherAndIsLaidOut) {
    const Project sample = test::sampleProject();
    std::size_t pairs = 0;
    for (const MarkKind& from : markCatalogue()) {
        One one(from.info.key, sourceFor(from, sample));
        for (const MarkKind* to : kindsInPlaceOf(one.now())) {
            One each(from.info.key, sourceFor(from, sample));
            each.apply(drawAs(each.figure, {each.mark}, to->info.key));
            EXPECT_EQ(each.now().kind, to->info.key);
            for (const auto& [key, value] : each.now().settings.entries())
                EXPECT_TRUE(to->info.find(key)) << from.info.key << " → " << to->info.key << ": " << key;
            const Layout l = layOut(each.p, *each.p.figures.find(each.figure), each.evaluator);
            EXPECT_GT(l.list.items.size(), 3U) << to->info.key;
            ++pairs;
        }
    }
    EXPECT_GT(pairs, 100U);
}

TEST(DrawnAs, LooksThatBothHaveStay) {
    One one("points", test::sampleProject().datasets[0].id.text());
    one.apply(edits::setElement(one.figure, one.mark, "colour", Value(std::string("#9c3f45"))));
    one.apply(edits::setElement(one.figure, one.mark, "label", Value(std::string("mine"))));
    one.apply(edits::setElement(one.figure, one.mark, "size", Value(7.0)));
    const Project before = one.p;
    one.apply(drawAs(one.figure, {one.mark}, "line"));
    EXPECT_EQ(one.now().settings.text("colour"), "#9c3f45");
    EXPECT_EQ(one.now().settings.text("label"), "mine");
    EXPECT_FALSE(one.now().settings.has("size")) << "a line has no symbols";
    EXPECT_EQ(one.now().source, before.figures.find(one.figure)->find(one.mark)->source);
}

TEST(DrawnAs, WhatShowsSomethingElseStaysAsItIs) {
    const Project sample = test::sampleProject();
    One fit("curve", sample.analyses[0].id.text());
    fit.apply(drawAs(fit.figure, {fit.mark}, "points"));
    EXPECT_EQ(fit.now().kind, "curve");
    One line("line", sample.datasets[0].id.text());
    line.apply(drawAs(line.figure, {line.mark, ElementId{99999}}, "no such kind"));
    EXPECT_EQ(line.now().kind, "line");
    EXPECT_TRUE(kindsInPlaceOf(newMark("function", "")).empty()) << "it shows no data";
    EXPECT_TRUE(kindsInPlaceOf(Element{.kind = "legend"}).empty());
}

// Whatever the looks are: what is kept fits the new kind, so that it is the same when the project is opened again.
TEST(DrawnAs, WhatIsKeptFits) {
    const Project sample = test::sampleProject();
    std::mt19937_64 random(9);
    std::size_t kept = 0;
    for (const MarkKind& from : markCatalogue())
        for (int trial = 0; trial < 4; ++trial) {
            const Settings looks = test::RandomSettings(random, 0, 10).of(from.info);
            for (const MarkKind* to : kindsInPlaceOf(newMark(from.info.key, ""))) {
                One one(from.info.key, sourceFor(from, sample));
                for (const auto& [key, value] : looks.entries())
                    one.apply(edits::setElement(one.figure, one.mark, key, value));
                one.apply(drawAs(one.figure, {one.mark}, to->info.key));
                const auto good = validate(to->info, one.now().settings);
                EXPECT_TRUE(good) << from.info.key << " → " << to->info.key << ": " << good.error().text;
                kept += one.now().settings.entries().size();
            }
        }
    EXPECT_GT(kept, 500U);
}
