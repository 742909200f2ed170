// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/marks.h"

#include "draw/markup.h"
#include "figure/shown_part.h"

#include <cmath>

namespace jointer::figure {

using namespace draw;

namespace {

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

void widen(std::optional<Range>& range, double v, bool log) {
    if (!std::isfinite(v) || (log && v <= 0)) return;
    range = range ? Range{std::min(range->low, v), std::max(range->high, v)} : Range{v, v};
}

constexpr std::size_t kManyPoints = 20000; // from here on an overview of the curve pays
constexpr double kTakenPt = 3.5;           // symbols of points that a step took away
} // namespace

bool isMark(std::string_view kind) {
    const KindInfo* info = elementKinds().find(kind);
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
        const steps::Layer* layer = o.layer(kind);
        if (!layer || layer->x.empty()) continue;
        out->x = layer->x;
        out->y = layer->y;
    }
    out->xMeaning = protocol.end().curve().xMeaning;
    out->yMeaning = protocol.end().curve().yMeaning;
    return out;
}

// What the mark draws of an analysis: a line, or points.
void takeFromAnalysis(const Analysis& analysis, const evaluate::AnalysisOutcome& outcome, DatasetId member,
                      int component, PreparedMark& m) {
    if (!outcome.exists()) return m.issues.push_back(outcome.result.error());
    m.result = *outcome.result;
    std::string role = m.element->settings.text("role");
    if (role.empty()) role = m.kind == "residuals" ? "residuals" : component > 0 ? "component" : "fit";
    const DatasetId of = analysis.takes(member) ? member : analysis.inputs.front().dataset;
    const analyses::NamedCurve* at = m.result->curve(role, of, m.element->settings.text("named"), component);
    if (!at) return m.issues.push_back({"no-curve", "This analysis has no such curve to draw.", {}});
    m.xMeaning = at->xMeaning;
    m.yMeaning = at->yMeaning;
    if (component > 0 || role == "slice") m.label = literal(at->label);
    if (!at->founded.isAll()) m.spanLow = at->founded.low(), m.spanHigh = at->founded.high();
    if (at->points)
        m.curve = at->points;
    else
        m.line = at;
}

} // namespace

PreparedMark prepareMark(const Project& project, evaluate::Evaluator& evaluator, const Element& e,
                         const HouseStyle* style, evaluate::Effort effort) {
    const Look look(*elementKinds().find(e.kind), e.settings, style);
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
    m.onlyMade = look.text("shown") == "made";
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
        const DatasetId member = DatasetId::fromText(e.settings.reference("member"));
        if (!analysis->inputs.empty())
            datasetId = analysis->takes(member) ? member : analysis->inputs.front().dataset;
        own = literal(analyses::nameOf(*analysis));
        takeFromAnalysis(*analysis, evaluator.analysis(project, *analysis, {.effort = effort}), member,
                         e.settings.integer("component"), m);
    }
    const auto dataset = project.datasets.find(datasetId);
    if (dataset && !ofFit) {
        const auto protocol = evaluator.protocol(project, datasetId);
        const auto& stage = protocol.at(CurvePoint::fromText(look.text("point")));
        const bool ofStep = e.kind == "baseline" || e.kind == "taken";
        m.curve = ofStep                 ? curveOfStep(protocol, e.kind, StepId::fromText(look.text("step")))
                  : e.kind == "spectrum" ? evaluator.spectrum(stage)
                  : m.onlyExcluded
                      ? protocol.leftOutAsMeasured(stage) // wherever the steps have moved the others
                      : std::shared_ptr<const Curve>(stage.output, &stage.output->curve);
        m.apart = e.kind == "taken" && 2 * m.curve->size() < protocol.stages.front().curve().size();
        if (m.apart) m.sizeMm = kTakenPt * kMmPerPt;
        const bool asItIs = !ofStep && e.kind != "spectrum";
        if (asItIs && m.curve->size() > kManyPoints) m.overview = evaluator.overview(stage);
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
    if (line) widen(range, spanLow, log), widen(range, spanHigh, log);
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
    if (!line) return;
    const double low = wholeAxis ? x.low : std::max(spanLow, x.low),
                 high = wholeAxis ? x.high : std::min(spanHigh, x.high);
    if (!(low < high)) return;
    for (int i = 0; i <= count; ++i) {
        const double t = static_cast<double>(i) / count;
        xs.push_back(x.log ? low * std::pow(high / low, t) : low + t * (high - low));
    }
    analyses::Sampled sampled = line->sample(xs);
    ys = std::move(sampled.y);
    if (bandKind == "confidence") band = std::move(sampled.confidence);
    if (bandKind == "prediction") band = std::move(sampled.prediction);
    std::erase_if(band, [](double v) { return !std::isfinite(v); });
    if (band.size() != ys.size()) band.clear();
}

} // namespace jointer::figure
