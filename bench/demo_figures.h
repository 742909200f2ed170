// SPDX-License-Identifier: GPL-3.0-or-later
// A page of twelve panels from the second demo.
#pragma once

#include "figure/actions.h"
#include "figure/kinds.h"
#include "figures.h"

namespace jointer::bench {

inline Project twelvePanels() {
    Project p = demo::figureDemo();
    Figure f{.name = "Twelve panels", .style = p.styles[0].id};
    f.settings.set("width", Value(174.0));
    f.settings.set("height", Value(230.0));
    f.settings.set("rows", 4);
    f.settings.set("columns", 3);
    f.settings.set("letters", "a");
    for (std::size_t k = 0; k < 12; ++k) {
        const Dataset& d = p.datasets[k];
        Element panel = figure::newPanel(
            {figure::newMark(d.source.kind == "groups" ? "boxes" : "points-line", d.id.text()),
             figure::newMark(d.source.kind == "groups" ? "strips" : "line", d.id.text())});
        panel.children.back().settings.set("where", "top-left"); // its legend
        f.elements.push_back(std::move(panel));
    }
    return *edits::addFigure(std::move(f)).apply(p);
}

} // namespace jointer::bench
