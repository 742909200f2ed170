// SPDX-License-Identifier: GPL-3.0-or-later
// The drawing of marks once the scales are known.
#include "figure/marks.h"
#include "figure/shown_part.h"
#include "figure/thin.h"

#include <cmath>

namespace jointer::figure {

using namespace draw;

namespace {

// The same with a margin of so many mm at each side.
std::pair<std::size_t, std::size_t> shownWithin(const std::vector<double>& xs, const Scale& x, double mm) {
    const double by = x.end < x.start ? -mm : mm;
    return shownPart(xs, x.value(x.start - by), x.value(x.end + by));
}

std::vector<double> dashes(const std::string& key, double width) {
    const double w = std::max(width, 0.15);
    if (key == "dashed") return {5 * w, 3 * w};
    if (key == "dotted") return {1.2 * w, 2 * w};
    if (key == "dash-dot") return {6 * w, 2.4 * w, 1.2 * w, 2.4 * w};
    return {};
}

constexpr double kFar = 1e4; // mm; places beyond are cut off, so that no backend overflows

double cut(double mm) {
    return std::clamp(mm, -kFar, kFar);
}

} // namespace

Stroke PreparedMark::stroke() const {
    return {.widthMm = widthMm,
            .colour = colour,
            .dashMm = dashes(dash, widthMm),
            .cap = Cap::Butt,
            .join = Join::Round};
}

void PreparedMark::draw(const Scale& x, const Scale& y, double pixelsPerMm, Group& into) const {
    if (kind == "curve") {
        if (!band.empty()) drawBand(x, y, into);
        drawLine(xs, ys, x, y, pixelsPerMm, into);
        return;
    }
    if (!curve) return;
    if (kind == "area") drawArea(x, y, pixelsPerMm, into);
    if (hasLine()) drawLine(curve->x, curve->y, x, y, pixelsPerMm, into);
    if (hasSymbols()) {
        if (errors && !curve->sigma.empty()) drawErrors(x, y, into);
        drawSymbols(x, y, pixelsPerMm, into);
    }
}

// Of a dense curve four points for each column of pixels: where it comes in, lowest, highest, where it
// leaves.
std::vector<Polyline> PreparedMark::denseLines(const Scale& x, const Scale& y, double pixelsPerMm,
                                               std::size_t first, std::size_t end) const {
    std::vector<Polyline> lines;
    Polyline now;
    auto finish = [&] {
        if (now.points.size() > 1) lines.push_back(std::move(now));
        now = {};
    };
    const double mm = (x.end < x.start ? -1 : 1) / pixelsPerMm;
    const auto columns = static_cast<long>(std::ceil(std::abs(x.end - x.start) * pixelsPerMm));
    auto from = curve->x.begin() + static_cast<std::ptrdiff_t>(first);
    const auto stop = curve->x.begin() + static_cast<std::ptrdiff_t>(end);
    for (long column = 0; column < columns; ++column) {
        const auto to =
            column + 1 == columns
                ? stop
                : std::lower_bound(from, stop, x.value(x.start + static_cast<double>(column + 1) * mm));
        const auto a = static_cast<std::size_t>(from - curve->x.begin()),
                   b = static_cast<std::size_t>(to - curve->x.begin());
        from = to;
        if (a == b) continue; // no points here: the line goes on
        const Extent extent = overview->over(*curve, a, b);
        const double low = y.log && extent.low + offset <= 0 ? extent.lowestPositive : extent.low;
        if (!extent.any || !std::isfinite(y.place(low + offset))) {
            finish();
            continue;
        }
        auto add = [&](double px, double value) {
            const Point p{cut(px), cut(y.place(value + offset))};
            if (std::isfinite(p.y)) now.points.push_back(p);
        };
        const double in = x.place(curve->x[extent.first]), out = x.place(curve->x[extent.last]);
        add(in, curve->y[extent.first]);
        add((in + out) / 2, low);
        add((in + out) / 2, extent.high);
        add(out, curve->y[extent.last]);
    }
    finish();
    return lines;
}

// Lines break where a value is missing or was left out.
void PreparedMark::drawLine(const std::vector<double>& px, const std::vector<double>& py, const Scale& x,
                            const Scale& y, double pixelsPerMm, Group& into) const {
    Path path{.lines = {}, .stroke = stroke(), .fill = {}};
    std::vector<Point> piece;
    auto finish = [&] {
        if (piece.size() > 1) path.lines.push_back({thinnedLine(std::move(piece), 1 / pixelsPerMm), false});
        piece.clear();
    };
    const auto [first, end] = shownPart(px, x.low, x.high);
    if (isDense(end - first) && &px == &curve->x) {
        path.lines = denseLines(x, y, pixelsPerMm, first, end);
        if (!path.lines.empty()) into.items.push_back({element->id, std::move(path)});
        return;
    }
    piece.reserve(end - first);
    for (std::size_t i = first; i < end; ++i) {
        const Point p{x.place(px[i]), y.place(py[i] + offset)};
        const bool leftOut = curve && kind != "curve" && curve->isExcluded(i);
        if (leftOut) continue; // the line goes on to the next point that counts
        if (!std::isfinite(p.x) || !std::isfinite(p.y))
            finish();
        else
            piece.push_back({cut(p.x), cut(p.y)});
    }
    finish();
    if (!path.lines.empty()) into.items.push_back({element->id, std::move(path)});
}

void PreparedMark::drawSymbols(const Scale& x, const Scale& y, double pixelsPerMm, Group& into) const {
    const bool strokeOnly = symbol == SymbolShape::Plus || symbol == SymbolShape::Cross;
    const double lineWidth = std::max(0.12, sizeMm * 0.16);
    Symbols s{.shape = symbol,
              .sizeMm = sizeMm,
              .places = {},
              .stroke = Stroke{.widthMm = filled && !strokeOnly ? 0.05 : lineWidth, .colour = colour},
              .fill = {}};
    if (filled && !strokeOnly) s.fill = colour;
    Symbols faint = s;
    faint.stroke = Stroke{.widthMm = lineWidth * 0.8, .colour = colour.withAlpha(onlyExcluded ? 0.9 : 0.35)};
    faint.fill.reset();
    Symbols made = s;
    made.stroke = Stroke{.widthMm = lineWidth, .colour = colour};
    made.fill.reset();
    // Symbols a little outside still show half of themselves.
    auto visible = [&](const Point& p) {
        const double reach = sizeMm;
        return p.x >= std::min(x.start, x.end) - reach && p.x <= std::max(x.start, x.end) + reach &&
               p.y >= std::min(y.start, y.end) - reach && p.y <= std::max(y.start, y.end) + reach;
    };
    const auto [first, end] = shownWithin(curve->x, x, sizeMm);
    for (std::size_t i = first; i < end; ++i) {
        if (!std::isfinite(curve->y[i])) continue;
        const Point p{x.place(curve->x[i]), y.place(curve->y[i] + offset)};
        if (!std::isfinite(p.x) || !std::isfinite(p.y) || !visible(p)) continue;
        if (curve->isExcluded(i)) {
            if (excluded) faint.places.push_back(p);
        } else if (curve->isMade(i)) { // hollow: nobody measured it
            if (!onlyExcluded) made.places.push_back(p);
        } else if (!onlyExcluded && !onlyMade)
            s.places.push_back(p);
    }
    s.places = thinnedCloud(std::move(s.places), 0.5 / pixelsPerMm);
    if (!s.places.empty()) into.items.push_back({element->id, std::move(s)});
    if (!made.places.empty()) into.items.push_back({element->id, std::move(made)});
    if (!faint.places.empty()) into.items.push_back({element->id, std::move(faint)});
}

void PreparedMark::drawErrors(const Scale& x, const Scale& y, Group& into) const {
    Path bars{
        .lines = {}, .stroke = Stroke{.widthMm = std::max(0.1, sizeMm * 0.12), .colour = colour}, .fill = {}};
    const double cap = sizeMm * 0.35;
    const auto [first, end] = shownWithin(curve->x, x, sizeMm);
    for (std::size_t i = first; i < std::min(end, curve->sigma.size()); ++i) {
        const double s = curve->sigma[i], v = curve->y[i] + offset;
        if (!(s > 0) || !std::isfinite(v) || curve->isExcluded(i)) continue;
        const double px = x.place(curve->x[i]), top = y.place(v + s);
        double bottom = y.place(v - s);
        if (!std::isfinite(bottom)) bottom = y.start; // reaches below zero on a logarithmic axis
        if (!std::isfinite(px) || !std::isfinite(top) || px < std::min(x.start, x.end) ||
            px > std::max(x.start, x.end))
            continue;
        // A bar hidden behind its symbol is not drawn.
        if (std::abs(bottom - top) < sizeMm * 0.9) continue;
        bars.lines.push_back({{{px, cut(top)}, {px, cut(bottom)}}});
        bars.lines.push_back({{{px - cap, cut(top)}, {px + cap, cut(top)}}});
        bars.lines.push_back({{{px - cap, cut(bottom)}, {px + cap, cut(bottom)}}});
    }
    if (!bars.lines.empty()) into.items.push_back({element->id, std::move(bars)});
}

void PreparedMark::drawBand(const Scale& x, const Scale& y, Group& into) const {
    Polyline edge{{}, true};
    for (std::size_t i = 0; i < xs.size(); ++i)
        edge.points.push_back({cut(x.place(xs[i])), cut(y.place(ys[i] + band[i] + offset))});
    for (std::size_t i = xs.size(); i-- > 0;) {
        const double low = y.place(ys[i] - band[i] + offset);
        edge.points.push_back({cut(x.place(xs[i])), cut(std::isfinite(low) ? low : y.start)});
    }
    std::erase_if(edge.points, [](const Point& p) { return !std::isfinite(p.x) || !std::isfinite(p.y); });
    into.items.push_back(
        {element->id, Path{.lines = {std::move(edge)}, .stroke = {}, .fill = colour.withAlpha(bandOpacity)}});
}

void PreparedMark::drawArea(const Scale& x, const Scale& y, double pixelsPerMm, Group& into) const {
    const double zero = y.log ? y.start : cut(y.place(offset));
    std::vector<Point> top;
    for (std::size_t i = 0; i < curve->size(); ++i) {
        const Point p{x.place(curve->x[i]), y.place(curve->y[i] + offset)};
        if (std::isfinite(p.x) && std::isfinite(p.y) && !curve->isExcluded(i))
            top.push_back({cut(p.x), cut(p.y)});
    }
    if (top.size() < 2) return;
    top = thinnedLine(std::move(top), 1 / pixelsPerMm);
    top.push_back({top.back().x, zero});
    top.push_back({top.front().x, zero});
    into.items.push_back(
        {element->id,
         Path{.lines = {{std::move(top), true}}, .stroke = {}, .fill = colour.withAlpha(opacity)}});
}

void PreparedMark::drawKey(Rect box, Group& into) const {
    const double middle = box.y + box.height / 2;
    if (kind == "area")
        into.items.push_back({element->id, Path{.lines = {{{{box.x, box.y},
                                                            {box.right(), box.y},
                                                            {box.right(), box.bottom()},
                                                            {box.x, box.bottom()}},
                                                           true}},
                                                .stroke = {},
                                                .fill = colour.withAlpha(opacity)}});
    if (hasLine())
        into.items.push_back({element->id, Path{.lines = {{{{box.x, middle}, {box.right(), middle}}, false}},
                                                .stroke = stroke(),
                                                .fill = {}}});
    if (!hasSymbols()) return;
    Symbols s{.shape = symbol,
              .sizeMm = sizeMm,
              .places = {{box.x + box.width / 2, middle}},
              .stroke = Stroke{.widthMm = std::max(0.12, sizeMm * 0.16), .colour = colour},
              .fill = {}};
    if (filled) s.fill = colour;
    into.items.push_back({element->id, std::move(s)});
}

} // namespace jointer::figure
