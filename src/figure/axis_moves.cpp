// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/axis_moves.h"

#include <algorithm>
#include <cmath>

namespace jointer::figure {

using namespace draw;

namespace {

constexpr double kApart = 3.2; // mm at least, from the middle of a gap to the grips at its sides

void dragRange(const AxisGeometry& a, Grip grip, Point by, std::vector<Change>& out) {
    if (a.map.isBound() || !a.axis) return;
    const double along = isAlongX(a.side) ? by.x : by.y;
    double low = a.map.low(), high = a.map.high();
    if (grip == Grip::Whole) {
        const Range moved = a.map.moved(-along);
        low = moved.low;
        high = moved.high;
    } else { // the value under the pointer goes along, the other end stays
        const double length = a.map.end() - a.map.start();
        const Scale& scale = a.map.scale();
        const double from = scale.forward(low), to = scale.forward(high);
        if (grip == Grip::High) {
            const double share = std::max(0.05, (length + along) / length);
            high = scale.back(from + (to - from) / share);
        } else {
            const double share = std::max(0.05, (length - along) / length);
            low = scale.back(to - (to - from) / share);
        }
    }
    if (low < high && a.map.scale().takes(low) && a.map.scale().takes(high))
        out.push_back({a.axis, "range", Value(Numbers{low, high})});
}

// What a break leaves out begins or ends at the value under the pointer; the gap itself takes from the part
// at one side what it gives to the other.
void dragBreak(const Element& e, const AxisGeometry& a, Grip grip, std::size_t which, Point by,
               std::vector<Change>& out) {
    const std::vector<Piece>& pieces = a.map.pieces();
    if (which + 1 >= pieces.size()) return;
    const double along = isAlongX(a.side) ? by.x : by.y;
    const Piece &before = pieces[which], &after = pieces[which + 1];
    if (grip == Grip::Gap) {
        const double sign = a.map.end() < a.map.start() ? -1 : 1;
        const double first = std::abs(before.end - before.start), second = std::abs(after.end - after.start),
                     least = std::min(2.0, 0.2 * (first + second));
        const double moved = std::clamp(sign * along, least - first, second - least);
        Numbers shares;
        for (std::size_t k = 0; k < pieces.size(); ++k) {
            const double own = std::abs(pieces[k].end - pieces[k].start);
            const double now = own + (k == which ? moved : k == which + 1 ? -moved : 0);
            shares.push_back(std::round(now * 1000) / 1000);
        }
        out.push_back({a.axis, "shares", Value(std::move(shares))});
        return;
    }
    const bool from = grip == Grip::BreakFrom;
    const Piece& own = from ? before : after;
    const double place = (from ? own.end : own.start) + along;
    const double v =
        a.map.scale().back(own.from + (place - own.start) / (own.end - own.start) * (own.to - own.from));
    const bool inside = from ? v > before.low && v < after.low : v > before.high && v < after.high;
    Numbers breaks = e.settings.numbers("breaks");
    for (std::size_t k = 0; k + 1 < breaks.size() && inside; k += 2)
        if (std::minmax(breaks[k], breaks[k + 1]) == std::minmax(before.high, after.low)) {
            breaks[k] = from ? v : before.high;
            breaks[k + 1] = from ? after.low : v;
            out.push_back({a.axis, "breaks", Value(std::move(breaks))});
            return;
        }
}

// The border between a lane and the one below takes from one what it gives to the other.
void dragLane(const Layout& layout, const AxisGeometry& upper, Point by, std::vector<Change>& out) {
    const PanelGeometry* home = nullptr;
    for (const PanelGeometry& g : layout.panels)
        for (const AxisGeometry& a : g.axes)
            if (&a == &upper) home = &g;
    if (!home) return;
    const AxisGeometry* lower = nullptr;
    for (const AxisGeometry& a : home->axes)
        if (!isAlongX(a.side) && a.lane > 0 && a.lane < upper.lane && (!lower || a.lane > lower->lane))
            lower = &a;
    if (!lower) return;
    const double dy = std::clamp(by.y, 3 - upper.lanes.height, lower->lanes.height - 3);
    for (const AxisGeometry& a : home->axes) {
        if (isAlongX(a.side) || a.lane == 0) continue;
        const double height = a.lanes.height + (a.lane == upper.lane ? dy : a.lane == lower->lane ? -dy : 0);
        out.push_back({a.axis, "share", Value(std::max(0.01, height / home->area.height))});
    }
}

} // namespace

std::vector<GripPlace> axisGrips(const AxisGeometry& a) {
    if (a.map.isBound()) return {};
    const Rect& r = a.lanes;
    const double edge = a.side == Side::Bottom ? r.bottom()
                        : a.side == Side::Top  ? r.y
                        : a.side == Side::Left ? r.x
                                               : r.right();
    auto at = [&](double along) { return isAlongX(a.side) ? Point{along, edge} : Point{edge, along}; };
    std::vector<GripPlace> out = {{Grip::Low, at(a.map.start())}, {Grip::High, at(a.map.end())}};
    const std::vector<Piece>& pieces = a.map.pieces();
    for (std::size_t k = 0; k + 1 < pieces.size(); ++k) {
        const double sign = pieces[k].end < pieces[k].start ? -1 : 1;
        const double middle = (pieces[k].end + pieces[k + 1].start) / 2,
                     apart = sign * std::max(kApart, sign * (pieces[k + 1].start - pieces[k].end) / 2);
        out.push_back({Grip::Gap, at(middle), k});
        out.push_back({Grip::BreakFrom, at(middle - apart), k});
        out.push_back({Grip::BreakTo, at(middle + apart), k});
    }
    if (a.lane > 1) out.push_back({Grip::Lane, {r.x + r.width / 2, r.bottom()}});
    return out;
}

void dragAxis(const Drag& d, const AxisGeometry& a, Point by, std::vector<Change>& out) {
    const Element* e = d.figure.find(a.axis);
    switch (d.grip) {
    case Grip::Lane:
        return dragLane(d.layout, a, by, out);
    case Grip::Gap:
    case Grip::BreakFrom:
    case Grip::BreakTo:
        if (e) dragBreak(*e, a, d.grip, d.which, by, out);
        return;
    default:
        dragRange(a, d.grip, by, out);
    }
}

std::optional<Change> zoomed(const AxisGeometry& a, double place, double factor) {
    if (!a.axis || a.map.isBound()) return {};
    const Range range = a.map.zoomed(a.map.value(place), factor);
    if (!(range.low < range.high) || !a.map.scale().takes(range.low) || !a.map.scale().takes(range.high))
        return {};
    return Change{a.axis, "range", Value(Numbers{range.low, range.high})};
}

} // namespace jointer::figure
