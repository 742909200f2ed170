// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/moves.h"

#include "base/text.h"
#include "figure/anchors.h"
#include "figure/axis_moves.h"
#include "figure/kinds.h"
#include "figure/marks/mark.h"

#include <algorithm>
#include <cmath>

namespace jointer::figure {

using namespace draw;

namespace {

constexpr double kSmallest = 5; // mm, of what is resized

const Element* elementOf(const Figure& figure, ElementId id) {
    return id ? figure.find(id) : nullptr;
}

// The points of a note that a grip moves: all, one of two, or a side of a shape.
void moveNote(const Element& e, const PanelGeometry* home, const Layout& layout, Grip grip, Point by,
              std::vector<Change>& out) {
    const Look look(kindOf(e.kind), e.settings, nullptr);
    const AnchorFrame frame{layout, home};
    const auto points = pointsOf(e.kind);
    std::vector<Point> at;
    for (const std::string_view suffix : points) {
        const auto p = placeOf(frame, look, suffix);
        if (!p) return;
        at.push_back(p->at);
    }
    for (std::size_t k = 0; k < points.size(); ++k) {
        bool movesX = grip == Grip::Whole || (grip == Grip::Low && k == 0) || (grip == Grip::High && k == 1);
        bool movesY = movesX;
        if (e.kind == "shape" && at.size() == 2) {
            const bool isLeft = at[k].x < at[1 - k].x || (at[0].x == at[1].x && k == 0),
                       isTop = at[k].y < at[1 - k].y || (at[0].y == at[1].y && k == 0);
            const bool left = grip == Grip::TopLeft || grip == Grip::Left || grip == Grip::BottomLeft,
                       right = grip == Grip::TopRight || grip == Grip::Right || grip == Grip::BottomRight,
                       top = grip == Grip::TopLeft || grip == Grip::Top || grip == Grip::TopRight,
                       bottom = grip == Grip::BottomLeft || grip == Grip::Bottom || grip == Grip::BottomRight;
            movesX = movesX || (isLeft ? left : right);
            movesY = movesY || (isTop ? top : bottom);
        }
        for (auto& [key, value] : movedPoint(frame, look, points[k], {movesX ? by.x : 0, movesY ? by.y : 0}))
            if (key.starts_with("x") ? movesX : movesY) out.push_back({e.id, key, std::move(value)});
    }
}

void moveLegend(const Element& e, const PanelGeometry* home, const Layout& layout, Point by,
                std::vector<Change>& out) {
    const auto bounds = boundsOf(layout, {e.id, {}});
    if (!bounds) return;
    const Rect in = home ? home->area : Rect{0, 0, layout.list.widthMm, layout.list.heightMm};
    // Beside the panel it keeps its room, until it is dragged in.
    const std::string where = e.settings.text("where", "best");
    const bool beside = standsBeside(where) || (!home && where != "hand");
    const Point middle{bounds->x + bounds->width / 2 + by.x, bounds->y + bounds->height / 2 + by.y};
    if (beside &&
        std::ranges::none_of(layout.panels, [&](const auto& g) { return g.area.contains(middle); })) {
        out.push_back({e.id, "shift-x", Value(e.settings.number("shift-x") + by.x)});
        out.push_back({e.id, "shift-y", Value(e.settings.number("shift-y") + by.y)});
        return;
    }
    out.push_back({e.id, "where", Value(std::string("hand"))});
    out.push_back({e.id, "x", Value((bounds->x + by.x - in.x) / in.width)});
    out.push_back({e.id, "y", Value((in.bottom() - bounds->y - by.y) / in.height)});
}

// Edges that a grip moves.
Rect resized(Rect r, Grip grip, Point by) {
    const bool left = grip == Grip::Left || grip == Grip::TopLeft || grip == Grip::BottomLeft,
               right = grip == Grip::Right || grip == Grip::TopRight || grip == Grip::BottomRight,
               top = grip == Grip::Top || grip == Grip::TopLeft || grip == Grip::TopRight,
               bottom = grip == Grip::Bottom || grip == Grip::BottomLeft || grip == Grip::BottomRight;
    if (grip == Grip::Whole) return {r.x + by.x, r.y + by.y, r.width, r.height};
    if (left) {
        const double dx = std::min(by.x, r.width - kSmallest);
        r.x += dx;
        r.width -= dx;
    }
    if (right) r.width = std::max(kSmallest, r.width + by.x);
    if (top) {
        const double dy = std::min(by.y, r.height - kSmallest);
        r.y += dy;
        r.height -= dy;
    }
    if (bottom) r.height = std::max(kSmallest, r.height + by.y);
    return r;
}

// A panel of the grid that is moved or resized stands freely from then on; artwork's height follows its
// width.
void standAt(const Element& e, const Rect& area, const PanelGeometry* parent, std::vector<Change>& out) {
    const bool tall = e.kind != "artwork";
    if (parent) {
        const Rect& in = parent->area;
        out.push_back({e.id, "x", Value((area.x - in.x) / in.width)});
        out.push_back({e.id, "y", Value((in.bottom() - area.bottom()) / in.height)});
        out.push_back({e.id, "part-width", Value(area.width / in.width)});
        if (tall) out.push_back({e.id, "part-height", Value(area.height / in.height)});
        return;
    }
    out.push_back({e.id, "place", Value(std::string("free"))});
    out.push_back({e.id, "left", Value(area.x)});
    out.push_back({e.id, "top", Value(area.y)});
    out.push_back({e.id, "area-width", Value(area.width)});
    if (tall) out.push_back({e.id, "area-height", Value(area.height)});
}

// Where the width is told, what is cut off goes off it.
void keepScale(const Element& e, const Rect& area, const PanelGeometry* parent, Grip grip, double cutMm,
               std::vector<Change>& out) {
    const bool across = grip == Grip::Left || grip == Grip::Right;
    if (parent) {
        const Rect& in = parent->area;
        if (across) out.push_back({e.id, "part-width", Value((area.width - cutMm) / in.width)});
        if (grip == Grip::Left) out.push_back({e.id, "x", Value((area.x + cutMm - in.x) / in.width)});
        if (grip == Grip::Bottom)
            out.push_back({e.id, "y", Value((in.bottom() - area.bottom() + cutMm) / in.height)});
    } else if (e.settings.text("place", "grid") == "free") {
        if (across) out.push_back({e.id, "area-width", Value(area.width - cutMm)});
        if (grip == Grip::Left) out.push_back({e.id, "left", Value(area.x + cutMm)});
        if (grip == Grip::Top) out.push_back({e.id, "top", Value(area.y + cutMm)});
    }
}

// Corners keep its proportions, sides cut it or give back what was cut.
void moveArtwork(const Element& e, const PanelGeometry& own, const PanelGeometry* parent, Grip grip, Point by,
                 std::vector<Change>& out) {
    struct Side {
        Grip grip;
        const char* key;
        double inwards, length;
    };
    for (const Side& side : {Side{Grip::Left, "crop-left", by.x, own.area.width},
                             Side{Grip::Right, "crop-right", -by.x, own.area.width},
                             Side{Grip::Top, "crop-top", by.y, own.area.height},
                             Side{Grip::Bottom, "crop-bottom", -by.y, own.area.height}})
        if (grip == side.grip) {
            const bool across = grip == Grip::Left || grip == Grip::Right;
            // At least what is drawn of it where the two meet.
            const double seen = std::max(2.0, 100 - e.settings.number(across ? "crop-left" : "crop-top") -
                                                  e.settings.number(across ? "crop-right" : "crop-bottom"));
            const double before = e.settings.number(side.key);
            const double now = std::clamp(before + side.inwards / side.length * seen, 0.0, before + seen - 2);
            out.push_back({e.id, side.key, Value(std::round(now * 100) / 100)});
            keepScale(e, own.area, parent, grip, (now - before) / seen * side.length, out);
            return;
        }
    Rect area = own.area;
    if (grip == Grip::Whole)
        area = resized(area, grip, by);
    else { // along the diagonal
        const double ratio = area.height / area.width;
        const bool left = grip == Grip::TopLeft || grip == Grip::BottomLeft,
                   top = grip == Grip::TopLeft || grip == Grip::TopRight;
        const double dx = left ? -by.x : by.x, dy = top ? -by.y : by.y;
        const double wider =
            std::max(kSmallest - area.width, std::abs(dx) > std::abs(dy / ratio) ? dx : dy / ratio);
        area.width += wider;
        area.height += wider * ratio;
        if (left) area.x -= wider;
        if (top) area.y -= wider * ratio;
    }
    standAt(e, area, parent, out);
}

// The axis of y along which a mark is drawn: its own, or the first.
const AxisGeometry* axisOfY(const PanelGeometry& home, const Element& e) {
    const auto bound = ElementId::fromText(e.settings.reference("y-axis"));
    const AxisGeometry* found = nullptr;
    for (const AxisGeometry& a : home.axes)
        if (!isAlongX(a.side) && ((!found && !a.map.isBound()) || (bound && a.axis == bound))) found = &a;
    return found;
}
const Rect& laneOf(const PanelGeometry& home, const Element& e) {
    const AxisGeometry* y = axisOfY(home, e);
    return y ? y->lanes : home.area;
}

// A curve moved up or down is moved by its offset; of a group by that of the dataset.
void moveMark(const Figure& figure, const Element& e, DatasetId of, const PanelGeometry& home, Point by,
              std::vector<Change>& out) {
    const KindInfo* kind = elementKinds().find(e.kind);
    const AxisGeometry* axis = axisOfY(home, e);
    const AxisMap* y = axis ? &axis->map : &home.y;
    const Scale& scale = y->scale();
    const double up = scale.forward(y->value(y->start() + by.y)) - scale.forward(y->value(y->start()));
    const double unit = scale.isEven()            ? 1
                        : scale.shifted(1, 1) > 0 ? scale.forward(scale.shifted(1, 1)) - scale.forward(1)
                                                  : 1;
    const double offset = up / (unit == 0 ? 1 : unit);
    const auto chain = chainTo(figure.elements, e.id);
    const Element* group =
        chain.size() > 1 && chain[chain.size() - 2]->kind == "group" ? chain[chain.size() - 2] : nullptr;
    if (!group) {
        if (kind && kind->find("offset"))
            out.push_back({e.id, "offset", Value(e.settings.number("offset") + offset)});
        return;
    }
    RowList rows = group->settings.rows("by-hand");
    auto own = std::ranges::find_if(
        rows, [&](const Settings& row) { return row.reference("dataset") == of.text(); });
    if (own == rows.end()) {
        Settings row;
        row.set("dataset", Value(Reference{of.text()}));
        own = rows.insert(rows.end(), std::move(row));
    }
    own->set("offset", Value(own->number("offset") + offset));
    out.push_back({group->id, "by-hand", Value(std::make_shared<const RowList>(std::move(rows)))});
}

void moveReference(const Element& e, const PanelGeometry& home, Grip grip, Point by,
                   std::vector<Change>& out) {
    const bool ofY = e.settings.text("of", "x") == "y";
    const AxisMap& map = ofY ? home.y : home.x;
    const double mm = ofY ? by.y : by.x;
    const char* key = e.kind == "reference-line" ? "at" : "range";
    Numbers values = e.settings.numbers(key);
    if (values.empty()) values = e.kind == "reference-line" ? Numbers{0} : Numbers{0, 1};
    for (std::size_t k = 0; k < values.size(); ++k) {
        const bool moves =
            grip == Grip::Whole || (grip == Grip::Low && k == 0) || (grip == Grip::High && k == 1);
        if (moves && std::isfinite(values[k])) values[k] = map.value(map.place(values[k]) + mm);
    }
    if (e.kind == "reference-range" && values.size() == 2 && values[0] > values[1])
        std::swap(values[0], values[1]);
    out.push_back({e.id, key, Value(std::move(values))});
}

} // namespace

const PanelGeometry* homeOf(const Figure& figure, const Layout& layout, ElementId id) {
    const PanelGeometry* home = nullptr;
    for (const Element* e : chainTo(figure.elements, id))
        if (e->id != id && isPanel(e->kind)) home = layout.panel(e->id);
    return home;
}

std::vector<GripPlace> gripsOf(const Figure& figure, const Layout& layout, const Hit& hit) {
    std::vector<GripPlace> out;
    auto corners = [&](const Rect& r) {
        const double mx = r.x + r.width / 2, my = r.y + r.height / 2;
        out = {{Grip::TopLeft, {r.x, r.y}},
               {Grip::Top, {mx, r.y}},
               {Grip::TopRight, {r.right(), r.y}},
               {Grip::Right, {r.right(), my}},
               {Grip::BottomRight, {r.right(), r.bottom()}},
               {Grip::Bottom, {mx, r.bottom()}},
               {Grip::BottomLeft, {r.x, r.bottom()}},
               {Grip::Left, {r.x, my}}};
    };
    if (!hit.element) { // the page itself
        const double w = layout.list.widthMm, h = layout.list.heightMm;
        return {{Grip::Right, {w, h / 2}}, {Grip::Bottom, {w / 2, h}}, {Grip::BottomRight, {w, h}}};
    }
    const Element* e = elementOf(figure, hit.element);
    if (!e) return out;
    if (const PanelGeometry* g = layout.panel(hit.element)) corners(g->area);
    if (const AxisGeometry* a = layout.axis(hit.element)) out = axisGrips(*a);
    const PanelGeometry* home = homeOf(figure, layout, hit.element);
    if (isNote(e->kind) && pointsOf(e->kind).size() == 2) {
        const Look look(kindOf(e->kind), e->settings, nullptr);
        const auto a = placeOf({layout, home}, look, ""), b = placeOf({layout, home}, look, "-2");
        if (a && b && e->kind == "shape")
            corners({std::min(a->at.x, b->at.x), std::min(a->at.y, b->at.y), std::abs(a->at.x - b->at.x),
                     std::abs(a->at.y - b->at.y)});
        else if (a && b)
            out = {{Grip::Low, a->at}, {Grip::High, b->at}};
    }
    if (e->kind == "reference-range" && home) {
        const bool ofY = e->settings.text("of", "x") == "y";
        const AxisMap& map = ofY ? home->y : home->x;
        const Numbers ends = e->settings.has("range") ? e->settings.numbers("range") : Numbers{0, 1};
        for (std::size_t k = 0; k < 2 && ends.size() == 2; ++k)
            if (std::isfinite(ends[k]) && map.contains(ends[k])) {
                const double p = map.place(ends[k]);
                out.push_back(
                    {k == 0 ? Grip::Low : Grip::High, ofY ? Point{home->area.x + home->area.width / 2, p}
                                                          : Point{p, home->area.y + home->area.height / 2}});
            }
    }
    return out;
}

std::vector<Change> changesOf(const Drag& d, Point by) {
    std::vector<Change> out;
    const Rect page{0, 0, d.layout.list.widthMm, d.layout.list.heightMm};
    if (!d.hit.element) {
        const Rect r = resized(page, d.grip, by);
        auto tenth = [](double mm) { return std::clamp(std::round(mm * 10) / 10, 10.0, 1000.0); };
        if (r.width != page.width) out.push_back({{}, "width", Value(tenth(r.width))});
        if (r.height != page.height) out.push_back({{}, "height", Value(tenth(r.height))});
        return out;
    }
    const Element* e = elementOf(d.figure, d.hit.element);
    if (!e) return out;
    const PanelGeometry* home = homeOf(d.figure, d.layout, e->id);
    if (const PanelGeometry* own = d.layout.panel(e->id))
        e->kind == "artwork" ? moveArtwork(*e, *own, home, d.grip, by, out)
                             : standAt(*e, resized(own->area, d.grip, by), home, out);
    else if (isNote(e->kind))
        moveNote(*e, home, d.layout, d.grip, by, out);
    else if (e->kind == "legend")
        moveLegend(*e, home, d.layout, by, out);
    else if (e->kind == "axis") {
        if (const AxisGeometry* a = d.layout.axis(e->id)) dragAxis(d, *a, by, out);
    } else if (e->kind == "results-table" && home) {
        const Rect& in = laneOf(*home, *e);
        out.push_back({e->id, "x", Value(e->settings.number("x", 0.05) + by.x / in.width)});
        out.push_back({e->id, "y", Value(e->settings.number("y", 0.95) - by.y / in.height)});
    } else if ((e->kind == "reference-line" || e->kind == "reference-range") && home)
        moveReference(*e, *home, d.grip, by, out);
    else if (isMark(e->kind) && home)
        moveMark(d.figure, *e, d.hit.of, *home, by, out);
    return out;
}

Edit editOf(FigureId figure, std::string name, std::string mergeKey, std::vector<Change> changes) {
    return edits::arrange(
        figure, std::move(name),
        [=](Project&, Figure& f) -> Result<void> {
            for (const Change& c : changes) {
                Element* e = c.element ? findElement(f.elements, c.element) : nullptr;
                if (c.element && !e) return failure("target-gone", "The element is no longer there.");
                Settings& settings = e ? e->settings : f.settings;
                std::holds_alternative<std::monostate>(c.value) ? settings.remove(c.key)
                                                                : settings.set(c.key, c.value);
            }
            return {};
        },
        std::move(mergeKey));
}

Snapped snapped(const Layout& layout, const Hit& hit, const Rect& moving, Point by, double reach) {
    std::vector<double> xs = layout.guidesX, ys = layout.guidesY;
    xs.push_back(layout.list.widthMm / 2);
    ys.push_back(layout.list.heightMm / 2);
    auto lines = [&](const Rect& r) {
        xs.insert(xs.end(), {r.x, r.x + r.width / 2, r.right()});
        ys.insert(ys.end(), {r.y, r.y + r.height / 2, r.bottom()});
    };
    for (const PanelGeometry& g : layout.panels)
        if (g.panel != hit.element) lines(g.area);
    for (const Region& r : layout.list.regions)
        if (r.element != hit.element && !layout.panel(r.element) &&
            r.bounds.width < 0.8 * layout.list.widthMm)
            lines(r.bounds);
    Snapped out{by, {}, {}};
    auto meet = [reach](const std::vector<double>& places, std::initializer_list<double> own,
                        double& distance) {
        std::optional<double> met;
        double best = reach;
        for (double place : places)
            for (double at : own)
                if (std::abs(place - at) < best) {
                    best = std::abs(place - at);
                    met = place;
                    distance = place - at;
                }
        return met;
    };
    double dx = 0, dy = 0;
    const double x = moving.x + by.x, y = moving.y + by.y;
    out.x = meet(xs, {x, x + moving.width / 2, x + moving.width}, dx);
    out.y = meet(ys, {y, y + moving.height / 2, y + moving.height}, dy);
    out.by = {by.x + dx, by.y + dy};
    return out;
}

} // namespace jointer::figure
