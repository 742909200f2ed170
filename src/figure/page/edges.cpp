// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/page/edges.h"

#include "draw/reading_angle.h"
#include "figure/scales/linear.h"

#include <cmath>
#include <numbers>

namespace jointer::figure {

using namespace draw;

namespace {

constexpr int kNumbersWished = 5;
constexpr double kLeastMmBetween = 4; // of numbered ticks

double length(Point a, Point b) {
    return std::hypot(b.x - a.x, b.y - a.y);
}

Point moved(Point p, Point by, double mm) {
    return {p.x + by.x * mm, p.y + by.y * mm};
}

// How far a box about its centre reaches in a direction.
double reach(const SetText& text, Point direction) {
    return (std::abs(direction.x) * text.widthMm + std::abs(direction.y) * text.heightMm()) / 2;
}

} // namespace

EdgeLook::EdgeLook(const Page& page, const Look& panel, bool shares)
    : every(panel.number("edge-every") / (shares ? 100 : 1)),
      in(panel.text("edge-ticks") != "out" && panel.text("edge-ticks") != "none"),
      out(panel.text("edge-ticks") != "in" && panel.text("edge-ticks") != "none"),
      tickMm(panel.number("edge-tick-length")), widthMm(panel.millimetres("edge-tick-width")),
      lineMm(panel.millimetres("frame-width")), showsNumbers(panel.flag("edge-numbers")),
      level(panel.text("edge-titles") == "level"), perCent(shares && panel.text("edge-unit") == "per cent"),
      grid(panel.flag("edge-grid")), ends(!shares), text(page.text) {
    if (const double size = panel.number("edge-text-size"); size > 0) text.sizePt = size;
}

// Fewer numbers until they do not touch.
std::vector<EdgeDrawing::Stop> EdgeDrawing::stopsOf(const Edge& e) const {
    const int most = std::clamp(static_cast<int>(length(e.from, e.to) / kLeastMmBetween), 2, kNumbersWished);
    for (int about = most;; --about) {
        auto stops = stopsFor(e, about);
        if (about <= 2 || look_.every > 0 || areFree(e, stops)) return stops;
    }
}

bool EdgeDrawing::areFree(const Edge& e, const std::vector<Stop>& stops) const {
    const Stop* last = nullptr;
    for (const Stop& s : stops) {
        if (!s.numbered || s.label.empty()) continue;
        if (last) {
            const SetText a = setText(last->label, look_.text), b = setText(s.label, look_.text);
            const Point p = at(e, last->share), q = at(e, s.share);
            const bool apart = std::abs(q.x - p.x) > (a.widthMm + b.widthMm) / 2 + 0.6 ||
                               std::abs(q.y - p.y) > (a.heightMm() + b.heightMm()) / 2 + 0.2;
            if (!apart) return false;
        }
        last = &s;
    }
    return true;
}

std::vector<EdgeDrawing::Stop> EdgeDrawing::stopsFor(const Edge& e, int about) const {
    const double unit = look_.perCent ? 100 : 1;
    const Range range{unit * std::min(e.low, e.high), unit * std::max(e.low, e.high)};
    if (!(range.high > range.low)) return {};
    std::vector<Stop> stops;
    for (const Tick& t : evenTicks(range, {.every = unit * look_.every, .about = about})) {
        const double share = (t.value / unit - e.low) / (e.high - e.low);
        if (share < -1e-9 || share > 1 + 1e-9) continue;
        const bool atEnd = !look_.ends && (share < 1e-9 || share > 1 - 1e-9);
        stops.push_back({t.value / unit, share, t.major && !atEnd, t.label});
        if (atEnd) stops.back().label.clear(); // the corners of neighbours would touch
    }
    return stops;
}

std::vector<EdgeDrawing::Placed> EdgeDrawing::textsOf(const Edge& e) const {
    std::vector<Placed> texts;
    const double em = look_.text.sizePt * kMmPerPt;
    double depth = 0; // across the edge
    for (const Stop& stop : stopsOf(e)) {
        if (!stop.numbered || stop.label.empty() || !look_.showsNumbers || !e.numbers) continue;
        SetText set = setText(stop.label, look_.text);
        const double far = tickOut() + 0.25 * em + reach(set, e.out);
        const Point centre = moved(at(e, stop.share), e.out, far);
        const double across = e.out.x * e.away.x + e.out.y * e.away.y;
        depth = std::max(depth, far * across + reach(set, e.away));
        texts.push_back({std::move(set), centre});
    }
    if (e.title.empty()) return texts;
    SetText set = setText(e.title, look_.text);
    const Point middle = at(e, 0.5);
    const double angle = look_.level ? 0 : readingAngle(e.from, e.to);
    const double half = look_.level ? reach(set, e.away) : set.heightMm() / 2;
    const double off = std::max(depth, tickOut()) + 0.4 * em + half;
    texts.push_back({std::move(set), moved(middle, e.away, off), angle});
    return texts;
}

void EdgeDrawing::grid(const Edge& e) {
    if (!look_.grid) return;
    Path lines{.lines = {},
               .stroke = Stroke{.widthMm = 0.5 * look_.lineMm, .colour = page_.text.colour.withAlpha(0.28)},
               .fill = {}};
    for (const Stop& s : stopsOf(e)) {
        if (!s.numbered || s.share < 1e-9 || s.share > 1 - 1e-9) continue;
        lines.lines.push_back({{at(e, s.share),
                                {e.gridFrom.x + s.share * (e.gridTo.x - e.gridFrom.x),
                                 e.gridFrom.y + s.share * (e.gridTo.y - e.gridFrom.y)}}});
    }
    if (!lines.lines.empty() && lines.stroke->widthMm > 0) page_.add(element_.id, std::move(lines));
}

void EdgeDrawing::draw(const Edge& e) {
    Path ticks{.lines = {}, .stroke = Stroke{.widthMm = look_.widthMm, .colour = page_.text.colour}, .fill = {}};
    for (const Stop& s : stopsOf(e)) {
        if (!look_.ends && (s.share < 1e-9 || s.share > 1 - 1e-9)) continue;
        const double mm = look_.tickMm * (s.numbered ? 1 : 0.5);
        const Point p = at(e, s.share);
        ticks.lines.push_back({{moved(p, e.out, look_.out ? mm : 0), moved(p, e.out, look_.in ? -mm : 0)}});
    }
    if (!ticks.lines.empty() && (look_.in || look_.out) && look_.widthMm > 0 && look_.tickMm > 0)
        page_.add(element_.id, std::move(ticks));
    for (const Placed& p : textsOf(e))
        page_.addText(element_.id, placed(p.text, p.at, HAlign::Centre, VAlign::Middle, p.angleDeg));
}

std::vector<Rect> EdgeDrawing::textBoxes(const std::vector<Edge>& edges) const {
    std::vector<Rect> boxes;
    for (const Edge& e : edges)
        for (const Placed& p : textsOf(e)) {
            const double angle = p.angleDeg * std::numbers::pi / 180, c = std::abs(std::cos(angle)),
                         s = std::abs(std::sin(angle));
            const double w = c * p.text.widthMm + s * p.text.heightMm(),
                         h = s * p.text.widthMm + c * p.text.heightMm();
            boxes.push_back({p.at.x - w / 2, p.at.y - h / 2, w, h});
        }
    return boxes;
}

Rect EdgeDrawing::boundsOf(const std::vector<Edge>& edges) const {
    std::vector<Point> points;
    for (const Edge& e : edges) {
        for (const Point p : {e.from, e.to}) points.push_back(p);
        for (const Stop& s : stopsOf(e)) points.push_back(moved(at(e, s.share), e.out, tickOut()));
    }
    for (const Rect& box : textBoxes(edges))
        for (const Point p : {Point{box.x, box.y}, Point{box.right(), box.bottom()}}) points.push_back(p);
    return draw::boundsOf(points);
}

} // namespace jointer::figure
