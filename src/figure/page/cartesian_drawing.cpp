// SPDX-License-Identifier: GPL-3.0-or-later
// The drawing of a panel once its geometry is known.
#include "base/parallel.h"
#include "figure/marks/parts.h"
#include "figure/page/cartesian.h"

#include <cmath>

namespace jointer::figure {

using namespace draw;

void Cartesian::draw() {
    tellGeometry();
    firstItem_ = page_.out.list.items.size();
    page_.addRegion(element_.id, outer_);
    drawBehind();
    drawMarks();
    drawFront();
    drawHead(area_, outer_.x, headAbove());
    drawCurveLabels();
    for (const Element& e : element_.children) {
        if (e.kind == "legend") drawLegend(e);
        if (e.kind == "colour-bar") drawColourBar(e);
    }
    drawInsets();
}

void Cartesian::drawBehind() {
    drawGround();
    if (lanes_.empty())
        for (auto& axis : axes_) axis->drawGrid(area_, lineWidth_);
    for (const Lane& lane : lanes_)
        for (auto& axis : axes_)
            if (axis->isX() || axis->lane() == lane.number) axis->drawGrid(lane.area, lineWidth_);
}

void Cartesian::drawFront() {
    if (lanes_.empty())
        drawFrame(area_);
    else
        for (const Lane& lane : lanes_) drawFrame(lane.area);
    for (auto& axis : axes_) axis->draw(laneOf(*axis), lineWidth_);
    for (std::size_t k = 0; k < axes_.size(); ++k) page_.out.panels.back().axes[k].bounds = axes_[k]->bounds;
}

double Cartesian::headAbove() const {
    double above = area_.y - 0.5 * page_.em();
    for (const auto& axis : axes_)
        if (axis->side == Side::Top) above = std::min(above, axis->bounds.y - 0.3 * page_.em());
    return above;
}

void Cartesian::drawGround() {
    std::string colour = look_.text("ground");
    if (colour.empty() && isInset_)
        colour = page_.groundColour().text(); // what lies behind must not be read as its own
    if (colour.empty()) return;
    page_.add(element_.id, Path{.lines = {rectangle(area_)}, .stroke = {}, .fill = Colour::fromText(colour)});
}

Frame Cartesian::frameOf(const Drawn& d) const {
    return {d.x->map, d.y->map, laneOf(*d.y), page_.target.pixelsPerMm, page_.text};
}

// With breaks only what lies between them is drawn.
std::vector<Rect> Cartesian::partsOf(const Drawn& d) const {
    std::vector<Rect> parts;
    if (!d.x->map.isBroken() && !d.y->map.isBroken()) return parts;
    const Rect area = laneOf(*d.y);
    auto spans = [&](const AxisMap& map, double low, double high) {
        std::vector<std::pair<double, double>> out;
        for (const Piece& p : map.pieces()) {
            double from = std::min(p.start, p.end), to = std::max(p.start, p.end);
            if (std::abs(from - low) < 1e-9) from -= lineWidth_ / 2;
            if (std::abs(to - high) < 1e-9) to += lineWidth_ / 2;
            out.emplace_back(from, to);
        }
        return out;
    };
    for (const auto& [left, right] : spans(d.x->map, area.x, area.right()))
        for (const auto& [top, bottom] : spans(d.y->map, area.y, area.bottom()))
            parts.push_back({left, top, right - left, bottom - top});
    return parts;
}

Group Cartesian::drawn(const Drawn& d) const {
    const Frame frame = frameOf(d);
    Group group{.clip = frame.area.grown(lineWidth_ / 2), .opacity = 1, .items = {}, .parts = partsOf(d)};
    if (projection() && d.mark->keepsDistance())
        group.clip.reset(); // symbols on an edge are whole; what lies outside has no place
    else
        group.outline = clipOutline();
    if (!d.mark->staysInside()) {
        group.clip.reset();
        group.parts.clear();
        group.outline.clear();
    }
    d.mark->draw(frame, group);
    return group;
}

// Marks do not know each other: many are drawn by several threads.
void Cartesian::drawMarks() {
    std::vector<Group> groups(marks_.size());
    parallelRanges(marks_.size(), kFewMarks, [&](std::size_t begin, std::size_t end) {
        for (std::size_t k = begin; k < end; ++k) groups[k] = drawn(marks_[k]);
    });
    for (std::size_t k = 0; k < groups.size(); ++k)
        if (!groups[k].items.empty())
            page_.add(marks_[k].mark->element, std::move(groups[k]), marks_[k].mark->of);
}

// An edge is part of the frame where an axis stands there, or its opposite wants a line.
bool Cartesian::isFramed(const Rect& area, Side side, Side opposite, bool outermost) const {
    bool any = false;
    for (const auto& axis : axes_) {
        if (!axis->isX() && !lanes_.empty() && &laneOf(*axis) != &area) continue;
        if (axis->side == side && axis->hasOwnLine() && outermost && axis->distance == 0 && !axis->cross)
            return false;
        if (axis->side == side && !axis->hasOwnLine()) any = true;
        if (axis->side == opposite && !axis->map.isBroken() && axis->look.text("opposite") != "none")
            any = true;
    }
    return any;
}

namespace {

// Through the corners as far as the edges go, so that they are joined there.
std::vector<Polyline> edgesOf(const Rect& area, bool left, bool bottom, bool right, bool top) {
    const Point tl{area.x, area.y}, tr{area.right(), area.y}, br{area.right(), area.bottom()},
        bl{area.x, area.bottom()};
    if (top && right && bottom && left) return {{{tl, tr, br, bl}, true}};
    std::vector<Polyline> lines;
    if (left && bottom)
        lines.push_back({{tl, bl, br}});
    else if (left || bottom)
        lines.push_back(left ? Polyline{{tl, bl}} : Polyline{{bl, br}});
    if (top) lines.push_back({{tl, tr}});
    if (right) lines.push_back({{tr, br}});
    return lines;
}

} // namespace

void Cartesian::drawFrame(const Rect& area) {
    if (lineWidth_ <= 0) return;
    const bool lowest = lanes_.empty() || &area == &lanes_.front().area,
               highest = lanes_.empty() || &area == &lanes_.back().area;
    const bool bottom = isFramed(area, Side::Bottom, Side::Top, lowest) || !lowest,
               top = isFramed(area, Side::Top, Side::Bottom, highest) || !highest,
               left = isFramed(area, Side::Left, Side::Right, true),
               right = isFramed(area, Side::Right, Side::Left, true);
    Path frame{.lines = edgesOf(area, left, bottom, right, top),
               .stroke = Stroke{.widthMm = lineWidth_, .colour = page_.text.colour},
               .fill = {}};
    frame.stroke->cap = Cap::Square;
    const Stroke stroke = *frame.stroke;
    if (!frame.lines.empty()) page_.add(element_.id, std::move(frame));
    for (const auto& axis : axes_) drawBrokenEdge(*axis, area, stroke);
}

// Of a broken axis the opposite side is broken too.
void Cartesian::drawBrokenEdge(const PanelAxis& axis, const Rect& area, const Stroke& stroke) {
    if (!axis.map.isBroken() || axis.look.text("opposite") == "none") return;
    if (!axis.isX() && !lanes_.empty() && &laneOf(axis) != &area) return;
    const double at = axis.side == Side::Bottom ? area.y
                      : axis.side == Side::Top  ? area.bottom()
                      : axis.side == Side::Left ? area.right()
                                                : area.x;
    Path broken{.lines = {}, .stroke = stroke, .fill = {}};
    for (const Piece& p : axis.map.pieces())
        broken.lines.push_back(axis.isX() ? Polyline{{{p.start, at}, {p.end, at}}}
                                          : Polyline{{{at, p.start}, {at, p.end}}});
    page_.add(axis.element->id, std::move(broken));
}

void Cartesian::drawInsets() {
    for (const Element& e : element_.children) {
        if (e.kind == "artwork") {
            const auto inset = artworkPanel(page_, e);
            inset->prepare();
            const Rect area = inset->insetArea(area_);
            inset->place(area, area);
            inset->draw();
            page_.out.panels.back().parent = element_.id;
            continue;
        }
        if (e.kind != "panel") continue;
        Cartesian inset(page_, e);
        const Look& look = inset.look();
        if (look.text("shows") == "parent") inset.borrowMarksOf(element_);
        const Rect area = inset.insetArea(area_);
        inset.isInset_ = true;
        inset.prepare();
        inset.settle(true, {});
        inset.settle(false, {});
        const Room room = inset.room(area.width, area.height);
        const Rect outer{area.x - room.left, area.y - room.top, area.width + room.left + room.right,
                         area.height + room.top + room.bottom};
        inset.place(area, outer);
        if (look.flag("connect")) connect(area, inset);
        page_.add(e.id,
                  Path{.lines = {rectangle(outer.grown(0.2))}, .stroke = {}, .fill = page_.groundColour()});
        inset.draw();
        page_.out.panels.back().parent = element_.id;
    }
}

// The region that an inset shows, and lines from its corners to those of the inset.
void Cartesian::connect(const Rect& inset, const Cartesian& panel) {
    auto clamped = [](const AxisMap& map, double v) {
        return map.place(std::clamp(v, map.low(), map.high()));
    };
    const double x1 = clamped(x_->map, panel.x_->map.low()), x2 = clamped(x_->map, panel.x_->map.high()),
                 y1 = clamped(y_->map, panel.y_->map.low()), y2 = clamped(y_->map, panel.y_->map.high());
    const Rect region{std::min(x1, x2), std::min(y1, y2), std::abs(x2 - x1), std::abs(y2 - y1)};
    if (!std::isfinite(region.x + region.y + region.width + region.height)) return;
    Path path{.lines = {rectangle(region)},
              .stroke = Stroke{.widthMm = 0.6 * lineWidth_, .colour = page_.text.colour.withAlpha(0.6)},
              .fill = {}};
    // From the edge that faces the inset to the edge of the inset that faces it.
    const Point from[] = {{region.x, region.y},
                          {region.right(), region.y},
                          {region.right(), region.bottom()},
                          {region.x, region.bottom()}},
                to[] = {{inset.x, inset.y},
                        {inset.right(), inset.y},
                        {inset.right(), inset.bottom()},
                        {inset.x, inset.bottom()}};
    auto join = [&](int a, int b) { path.lines.push_back({{from[a], to[b]}}); };
    const double right = inset.x - region.right(), left = region.x - inset.right(),
                 below = inset.y - region.bottom(), above = region.y - inset.bottom();
    const double most = std::max({right, left, below, above});
    if (most > 0 && most == right) {
        join(1, 0);
        join(2, 3);
    } else if (most > 0 && most == left) {
        join(0, 1);
        join(3, 2);
    } else if (most > 0 && most == below) {
        join(3, 0);
        join(2, 1);
    } else if (most > 0) {
        join(0, 3);
        join(1, 2);
    }
    page_.add(panel.element().id, std::move(path));
}

} // namespace jointer::figure
