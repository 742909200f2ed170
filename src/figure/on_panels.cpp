// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/on_panels.h"

#include "figure/anchors.h"
#include "figure/kinds.h"

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

void growGrid(Figure& f) {
    const auto panels =
        static_cast<int>(std::ranges::count_if(f.elements, [](const Element& e) { return isPanel(e.kind); }));
    const int rows = std::max(1, f.settings.integer("rows", 1)),
              columns = std::max(1, f.settings.integer("columns", 1));
    if (panels <= rows * columns) return;
    const double width = f.settings.number("width", 85), height = f.settings.number("height", 65);
    if (width / columns > 1.3 * height / rows)
        f.settings.set("columns", columns + 1);
    else
        f.settings.set("rows", rows + 1);
    if (f.settings.number("width", 85) / f.settings.integer("columns", 1) < 40)
        f.settings.set("width", Value(174.0));
    if (f.settings.number("height", 65) / f.settings.integer("rows", 1) < 40)
        f.settings.set("height", Value(45.0 * f.settings.integer("rows", 1)));
    if (!f.settings.has("letters")) f.settings.set("letters", "a");
}

} // namespace jointer::figure
