// SPDX-License-Identifier: GPL-3.0-or-later
// What actions on figures have in common: the panels they work on, and edits of each.
#pragma once

#include "project/figure_edits.h"

namespace jointer::figure {

inline std::unexpected<Issue> noPanel() {
    return failure("no-panel", "The figure has no panel to draw in.");
}

// The panels that an action works on.
inline std::vector<Element*> panelsOf(Figure& f, ElementId wanted) {
    std::vector<Element*> out;
    if (Element* e = wanted ? findElement(f.elements, wanted) : nullptr; e && e->kind == "panel") return {e};
    for (Element& e : f.elements)
        if (e.kind == "panel") out.push_back(&e);
    return out;
}

inline Edit onPanels(FigureId figure, ElementId panel, std::string name,
                     std::function<Result<void>(Project&, Element&)> change) {
    return edits::arrange(figure, std::move(name), [=](Project& p, Figure& f) -> Result<void> {
        const auto panels = panelsOf(f, panel);
        if (panels.empty()) return noPanel();
        for (Element* e : panels)
            if (auto done = change(p, *e); !done) return done;
        return {};
    });
}

// New things go before legends and notes, which lie on top; axes stand first.
void insert(Element& panel, Element made);
void insertAxis(Element& panel, Element made);
Element newAxis(Project& project, const char* side);
Value refersTo(const Element& element);

int highestLane(const Element& panel); // 0: it has none
bool isVertical(const Element& element); // an axis at the left or right
Element* firstVertical(Element& panel);

inline void eachOf(Element& panel, std::string_view kind, const std::function<void(Element&)>& visit) {
    for (Element& e : panel.children)
        if (e.kind == kind) visit(e);
}

// The next panel goes beside where the page is wide, below where it is high.
void growGrid(Figure& figure);

} // namespace jointer::figure
