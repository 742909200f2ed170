// SPDX-License-Identifier: GPL-3.0-or-later
// Filled areas: from a curve to a line, to the axis or to another curve; steps and stems beside them.
#include "figure/marks/series.h"
#include "figure/marks/sources.h"
#include "figure/shown_part.h"
#include "figure/thin.h"

#include <cmath>

namespace jointer::figure {

using namespace describe;
using namespace draw;

namespace {

// From the curve down to a value, to the edge of the panel, or to another dataset.
class Area final : public Series {
public:
    double opacity = 0.3;
    std::string to = "value"; // value, edge, dataset
    double level = 0;
    std::shared_ptr<const Curve> other;
    bool outlined = true;

    std::optional<Range> extentY(const Scale& y, const Range& x) const override {
        auto range = Series::extentY(y, x);
        if (!range) return range;
        if (to == "value") widen(range, shifted(y, level), y);
        if (to == "dataset" && other)
            for (std::size_t i = 0; i < other->size(); ++i)
                if (other->counts(i) && other->x[i] >= x.low && other->x[i] <= x.high)
                    widen(range, shifted(y, other->y[i]), y);
        return range;
    }

    void draw(const Frame& frame, Group& into) const override {
        if (!curve) return;
        std::vector<Polyline> lines = linesOn(frame);
        std::vector<Point> top = lines.size() == 1 ? lines.front().points : throughGaps(frame, lines);
        if (top.size() > 1) {
            std::vector<Point> bottom = lowerEdge(frame, top);
            addFilled(into, areaBetween(std::move(top), std::move(bottom)), colour.withAlpha(opacity));
        }
        if (outlined && !lines.empty()) add(into, linePath(std::move(lines), *line, colour));
    }
    void key(Rect box, Group& into) const override {
        addFilled(into, rectangle(box), colour.withAlpha(opacity));
        Series::key(box, into);
    }

    Envelope envelope(const AxisMap& x, std::size_t parts) const override {
        Envelope e = Series::envelope(x, parts);
        for (std::size_t k = 0; k < parts && to == "value"; ++k)
            if (std::isfinite(e.high[k])) {
                e.low[k] = std::min(e.low[k], level);
                e.high[k] = std::max(e.high[k], level);
            }
        return e;
    }

private:
    // One piece through all that counts, so that gaps leave no seams.
    std::vector<Point> throughGaps(const Frame& frame, const std::vector<Polyline>& lines) const {
        std::vector<Point> top;
        const auto [first, end] = shownPart(curve->x, frame.x.low(), frame.x.high());
        if (isDense(end - first)) {
            for (const Polyline& l : lines) std::ranges::copy(l.points, std::back_inserter(top));
            return top;
        }
        for (std::size_t i = first; i < end; ++i) {
            if (curve->isExcluded(i)) continue;
            const Point p = frame.at(curve->x[i], shifted(frame.y.scale(), curve->y[i]));
            if (std::isfinite(p.x) && std::isfinite(p.y)) top.push_back({cut(p.x), cut(p.y)});
        }
        return top.empty() ? top : thinnedLine(std::move(top), 1 / frame.pixelsPerMm);
    }
    std::vector<Point> lowerEdge(const Frame& frame, const std::vector<Point>& top) const {
        if (to == "dataset" && other) {
            std::vector<Point> bottom;
            for (std::size_t i = 0; i < other->size(); ++i) {
                const Point p = frame.at(other->x[i], shifted(frame.y.scale(), other->y[i]));
                if (other->counts(i) && std::isfinite(p.x) && std::isfinite(p.y) &&
                    p.x >= std::min(top.front().x, top.back().x) - 1e-9 &&
                    p.x <= std::max(top.front().x, top.back().x) + 1e-9)
                    bottom.push_back({cut(p.x), cut(p.y)});
            }
            if (bottom.size() > 1) return thinnedLine(std::move(bottom), 1 / frame.pixelsPerMm);
        }
        const double at = cut(frame.y.placeOrStart(to == "edge" ? NAN : shifted(frame.y.scale(), level)));
        return {{top.front().x, at}, {top.back().x, at}};
    }
};

MarkPtr prepareArea(const MarkTask& task) {
    auto a = std::make_unique<Area>();
    a->line = LineLook(task.look);
    a->opacity = task.look.number("opacity");
    a->to = task.look.text("to");
    a->level = task.look.number("level");
    a->outlined = task.look.flag("outlined");
    prepareSeries(task, *a);
    if (a->to != "dataset") return a;
    MarkTask second = task;
    second.source = task.look.reference("other");
    if (DatasetId::fromText(second.source)) a->other = foundCurve(second, a->issues).curve;
    return a;
}

// A band between two columns, or of so many uncertainties about the curve.
class Band final : public Series {
public:
    double opacity = 0.25;
    std::vector<double> low, high;

    std::optional<Range> extentY(const Scale& y, const Range& x) const override {
        std::optional<Range> range;
        for (std::size_t i = 0; curve && i < curve->size(); ++i) {
            if (!curve->counts(i) || curve->x[i] < x.low || curve->x[i] > x.high) continue;
            widen(range, shifted(y, low[i]), y);
            widen(range, shifted(y, high[i]), y);
        }
        return range;
    }
    void draw(const Frame& frame, Group& into) const override {
        std::vector<Point> top, bottom;
        for (std::size_t i = 0; curve && i < curve->size(); ++i) {
            const Point upper = frame.at(curve->x[i], shifted(frame.y.scale(), high[i]));
            const double lower = frame.y.placeOrStart(shifted(frame.y.scale(), low[i]));
            if (!curve->counts(i) || !std::isfinite(upper.x) || !std::isfinite(upper.y)) continue;
            top.push_back({cut(upper.x), cut(upper.y)});
            bottom.push_back({cut(upper.x), cut(lower)});
        }
        if (top.size() < 2) return;
        top = thinnedLine(std::move(top), 1 / frame.pixelsPerMm);
        bottom = thinnedLine(std::move(bottom), 1 / frame.pixelsPerMm);
        addFilled(into, areaBetween(std::move(top), std::move(bottom)), colour.withAlpha(opacity));
    }
    void key(Rect box, Group& into) const override {
        addFilled(into, rectangle(box), colour.withAlpha(opacity));
    }
};

MarkPtr prepareBand(const MarkTask& task) {
    auto b = std::make_unique<Band>();
    b->opacity = task.look.number("opacity");
    prepareSeries(task, *b);
    if (!b->curve) return b;
    const Curve& c = *b->curve;
    const auto dataset = task.project.datasets.find(DatasetId::fromText(task.source));
    const double times = task.look.number("times");
    b->low.assign(c.size(), NAN);
    b->high.assign(c.size(), NAN);
    for (std::size_t i = 0; i < std::min(c.size(), c.sigma.size()); ++i) {
        b->low[i] = c.y[i] - times * c.sigma[i];
        b->high[i] = c.y[i] + times * c.sigma[i];
    }
    if (const auto own = columnBeside(task, *dataset, c, task.look.reference("upper")); !own.empty())
        b->high = own;
    if (const auto own = columnBeside(task, *dataset, c, task.look.reference("lower")); !own.empty())
        b->low = own;
    return b;
}

// Horizontal pieces with upright strokes between them.
class Steps final : public Series {
public:
    std::string at = "middle"; // where the value changes: before, middle, after
    double opacity = 0;

    void draw(const Frame& frame, Group& into) const override {
        if (!curve) return;
        std::vector<Polyline> lines = linesOn(frame);
        std::vector<Polyline> stairs;
        for (const Polyline& l : lines) stairs.push_back(stepped(l));
        if (opacity > 0) {
            const double zero = cut(frame.y.placeOrStart(shifted(frame.y.scale(), 0)));
            for (const Polyline& l : stairs)
                addFilled(into,
                          areaBetween(l.points, {{l.points.front().x, zero}, {l.points.back().x, zero}}),
                          colour.withAlpha(opacity));
        }
        LineLook sharp = *line;
        sharp.join = Join::Miter;
        if (!stairs.empty()) add(into, linePath(std::move(stairs), sharp, colour));
    }

private:
    Polyline stepped(const Polyline& l) const {
        Polyline out;
        const auto& p = l.points;
        for (std::size_t i = 0; i < p.size(); ++i) {
            if (i > 0) {
                const double x = at == "before"  ? p[i - 1].x
                                 : at == "after" ? p[i].x
                                                 : (p[i - 1].x + p[i].x) / 2;
                out.points.push_back({x, p[i - 1].y});
                out.points.push_back({x, p[i].y});
            }
            out.points.push_back(p[i]);
        }
        return out;
    }
};

MarkPtr prepareSteps(const MarkTask& task) {
    auto s = std::make_unique<Steps>();
    s->line = LineLook(task.look);
    s->at = task.look.text("change");
    s->opacity = task.look.number("opacity");
    prepareSeries(task, *s);
    return s;
}

// A stroke from each point to a value or to the axis.
class Stems final : public Series {
public:
    LineLook stem;
    bool toAxis = false;
    double level = 0;

    std::optional<Range> extentY(const Scale& y, const Range& x) const override {
        auto range = Series::extentY(y, x);
        if (range && !toAxis) widen(range, shifted(y, level), y);
        return range;
    }
    void draw(const Frame& frame, Group& into) const override {
        if (!curve) return;
        const double foot = cut(frame.y.placeOrStart(toAxis ? NAN : shifted(frame.y.scale(), level)));
        std::vector<Polyline> lines;
        for (std::size_t i = 0; i < curve->size(); ++i) {
            const Point p = frame.at(curve->x[i], shifted(frame.y.scale(), curve->y[i]));
            if (curve->counts(i) && std::isfinite(p.x) && std::isfinite(p.y) && frame.x.contains(curve->x[i]))
                lines.push_back({{{p.x, foot}, {p.x, cut(p.y)}}});
        }
        if (!lines.empty()) add(into, linePath(std::move(lines), stem, colour));
        Series::draw(frame, into);
    }
    void key(Rect box, Group& into) const override {
        add(into, linePath({{{{box.x + box.width / 2, box.bottom()}, {box.x + box.width / 2, box.y}}}}, stem,
                           colour));
        Series::key(box, into);
    }
};

MarkPtr prepareStems(const MarkTask& task) {
    auto s = std::make_unique<Stems>();
    s->symbol = SymbolLook(task.look);
    s->stem = LineLook(task.look);
    s->toAxis = task.look.text("foot") == "axis";
    s->level = task.look.number("level");
    prepareSeries(task, *s);
    return s;
}

Setting levelSetting(const std::string& shownIf) {
    return number(
        "level", "Value", 0, "Where it stands.",
        {.unit = "y", .lowest = -1e300, .highest = 1e300, .group = kShownGroup, .shownIf = shownIf});
}

} // namespace

MarkKind areaMark() {
    std::vector<Setting> own = {
        opacitySetting(0.3),
        flag("outlined", "Line above", true, "Draw the curve too.", {.group = kLooksGroup}),
        choice("to", "Down to", {{"value", "a value"}, {"edge", "the axis"}, {"dataset", "another curve"}},
               "Where the area ends.", {.group = kShownGroup}),
        levelSetting("to=value"),
        reference("other", "Other curve", "dataset", "The dataset to which the area goes.",
                  {.group = kShownGroup, .shownIf = "to=dataset"})};
    return {.info = {.key = "area",
                     .name = "Area",
                     .purpose = "The area between the curve and a value, the axis, or another curve",
                     .group = "Marks",
                     .settings = together({commonSettings(), lineSettings(), own, datasetSettings()})},
            .prepare = prepareArea,
            .likely = [](const Curve& c) { return c.xMeaning.categories.empty() ? 5 : 0; }};
}

MarkKind bandMark() {
    std::vector<Setting> own = {opacitySetting(0.25),
                                number("times", "Uncertainties", 1,
                                       "How many standard uncertainties at each side.",
                                       {.lowest = 0, .highest = 100, .group = kShownGroup}),
                                reference("upper", "Upper edge", "column", "A column of values.",
                                          {.group = kShownGroup, .whenEmpty = "by the uncertainty"}),
                                reference("lower", "Lower edge", "column", "A column of values.",
                                          {.group = kShownGroup, .whenEmpty = "by the uncertainty"})};
    return {.info = {.key = "band",
                     .name = "Band",
                     .purpose = "Filled between two columns, or as far as uncertainties reach",
                     .group = "Marks",
                     .settings = together({commonSettings(), own, datasetSettings()})},
            .prepare = prepareBand,
            .likely = [](const Curve& c) { return c.sigma.empty() ? 0 : 4; }};
}

MarkKind stepsMark() {
    std::vector<Setting> own = {
        choice("change", "Changes",
               {{"middle", "half way"}, {"after", "at the next point"}, {"before", "at the point before"}},
               "Where the value changes between two points.", {.group = kShownGroup}),
        opacitySetting(0)};
    return {.info = {.key = "steps",
                     .name = "Steps",
                     .purpose = "The points joined by level pieces",
                     .group = "Marks",
                     .settings = together({commonSettings(), lineSettings(), own, datasetSettings()})},
            .prepare = prepareSteps,
            .likely = [](const Curve& c) { return c.xMeaning.categories.empty() ? 2 : 0; }};
}

MarkKind stemsMark() {
    std::vector<Setting> own = {choice("foot", "Down to", {{"value", "a value"}, {"axis", "the axis"}},
                                       "Where the strokes begin.", {.group = kShownGroup}),
                                levelSetting("foot=value")};
    return {.info = {.key = "stems",
                     .name = "Stems",
                     .purpose = "A stroke from each point to the axis or a value",
                     .group = "Marks",
                     .settings = together(
                         {commonSettings(), symbolSettings(), lineSettings(), own, datasetSettings()})},
            .prepare = prepareStems,
            .likely = [](const Curve& c) { return c.size() < 150 ? 3 : 0; }};
}

} // namespace jointer::figure
