// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/on_panels.h"

#include "figure/anchors.h"

#include <algorithm>

namespace jointer::figure {

void insert(Element& panel, Element e) {
    const auto at = std::ranges::find_if(panel.children, [](const Element& c) {
        return c.kind == "legend" || isNote(c.kind) || c.kind == "colour-bar" || c.kind == "panel";
    });
    panel.children.insert(at, std::move(e));
}

void insertAxis(Element& panel, Element made) {
    const auto after =
        std::ranges::find_if(panel.children, [](const Element& e) { return e.kind != "axis"; });
    panel.children.insert(after, std::move(made));
}

Element newAxis(Project& p, const char* side) {
    Element e{.id = p.newId<ElementId>(), .kind = "axis"};
    e.settings.set("side", side);
    return e;
}

Value refersTo(const Element& e) {
    return Value(Reference{e.id.text()});
}

int highestLane(const Element& panel) {
    int lane = 0;
    for (const Element& e : panel.children)
        if (e.kind == "axis") lane = std::max(lane, e.settings.integer("lane"));
    return lane;
}

bool isVertical(const Element& e) {
    const std::string side = e.settings.text("side", "bottom");
    return e.kind == "axis" && (side == "left" || side == "right");
}

Element* firstVertical(Element& panel) {
    const auto at = std::ranges::find_if(panel.children, isVertical);
    return at == panel.children.end() ? nullptr : &*at;
}

} // namespace jointer::figure
