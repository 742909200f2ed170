// SPDX-License-Identifier: GPL-3.0-or-later
// How the values of a dataset are spread: bins, and their density.
#include "stats/histogram.h"
#include "figure/marks/parts.h"
#include "figure/marks/sources.h"
#include "stats/density.h"
#include "stats/summary.h"

#include <cmath>
#include <numbers>

namespace jointer::figure {

using namespace describe;
using namespace draw;

namespace {

class HistogramMark final : public Mark {
public:
    stats::Histogram bins;
    std::vector<double> values;
    double unit = 1; // of one value, in heights of a bin
    double opacity = 0.35, lineMm = 0.2;
    LineLook curve;
    std::string density = "none";
    std::vector<double> xs, ys;

    bool isEmpty() const override { return bins.counts.empty(); }
    bool keepsDistance() const override { return true; }
    std::vector<double> flushValues() const override { return {0}; }
    double heightOf(std::size_t bin) const { return unit * static_cast<double>(bins.counts[bin]); }

    std::optional<Range> extentX(const Scale& x) const override {
        std::optional<Range> range;
        if (bins.counts.empty()) return range;
        widen(range, bins.edge(0), x);
        widen(range, bins.edge(bins.counts.size()), x);
        return range;
    }
    std::optional<Range> extentY(const Scale& y, const Range&) const override {
        std::optional<Range> range;
        if (!bins.counts.empty()) widen(range, 0, y);
        for (std::size_t k = 0; k < bins.counts.size(); ++k) widen(range, heightOf(k), y);
        for (double v : ys) widen(range, v, y);
        return range;
    }
    void settle(const AxisMap& x) override {
        xs.clear();
        ys.clear();
        if (density == "none" || values.size() < 2 || bins.counts.empty()) return;
        xs = evenly(x.low(), x.high(), 300);
        const double whole = unit * static_cast<double>(values.size()) * bins.width; // the area of the bins
        if (density == "normal" || density == "log-normal") {
            const bool logs = density == "log-normal";
            std::vector<double> fitted = values;
            if (logs)
                for (double& v : fitted) v = v > 0 ? std::log(v) : NAN;
            const stats::Summary s = stats::summarise(fitted);
            for (double v : xs) {
                const double z = ((logs ? std::log(v) : v) - s.mean) / s.sd, per = logs ? v : 1;
                ys.push_back(s.sd > 0 && per > 0 ? whole * std::exp(-0.5 * z * z) /
                                                       (per * s.sd * std::sqrt(2 * std::numbers::pi))
                                                 : NAN);
            }
            return;
        }
        const double width = stats::kernelWidth(values);
        if (width > 0) ys = stats::densityAt(xs, values, width);
        for (double& v : ys) v *= whole;
    }
    void draw(const Frame& frame, Group& into) const override {
        const double foot = cut(frame.y.placeOrStart(0));
        Path path{.lines = {}, .stroke = {}, .fill = colour.withAlpha(opacity)};
        if (lineMm > 0) {
            path.stroke = strokeOf(lineMm);
            path.stroke->join = Join::Miter;
        }
        for (std::size_t k = 0; k < bins.counts.size(); ++k) {
            const Point a = frame.at(bins.edge(k), heightOf(k)), b = frame.at(bins.edge(k + 1), heightOf(k));
            if (bins.counts[k] == 0 || !std::isfinite(a.x + b.x + a.y)) continue;
            path.lines.push_back(
                {{{cut(a.x), foot}, {cut(a.x), cut(a.y)}, {cut(b.x), cut(a.y)}, {cut(b.x), foot}}, true});
        }
        if (!path.lines.empty()) add(into, std::move(path));
        std::vector<Point> line;
        for (std::size_t k = 0; k < ys.size(); ++k)
            if (const Point p = frame.at(xs[k], ys[k]); std::isfinite(p.x + p.y))
                line.push_back({cut(p.x), cut(p.y)});
        if (line.size() > 1) add(into, linePath({{std::move(line)}}, curve, colour));
    }
    void key(Rect r, Group& into) const override {
        add(into, {.lines = {rectangle(r)},
                   .stroke = lineMm > 0 ? std::optional(strokeOf(lineMm)) : std::nullopt,
                   .fill = colour.withAlpha(opacity)});
    }
};

MarkPtr prepare(const MarkTask& task) {
    auto h = std::make_unique<HistogramMark>();
    const FoundCurve found = foundCurve(task, h->issues);
    takeFrom(found, task, *h);
    h->xMeaning = h->yMeaning;
    h->xMeaning.descending = false;
    h->opacity = task.look.number("opacity");
    h->lineMm = task.look.millimetres("outline");
    h->curve = LineLook(task.look);
    h->density = task.look.text("density");
    const std::string shows = task.look.text("shows");
    h->yMeaning = {shows == "count"   ? "Number"
                   : shows == "share" ? "Share"
                                      : "Density",
                   shows == "share" ? "%" : ""};
    if (!found.curve) return h;
    for (std::size_t i = 0; i < found.curve->size(); ++i)
        if (!found.curve->isExcluded(i) && std::isfinite(found.curve->y[i]))
            h->values.push_back(found.curve->y[i]);
    std::size_t count = static_cast<std::size_t>(std::max(0, task.look.integer("bins")));
    const double width = task.look.number("bin-width");
    if (width > 0 && !h->values.empty()) {
        const auto [low, high] = std::ranges::minmax(h->values);
        // Bins of a typed width begin at its multiples.
        h->bins.width = width;
        h->bins.low = std::floor(low / width) * width;
        const double needed = std::floor((high - h->bins.low) / width) + 1;
        h->bins.counts.assign(static_cast<std::size_t>(std::clamp(needed, 1.0, 10000.0)), 0);
        for (double v : h->values) {
            const auto k = static_cast<std::size_t>(
                std::clamp((v - h->bins.low) / width, 0.0, static_cast<double>(h->bins.counts.size() - 1)));
            ++h->bins.counts[k];
        }
    } else
        h->bins = stats::histogramOf(h->values, count);
    if (h->values.empty()) return h;
    const auto n = static_cast<double>(h->values.size());
    h->unit = shows == "share" ? 100 / n : shows == "density" ? 1 / (n * h->bins.width) : 1;
    return h;
}

} // namespace

MarkKind histogramMark() {
    std::vector<Setting> own = {
        wholeNumber("bins", "Bins", 0, "How many; 0: by the rule of Freedman and Diaconis.",
                    {.lowest = 0, .highest = 1000}),
        openNumber("bin-width", "Bin width", "Width of the bins, which then begin at its multiples.",
                   {.unit = "y", .lowest = 1e-300, .whenEmpty = "by their number"}),
        choice("shows", "Heights", {{"count", "numbers"}, {"share", "per cent"}, {"density", "density"}},
               "What the heights are: how many, which share of all, or a density of area one."),
        choice("density", "Curve",
               {{"none", "none"},
                {"kernel", "density by kernels"},
                {"normal", "normal distribution"},
                {"log-normal", "log-normal distribution"}},
               "A curve of the same area."),
        opacitySetting(0.35),
        number("outline", "Outline", 0.5, "Line around the bins.",
               {.unit = "pt", .lowest = 0, .highest = 10, .group = kLooksGroup})};
    std::vector<Setting> line = lineSettings();
    for (Setting& s : line) s.group = kLooksGroup;
    std::vector<Setting> all = together({commonSettings(), own, line, datasetSettings()});
    return {.info = {.key = "histogram",
                     .name = "Histogram",
                     .purpose = "How the values are spread over bins, with their density",
                     .group = "Marks",
                     .settings = without(std::move(all), "offset")},
            .prepare = prepare,
            .likely = [](const Curve& c) { return c.size() >= 20 ? 2 : 0; }};
}

} // namespace jointer::figure
