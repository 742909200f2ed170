// SPDX-License-Identifier: GPL-3.0-or-later
// What tells a list of numbers at a place: boxes, mean and spread, violins.
#include "figure/marks/grouped.h"
#include "stats/density.h"
#include "stats/summary.h"

#include <algorithm>
#include <cmath>

namespace jointer::figure {

using namespace describe;
using namespace draw;

namespace {

// What a box shows of its values.
struct BoxNumbers {
    double low, middle, high;       // of the box
    double whiskerLow, whiskerHigh; // NaN: none
    double mean, notch;             // half the length of the notch
    std::vector<double> outside;    // beyond the whiskers
};

BoxNumbers numbersOf(const std::vector<double>& values, const std::string& kind,
                     const std::string& whiskers) {
    std::vector<double> v = values;
    std::ranges::sort(v);
    const stats::Summary s = stats::summarise(v);
    BoxNumbers b{
        s.q1, s.median, s.q3, NAN, NAN, s.mean, 1.57 * (s.q3 - s.q1) / std::sqrt(static_cast<double>(s.n)),
        {}};
    const double half = kind == "sd"         ? s.sd
                        : kind == "sem"      ? s.sem
                        : kind == "interval" ? stats::meanHalfWidth(s)
                                             : NAN;
    if (kind != "quartiles") {
        b.low = s.mean - (std::isfinite(half) ? half : 0);
        b.middle = s.mean;
        b.high = s.mean + (std::isfinite(half) ? half : 0);
    }
    if (whiskers == "none") return b;
    double from = s.min, to = s.max;
    if (whiskers == "fences") {
        const double reach = 1.5 * (s.q3 - s.q1);
        from = *std::ranges::lower_bound(v, s.q1 - reach);
        to = *std::prev(std::ranges::upper_bound(v, s.q3 + reach));
    } else if (whiskers == "percentiles-5") {
        from = stats::quantile(v, 0.05);
        to = stats::quantile(v, 0.95);
    } else if (whiskers == "percentiles-10") {
        from = stats::quantile(v, 0.1);
        to = stats::quantile(v, 0.9);
    } else if (whiskers == "sd") {
        from = s.mean - s.sd;
        to = s.mean + s.sd;
    }
    b.whiskerLow = from;
    b.whiskerHigh = to;
    for (double each : v)
        if (each < from || each > to) b.outside.push_back(each);
    return b;
}

class Boxes final : public Grouped {
public:
    std::string kind = "quartiles", whiskers = "fences";
    bool outliers = true, notched = false, meanMark = false, capped = true;
    double lineMm = 0.25, opacity = 0.25, sizeMm = 0.9;
    struct Box {
        double place;
        BoxNumbers numbers;
    };
    std::vector<Box> boxes;

    void remake() override {
        boxes.clear();
        if (!curve) return;
        for (const PlaceValues& at : valuesByPlace(*curve))
            if (!at.values.empty()) boxes.push_back({at.place, numbersOf(at.values, kind, whiskers)});
    }

    void draw(const Frame& frame, Group& into) const override {
        for (const Box& b : boxes) drawBox(frame, b, into);
    }
    void key(Rect r, Group& into) const override {
        add(into, {.lines = {rectangle({r.x + 0.25 * r.width, r.y, 0.5 * r.width, r.height})},
                   .stroke = strokeOf(lineMm),
                   .fill = colour.withAlpha(opacity)});
        add(into, {.lines = {{{{r.x + 0.25 * r.width, r.y + r.height / 2},
                               {r.x + 0.75 * r.width, r.y + r.height / 2}}}},
                   .stroke = strokeOf(lineMm),
                   .fill = {}});
    }

protected:
    std::optional<Range> valueReach(const Scale& values) const override {
        std::optional<Range> range;
        for (const Box& b : boxes) {
            const BoxNumbers& n = b.numbers;
            for (double v : {n.low, n.high, n.whiskerLow, n.whiskerHigh}) widen(range, v, values);
            if (outliers)
                for (double v : n.outside) widen(range, v, values);
        }
        return range;
    }

private:
    void drawBox(const Frame& frame, const Box& b, Group& into) const {
        const BoxNumbers& n = b.numbers;
        const double middle = middleOf(b.place), half = halfWidth();
        Stroke stroke = strokeOf(lineMm);
        stroke.join = Join::Miter;
        add(into, {.lines = {outlineOf(frame, n, middle, half)},
                   .stroke = stroke,
                   .fill = colour.withAlpha(opacity)});
        Path lines{.lines = {}, .stroke = stroke, .fill = {}};
        const bool slim = notched && kind == "quartiles";
        const double inner = slim ? 0.5 * half : half;
        lines.lines.push_back({{at(frame, middle - inner, n.middle), at(frame, middle + inner, n.middle)}});
        for (const auto& [end, edge] : {std::pair(n.whiskerLow, n.low), std::pair(n.whiskerHigh, n.high)}) {
            if (!std::isfinite(end)) continue;
            const bool outwards = end < edge ? edge == n.low : end > edge && edge == n.high;
            if (!outwards) continue; // the box reaches further
            lines.lines.push_back({{at(frame, middle, edge), at(frame, middle, end)}});
            if (capped)
                lines.lines.push_back(
                    {{at(frame, middle - 0.45 * half, end), at(frame, middle + 0.45 * half, end)}});
        }
        add(into, std::move(lines));
        if (outliers && !n.outside.empty()) {
            Symbols points{.shape = SymbolShape::Circle,
                           .sizeMm = sizeMm,
                           .places = {},
                           .stroke = strokeOf(0.6 * lineMm),
                           .fill = {}};
            for (double v : n.outside) points.places.push_back(at(frame, middle, v));
            add(into, std::move(points));
        }
        if (!meanMark || kind != "quartiles") return;
        Symbols mean{.shape = SymbolShape::Cross,
                     .sizeMm = 1.3 * sizeMm,
                     .places = {at(frame, middle, n.mean)},
                     .stroke = strokeOf(lineMm),
                     .fill = {}};
        add(into, std::move(mean));
    }

    Polyline outlineOf(const Frame& frame, const BoxNumbers& n, double middle, double half) const {
        if (!notched || kind != "quartiles")
            return rectangle(box(frame, middle - half, middle + half, n.low, n.high));
        const double low = n.middle - n.notch, high = n.middle + n.notch;
        Polyline out{{}, true};
        for (const auto& [place, value] :
             {std::pair(-half, n.low), std::pair(half, n.low), std::pair(half, low),
              std::pair(0.5 * half, n.middle), std::pair(half, high), std::pair(half, n.high),
              std::pair(-half, n.high), std::pair(-half, high), std::pair(-0.5 * half, n.middle),
              std::pair(-half, low)})
            out.points.push_back(at(frame, middle + place, value));
        return out;
    }
};

MarkPtr prepareBoxes(const MarkTask& task) {
    auto b = std::make_unique<Boxes>();
    prepareGrouped(task, *b);
    b->kind = task.look.text("box");
    b->whiskers = task.look.text("whiskers");
    b->outliers = task.look.flag("outliers");
    b->notched = task.look.flag("notch");
    b->meanMark = task.look.flag("mean");
    b->capped = task.look.flag("caps");
    b->lineMm = task.look.millimetres("width");
    b->opacity = task.look.number("opacity");
    b->sizeMm = task.look.millimetres("size");
    b->remake();
    return b;
}

// A density mirrored at the place, with the quartiles inside.
class Violins final : public Grouped {
public:
    double smoothing = 1, opacity = 0.3, lineMm = 0.25;
    std::string inside = "quartiles", scaled = "width";
    bool cutAtEnds = true;
    struct Violin {
        double place;
        std::vector<double> values, density; // places along the value axis and heights there
        BoxNumbers numbers;
        double highest = 0;
    };
    std::vector<Violin> violins;
    double highest = 0; // of all

    void remake() override {
        violins.clear();
        highest = 0;
        if (!curve) return;
        constexpr int samples = 120;
        for (const PlaceValues& at : valuesByPlace(*curve)) {
            if (at.values.size() < 2) continue;
            const double width = smoothing * stats::kernelWidth(at.values);
            if (!(width > 0)) continue;
            Violin v{at.place, {}, {}, numbersOf(at.values, "quartiles", "fences")};
            const auto [low, high] = std::ranges::minmax(at.values);
            const double beyond = cutAtEnds ? 0 : 3 * width;
            v.values = evenly(low - beyond, high + beyond, samples);
            v.density = stats::densityAt(v.values, at.values, width);
            v.highest = std::ranges::max(v.density);
            highest = std::max(highest, v.highest);
            violins.push_back(std::move(v));
        }
    }
    void draw(const Frame& frame, Group& into) const override {
        for (const Violin& v : violins) {
            const double middle = middleOf(v.place),
                         per = halfWidth() / (scaled == "width" ? v.highest : highest);
            Polyline edge{{}, true};
            for (std::size_t k = 0; k < v.values.size(); ++k)
                edge.points.push_back(at(frame, middle + per * v.density[k], v.values[k]));
            for (std::size_t k = v.values.size(); k-- > 0;)
                edge.points.push_back(at(frame, middle - per * v.density[k], v.values[k]));
            Stroke stroke = strokeOf(lineMm);
            stroke.join = Join::Round;
            add(into, {.lines = {std::move(edge)},
                       .stroke = lineMm > 0 ? std::optional(stroke) : std::nullopt,
                       .fill = colour.withAlpha(opacity)});
            if (inside == "quartiles") drawInside(frame, v, middle, into);
        }
    }
    void key(Rect r, Group& into) const override {
        add(into, {.lines = {rectangle({r.x + 0.25 * r.width, r.y, 0.5 * r.width, r.height})},
                   .stroke = strokeOf(lineMm),
                   .fill = colour.withAlpha(opacity)});
    }

protected:
    std::optional<Range> valueReach(const Scale& values) const override {
        std::optional<Range> range;
        for (const Violin& v : violins) {
            widen(range, v.values.front(), values);
            widen(range, v.values.back(), values);
        }
        return range;
    }

private:
    void drawInside(const Frame& frame, const Violin& v, double middle, Group& into) const {
        const BoxNumbers& n = v.numbers;
        const Point low = at(frame, middle, n.low), high = at(frame, middle, n.high);
        Stroke thick = strokeOf(std::max(0.8, 3 * lineMm));
        thick.cap = Cap::Butt;
        add(into, {.lines = {{{low, high}}}, .stroke = thick, .fill = {}});
        add(into, {.lines = {{{at(frame, middle, n.whiskerLow), at(frame, middle, n.whiskerHigh)}}},
                   .stroke = strokeOf(std::max(0.2, lineMm)),
                   .fill = {}});
        Symbols median{.shape = SymbolShape::Circle,
                       .sizeMm = 1.1,
                       .places = {at(frame, middle, n.middle)},
                       .stroke = strokeOf(0.1),
                       .fill = Colour{255, 255, 255, 255}};
        add(into, std::move(median));
    }
};

MarkPtr prepareViolins(const MarkTask& task) {
    auto v = std::make_unique<Violins>();
    prepareGrouped(task, *v);
    v->smoothing = task.look.number("smoothing");
    v->opacity = task.look.number("opacity");
    v->lineMm = task.look.millimetres("width");
    v->inside = task.look.text("inside");
    v->scaled = task.look.text("scaled");
    v->cutAtEnds = task.look.flag("cut");
    v->remake();
    if (v->violins.empty() && v->curve)
        v->issues.push_back({"few-values", "A violin needs several different values at a place.", {}});
    return v;
}

int likelyForLists(const Curve& c, int score) {
    if (c.xMeaning.categories.empty()) return c.replicates.size() > 3 ? 2 : 0;
    return c.size() > 2 * c.xMeaning.categories.size() ? score : 1;
}

} // namespace

MarkKind boxesMark() {
    std::vector<Setting> own = {
        choice("box", "Box",
               {{"quartiles", "quartiles"},
                {"sd", "mean ± SD"},
                {"sem", "mean ± SEM"},
                {"interval", "mean, 95 % interval"}},
               "What the box shows; its line is the median, or the mean."),
        choice("whiskers", "Whiskers",
               {{"fences", "1.5 × quartile range"},
                {"extremes", "extremes"},
                {"percentiles-5", "5 … 95 %"},
                {"percentiles-10", "10 … 90 %"},
                {"sd", "mean ± SD"},
                {"none", "none"}},
               "How far the whiskers reach: to the outermost value within 1.5 times the quartile range "
               "beyond the box, to all values, to percentiles."),
        flag("outliers", "Outliers", true, "Values beyond the whiskers as points."),
        flag("mean", "Mean", false, "A cross at the mean.", {.group = kShownGroup}),
        flag("notch", "Notch", false,
             "Where the notches of two boxes do not overlap their medians differ (about 95 %).",
             {.group = kShownGroup}),
        number("width", "Line", 0.7, "Line width.",
               {.unit = "pt", .lowest = 0.05, .highest = 10, .group = kLooksGroup}),
        flag("caps", "Caps", true, "Short strokes at the ends of the whiskers.", {.group = kLooksGroup}),
        number("size", "Outliers' size", 2.6, "Size of the points beyond the whiskers.",
               {.unit = "pt", .lowest = 0.2, .highest = 40, .group = kLooksGroup}),
        opacitySetting(0.25)};
    return {.info = {.key = "boxes",
                     .name = "Boxes",
                     .purpose =
                         "The spread of several values at each place: quartiles or mean, whiskers, outliers",
                     .group = "Marks",
                     .settings =
                         without(together({commonSettings(), own, groupedSettings(0.5), datasetSettings()}),
                                 "offset")},
            .takes = Takes::Groups,
            .prepare = prepareBoxes,
            .arrange = beside,
            .likely = [](const Curve& c) { return likelyForLists(c, 9); }};
}

MarkKind violinsMark() {
    std::vector<Setting> own = {
        number("smoothing", "Smoothing", 1, "The width of the kernels; larger is smoother.",
               {.lowest = 0.1, .highest = 10, .slider = std::pair(0.2, 4.0)}),
        choice("inside", "Inside", {{"quartiles", "quartiles and median"}, {"none", "nothing"}},
               "What is drawn within.", {.group = kShownGroup}),
        choice("scaled", "Alike", {{"width", "in width"}, {"area", "in area"}}, "What all have in common.",
               {.group = kLooksGroup}),
        flag("cut", "End at the data", true, "End at the lowest and the highest value.",
             {.group = kLooksGroup}),
        number("width", "Line", 0.6, "Line around; 0: none.",
               {.unit = "pt", .lowest = 0, .highest = 10, .group = kLooksGroup}),
        opacitySetting(0.3)};
    return {.info = {.key = "violins",
                     .name = "Violins",
                     .purpose = "The density of several values at each place",
                     .group = "Marks",
                     .settings =
                         without(together({commonSettings(), own, groupedSettings(0.8), datasetSettings()}),
                                 "offset")},
            .takes = Takes::Groups,
            .prepare = prepareViolins,
            .arrange = beside,
            .likely = [](const Curve& c) { return likelyForLists(c, 6); }};
}

} // namespace jointer::figure
