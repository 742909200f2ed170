// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/page/projected.h"

#include "describe/setting_makers.h"

namespace jointer::figure {

using namespace draw;

namespace {

constexpr double kNotPlaced = 100;
constexpr double kLeastScale = 4; // mm, that edges shall not vanish on a small page

} // namespace

ProjectedPanel::ProjectedPanel(Page& page, const Element& element, bool shares)
    : Cartesian(page, element), edging_(page, element, EdgeLook(page, look_, shares)) {}

void ProjectedPanel::settle(bool alongX, const std::optional<Range>&) {
    PanelAxis& axis = alongX ? *x_ : *y_;
    const Rect plane = projection_->plane();
    axis.scale = AxisMap().sharedScale();
    axis.range = alongX ? Range{plane.x, plane.right()} : Range{plane.y, plane.bottom()};
    axis.map = AxisMap(axis.scale, axis.range, 0, kNotPlaced);
}

Room ProjectedPanel::room(double, double) {
    Room room;
    room.top = headRoom() + legendRoom(Side::Top);
    room.right = legendRoom(Side::Right) + colourBarRoom();
    room.bottom = legendRoom(Side::Bottom);
    return room;
}

// Of the plane, its numbers and its titles.
Rect ProjectedPanel::boundsAround(double scale) const {
    const Rect plane = projection_->plane(), text = edging_.boundsOf(edges());
    return boundsOf({{0, 0},
                     {scale * plane.width, scale * plane.height},
                     {text.x, text.y},
                     {text.right(), text.bottom()}});
}

// The largest scale at which the plane with its numbers and titles stands in the cell.
void ProjectedPanel::place(const Rect& area, const Rect& outer) {
    outer_ = outer;
    const Rect plane = projection_->plane();
    double scale = std::max(kLeastScale, 0.7 * std::min(area.width / plane.width, area.height / plane.height));
    Rect around{};
    for (int round = 0; round < 3; ++round) {
        placeAxes({0, 0, scale * plane.width, scale * plane.height});
        around = boundsAround(scale);
        const double besides = around.width - scale * plane.width, above = around.height - scale * plane.height;
        const double fitting = std::min((area.width - besides) / plane.width, (area.height - above) / plane.height);
        const double wanted = wantedScale();
        scale = std::max(kLeastScale, wanted > 0 ? wanted : fitting);
    }
    placeAxes({0, 0, scale * plane.width, scale * plane.height});
    around = boundsAround(scale);
    if (around.width > area.width + 0.5 || around.height > area.height + 0.5)
        page_.say("no-room", "The diagram has no room in its place: a larger page or smaller text helps.");
    placeAxes({area.x + (area.width - around.width) / 2 - around.x,
               area.y + (area.height - around.height) / 2 - around.y, scale * plane.width, scale * plane.height});
}

Polyline ProjectedPanel::closed(const std::vector<Point>& plane) const {
    Polyline line{.points = {}, .closed = true};
    for (const Point p : plane) line.points.push_back(onPage(p));
    return line;
}

Edge ProjectedPanel::edge(Point from, Point to, double low, double high, Point along, Point gridFrom, Point gridTo,
                          std::string title, bool numbers) const {
    Edge e{.from = onPage(from), .to = onPage(to), .low = low, .high = high};
    e.out = {along.x, -along.y};
    // Across it, on the side to which the grid lines leave.
    const double dx = e.to.x - e.from.x, dy = e.to.y - e.from.y, length = std::max(1e-9, std::hypot(dx, dy));
    e.away = {-dy / length, dx / length};
    if (e.away.x * e.out.x + e.away.y * e.out.y < 0) e.away = {-e.away.x, -e.away.y};
    e.gridFrom = onPage(gridFrom);
    e.gridTo = onPage(gridTo);
    e.title = std::move(title);
    e.numbers = numbers;
    return e;
}

void ProjectedPanel::drawBehind() {
    if (const std::string ground = look_.text("ground"); !ground.empty())
        page_.add(element_.id,
                  Path{.lines = outlines(), .stroke = {}, .fill = Colour::fromText(ground)});
    drawFields();
    for (const Edge& e : edges()) edging_.grid(e);
}

void ProjectedPanel::drawFront() {
    if (lineWidth_ > 0)
        page_.add(element_.id, Path{.lines = outlines(),
                                    .stroke = Stroke{.widthMm = lineWidth_, .colour = page_.text.colour},
                                    .fill = {}});
    for (const Edge& e : edges()) edging_.draw(e);
}

Group ProjectedPanel::furniture() const {
    std::vector<Polyline> lines = outlines();
    for (const Rect& box : edging_.textBoxes(edges())) lines.push_back(rectangle(box));
    return {.clip = {},
            .items = {{element_.id, Path{.lines = std::move(lines), .stroke = {}, .fill = {}}, {}}}};
}

void ProjectedPanel::tellGeometry() {
    Cartesian::tellGeometry();
    page_.out.panels.back().axes.clear();
    page_.out.panels.back().projection = projection_;
}

std::vector<Setting> edgeSettings() {
    using namespace describe;
    const std::string edges = "Edges";
    return {number("edge-every", "Numbers every", 0, "Distance of numbered ticks; 0 chooses.",
                   {.unit = "%", .lowest = 0, .highest = 100, .group = edges}),
            choice("edge-unit", "Numbers in", {{"per cent", "per cent"}, {"parts", "parts of one"}},
                   "How the numbers at the edges are written.", {.group = edges}),
            flag("edge-numbers", "Show numbers", true, "Numbers at the ticks.", {.group = edges}),
            choice("edge-ticks", "Ticks point",
                   {{"out", "out"}, {"in", "in"}, {"both", "both"}, {"none", "none"}},
                   "Each tick lies along the grid line that it belongs to.", {.group = edges}),
            number("edge-tick-length", "Tick length", 1.4, "Length of numbered ticks.",
                   {.unit = "mm", .lowest = 0, .highest = 10, .group = edges}),
            number("edge-tick-width", "Tick width", 0.6, "Line width of ticks.",
                   {.unit = "pt", .lowest = 0, .highest = 5, .group = edges}),
            flag("edge-grid", "Grid", true, "Faint lines at the numbered ticks.", {.group = edges}),
            choice("edge-titles", "Titles", {{"along", "along the edges"}, {"level", "level"}},
                   "Which way the titles of the edges read.", {.group = edges}),
            openNumber("edge-text-size", "Text", "Size of numbers and titles; empty takes that of the figure.",
                       {.unit = "pt", .lowest = 3, .highest = 72, .group = edges, .whenEmpty = "automatic"})};
}

} // namespace jointer::figure
