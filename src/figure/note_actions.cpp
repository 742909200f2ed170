// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/note_actions.h"

#include "figure/anchors.h"
#include "figure/kinds.h"
#include "figure/moves.h"
#include "figure/places.h"

#include <cmath>

namespace jointer::figure {

using namespace draw;

namespace {

constexpr double kTableText = 6.5; // pt, of a new table
constexpr double kRowsInPanel = 6; // it shall not hide all that is drawn

double rounded(double share) { // as a person would type it
    return std::round(100 * share) / 100;
}

void put(Element& e, std::string_view suffix, Point at) {
    e.settings.set("x" + std::string(suffix), Value(rounded(at.x)));
    e.settings.set("y" + std::string(suffix), Value(rounded(at.y)));
}

// A third of the axis, as a round number.
double roundLength(const AxisMap& map) {
    const double third = (map.high() - map.low()) / 4;
    if (!(third > 0) || !std::isfinite(third)) return 1;
    const double power = std::pow(10, std::floor(std::log10(third)));
    for (const double step : {5.0, 2.0})
        if (step * power <= third) return step * power;
    return power;
}

} // namespace

const std::vector<NewNote>& newNotes() {
    static const std::vector<NewNote> all = {{"text", "Text", "Text with numbers of the fit in it"},
                                             {"arrow", "Arrow", "An arrow; its ends are dragged"},
                                             {"line", "Line", "A line; its ends are dragged"},
                                             {"bracket", "Bracket", "From one place to another, with a text"},
                                             {"rectangle", "Rectangle", "A frame, with a ground if you like"},
                                             {"ellipse", "Ellipse", "Around something that is spoken of"},
                                             {"scale-bar", "Scale bar", "As long as a value on the axis"},
                                             {"table", "Table", "Columns of the table in view"}};
    return all;
}

namespace {

// Without a panel it is told in mm of the page.
Element onPage(Element e, const Layout& layout) {
    for (const std::string_view suffix : pointsOf(e.kind)) {
        const std::string own(suffix);
        e.settings.set("anchor" + own, "page");
        e.settings.set("x" + own, Value(std::round(e.settings.number("x" + own) * layout.list.widthMm)));
        e.settings.set("y" + own,
                       Value(std::round((1 - e.settings.number("y" + own)) * layout.list.heightMm)));
    }
    return e;
}

Element withinPanel(const std::string& key, const Layout& layout, ElementId panel, const std::string& source,
                    const std::string& text) {
    const bool isText = key == "text";
    Element e{.kind = isText                                   ? "note"
                      : key == "bracket"                       ? "brace"
                      : key == "scale-bar"                     ? "scale-bar"
                      : key == "table"                         ? "table"
                      : key == "rectangle" || key == "ellipse" ? "shape"
                                                               : "arrow"};
    const Point part = emptiestPlace(layout), room = kNoteShare;
    const double x = 0.05 + part.x * (0.95 - room.x), y = 0.95 - part.y * (0.97 - room.y);
    if (isText) {
        e.source = source;
        e.settings.set("text", Value(text));
        const bool right = part.x > 0.99; // there it ends at the edge
        put(e, "", {right ? 0.95 : x, y});
        if (right) e.settings.set("align", "right");
        return e;
    }
    if (key == "table") {
        e.source = source;
        put(e, "", {0.03, 0.97});
        const PanelGeometry* g = layout.panel(panel);
        const double rows =
            (g ? 0.94 * g->area.height : 0.7 * layout.list.heightMm) / tableRowMm(kTableText) - 1;
        e.settings.set("text-size", Value(kTableText));
        if (g) e.settings.set("ground", "#ffffff");
        e.settings.set("rows", Value(std::clamp(std::floor(rows), 1.0, g ? kRowsInPanel : 40.0)));
        return e;
    }
    const double left = std::min(x, 0.7), top = std::clamp(y, 0.2, 0.9);
    put(e, "", {left, e.kind == "shape" ? top - 0.15 : top});
    if (pointsOf(e.kind).size() == 2) put(e, "-2", {left + 0.25, e.kind == "arrow" ? top - 0.1 : top});
    if (key == "arrow") e.settings.set("head", "filled");
    if (key == "ellipse") e.settings.set("form", "ellipse");
    if (key == "bracket") e.settings.set("text", "Range");
    if (const PanelGeometry* g = layout.panel(panel); g && key == "scale-bar")
        e.settings.set("length", Value(roundLength(g->x)));
    return e;
}

} // namespace

Element noteOf(const std::string& key, const Layout& layout, ElementId panel, const std::string& source,
               const std::string& text) {
    Element e = withinPanel(key, layout, panel, source, text);
    return panel ? e : onPage(std::move(e), layout);
}

std::optional<Edit> anchorTo(const Figure& figure, const Layout& layout, ElementId note,
                             const std::string& anchor) {
    const Element* e = figure.find(note);
    if (!e || !isNote(e->kind)) return {};
    const Look look(kindOf(e->kind), e->settings, nullptr);
    const AnchorFrame frame{layout, homeOf(figure, layout, note)};
    std::vector<Change> changes;
    for (const std::string_view suffix : pointsOf(e->kind))
        for (auto& [key, value] : toldIn(frame, look, suffix, anchor))
            changes.push_back({note, key, std::move(value)});
    if (changes.empty()) return {};
    return editOf(figure.id, "Anchor to " + anchor, {}, std::move(changes));
}

} // namespace jointer::figure
