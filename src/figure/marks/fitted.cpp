// SPDX-License-Identifier: GPL-3.0-or-later
// Marks that follow an analysis: the fitted curve with its band, its residuals.
#include "draw/markup.h"
#include "figure/marks/curve_parts.h"
#include "figure/marks/series.h"
#include "figure/marks/sources.h"

#include <cmath>

namespace jointer::figure {

using namespace describe;
using namespace draw;

namespace {

constexpr std::size_t kMostSeedsOfBands = 2000; // asked with their errors, at some cost

class Fitted final : public Series {
public:
    const analyses::NamedCurve* source = nullptr; // a line that can be asked anywhere
    analyses::ResultPtr result;                   // holds it
    double spanLow = 0, spanHigh = 0;             // over which it is drawn
    bool wholeAxis = false;
    std::string bandKind;
    double bandOpacity = 0.18;
    CurveParts parts;
    std::vector<double> band; // half widths
    std::shared_ptr<Curve> sampled;

    bool isEmpty() const override { return !source && Series::isEmpty(); }

    std::optional<Range> extentX(const Scale& x) const override {
        std::optional<Range> range = source ? std::nullopt : Series::extentX(x);
        if (!source) return range;
        widen(range, spanLow, x);
        widen(range, spanHigh, x);
        return range;
    }

    void settle(const AxisMap& x) override {
        if (!source) return;
        const double low = wholeAxis ? x.low() : std::max(spanLow, x.low()),
                     high = wholeAxis ? x.high() : std::min(spanHigh, x.high());
        sampled = std::make_shared<Curve>();
        band.clear();
        curve = sampled;
        if (!(low < high)) return;
        sampled->x = places(x.scale(), low, high);
        analyses::Sampled found = source->sample(sampled->x);
        sampled->y = std::move(found.y);
        if (bandKind == "confidence") band = std::move(found.confidence);
        if (bandKind == "prediction") band = std::move(found.prediction);
        std::erase_if(band, [](double v) { return !std::isfinite(v); });
        if (band.size() != sampled->y.size()) band.clear();
    }

    std::optional<Range> extentY(const Scale& y, const Range& x) const override {
        if (!source) return Series::extentY(y, x);
        std::optional<Range> range;
        for (std::size_t i = 0; sampled && i < sampled->size(); ++i) {
            const double half = i < band.size() ? band[i] : 0;
            widen(range, shifted(y, sampled->y[i] - half), y);
            widen(range, shifted(y, sampled->y[i] + half), y);
        }
        return range;
    }

    void draw(const Frame& frame, Group& into) const override {
        if (!curve) return;
        if (!band.empty()) drawBand(frame, into);
        Series::draw(frame, into);
    }

private:
    // Parts are asked more quickly than the whole with its errors.
    std::vector<double> places(const Scale& scale, double low, double high) const {
        const bool byParts = !parts.peaks.empty() || !parts.grounds.empty();
        const std::vector<double> even = evenlyOn(scale, low, high, byParts ? parts.evenPlaces() : kEvenPlaces);
        if (byParts) return parts.places(even);
        std::vector<double> seeds;
        const std::size_t stride = parts.points.size() / kMostSeedsOfBands + 1;
        for (std::size_t i = 0; i < parts.points.size(); i += stride) seeds.push_back(parts.points[i]);
        return CurvePart{source}.sampled(even, seeds).xs;
    }

    void drawBand(const Frame& frame, Group& into) const {
        std::vector<Point> top, bottom;
        const Scale& y = frame.y.scale();
        for (std::size_t i = 0; i < sampled->size(); ++i) {
            const double px = cut(frame.x.place(sampled->x[i]));
            const double high = frame.y.place(shifted(y, sampled->y[i] + band[i])),
                         low = frame.y.placeOrStart(shifted(y, sampled->y[i] - band[i]));
            if (std::isfinite(px) && std::isfinite(high)) top.push_back({px, cut(high)});
            if (std::isfinite(px)) bottom.push_back({px, cut(low)});
        }
        addFilled(into, areaBetween(std::move(top), std::move(bottom)), colour.withAlpha(bandOpacity));
    }
};

// Which curve of the result: its fit, a component, or another by its role.
const analyses::NamedCurve* curveOf(const FoundAnalysis& found, const MarkTask& task,
                                    const std::string& usual, Mark& mark) {
    if (!found.result) return nullptr;
    const int component = task.look.integer("component");
    std::string role = task.look.text("role");
    if (role.empty()) role = component > 0 ? "component" : usual;
    const auto* at = found.result->curve(role, found.member, task.look.text("named"), component);
    if (!at) {
        mark.issues.push_back({"no-curve", "This analysis has no such curve to draw.", {}});
        return nullptr;
    }
    mark.xMeaning = at->xMeaning;
    mark.yMeaning = at->yMeaning;
    if ((component > 0 || role == "slice") && task.look.text("label").empty())
        mark.label = literal(at->label);
    return at;
}

MarkPtr prepareFitted(const MarkTask& task) {
    auto f = std::make_unique<Fitted>();
    f->line = LineLook(task.look);
    f->bandKind = task.look.text("band");
    f->bandOpacity = task.look.number("band-opacity");
    f->wholeAxis = task.look.text("extent") == "axis";
    const FoundAnalysis found = foundAnalysis(task, f->issues);
    takeFrom(found, task, *f);
    f->result = found.result;
    const auto* at = curveOf(found, task, "fit", *f);
    if (!at) return f;
    if (!at->founded.isAll()) {
        f->spanLow = at->founded.low();
        f->spanHigh = at->founded.high();
    }
    if (const Numbers ends = task.look.numbers("ends");
        task.look.text("extent") == "typed" && ends.size() == 2) {
        if (std::isfinite(ends[0])) f->spanLow = ends[0];
        if (std::isfinite(ends[1])) f->spanHigh = ends[1];
    }
    f->curve = at->points;
    if (at->points) return f;
    f->source = at;
    f->parts = partsOf(found);
    if (at->role != "fit") f->parts.peaks.clear(), f->parts.grounds.clear();
    return f;
}

MarkPtr prepareResiduals(const MarkTask& task) {
    auto s = std::make_unique<Series>();
    s->symbol = SymbolLook(task.look);
    s->errors = ErrorLook(task.look);
    s->excluded = task.look.flag("excluded");
    s->onlyExcluded = task.look.text("shown") == "excluded";
    s->onlyMade = task.look.text("shown") == "made";
    const FoundAnalysis found = foundAnalysis(task, s->issues);
    takeFrom(found, task, *s);
    if (const auto* at = curveOf(found, task, "residuals", *s)) s->curve = at->points;
    return s;
}

} // namespace

MarkKind curveMark() {
    std::vector<Setting> own = {
        choice("band", "Band", {{"none", "none"}, {"confidence", "confidence"}, {"prediction", "prediction"}},
               "Confidence: where the curve lies. Prediction: where further points lie."),
        opacitySetting(0.18, "band-opacity", "Band opacity"),
        choice("extent", "Drawn over",
               {{"span", "the fitted span"}, {"axis", "the whole axis"}, {"typed", "a typed part"}},
               "How far the curve is drawn.", {.group = kShownGroup}),
        interval("ends", "From … to", "Where it begins and ends; an empty end is that of the span.",
                 {.unit = "x", .group = kShownGroup, .shownIf = "extent=typed", .whenEmpty = "as fitted"})};
    own[1].group = kLooksGroup;
    return {.info = {.key = "curve",
                     .name = "Fitted curve",
                     .purpose = "The curve of a fit, with its band",
                     .group = "Marks",
                     .settings = together(
                         {commonSettings("the name of the fit"), lineSettings(), own, analysisSettings()})},
            .takes = Takes::Analysis,
            .prepare = prepareFitted};
}

MarkKind residualsMark() {
    return {.info = {.key = "residuals",
                     .name = "Residuals",
                     .purpose = "What a fit leaves: data minus curve",
                     .group = "Marks",
                     .settings = together({commonSettings("the name of the fit"), symbolSettings(),
                                           errorSettings(), analysisSettings()})},
            .takes = Takes::Analysis,
            .prepare = prepareResiduals};
}

} // namespace jointer::figure
