// SPDX-License-Identifier: GPL-3.0-or-later
// What lies where on a page.
#include "figure/actions.h"
#include "figure/moves.h"

#include <algorithm>
#include <cmath>

namespace jointer::figure {

using namespace draw;

namespace {

// How far a place is from what an item draws.
double distanceTo(const Item& item, Point p) {
    double best = INFINITY;
    if (const auto* group = std::get_if<Group>(&item.what)) {
        if (group->clip && !group->clip->grown(1).contains(p)) return best;
        for (const Item& inner : group->items) best = std::min(best, distanceTo(inner, p));
    }
    if (const auto* symbols = std::get_if<Symbols>(&item.what))
        for (const Point& at : symbols->places)
            best = std::min(best, std::max(0.0, std::hypot(at.x - p.x, at.y - p.y) - symbols->sizeMm / 2));
    const auto* path = std::get_if<Path>(&item.what);
    if (!path) return best;
    for (const Polyline& line : path->lines) {
        bool inside = false;
        const std::size_t n = line.points.size();
        for (std::size_t i = 0; i + (line.closed ? 0 : 1) < n; ++i) {
            const Point a = line.points[i], b = line.points[(i + 1) % n];
            const double length = (b.x - a.x) * (b.x - a.x) + (b.y - a.y) * (b.y - a.y);
            const double t =
                length > 0
                    ? std::clamp(((p.x - a.x) * (b.x - a.x) + (p.y - a.y) * (b.y - a.y)) / length, 0.0, 1.0)
                    : 0;
            if (path->stroke)
                best = std::min(best, std::hypot(a.x + t * (b.x - a.x) - p.x, a.y + t * (b.y - a.y) - p.y));
            if ((a.y > p.y) != (b.y > p.y) && p.x < (b.x - a.x) * (p.y - a.y) / (b.y - a.y) + a.x)
                inside = !inside;
        }
        if (path->fill && inside) best = std::min(best, 0.6); // behind what is met by its line
    }
    return best;
}

} // namespace

std::vector<Hit> hitsAt(const Layout& layout, Point p, double reach) {
    std::vector<Hit> out;
    auto take = [&](const Hit& hit) {
        if (hit.element && std::ranges::find(out, hit) == out.end()) out.push_back(hit);
    };
    // Small things that have bounds of their own, later ones lie on top.
    for (auto r = layout.list.regions.rbegin(); r != layout.list.regions.rend(); ++r)
        if (r->bounds.contains(p) && !layout.panel(r->element)) take({r->element, r->of});
    std::vector<std::pair<double, Hit>> marks;
    for (auto item = layout.list.items.rbegin(); item != layout.list.items.rend(); ++item) {
        const bool drawn =
            std::ranges::any_of(layout.marks, [&](const MarkGeometry& m) { return m.mark == item->element; });
        if (!drawn) continue;
        const double distance = distanceTo(*item, p);
        if (distance < reach) marks.emplace_back(distance, Hit{item->element, item->of});
    }
    std::ranges::stable_sort(marks, {}, [](const auto& m) { return m.first; });
    for (const auto& [distance, hit] : marks) take(hit);
    for (auto g = layout.panels.rbegin(); g != layout.panels.rend(); ++g)
        if (g->area.contains(p)) take({g->panel, {}});
    for (const Region& r : layout.list.regions)
        if (r.bounds.contains(p) && layout.panel(r.element)) take({r.element, {}});
    return out;
}

std::optional<Layout::Sample> Layout::sampleAt(Point p, double reach) const {
    std::optional<Sample> best;
    double nearest = reach;
    for (const MarkGeometry& m : marks) {
        if (!m.samples) continue;
        const auto& [places, rows] = m.samples();
        const std::size_t n = places.size() / std::max<std::size_t>(1, m.placesOfEach);
        for (std::size_t k = 0; k < places.size() && n > 0; ++k) {
            const double distance = std::hypot(places[k].x - p.x, places[k].y - p.y);
            if (!(distance <= nearest)) continue;
            nearest = distance;
            best = Sample{m.of, rows[k], {}};
            for (std::size_t f = 0; f < m.placesOfEach; ++f) best->places.push_back(places[f * n + k % n]);
        }
    }
    return best;
}

std::string nameAt(const Layout& layout, Point p, double reach) {
    for (const Hit& hit : hitsAt(layout, p, reach))
        for (const MarkGeometry& m : layout.marks)
            if (m.mark == hit.element && m.of == hit.of) return m.label;
    return {};
}

const AxisGeometry* axisAt(const Layout& layout, Point p) {
    for (auto g = layout.panels.rbegin(); g != layout.panels.rend(); ++g)
        for (const AxisGeometry& a : g->axes)
            if (a.bounds.contains(p) && !g->area.grown(-1).contains(p)) return &a;
    return nullptr;
}

const PanelGeometry* panelAt(const Layout& layout, Point p) {
    for (auto g = layout.panels.rbegin(); g != layout.panels.rend(); ++g)
        if (g->area.contains(p)) return &*g;
    return nullptr;
}

bool tellsTime(const Figure& figure, const Layout& layout, ElementId id) {
    const Element* e = id ? figure.find(id) : nullptr;
    const PanelGeometry* g = e ? layout.panel(panelOf(figure, id)) : nullptr;
    if (!g) return false;
    const bool alongX = e->settings.text("of", "x") == "x";
    for (const AxisGeometry& a : g->axes)
        if (e->kind == "axis" ? a.axis == id : isAlongX(a.side) == alongX) return a.meaning.isTime;
    return false;
}

std::optional<Rect> boundsOf(const Layout& layout, const Hit& hit) {
    if (const PanelGeometry* g = layout.panel(hit.element)) return g->area;
    const Region* any = nullptr;
    for (const Region& r : layout.list.regions)
        if (r.element == hit.element && (!any || r.of == hit.of)) any = &r;
    if (any) return any->bounds;
    // Of a mark the box about all that it draws.
    double left = INFINITY, right = -INFINITY, top = INFINITY, bottom = -INFINITY;
    std::optional<Rect> clip;
    auto widen = [&](const Point& p) {
        left = std::min(left, p.x);
        right = std::max(right, p.x);
        top = std::min(top, p.y);
        bottom = std::max(bottom, p.y);
    };
    std::function<void(const std::vector<Item>&)> walk = [&](const std::vector<Item>& items) {
        for (const Item& item : items) {
            if (item.element != hit.element || (hit.of && item.of != hit.of)) continue;
            if (const auto* group = std::get_if<Group>(&item.what)) {
                if (group->clip) clip = group->clip;
                walk(group->items);
            }
            if (const auto* symbols = std::get_if<Symbols>(&item.what))
                for (const Point& at : symbols->places) widen(at);
            if (const auto* path = std::get_if<Path>(&item.what))
                for (const Polyline& l : path->lines)
                    for (const Point& at : l.points) widen(at);
            if (const auto* run = std::get_if<TextRun>(&item.what)) widen(run->origin);
        }
    };
    walk(layout.list.items);
    if (!(left <= right)) return {};
    Rect r{left, top, right - left, bottom - top};
    if (clip) {
        const double x1 = std::max(r.x, clip->x), x2 = std::min(r.right(), clip->right()),
                     y1 = std::max(r.y, clip->y), y2 = std::min(r.bottom(), clip->bottom());
        if (x1 <= x2 && y1 <= y2) r = {x1, y1, x2 - x1, y2 - y1};
    }
    return r;
}

} // namespace jointer::figure
