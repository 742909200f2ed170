// SPDX-License-Identifier: GPL-3.0-or-later
// The components of a fit: each peak as an area above what stands below all of them.
#include "base/text.h"
#include "draw/markup.h"
#include "figure/marks/curve_parts.h"
#include "figure/marks/parts.h"
#include "figure/marks/peak_labels.h"
#include "figure/scales/number_labels.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace jointer::figure {

using namespace describe;
using namespace draw;

namespace {

constexpr int kPlaceDigits = 4; // of the place of a peak above it

// Lighter and darker tints of one colour, or colours of the palette, one for each part.
Colour partColour(Colour base, const std::string& colours, std::string_view paletteKey, std::size_t k,
                  std::size_t count) {
    const auto& own = palette(paletteKey);
    if (colours == "palette") return Colour::fromText(own[k % own.size()]);
    if (colours == "one" || count < 2) return base;
    const double towards = 0.55 * static_cast<double>(k) / static_cast<double>(count - 1);
    auto mixed = [&](std::uint8_t c) {
        return static_cast<std::uint8_t>(std::lround(c + towards * (255 - c)));
    };
    return {mixed(base.r), mixed(base.g), mixed(base.b), 255};
}

// Where the parabola through a point and its neighbours turns.
double turnOf(const Sampling& s, std::size_t at) {
    if (at == 0 || at + 1 >= s.xs.size()) return s.xs[at];
    const double left = s.xs[at] - s.xs[at - 1], right = s.xs[at + 1] - s.xs[at];
    const double before = (s.ys[at] - s.ys[at - 1]) / left, after = (s.ys[at + 1] - s.ys[at]) / right;
    const double bend = after - before;
    if (!(left > 0) || !(right > 0) || bend == 0) return s.xs[at];
    return s.xs[at] - 0.5 * (before * right + after * left) / bend;
}

// Each peak of a composed model, filled down to the sum of what is no peak.
class Components final : public Mark {
public:
    struct Part {
        const CurvePart* source;
        Colour colour{};
        const analyses::NamedCurve* partner = nullptr; // the second line of a doublet
        Sampling shape{};
        std::vector<double> base{}, partnerYs{}; // at the places of the shape
    };
    int strong = 0; // the part that is stressed
    analyses::ResultPtr result;
    CurveParts of;
    std::vector<Part> parts;
    double spanLow = 0, spanHigh = 1, opacity = 0.35;
    LineLook line;
    std::string labels = "none";
    const analyses::NamedCurve* fit = nullptr; // of all parts

    bool isEmpty() const override { return parts.empty(); }
    std::optional<Range> extentX(const Scale& x) const override {
        std::optional<Range> range;
        widen(range, spanLow, x);
        widen(range, spanHigh, x);
        return range;
    }
    void settle(const AxisMap& x) override {
        const double low = std::max(spanLow, x.low()), high = std::min(spanHigh, x.high());
        for (Part& p : parts) p.shape = {}, p.base.clear();
        if (!(low < high)) return;
        const std::vector<double> even = evenlyOn(x.scale(), low, high, of.evenPlaces()),
                                  ground = of.placesOfGrounds(even);
        for (Part& p : parts) {
            p.shape = p.source->sampled(even, of.points);
            std::vector<double> all = unitedPlaces(p.shape.xs, ground);
            if (all.size() > p.shape.xs.size()) p.shape = {all, p.source->curve->sample(all).y};
            if (p.partner) p.partnerYs = p.partner->sample(p.shape.xs).y;
            p.base.assign(p.shape.xs.size(), 0);
            for (const CurvePart& g : of.grounds) {
                const std::vector<double> ys = g.curve->sample(p.shape.xs).y;
                for (std::size_t i = 0; i < ys.size(); ++i) p.base[i] += ys[i];
            }
        }
    }
    std::optional<Range> extentY(const Scale& y, const Range&) const override {
        std::optional<Range> range;
        for (const Part& p : parts)
            for (std::size_t i = 0; i < p.base.size(); ++i) {
                widen(range, shifted(y, p.base[i]), y);
                widen(range, shifted(y, p.base[i] + p.shape.ys[i]), y);
            }
        if (range && labels != "none") range->high = y.padded(*range, kLabelShare).high;
        return range;
    }
    void draw(const Frame& frame, Group& into) const override {
        for (const Part& p : parts) {
            drawAreas(frame, p, into);
            if (p.partner) hatch(frame, p, into);
        }
        if (labels != "none") addText(into, peakLabelTexts(labelsAt(frame.y.scale()), frame));
    }
    void key(Rect box, Group& into) const override {
        addFilled(into, rectangle(box), colour.withAlpha(opacity));
    }
    Envelope envelope(const AxisMap& x, std::size_t count) const override {
        Envelope e = Mark::envelope(x, count);
        for (const Part& p : parts)
            for (std::size_t i = 0; i < p.base.size(); ++i) {
                const double share = (x.place(p.shape.xs[i]) - x.start()) / (x.end() - x.start());
                const auto k = std::min(count - 1, static_cast<std::size_t>(std::clamp(share, 0.0, 1.0) *
                                                                            static_cast<double>(count)));
                e.low[k] = std::fmin(e.low[k], p.base[i]);
                e.high[k] = std::fmax(e.high[k], p.base[i] + p.shape.ys[i]);
            }
        return e;
    }

private:
    static constexpr double kUnseenMm = 0.015;  // a wing lower than this is not drawn
    static constexpr double kLabelShare = 0.08; // of the range, for what stands above the highest

    // At the top of each peak, above the curve of the whole fit.
    std::vector<PeakLabel> labelsAt(const Scale& y) const {
        const double largest = std::max(std::abs(spanLow), std::abs(spanHigh));
        const double exponent = largest > 0 ? std::floor(std::log10(largest)) : 0;
        const int decimals = static_cast<int>(std::clamp(kPlaceDigits - 1 - exponent, 0.0, 9.0)); // of all alike
        std::vector<PeakLabel> all;
        for (const Part& p : parts) {
            if (p.base.empty()) continue;
            const auto at = static_cast<std::size_t>(
                std::ranges::max_element(p.shape.ys, {}, [](double v) { return std::abs(v); }) - p.shape.ys.begin());
            const double x = std::isfinite(p.source->place) ? p.source->place : turnOf(p.shape, at);
            double top = p.base[at] + std::max(0.0, p.shape.ys[at]);
            if (fit) top = std::fmax(top, fit->sample({x}).y.front());
            all.push_back({x, shifted(y, top),
                           labels == "names" ? literal(p.source->curve->label) : fixedLabel(x, decimals)});
        }
        return all;
    }

    // Stretches in which the peak is seen above what stands below it.
    void drawAreas(const Frame& frame, const Part& p, Group& into) const {
        const bool stressed = strong > 0 && p.source->curve->component == strong;
        const Colour fill = p.colour.withAlpha(stressed ? std::min(1.0, 2.6 * opacity) : opacity);
        std::vector<Point> top, bottom;
        std::vector<Polyline> lines;
        std::optional<std::pair<Point, Point>> before; // of the last unseen place
        const auto finish = [&] {
            if (top.size() > 1) {
                if (opacity > 0) addFilled(into, areaBetween(top, std::move(bottom)), fill);
                lines.push_back({std::move(top), false});
            }
            top.clear();
            bottom.clear();
        };
        for (std::size_t i = 0; i < p.base.size(); ++i) {
            const Point upper = frame.at(p.shape.xs[i], shifted(frame.y.scale(), p.base[i] + p.shape.ys[i]));
            const double lower = frame.y.placeOrStart(shifted(frame.y.scale(), p.base[i]));
            if (!std::isfinite(upper.x) || !std::isfinite(upper.y)) {
                finish();
                before.reset();
                continue;
            }
            const Point high{cut(upper.x), cut(upper.y)}, low{cut(upper.x), cut(lower)};
            if (std::abs(upper.y - lower) < kUnseenMm) {
                if (!top.empty()) top.push_back(high), bottom.push_back(low);
                finish();
                before = {high, low};
                continue;
            }
            if (top.empty() && before) top.push_back(before->first), bottom.push_back(before->second);
            before.reset();
            top.push_back(high);
            bottom.push_back(low);
        }
        finish();
        if (line.widthMm > 0 && !lines.empty()) add(into, linePath(std::move(lines), line, p.colour));
    }
    // Upright lines from the baseline to the partner.
    void hatch(const Frame& frame, const Part& p, Group& into) const {
        constexpr double kApartMm = 1.1;
        std::vector<Polyline> lines;
        double last = -INFINITY;
        for (std::size_t i = 0; i < p.base.size(); ++i) {
            const Point upper = frame.at(p.shape.xs[i], shifted(frame.y.scale(), p.base[i] + p.partnerYs[i]));
            const double lower = frame.y.placeOrStart(shifted(frame.y.scale(), p.base[i]));
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
};

double topOf(const CurvePart& part, const std::vector<double>& even, std::span<const double> points) {
    if (std::isfinite(part.place)) return part.place;
    const Sampling s = part.sampled(even, points);
    const auto top = std::ranges::max_element(s.ys, {}, [](double v) { return std::abs(v); });
    return top == s.ys.end() ? 0 : s.xs[static_cast<std::size_t>(top - s.ys.begin())];
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
    c->labels = task.look.text("labels");
    if (!found.result) return c;
    c->of = partsOf(found);
    c->fit = found.result->curve("fit", found.member, {}, 0);
    for (const CurvePart& part : c->of.peaks) {
        const analyses::NamedCurve& curve = *part.curve;
        c->parts.push_back(
            {.source = &part, .partner = found.result->curve("partner", found.member, {}, curve.component)});
        c->xMeaning = curve.xMeaning;
        c->yMeaning = curve.yMeaning;
        if (!curve.founded.isAll()) {
            c->spanLow = curve.founded.low();
            c->spanHigh = curve.founded.high();
        }
    }
    if (c->parts.empty())
        c->issues.push_back({"no-components",
                             c->of.grounds.empty() ? "This fit is of one piece; it has no components to draw."
                                                   : "No part of this fit is a peak.",
                             {}});
    // Coloured in the order in which they stand along x, so that those of several fits correspond.
    std::vector<std::pair<double, Components::Part*>> peaks;
    const std::vector<double> even = evenly(c->spanLow, c->spanHigh, kEvenPlaces);
    for (Components::Part& p : c->parts) peaks.emplace_back(topOf(*p.source, even, c->of.points), &p);
    std::ranges::stable_sort(peaks, {}, [](const auto& peak) { return peak.first; });
    for (std::size_t k = 0; k < peaks.size(); ++k)
        peaks[k].second->colour =
            partColour(c->colour, task.look.text("colours"), task.palette, k, peaks.size());
    return c;
}

} // namespace

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
        choice("labels", "Labels", {{"none", "none"}, {"places", "places"}, {"names", "names"}},
               "What stands above each peak."),
        wholeNumber("stressed", "Stressed part", 0, "The number of the part that is stressed; 0: none.",
                    {.lowest = 0, .highest = 1e6, .hidden = true})};
    std::vector<Setting> all = together({commonSettings("the name of the fit"), own, line, analysisSettings()});
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
