// SPDX-License-Identifier: GPL-3.0-or-later
// The drawing of an axis once it is laid out.
#include "figure/page/axis.h"

#include <cmath>
#include <numbers>

namespace jointer::figure {

using namespace draw;

namespace {

// Along or across, as the axis runs.
Point turnedTo(bool alongX, double along, double across) {
    return alongX ? Point{along, across} : Point{across, along};
}

} // namespace

double PanelAxis::edge(const Rect& area, bool opposite) const {
    if (cross && !opposite) return *cross;
    const Side at = !opposite             ? side
                    : side == Side::Left  ? Side::Right
                    : side == Side::Right ? Side::Left
                    : side == Side::Top   ? Side::Bottom
                                          : Side::Top;
    const double off = opposite ? 0 : outwards() * distance;
    if (at == Side::Bottom) return area.bottom() + off;
    if (at == Side::Top) return area.y + off;
    return (at == Side::Left ? area.x : area.right()) + off;
}

void PanelAxis::drawGrid(const Rect& area, double lineWidth) const {
    const bool major = look.flag("grid"), minor = look.flag("grid-minor");
    auto lines = [&](bool ofMajor, double opacity) {
        Path grid{.lines = {},
                  .stroke = Stroke{.widthMm = 0.5 * lineWidth, .colour = page.text.colour.withAlpha(opacity)},
                  .fill = {}};
        for (const Tick& t : ticks) {
            if (t.major != ofMajor) continue;
            const double p = map.place(t.value);
            grid.lines.push_back(isX() ? Polyline{{{p, area.y}, {p, area.bottom()}}}
                                       : Polyline{{{area.x, p}, {area.right(), p}}});
        }
        if (!grid.lines.empty() || ofMajor) page.add(element->id, std::move(grid));
    };
    if (minor) lines(false, 0.07);
    if (major) lines(true, 0.13);
}

void PanelAxis::drawTicks(const Rect& area, bool opposite, Path& path) const {
    const std::string way = look.text("ticks");
    if (way == "none") return;
    const double length = look.number("tick-length"), own = look.number("minor-length");
    const double small = std::isfinite(own) ? own : length / 2;
    const double from = edge(area, opposite);
    const double inward = opposite ? outwards() : -outwards();
    for (const Tick& t : ticks) {
        const double p = map.place(t.value), l = t.major ? length : small;
        const double begin = way == "in" ? from : from - inward * l,
                     end = way == "out" ? from : from + inward * l;
        path.lines.push_back({{turnedTo(isX(), p, begin), turnedTo(isX(), p, end)}});
    }
}

bool PanelAxis::hasOwnLine() const {
    return distance != 0 || cross || look.flag("shorten") || map.isBroken() || look.isOwn("colour") ||
           look.flag("as-curve");
}

void PanelAxis::drawLine(const Rect& area, double lineWidth) const {
    if (lineWidth <= 0) return;
    const double at = edge(area, false);
    Path path{.lines = {}, .stroke = line(lineWidth), .fill = {}};
    path.stroke->cap = Cap::Square;
    const bool shortened = look.flag("shorten") && data;
    for (const Piece& p : map.pieces()) {
        double from = p.start, to = p.end;
        if (shortened) {
            from = map.place(std::clamp(data->low, p.low, p.high));
            to = map.place(std::clamp(data->high, p.low, p.high));
        }
        path.lines.push_back({{turnedTo(isX(), from, at), turnedTo(isX(), to, at)}});
    }
    page.add(element->id, std::move(path));
}

// Two strokes across the line at the ends that meet, or a wave.
void PanelAxis::drawBreaks(const Rect& area, double lineWidth, bool opposite) const {
    const std::string sign = look.text("break-sign");
    if (sign == "none" || !map.isBroken()) return;
    const double at = edge(area, opposite), half = 0.9;
    Path path{.lines = {}, .stroke = line(lineWidth), .fill = {}};
    for (std::size_t k = 0; k + 1 < map.pieces().size(); ++k)
        for (const double end : {map.pieces()[k].end, map.pieces()[k + 1].start}) {
            Polyline stroke;
            if (sign == "wave") {
                for (int i = -8; i <= 8; ++i)
                    stroke.points.push_back(turnedTo(isX(), end + 0.35 * std::sin(i * std::numbers::pi / 8),
                                                     at + half * i / 8.0));
            } else
                stroke.points = {turnedTo(isX(), end - 0.4, at + half * (isX() ? 1 : -1)),
                                 turnedTo(isX(), end + 0.4, at - half * (isX() ? 1 : -1))};
            path.lines.push_back(std::move(stroke));
        }
    page.add(element->id, std::move(path));
}

void PanelAxis::draw(const Rect& area, double lineWidth) {
    const ElementId id = element->id;
    if (!crowded_.empty()) page.say("crowded-numbers", crowded_);
    if (hasOwnLine()) drawLine(area, lineWidth);
    drawBreaks(area, lineWidth, false);
    const std::string opposite = look.text("opposite");
    const bool across = (side == Side::Bottom || side == Side::Left) && !cross;
    if (across && opposite != "none") drawBreaks(area, lineWidth, true);
    Path marks{.lines = {}, .stroke = line(look.number("tick-width") * kMmPerPt), .fill = {}};
    drawTicks(area, false, marks);
    if (across && opposite == "with-ticks") drawTicks(area, true, marks);
    if (!marks.lines.empty()) page.add(id, std::move(marks));
    if (!numbers_) return;

    const double at = edge(area, false), from = at + outwards() * (tickOut() + labelGap());
    drawLabels(from);
    if (side == Side::Bottom) drawCommon(from + 1.2 * em());
    // Where the axis runs through the panel its title stays at the edge.
    const double outside = cross ? (side == Side::Bottom ? area.bottom()
                                    : side == Side::Top  ? area.y
                                    : side == Side::Left ? area.x
                                                         : area.right())
                                 : at + outwards() * numbersDepth();
    drawTitle(area, outside + outwards() * titleGap());
}

void PanelAxis::drawLabels(double from) const {
    for (const Label& l : labels_) {
        const double lineHeight = 1.2 * em();
        const auto n = static_cast<double>(l.lines.size());
        for (std::size_t k = 0; k < l.lines.size(); ++k) {
            const SetText& set = l.lines[k];
            const double down = lineHeight * static_cast<double>(k);
            std::vector<Item> parts;
            if (isX() && turn_ == Turn::Level) {
                const double y = side == Side::Bottom ? from + down : from - (n - 1) * lineHeight + down;
                parts = placed(set, {l.at, y}, HAlign::Centre,
                               side == Side::Bottom ? VAlign::Top : VAlign::Bottom);
            } else if (isX()) {
                const double angle = turn_ == Turn::Upright ? 90 : kSlantDeg;
                const bool below = side == Side::Bottom;
                const double shift =
                    turn_ == Turn::Upright ? (static_cast<double>(k) - (n - 1) / 2) * lineHeight : 0;
                const double drop = turn_ == Turn::Slanted ? 0.3 * em() : 0;
                parts = placed(set, {l.at + shift, from + (below ? drop : -drop)},
                               below ? HAlign::Right : HAlign::Left, VAlign::Middle, angle);
            } else if (turn_ == Turn::Upright) {
                parts = placed(set, {from, l.at}, HAlign::Centre,
                               side == Side::Left ? VAlign::Bottom : VAlign::Top, 90);
            } else
                parts = placed(set, {from, l.at + down - (n - 1) / 2 * lineHeight},
                               side == Side::Left ? HAlign::Right : HAlign::Left, VAlign::Middle);
            page.addText(element->id, std::move(parts));
        }
    }
}

// Of two that would touch, the later one stays: the first tick often lies just before a change.
void PanelAxis::drawCommon(double from) const {
    const bool reversed = map.end() < map.start();
    double next = reversed ? -1e9 : 1e9; // where the one drawn before, to the right, begins
    std::vector<const Tick*> common;
    for (const Tick& t : ticks)
        if (!t.below.empty()) common.push_back(&t);
    const double gap = 0.5 * em();
    for (auto t = common.rbegin(); t != common.rend(); ++t) {
        const SetText set = setText((*t)->below, text);
        const double half = set.widthMm / 2, widest = page.out.list.widthMm;
        // Beside its tick rather than beyond the edge of the page.
        const double p = widest > set.widthMm + 1
                             ? std::clamp(map.place((*t)->value), half + 0.3, widest - half - 0.3)
                             : map.place((*t)->value);
        const bool fits = reversed ? p - half > next + gap : p + half < next - gap;
        if (!fits) continue;
        next = reversed ? p + half : p - half;
        page.addText(element->id, placed(set, {p, from}, HAlign::Centre, VAlign::Top));
    }
}

void PanelAxis::drawTitle(const Rect& area, double from) {
    const double lineHeight = 1.2 * em();
    const auto n = static_cast<double>(title_.size());
    const double middleX = area.x + area.width / 2, middleY = area.y + area.height / 2;
    const std::string turned = look.text("title-turn");
    double depth = 0;
    for (std::size_t k = 0; k < title_.size(); ++k) {
        const SetText& set = title_[k];
        const double down = lineHeight * static_cast<double>(k);
        depth = std::max(depth, set.heightMm() + down);
        // Over the middle of the axis, but not beyond the edge of the page.
        auto held = [&](double at, double length) {
            const double half = set.widthMm / 2 + 0.2;
            return length > 2 * half ? std::clamp(at, half, length - half) : at;
        };
        if (isX()) {
            const double y = side == Side::Bottom ? from + down : from - (n - 1) * lineHeight + down;
            page.addText(element->id, placed(set, {held(middleX, page.out.list.widthMm), y}, HAlign::Centre,
                                             side == Side::Bottom ? VAlign::Top : VAlign::Bottom));
        } else if (turned == "level") {
            page.addText(element->id,
                         placed(set, {from, middleY}, side == Side::Left ? HAlign::Right : HAlign::Left,
                                VAlign::Middle));
            depth = std::max(depth, set.widthMm);
        } else {
            // Text that reads upwards has its top at the left.
            const bool upwards = turned == "other" ? side == Side::Right : true;
            const bool topAtLeft = upwards;
            const bool outerFirst = side == Side::Left ? topAtLeft : !topAtLeft;
            const double step = outerFirst ? (n - 1) * lineHeight - down : down;
            const double x = from + outwards() * step;
            const bool growsLeft = side == Side::Left;
            page.addText(element->id,
                         placed(set, {x, held(middleY, page.out.list.heightMm)}, HAlign::Centre,
                                growsLeft == topAtLeft ? VAlign::Bottom : VAlign::Top, upwards ? 90 : -90));
        }
    }
    const double out = from + outwards() * depth, at = edge(area, false);
    const double low = std::min(out, at), high = std::max(out, at);
    bounds = isX() ? Rect{area.x, low - 1, area.width, high - low + 1}
                   : Rect{low, area.y, high - low + 1, area.height};
    if (side == Side::Bottom) bounds = {area.x, area.bottom() - 1, area.width, out - area.bottom() + 1};
    if (side == Side::Left) bounds = {out, area.y, area.x - out + 1, area.height};
    page.addRegion(element->id, bounds);
}

} // namespace jointer::figure
