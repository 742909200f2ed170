// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/marks.h"

#include "draw/markup.h"
#include "figure/thin.h"

#include <cmath>

namespace jointer::figure {

using namespace draw;

namespace {

// The part of an ascending x that a scale shows, with one point beyond each end so that lines leave the
// frame.
std::pair<std::size_t, std::size_t> shownPart(const std::vector<double>& xs, double low, double high) {
    const auto from = static_cast<std::size_t>(std::lower_bound(xs.begin(), xs.end(), low) - xs.begin());
    const auto to = static_cast<std::size_t>(std::upper_bound(xs.begin(), xs.end(), high) - xs.begin());
    return {from > 0 ? from - 1 : 0, std::min(xs.size(), to + 1)};
}

// The same with a margin of so many mm at each side.
std::pair<std::size_t, std::size_t> shownWithin(const std::vector<double>& xs, const Scale& x, double mm) {
    const double by = x.end < x.start ? -mm : mm;
    return shownPart(xs, x.value(x.start - by), x.value(x.end + by));
}

SymbolShape shapeOf(const std::string& key) {
    static const std::pair<std::string_view, SymbolShape> all[] = {
        {"circle", SymbolShape::Circle},
        {"square", SymbolShape::Square},
        {"diamond", SymbolShape::Diamond},
        {"triangle-up", SymbolShape::TriangleUp},
        {"triangle-down", SymbolShape::TriangleDown},
        {"plus", SymbolShape::Plus},
        {"cross", SymbolShape::Cross}};
    const auto at =
        std::ranges::find(all, std::string_view(key), &std::pair<std::string_view, SymbolShape>::first);
    return at == std::end(all) ? SymbolShape::Circle : at->second;
}

std::vector<double> dashes(const std::string& key, double width) {
    const double w = std::max(width, 0.15);
    if (key == "dashed") return {5 * w, 3 * w};
    if (key == "dotted") return {1.2 * w, 2 * w};
    if (key == "dash-dot") return {6 * w, 2.4 * w, 1.2 * w, 2.4 * w};
    return {};
}

void widen(std::optional<Range>& range, double v, bool log) {
    if (!std::isfinite(v) || (log && v <= 0)) return;
    range = range ? Range{std::min(range->low, v), std::max(range->high, v)} : Range{v, v};
}

constexpr std::size_t kManyPoints = 20000; // from here on an overview of the curve pays
constexpr double kFar = 1e4;               // mm; places beyond are cut off, so that no backend overflows

double cut(double mm) {
    return std::clamp(mm, -kFar, kFar);
}

} // namespace

bool isMark(std::string_view kind) {
    const KindInfo* info = findKind(kind);
    return info && info->group == "Marks";
}

namespace {

// What a step took away, or the baseline it drew, as a curve of its own.
std::shared_ptr<const Curve> curveOfStep(const evaluate::ProtocolResult& protocol, const std::string& kind,
                                         StepId wanted) {
    auto out = std::make_shared<Curve>();
    for (const evaluate::StepResult& stage : protocol.stages) {
        if (!stage.on || !stage.step || (wanted && stage.step != wanted)) continue;
        const steps::StepOutput& o = *stage.output;
        if (kind == "baseline" && o.baseline) out->x = o.curve.x, out->y = *o.baseline;
        if (kind == "taken" && !o.takenX.empty()) out->x = o.takenX, out->y = o.takenY;
    }
    out->xMeaning = protocol.end().curve().xMeaning;
    out->yMeaning = protocol.end().curve().yMeaning;
    return out;
}

// Residuals of the points that were fitted, in order of x.
std::shared_ptr<const Curve> curveOfResiduals(const evaluate::FitResult& fit) {
    auto out = std::make_shared<Curve>();
    const bool separate =
        fit.report->residuals.size() != static_cast<std::size_t>(std::ranges::count(fit.used, 1));
    std::size_t next = 0;
    for (std::size_t i = 0; i < fit.used.size(); ++i) {
        if (!fit.used[i]) continue;
        const std::size_t count =
            separate ? static_cast<std::size_t>(std::ranges::count_if(
                           fit.points->replicates, [&](const auto& r) { return std::isfinite(r[i]); }))
                     : 1;
        for (std::size_t k = 0; k < count && next < fit.report->residuals.size(); ++k) {
            out->x.push_back(fit.points->x[i]);
            out->y.push_back(fit.report->residuals[next++]);
        }
    }
    return out;
}

} // namespace

PreparedMark prepareMark(const Project& project, evaluate::Evaluator& evaluator, const Element& e,
                         const HouseStyle* style, evaluate::Effort effort) {
    const Look look(*findKind(e.kind), e.settings, style);
    PreparedMark m;
    m.element = &e;
    m.kind = e.kind;
    m.label = look.text("label");
    m.symbol = shapeOf(look.text("symbol"));
    m.sizeMm = look.number("size") * kMmPerPt;
    m.widthMm = look.number("width") * kMmPerPt;
    m.filled = look.text("fill") == "filled";
    m.errors = look.flag("errors");
    m.excluded = look.flag("excluded");
    m.onlyExcluded = look.text("shown") == "excluded";
    m.dash = look.text("dash");
    m.offset = look.number("offset");
    m.bandKind = look.text("band");
    m.wholeAxis = look.text("extent") == "axis";
    if (e.kind == "area") m.opacity = look.number("opacity");
    if (e.kind == "curve") m.bandOpacity = look.number("band-opacity");

    std::string own;
    DatasetId datasetId = DatasetId::fromText(e.source);
    const bool ofFit = e.kind == "curve" || e.kind == "residuals";
    if (ofFit) {
        const auto analysis = project.analyses.find(AnalysisId::fromText(e.source));
        if (!analysis)
            return m.issues.push_back({"source-gone", "A fitted curve on the figure has lost its fit.", {}}),
                   m;
        m.fit = std::make_shared<evaluate::FitResult>(evaluator.fit(project, *analysis, {.effort = effort}));
        if (!analysis->inputs.empty()) datasetId = analysis->inputs.front().dataset;
        own = literal(analysis->name);
        if (m.fit->points) {
            m.xMeaning = m.fit->points->xMeaning;
            m.yMeaning = m.fit->points->yMeaning;
        }
        if (!m.fit->good()) m.issues.push_back(m.fit->report.error());
        std::optional<Range> span;
        for (std::size_t i = 0; m.fit->good() && i < m.fit->used.size(); ++i)
            if (m.fit->used[i]) widen(span, m.fit->points->x[i], false);
        if (span) m.spanLow = span->low, m.spanHigh = span->high;
        if (e.kind == "residuals" && m.fit->good()) {
            m.curve = curveOfResiduals(*m.fit);
            m.yMeaning = {"residual", m.yMeaning.unit};
            m.fit.reset();
        }
    }
    const auto dataset = project.datasets.find(datasetId);
    if (dataset && !ofFit) {
        const auto protocol = evaluator.protocol(project, datasetId);
        const auto& stage = protocol.at(look.text("point"));
        const bool ofStep = e.kind == "baseline" || e.kind == "taken";
        m.curve = ofStep ? curveOfStep(protocol, e.kind, StepId::fromText(look.text("step")))
                         : std::shared_ptr<const Curve>(stage.output, &stage.output->curve);
        if (!ofStep && m.curve->size() > kManyPoints) m.overview = evaluator.overview(stage);
        m.xMeaning = m.curve->xMeaning;
        m.yMeaning = m.curve->yMeaning;
        own = literal(dataset->name);
    } else if (!ofFit)
        m.issues.push_back({"source-gone", "A mark on the figure has lost its dataset.", {}});
    if (m.label.empty()) m.label = own;
    m.colour = Colour::fromText(look.text("colour"), Colour::fromText(dataset ? dataset->colour : ""));
    return m;
}

std::optional<Range> PreparedMark::xRange(bool log) const {
    std::optional<Range> range;
    if (curve) { // x ascends: the outermost usable points tell
        auto usable = [&](std::size_t i) { return std::isfinite(curve->y[i]) && (!log || curve->x[i] > 0); };
        std::size_t first = 0, end = curve->size();
        while (first < end && !usable(first)) ++first;
        while (end > first && !usable(end - 1)) --end;
        if (first < end) widen(range, curve->x[first], log), widen(range, curve->x[end - 1], log);
    }
    if (fit && fit->good()) widen(range, spanLow, log), widen(range, spanHigh, log);
    return range;
}

std::optional<Range> PreparedMark::yRange(bool log, double xLow, double xHigh) const {
    std::optional<Range> range;
    const auto [first, end] =
        curve ? shownPart(curve->x, xLow, xHigh) : std::pair<std::size_t, std::size_t>();
    const bool summary =
        isDense(end - first) && !excluded && !(hasSymbols() && errors && !curve->sigma.empty());
    if (summary) {
        // shownPart reaches one point beyond each end.
        const auto from = curve->x[first] < xLow ? first + 1 : first,
                   to = curve->x[end - 1] > xHigh ? end - 1 : end;
        const Extent extent = overview->over(*curve, from, to);
        if (extent.any)
            widen(range, (log && extent.low + offset <= 0 ? extent.lowestPositive : extent.low) + offset,
                  log),
                widen(range, extent.high + offset, log);
    }
    for (std::size_t i = first; !summary && i < end; ++i) {
        if (curve->x[i] < xLow || curve->x[i] > xHigh || (curve->isExcluded(i) && !excluded)) continue;
        const bool bars = hasSymbols() && errors && i < curve->sigma.size() && std::isfinite(curve->sigma[i]);
        widen(range, curve->y[i] + offset, log);
        if (bars)
            widen(range, curve->y[i] - curve->sigma[i] + offset, log),
                widen(range, curve->y[i] + curve->sigma[i] + offset, log);
    }
    if (kind == "area" && range && !log) widen(range, offset, false);
    for (std::size_t i = 0; i < ys.size(); ++i) {
        const double half = i < band.size() ? band[i] : 0;
        widen(range, ys[i] - half + offset, log);
        widen(range, ys[i] + half + offset, log);
    }
    return range;
}

void PreparedMark::sample(const Scale& x, int count) {
    if (!fit || !fit->good()) return;
    const double low = wholeAxis ? x.low : std::max(spanLow, x.low),
                 high = wholeAxis ? x.high : std::min(spanHigh, x.high);
    if (!(low < high)) return;
    for (int i = 0; i <= count; ++i) {
        const double t = static_cast<double>(i) / count;
        xs.push_back(x.log ? low * std::pow(high / low, t) : low + t * (high - low));
    }
    const fit::Prediction p = fit->sample(xs);
    ys = p.y;
    if (bandKind == "confidence") band = p.confidence;
    if (bandKind == "prediction") band = p.prediction;
    std::erase_if(band, [](double v) { return !std::isfinite(v); });
    if (band.size() != ys.size()) band.clear();
}

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
        } else if (!onlyExcluded)
            s.places.push_back(p);
    }
    s.places = thinnedCloud(std::move(s.places), 0.5 / pixelsPerMm);
    if (!s.places.empty()) into.items.push_back({element->id, std::move(s)});
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
