// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers and names of axes over thousands of random ranges, scales, sizes, fonts and times: at round values,
// inside the limits, never upon each other, never beyond the page; where nothing helps an issue says so.
#include "figure/kinds.h"
#include "figure/layout.h"
#include "support/sample_project.h"

#include <cmath>
#include <gmock/gmock.h>
#include <iostream>
#include <random>

using namespace jointer;
using namespace jointer::figure;

namespace {

struct Box {
    double left, right, top, bottom;
    std::string text;
};

// Texts that stand level or upright.
std::vector<Box> boxesOf(const Layout& l, ElementId axis) {
    std::vector<Box> out;
    for (const draw::Item& item : l.list.items) {
        const auto* run = std::get_if<draw::TextRun>(&item.what);
        if (!run || item.element != axis) continue;
        const double up = 0.72 * run->sizePt * draw::kMmPerPt, down = 0.2 * run->sizePt * draw::kMmPerPt;
        if (run->angleDeg == 0)
            out.push_back({run->origin.x, run->origin.x + run->widthMm, run->origin.y - up,
                           run->origin.y + down, run->text});
        if (run->angleDeg == 90)
            out.push_back({run->origin.x - up, run->origin.x + down, run->origin.y - run->widthMm,
                           run->origin.y, run->text});
    }
    return out;
}

bool overlap(const Box& a, const Box& b) {
    constexpr double hair = 0.02;
    return a.left < b.right - hair && b.left < a.right - hair && a.top < b.bottom - hair &&
           b.top < a.bottom - hair;
}

} // namespace

TEST(Labels, HaveRoomWhateverTheRange) {
    std::mt19937_64 random(12);
    auto between = [&](double low, double high) { return std::uniform_real_distribution(low, high)(random); };
    Project base = test::sampleProject();
    int crowded = 0;
    for (int round = 0; round < 3000; ++round) {
        SCOPED_TRACE("round " + std::to_string(round));
        Element function{.kind = "function"};
        Figure f = newFigure("F", {}, {function});
        f.settings.set("width", Value(between(45, 180)));
        f.settings.set("height", Value(between(40, 140)));
        f.settings.set("text-size", Value(between(5, 12)));
        f.settings.set("family", random() % 2 ? "serif" : "sans");
        std::vector<Range> ranges;
        for (std::size_t k = 0; k < 2; ++k) {
            Element& axis = f.elements[0].children[k];
            const char* scales[] = {"linear", "log", "reciprocal", "square-root", "time", "probability"};
            const std::string scale = scales[random() % std::size(scales)];
            axis.settings.set("scale", Value(scale));
            const double size = std::pow(10.0, between(-8, 8));
            Range r{size * between(-3, 3), 0};
            r.high = r.low + size * between(0.05, 4);
            if (scale == "log" || scale == "reciprocal" || scale == "square-root") {
                r.low = size * between(0.01, 1);
                r.high = r.low * std::pow(10.0, between(0.05, scale == "log" ? 12 : 1.5));
            }
            if (scale == "time") {
                r.low = between(-2e9, 4e9);
                r.high = r.low + std::pow(10.0, between(0, 9.3));
            }
            if (scale == "probability") r = {between(0.01, 30), between(40, 99.99)};
            axis.settings.set("range", Value(Numbers{r.low, r.high}));
            axis.settings.set("name", "Quantity");
            ranges.push_back(r);
        }
        giveIds(base, f.elements[0]);
        evaluate::Evaluator e;
        const Layout l = layOut(base, f, e, {.pixelsPerMm = 4});
        bool room = true;
        for (const Issue& issue : l.issues) {
            crowded += issue.code == "crowded-numbers";
            room &= issue.code != "no-room";
            if (std::getenv("JOINTER_TELL") && issue.code != "nothing-to-show")
                std::cout << round << " " << issue.text << " " << f.settings.number("width") << " "
                          << f.settings.number("text-size") << " "
                          << f.elements[0].children[0].settings.text("scale") << " "
                          << f.elements[0].children[1].settings.text("scale") << "\n";
        }
        if (!room) {
            ++crowded;
            continue;
        }
        for (std::size_t k = 0; k < 2; ++k) {
            const AxisGeometry& axis = l.panels[0].axes[k];
            EXPECT_NEAR(axis.map.low(), ranges[k].low, 1e-12 * std::abs(ranges[k].low))
                << "limits are obeyed";
            EXPECT_NEAR(axis.map.high(), ranges[k].high, 1e-12 * std::abs(ranges[k].high));
            const auto boxes = boxesOf(l, axis.axis);
            for (std::size_t a = 0; a < boxes.size(); ++a) {
                EXPECT_GE(boxes[a].left, -0.05) << boxes[a].text << " is cut";
                EXPECT_LE(boxes[a].right, l.list.widthMm + 0.05) << boxes[a].text << " is cut";
                EXPECT_GE(boxes[a].top, -0.05) << boxes[a].text << " is cut";
                EXPECT_LE(boxes[a].bottom, l.list.heightMm + 0.05) << boxes[a].text << " is cut";
                for (std::size_t b = a + 1; b < boxes.size(); ++b)
                    EXPECT_FALSE(overlap(boxes[a], boxes[b])) << boxes[a].text << " upon " << boxes[b].text;
            }
        }
        if (HasFailure() && round > 0) break;
    }
    EXPECT_LT(crowded, 60) << "of pages from 45 mm and texts to 12 pt at most one in fifty";
}

TEST(Labels, NamesAreWrappedThenTurnedThenSaidToBeTooMany) {
    auto laidOut = [](std::vector<std::string> names, double width) {
        Project p;
        Table t;
        std::vector<double> values;
        for (std::size_t k = 0; k < names.size(); ++k) values.push_back(1.0 + static_cast<double>(k));
        t.columns = {textColumn("Site", std::move(names)), numberColumn("Mass", "g", values)};
        p = *edits::addTable(t).apply(p);
        Dataset d{.name = "D"};
        d.source.table = p.tables[0].id;
        d.source.roles = {{Role::X, p.tables[0].columns[0].id}, {Role::Y, p.tables[0].columns[1].id}};
        p = *edits::addDataset(d).apply(p);
        Figure f = newFigure("F", {}, {newMark("bars", p.datasets[0].id.text())});
        f.settings.set("width", Value(width));
        p = *edits::addFigure(f).apply(p);
        evaluate::Evaluator e;
        return layOut(p, p.figures[0], e);
    };
    auto anglesOf = [](const Layout& l) {
        std::set<double> angles;
        for (const draw::Item& item : l.list.items)
            if (const auto* run = std::get_if<draw::TextRun>(&item.what);
                run && item.element == l.panels[0].axes[0].axis)
                angles.insert(run->angleDeg);
        return angles;
    };
    const Layout roomy = laidOut({"North pan", "South pan"}, 85);
    EXPECT_THAT(anglesOf(roomy), testing::ElementsAre(0));
    const Layout wrapped =
        laidOut({"Upper marsh", "Lower marsh", "North pan", "South pan", "Old creek", "New creek"}, 85);
    EXPECT_THAT(anglesOf(wrapped), testing::ElementsAre(0));
    EXPECT_LT(wrapped.panels[0].area.height, roomy.panels[0].area.height);
    const Layout turned = laidOut(
        {"Uppermostmarsh", "Lowermostmarsh", "Northernmost", "Southernmost", "Oldestcreek", "Newestcreek"},
        85);
    EXPECT_THAT(anglesOf(turned), testing::Contains(45));
    std::vector<std::string> many;
    for (int k = 0; k < 120; ++k) many.push_back("Site " + std::to_string(k));
    const Layout tooMany = laidOut(many, 60);
    EXPECT_TRUE(
        std::ranges::any_of(tooMany.issues, [](const Issue& i) { return i.code == "crowded-numbers"; }));
}

// "shells · length" and "shells · mass" are told apart by what is their own; names that share nothing stay whole.
TEST(Labels, WhatAllDatasetsAreCalledAlikeIsLeftOut) {
    const auto legendOf = [](const std::vector<std::string>& names, const std::vector<std::string>& typed = {}) {
        Project p = test::sampleProject();
        std::vector<Element> marks;
        for (std::size_t k = 0; k < names.size(); ++k) {
            p = *edits::changeDataset(p.datasets[k].id, "Rename", [&](Dataset& d) { d.name = names[k]; }).apply(p);
            marks.push_back(newMark("points", p.datasets[k].id.text()));
            if (k < typed.size()) marks.back().settings.set("label", Value(typed[k]));
        }
        p = *edits::addFigure(newFigure("F", {}, marks)).apply(p);
        evaluate::Evaluator evaluator;
        const Figure& f = p.figures[p.figures.size() - 1];
        ElementId legend;
        for (const Element& e : f.elements[0].children)
            if (e.kind == "legend") legend = e.id;
        std::vector<std::string> out;
        for (const Box& b : boxesOf(layOut(p, f, evaluator), legend)) out.push_back(b.text);
        return out;
    };
    using testing::ElementsAre;
    EXPECT_THAT(legendOf({"shells · length", "shells · mass"}), ElementsAre("length", "mass"));
    EXPECT_THAT(legendOf({"shells · length", "ponds · mass"}), ElementsAre("shells · length", "ponds · mass"));
    EXPECT_THAT(legendOf({"shells · ", "shells · mass"}), ElementsAre("shells · ", "shells · mass"));
    EXPECT_THAT(legendOf({"length", "mass"}), ElementsAre("length", "mass"));
    EXPECT_THAT(legendOf({"shells · length", "shells · mass"}, {"as typed"}),
                ElementsAre("as typed", "shells · mass"));
}
