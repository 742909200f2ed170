// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/bounds.h"

#include <algorithm>
#include <cmath>

namespace jointer::draw {

namespace {

constexpr Rect kNothing{0, 0, -1, -1};

Rect united(const Rect& a, const Rect& b) {
    if (a.width < 0) return b;
    if (b.width < 0) return a;
    const double x = std::min(a.x, b.x), y = std::min(a.y, b.y);
    return {x, y, std::max(a.right(), b.right()) - x, std::max(a.bottom(), b.bottom()) - y};
}

Rect about(const std::vector<Point>& points) {
    return points.empty() ? kNothing : boundsOf(points);
}

Rect moved(const Rect& r, const Matrix& m) {
    if (r.width < 0) return r;
    return about({m({r.x, r.y}), m({r.right(), r.y}), m({r.x, r.bottom()}), m({r.right(), r.bottom()})});
}

Rect boundsOf(const Path& path) {
    Rect all = kNothing;
    for (const Polyline& l : path.lines) all = united(all, about(l.points));
    // A sharp corner reaches beyond half the width.
    return all.width < 0 ? all : all.grown(path.stroke ? 2 * path.stroke->widthMm : 0);
}

Rect boundsOf(const TextRun& t) {
    const double em = t.sizePt * kMmPerPt, length = t.widthMm + em;
    return {t.origin.x - length, t.origin.y - length, 2 * length, 2 * length};
}

} // namespace

Rect boundsOf(const Item& item) {
    if (const auto* path = std::get_if<Path>(&item.what)) return boundsOf(*path);
    if (const auto* text = std::get_if<TextRun>(&item.what)) return boundsOf(*text);
    if (const auto* picture = std::get_if<Picture>(&item.what)) return picture->bounds;
    if (const auto* mesh = std::get_if<Mesh>(&item.what)) return about(mesh->corners);
    if (const auto* symbols = std::get_if<Symbols>(&item.what)) {
        const Rect all = about(symbols->places);
        return all.width < 0 ? all
                             : all.grown(symbols->sizeMm + (symbols->stroke ? symbols->stroke->widthMm : 0));
    }
    const Group& group = std::get<Group>(item.what);
    Rect all = group.clip.value_or(kNothing);
    if (!group.clip)
        for (const Item& inner : group.items) all = united(all, boundsOf(inner));
    return group.matrix ? moved(all, *group.matrix) : all;
}

bool meet(const Rect& a, const Rect& b) {
    return a.width >= 0 && b.width >= 0 && a.x <= b.right() && b.x <= a.right() && a.y <= b.bottom() &&
           b.y <= a.bottom();
}

std::optional<Rect> difference(const DisplayList& before, const DisplayList& now) {
    const Rect page{0, 0, now.widthMm, now.heightMm};
    if (before.widthMm != now.widthMm || before.heightMm != now.heightMm ||
        before.items.size() != now.items.size())
        return page;
    Rect all = kNothing;
    for (std::size_t i = 0; i < now.items.size(); ++i)
        if (!(before.items[i] == now.items[i]))
            all = united(united(all, boundsOf(before.items[i])), boundsOf(now.items[i]));
    return all.width < 0 ? std::nullopt : std::optional(all);
}

} // namespace jointer::draw
