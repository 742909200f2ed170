// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/places.h"

#include <algorithm>
#include <limits>
#include <vector>

namespace jointer::figure {

void forEachPlace(const Layout& layout, const std::function<void(ElementId, const draw::Point&)>& consider) {
    for (const draw::Item& item : layout.list.items) {
        const auto* group = std::get_if<draw::Group>(&item.what);
        if (!group) continue;
        for (const draw::Item& inner : group->items) {
            if (const auto* symbols = std::get_if<draw::Symbols>(&inner.what))
                for (const draw::Point& at : symbols->places) consider(item.element, at);
            if (const auto* path = std::get_if<draw::Path>(&inner.what))
                for (const draw::Polyline& line : path->lines)
                    for (std::size_t i = 0; i + 1 < line.points.size(); ++i)
                        for (double t : {0.0, 0.5})
                            consider(item.element,
                                     {line.points[i].x + t * (line.points[i + 1].x - line.points[i].x),
                                      line.points[i].y + t * (line.points[i + 1].y - line.points[i].y)});
        }
    }
}

namespace {

constexpr int kSteps = 8; // between one edge and the other

// Where a note may stand, as parts of the way: the corners first, then along the edges, then inside.
std::vector<draw::Point> candidates() {
    std::vector<draw::Point> all;
    for (int row = 0; row <= kSteps; ++row)
        for (int column = 0; column <= kSteps; ++column)
            all.push_back({static_cast<double>(column) / kSteps, static_cast<double>(row) / kSteps});
    auto inside = [](double part) { return part > 0 && part < 1 ? 1 : 0; };
    std::ranges::stable_sort(all, {}, [&](const draw::Point& p) { return inside(p.x) + inside(p.y); });
    return all;
}

bool overlap(const draw::Rect& a, const draw::Rect& b) {
    return a.x < b.right() && b.x < a.right() && a.y < b.bottom() && b.y < a.bottom();
}

} // namespace

draw::Point emptiestPlace(const Layout& layout) {
    if (layout.panels.empty()) return {0, 0};
    const draw::Rect area = layout.panels.front().area;
    const double w = kNoteShare.x * area.width, h = kNoteShare.y * area.height;
    std::vector<draw::Point> drawn;
    forEachPlace(layout, [&](ElementId, const draw::Point& p) {
        if (area.contains(p)) drawn.push_back(p);
    });
    std::vector<draw::Rect> taken; // by what is small in the panel: a legend, another note
    for (const draw::Region& r : layout.list.regions) {
        const bool small = r.bounds.width < 0.8 * area.width && r.bounds.height < 0.8 * area.height;
        const draw::Point middle{r.bounds.x + r.bounds.width / 2, r.bounds.y + r.bounds.height / 2};
        const bool mark = std::ranges::find(layout.marks, r.element, &MarkGeometry::mark) != layout.marks.end();
        if (small && !mark && area.contains(middle)) taken.push_back(r.bounds);
    }
    draw::Point best{0, 0};
    std::size_t fewest = std::numeric_limits<std::size_t>::max();
    for (const draw::Point& part : candidates()) {
        const draw::Rect box{area.x + part.x * (area.width - w), area.y + part.y * (area.height - h), w, h};
        std::size_t hidden = 0;
        for (const draw::Rect& other : taken) hidden += overlap(box, other) ? 100000 : 0;
        hidden += static_cast<std::size_t>(
            std::ranges::count_if(drawn, [&](const draw::Point& p) { return box.contains(p); }));
        if (hidden < fewest) fewest = hidden, best = part;
        if (fewest == 0) break;
    }
    return best;
}

} // namespace jointer::figure
