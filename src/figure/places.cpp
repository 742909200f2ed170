// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/places.h"

#include <limits>

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

draw::Point emptiestCorner(const Layout& layout) {
    if (layout.panels.empty()) return {0, 0};
    const draw::Rect area = layout.panels.front().area;
    draw::Point best{0, 0};
    std::size_t fewest = std::numeric_limits<std::size_t>::max();
    for (const draw::Point corner :
         {draw::Point{0, 0}, draw::Point{1, 0}, draw::Point{0, 1}, draw::Point{1, 1}}) {
        const double w = 0.5 * area.width, h = 0.16 * area.height;
        const draw::Rect box{area.x + corner.x * (area.width - w), area.y + corner.y * (area.height - h), w,
                             h};
        std::size_t hidden = 0;
        forEachPlace(layout, [&](ElementId, const draw::Point& p) { hidden += box.contains(p); });
        for (const draw::Region& r : layout.list.regions) {
            const bool small = r.bounds.width < 0.8 * area.width && r.bounds.height < 0.8 * area.height;
            if (small && area.contains({r.bounds.x + r.bounds.width / 2, r.bounds.y + r.bounds.height / 2}) &&
                box.x < r.bounds.right() && r.bounds.x < box.right() && box.y < r.bounds.bottom() &&
                r.bounds.y < box.bottom())
                hidden += 100000;
        }
        if (hidden < fewest) fewest = hidden, best = corner;
    }
    return best;
}

} // namespace jointer::figure
