// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/places.h"

#include "figure/crowd.h"

#include <algorithm>
#include <limits>
#include <vector>

namespace jointer::figure {

namespace {

constexpr int kSteps = 8;         // between one edge and the other
constexpr long kTaken = 10000000; // points that what stands there counts as

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
    Crowd crowd(area);
    for (const draw::Item& item : layout.list.items)
        if (const auto* drawn = std::get_if<draw::Group>(&item.what)) crowd.add(*drawn);
    crowd.sum();
    std::vector<draw::Rect> taken; // by what is small in the panel: a legend, another note
    for (const draw::Region& r : layout.list.regions) {
        const bool small = r.bounds.width < 0.8 * area.width && r.bounds.height < 0.8 * area.height;
        const draw::Point middle{r.bounds.x + r.bounds.width / 2, r.bounds.y + r.bounds.height / 2};
        const bool mark = std::ranges::find(layout.marks, r.element, &MarkGeometry::mark) != layout.marks.end();
        if (small && !mark && area.contains(middle)) taken.push_back(r.bounds);
    }
    draw::Point best{0, 0};
    long fewest = std::numeric_limits<long>::max();
    for (const draw::Point& part : candidates()) {
        const draw::Rect box{area.x + part.x * (area.width - w), area.y + part.y * (area.height - h), w, h};
        long hidden = crowd.within(box);
        for (const draw::Rect& other : taken) hidden += overlap(box, other) ? kTaken : 0;
        if (hidden < fewest) fewest = hidden, best = part;
        if (fewest == 0) break;
    }
    return best;
}

} // namespace jointer::figure
