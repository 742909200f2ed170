// SPDX-License-Identifier: GPL-3.0-or-later
// Marks that follow an analysis: the fitted curve with its band, its components, its residuals.
#include "draw/markup.h"
#include "figure/marks/series.h"
#include "figure/marks/sources.h"
#include "models/catalogue.h"

#include <cmath>

namespace jointer::figure {

using namespace describe;
using namespace draw;

namespace {

constexpr int kSamples = 600;

class Fitted final : public Series {
public:
    const analyses::NamedCurve* source = nullptr; // a line that can be asked anywhere
    analyses::ResultPtr result;                   // holds it
    double spanLow = 0, spanHigh = 0;             // over which it is drawn
    bool wholeAxis = false;
    std::string bandKind;
    double bandOpacity = 0.18;
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
        sampled->x = evenlyOn(x.scale(), low, high, kSamples);
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
    if (!at->points) f->source = at;
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

// Lighter and darker tints of one colour, or colours of the palette, one for each part.
Colour partColour(Colour base, const std::string& colours, std::size_t k, std::size_t count) {
    if (colours == "palette") return Colour::fromText(palette()[k % palette().size()]);
    if (colours == "one" || count < 2) return base;
    const double towards = 0.55 * static_cast<double>(k) / static_cast<double>(count - 1);
    auto mixed = [&](std::uint8_t c) {
        return static_cast<std::uint8_t>(std::lround(c + towards * (255 - c)));
    };
    return {mixed(base.r), mixed(base.g), mixed(base.b), 255};
}

// Each peak of a composed model, filled down to the sum of what is no peak.
class Components final : public Mark {
public:
    struct Part {
        const analyses::NamedCurve* source;
        bool isPeak;
        Colour colour;
        const analyses::NamedCurve* partner = nullptr; // the second line of a doublet
        std::vector<double> ys{}, partnerYs{};
    };
    int strong = 0; // the part that is stressed
    analyses::ResultPtr result;
    std::vector<Part> parts;
    double spanLow = 0, spanHigh = 1, opacity = 0.35;
    LineLook line;
    std::vector<double> xs, base;

    bool isEmpty() const override { return parts.empty(); }
    std::optional<Range> extentX(const Scale& x) const override {
        std::optional<Range> range;
        widen(range, spanLow, x);
        widen(range, spanHigh, x);
        return range;
    }
    void settle(const AxisMap& x) override {
        const double low = std::max(spanLow, x.low()), high = std::min(spanHigh, x.high());
        xs.clear();
        if (!(low < high)) return;
        xs = evenlyOn(x.scale(), low, high, kSamples);
        base.assign(xs.size(), 0);
        for (Part& p : parts) {
            p.ys = p.source->sample(xs).y;
            if (p.partner) p.partnerYs = p.partner->sample(xs).y;
            if (p.isPeak) continue;
            for (std::size_t i = 0; i < xs.size(); ++i) base[i] += p.ys[i];
        }
    }
    std::optional<Range> extentY(const Scale& y, const Range&) const override {
        std::optional<Range> range;
        for (std::size_t i = 0; i < xs.size(); ++i) {
            widen(range, shifted(y, base[i]), y);
            for (const Part& p : parts)
                if (p.isPeak) widen(range, shifted(y, base[i] + p.ys[i]), y);
        }
        return range;
    }
    void draw(const Frame& frame, Group& into) const override {
        for (const Part& p : parts) {
            if (!p.isPeak) continue;
            std::vector<Point> top, bottom;
            for (std::size_t i = 0; i < xs.size(); ++i) {
                const Point upper = frame.at(xs[i], shifted(frame.y.scale(), base[i] + p.ys[i]));
                const double lower = frame.y.placeOrStart(shifted(frame.y.scale(), base[i]));
                if (!std::isfinite(upper.x) || !std::isfinite(upper.y)) continue;
                top.push_back({cut(upper.x), cut(upper.y)});
                bottom.push_back({cut(upper.x), cut(lower)});
            }
            if (top.size() < 2) continue;
            const bool stressed = strong > 0 && p.source->component == strong;
            if (opacity > 0)
                addFilled(into, areaBetween(top, std::move(bottom)),
                          p.colour.withAlpha(stressed ? std::min(1.0, 2.6 * opacity) : opacity));
            if (p.partner) hatch(frame, p, into);
            if (line.widthMm > 0) add(into, linePath({{std::move(top), false}}, line, p.colour));
        }
    }
    // Upright lines from the baseline to the partner.
    void hatch(const Frame& frame, const Part& p, Group& into) const {
        constexpr double kApartMm = 1.1;
        std::vector<Polyline> lines;
        double last = -INFINITY;
        for (std::size_t i = 0; i < xs.size(); ++i) {
            const Point upper = frame.at(xs[i], shifted(frame.y.scale(), base[i] + p.partnerYs[i]));
            const double lower = frame.y.placeOrStart(shifted(frame.y.scale(), base[i]));
            if (!std::isfinite(upper.x) || !std::isfinite(upper.y) || std::abs(upper.x - last) < kApartMm ||
                std::abs(upper.y - lower) < 0.3)
                continue;
            last = upper.x;
            lines.push_back({{{cut(upper.x), cut(lower)}, {cut(upper.x), cut(upper.y)}}, false});
        }
        LineLook thin = line;
        thin.widthMm = 0.12;
        if (!lines.empty()) add(into, linePath(std::move(lines), thin, p.colour));
    }
    void key(Rect box, Group& into) const override {
        addFilled(into, rectangle(box), colour.withAlpha(opacity));
    }
    Envelope envelope(const AxisMap& x, std::size_t count) const override {
        Envelope e = Mark::envelope(x, count);
        for (std::size_t i = 0; i < xs.size(); ++i) {
            const double share = (x.place(xs[i]) - x.start()) / (x.end() - x.start());
            const auto k = std::min(count - 1, static_cast<std::size_t>(std::clamp(share, 0.0, 1.0) *
                                                                        static_cast<double>(count)));
            for (const Part& p : parts) {
                e.low[k] = std::fmin(e.low[k], base[i]);
                if (p.isPeak) e.high[k] = std::fmax(e.high[k], base[i] + p.ys[i]);
            }
        }
        return e;
    }
};

// What stands below the peaks is no peak by its kind.
bool isPeak(const ModelNode& model, int component) {
    const auto at = std::ranges::find(model.children, component, &ModelNode::component);
    const ModelNode& node = at == model.children.end() ? model : *at;
    const models::ModelKind* kind = models::catalogue().find(node.kind);
    return !kind || kind->info.group == "Peaks";
}

MarkPtr prepareComponents(const MarkTask& task) {
    auto c = std::make_unique<Components>();
    c->opacity = task.look.number("opacity");
    c->line = LineLook(task.look);
    const FoundAnalysis found = foundAnalysis(task, c->issues);
    takeFrom(found, task, *c);
    c->named = false;
    c->result = found.result;
    c->strong = task.look.integer("stressed");
    if (!found.result) return c;
    const bool ofPeaks = found.result->curve("baseline", found.member) != nullptr;
    for (const analyses::NamedCurve& curve : found.result->curves) {
        const bool baseline = curve.role == "baseline";
        if ((curve.role != "component" && !baseline) || curve.member != found.member || !curve.sample)
            continue;
        const bool peak = ofPeaks ? !baseline : isPeak(found.analysis->model, curve.component);
        c->parts.push_back({.source = &curve, .isPeak = peak, .colour = {}});
        if (ofPeaks && peak)
            c->parts.back().partner = found.result->curve("partner", found.member, {}, curve.component);
        c->xMeaning = curve.xMeaning;
        c->yMeaning = curve.yMeaning;
        if (!curve.founded.isAll()) {
            c->spanLow = curve.founded.low();
            c->spanHigh = curve.founded.high();
        }
    }
    if (c->parts.empty())
        c->issues.push_back({"no-components", "This fit is of one piece; it has no components to draw.", {}});
    // Coloured in the order in which they stand along x, so that those of several fits correspond.
    std::vector<std::pair<double, Components::Part*>> peaks;
    const std::vector<double> xs = evenly(c->spanLow, c->spanHigh, kSamples);
    for (Components::Part& p : c->parts) {
        if (!p.isPeak) continue;
        const std::vector<double> ys = p.source->sample(xs).y;
        const auto top = std::ranges::max_element(ys, {}, [](double v) { return std::abs(v); });
        peaks.emplace_back(xs[static_cast<std::size_t>(top - ys.begin())], &p);
    }
    std::ranges::stable_sort(peaks, {}, [](const auto& peak) { return peak.first; });
    for (std::size_t k = 0; k < peaks.size(); ++k)
        peaks[k].second->colour = partColour(c->colour, task.look.text("colours"), k, peaks.size());
    return c;
}

std::vector<Setting> ofAnalysis() {
    Setting role = word("role", "What of it", "Another curve of the analysis than its fit or its residuals.",
                        {.whenEmpty = "automatic", .hidden = true});
    Setting named = word("named", "Which", "Of several of that sort the one so called.",
                         {.whenEmpty = "the first", .hidden = true});
    return {reference("member", "Dataset", "dataset", "Which dataset of the analysis; none: the first.",
                      {.group = kShownGroup, .whenEmpty = "the first"}),
            wholeNumber("component", "Part", 0, "The number of a part of the model; 0: the whole.",
                        {.lowest = 0, .highest = 1000, .group = kShownGroup}),
            std::move(role), std::move(named),
            number("offset", "Offset", 0,
                   "By how much the curve is moved up; a power of the base on a logarithmic axis.",
                   {.unit = "y", .lowest = -1e300, .highest = 1e300, .group = kPlaceGroup})};
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
                         {commonSettings("the name of the fit"), lineSettings(), own, ofAnalysis()})},
            .takes = Takes::Analysis,
            .prepare = prepareFitted};
}

MarkKind residualsMark() {
    return {.info = {.key = "residuals",
                     .name = "Residuals",
                     .purpose = "What a fit leaves: data minus curve",
                     .group = "Marks",
                     .settings = together({commonSettings("the name of the fit"), symbolSettings(),
                                           errorSettings(), ofAnalysis()})},
            .takes = Takes::Analysis,
            .prepare = prepareResiduals};
}

MarkKind componentsMark() {
    std::vector<Setting> line = lineSettings();
    line[0].fallback = 0.0;
    line[0].lowest = 0;
    line[0].group = kLooksGroup;
    line[1].group = kLooksGroup;
    std::vector<Setting> own = {
        opacitySetting(0.35),
        choice("colours", "Colours", {{"tints", "tints"}, {"palette", "of the palette"}, {"one", "one"}},
               "How the parts are told apart."),
        wholeNumber("stressed", "Stressed part", 0, "The number of the part that is stressed; 0: none.",
                    {.lowest = 0, .highest = 1e6, .hidden = true})};
    std::vector<Setting> all = together({commonSettings("the name of the fit"), own, line, ofAnalysis()});
    std::erase_if(
        all, [](const Setting& s) { return s.key == "component" || s.key == "role" || s.key == "named"; });
    return {.info = {.key = "components",
                     .name = "Components",
                     .purpose = "The peaks of a fit, filled down to its baseline",
                     .group = "Marks",
                     .settings = std::move(all)},
            .takes = Takes::Analysis,
            .prepare = prepareComponents};
}

} // namespace jointer::figure
