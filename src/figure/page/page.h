// SPDX-License-Identifier: GPL-3.0-or-later
// What everything on one page has at hand while it is laid out, and where it puts what it draws.
#pragma once

#include "draw/markup.h"
#include "figure/kinds.h"
#include "figure/layout.h"

namespace jointer::figure {

struct Page {
    const Project& project;
    const Figure& figure;
    evaluate::Evaluator& evaluator;
    const Target& target;
    const HouseStyle* style;
    Look look;
    draw::TextStyle text;
    Layout out{};
    std::vector<FigureId> within{}; // the figures that this one is shown in

    draw::Colour groundColour() const {
        return look.colour("ground", {255, 255, 255, 255});
    } // of paper where it has none
    double em() const { return text.sizePt * draw::kMmPerPt; }
    Look lookOf(const Element& e) const { return Look(kindOf(e.kind), e.settings, style); }
    // The text style with a size of its own where the look has one.
    draw::TextStyle textOf(const Look& look) const {
        draw::TextStyle own = text;
        if (const double size = look.number("text-size"); size > 0) own.sizePt = size;
        return own;
    }

    template <class What> void add(ElementId id, What what, DatasetId of = {}) {
        out.list.items.push_back({id, std::move(what), of});
    }
    void addText(ElementId id, std::vector<draw::Item> text, DatasetId of = {}) {
        for (draw::Item& part : text) {
            part.element = id;
            part.of = of;
            out.list.items.push_back(std::move(part));
        }
    }
    void addRegion(ElementId id, draw::Rect bounds) {
        if (id) out.list.regions.push_back({id, bounds});
    }
    void say(std::string code, std::string sentence) {
        out.issues.push_back({std::move(code), std::move(sentence), {}});
    }
};

// A figure that is shown on others.
Layout layOutWithin(const Project& project, const Figure& figure, evaluate::Evaluator& evaluator,
                    const Target& target, std::vector<FigureId> within);

// Room that something needs beside a plotting area.
struct Room {
    double left = 0, right = 0, top = 0, bottom = 0;
};

} // namespace jointer::figure
