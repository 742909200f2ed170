// SPDX-License-Identifier: GPL-3.0-or-later
// Marks without data: functions of an expression, lines and ranges at values.
#include "figure/marks/parts.h"
#include "formula/program.h"

#include <cmath>

namespace jointer::figure {

using namespace describe;
using namespace draw;

namespace {

class Function final : public Mark {
public:
    bool hasExtent() const override { return false; }
    std::optional<formula::Program> program;
    LineLook line;
    Numbers ends;
    bool widens = true;
    std::vector<double> xs, ys;

    std::optional<Range> extentX(const Scale& x) const override {
        std::optional<Range> range;
        if (ends.size() == 2)
            for (double v : ends) widen(range, v, x);
        return range;
    }
    void settle(const AxisMap& x) override {
        xs.clear();
        double low = x.low(), high = x.high();
        if (ends.size() == 2) {
            if (std::isfinite(ends[0])) low = std::max(low, ends[0]);
            if (std::isfinite(ends[1])) high = std::min(high, ends[1]);
        }
        if (!program || !(low < high)) return;
        constexpr int samples = 800;
        xs = evenlyOn(x.scale(), low, high, samples);
        ys.resize(xs.size());
        const std::span<const double> column(xs);
        program->evaluate({&column, 1}, {}, ys);
    }
    std::optional<Range> extentY(const Scale& y, const Range&) const override {
        std::optional<Range> range;
        if (widens)
            for (double v : ys) widen(range, v, y);
        return range;
    }
    void draw(const Frame& frame, Group& into) const override {
        std::vector<Polyline> lines(1);
        const double jump = 3 * frame.area.height; // from one end to the other: a pole
        for (std::size_t k = 0; k < xs.size(); ++k) {
            const Point p = frame.at(xs[k], ys[k]);
            const bool breaks =
                !std::isfinite(p.x) || !std::isfinite(p.y) ||
                (!lines.back().points.empty() && std::abs(p.y - lines.back().points.back().y) > jump);
            if (breaks && !lines.back().points.empty()) lines.emplace_back();
            if (std::isfinite(p.x) && std::isfinite(p.y)) lines.back().points.push_back({cut(p.x), cut(p.y)});
        }
        std::erase_if(lines, [](const Polyline& l) { return l.points.size() < 2; });
        if (!lines.empty()) add(into, linePath(std::move(lines), line, colour));
    }
    void key(Rect r, Group& into) const override {
        add(into, linePath({{{{r.x, r.y + r.height / 2}, {r.right(), r.y + r.height / 2}}}}, line, colour));
    }
};

MarkPtr prepareFunction(const MarkTask& task) {
    auto f = std::make_unique<Function>();
    f->line = LineLook(task.look);
    f->ends = task.look.numbers("ends");
    f->widens = task.look.flag("widens");
    f->colour = task.look.colour("colour", task.ink);
    const std::string text = task.look.text("expression");
    f->label = task.look.text("label");
    const auto expression = formula::Expression::parse(text);
    if (!expression) {
        f->issues.push_back(expression.error());
        return f;
    }
    if (f->label.empty()) f->label = formula::toMarkup(*expression);
    auto program = formula::Program::compile(*expression, {"x"}, {}, formula::Differentiate::Nothing);
    if (program)
        f->program = std::move(*program);
    else
        f->issues.push_back({"formula", "The function may only use x: " + program.error().text, {}});
    return f;
}

// A line at a value of one axis, across the panel, with a label at its end.
class ReferenceLine final : public Mark {
public:
    bool hasExtent() const override { return false; }
    bool ofY = false, widens = true;
    Numbers values;
    LineLook line;
    std::string labelAt;

    std::optional<Range> reach(const Scale& scale) const {
        std::optional<Range> range;
        if (widens)
            for (double v : values) widen(range, v, scale);
        return range;
    }
    std::optional<Range> extentX(const Scale& x) const override { return ofY ? std::nullopt : reach(x); }
    std::optional<Range> extentY(const Scale& y, const Range&) const override {
        return ofY ? reach(y) : std::nullopt;
    }
    void draw(const Frame& frame, Group& into) const override {
        std::vector<Polyline> lines;
        const Rect& a = frame.area;
        for (double v : values) {
            const AxisMap& map = ofY ? frame.y : frame.x;
            const double p = map.place(v);
            if (!map.contains(v) || map.isSkipped(v) || !std::isfinite(p)) continue;
            lines.push_back(ofY ? Polyline{{{a.x, p}, {a.right(), p}}}
                                : Polyline{{{p, a.y}, {p, a.bottom()}}});
            drawLabel(frame, p, into);
        }
        if (!lines.empty()) add(into, linePath(std::move(lines), line, colour));
    }

private:
    void drawLabel(const Frame& frame, double p, Group& into) const {
        if (labelAt == "none" || label.empty()) return;
        TextStyle style = frame.text;
        style.colour = colour;
        const double gap = 0.4 * style.sizePt * kMmPerPt;
        const Rect& a = frame.area;
        const bool atEnd = labelAt == "end";
        Point at = ofY ? Point{atEnd ? a.right() - gap : a.x + gap, p - gap}
                       : Point{p + gap, atEnd ? a.y + gap : a.bottom() - gap};
        const SetText set = setText(label, style);
        if (!ofY && at.x + set.widthMm > a.right()) at.x = p - gap - set.widthMm; // to the other side
        if (ofY && at.y - set.heightMm() < a.y) at.y = p + gap + set.heightMm();
        addText(into, placed(set, at, ofY && atEnd ? HAlign::Right : HAlign::Left,
                             !ofY && atEnd ? VAlign::Top : VAlign::Bottom));
    }
};

MarkPtr prepareLine(const MarkTask& task) {
    auto r = std::make_unique<ReferenceLine>();
    r->ofY = task.look.text("of") == "y";
    r->widens = task.look.flag("widens");
    r->values = task.look.numbers("at");
    r->line = LineLook(task.look);
    r->labelAt = task.look.text("label-at");
    r->label = task.look.text("label");
    r->named = false;
    r->colour = task.look.colour("colour", task.ink);
    return r;
}

// A part of one axis, filled across the panel.
class ReferenceRange final : public Mark {
public:
    bool hasExtent() const override { return false; }
    bool ofY = false, widens = false;
    Numbers ends;
    double opacity = 0.15;
    std::string labelAt;

    std::optional<Range> reach(const Scale& scale) const {
        std::optional<Range> range;
        if (widens)
            for (double v : ends) widen(range, v, scale);
        return range;
    }
    std::optional<Range> extentX(const Scale& x) const override { return ofY ? std::nullopt : reach(x); }
    std::optional<Range> extentY(const Scale& y, const Range&) const override {
        return ofY ? reach(y) : std::nullopt;
    }
    void draw(const Frame& frame, Group& into) const override {
        if (ends.size() != 2) return;
        const AxisMap& map = ofY ? frame.y : frame.x;
        auto clamped = [&](double v, double open) {
            return map.place(std::isfinite(v) ? std::clamp(v, map.low(), map.high()) : open);
        };
        if (ends[1] < map.low() || ends[0] > map.high()) return;
        const double from = clamped(ends[0], map.low()), to = clamped(ends[1], map.high());
        const Rect& a = frame.area;
        const double low = std::min(from, to), size = std::abs(to - from);
        const Rect part = ofY ? Rect{a.x, low, a.width, size} : Rect{low, a.y, size, a.height};
        addFilled(into, rectangle(part), colour.withAlpha(opacity));
        if (labelAt == "none" || label.empty()) return;
        TextStyle style = frame.text;
        const double gap = 0.4 * style.sizePt * kMmPerPt;
        const bool top = labelAt == "end";
        const Point at = ofY ? Point{top ? part.right() - gap : part.x + gap, part.y + gap}
                             : Point{part.x + part.width / 2, top ? part.y + gap : part.bottom() - gap};
        const HAlign h = !ofY ? HAlign::Centre : top ? HAlign::Right : HAlign::Left;
        addText(into, placed(setText(label, style), at, h, ofY || top ? VAlign::Top : VAlign::Bottom));
    }
    void key(Rect r, Group& into) const override { addFilled(into, rectangle(r), colour.withAlpha(opacity)); }
};

MarkPtr prepareRange(const MarkTask& task) {
    auto r = std::make_unique<ReferenceRange>();
    r->ofY = task.look.text("of") == "y";
    r->widens = task.look.flag("widens");
    r->ends = task.look.numbers("range");
    r->opacity = task.look.number("opacity");
    r->labelAt = task.look.text("label-at");
    r->label = task.look.text("label");
    r->named = r->labelAt == "legend";
    if (r->named) r->labelAt = "none";
    r->colour = task.look.colour("colour", Colour{0x5b, 0x5f, 0x66, 255});
    return r;
}

std::vector<Setting> withoutData(const char* label) {
    std::vector<Setting> common = commonSettings();
    common[0].label = label;
    common[0].help = "What it is called; markup is set.";
    common[0].whenEmpty = "nothing";
    common[1].help = "Colour; empty is that of the text.";
    return common;
}

Setting ofSetting() {
    return choice("of", "Of", {{"x", "x"}, {"y", "y"}}, "On which axis the values are.");
}
Setting widensSetting(bool fallback) {
    return flag("widens", "Widens the axis", fallback, "An automatic range reaches to it.",
                {.group = kShownGroup});
}

} // namespace

MarkKind functionMark() {
    Setting expression = formulaText("expression", "y =", "Plain mathematics in x, such as 3*exp(-x/2).");
    expression.fallback = Value(std::string("x"));
    std::vector<Setting> own = {std::move(expression),
                                interval("ends", "x from … to", "Where it is drawn; empty ends go on.",
                                         {.unit = "x", .group = kShownGroup, .whenEmpty = "the whole axis"}),
                                widensSetting(true)};
    std::vector<Setting> common = withoutData("Legend");
    common[0].whenEmpty = "the expression";
    return {.info = {.key = "function",
                     .name = "Function",
                     .purpose = "A curve by an expression in x",
                     .group = "Marks",
                     .settings = together({own, common, lineSettings()})},
            .takes = Takes::Nothing,
            .prepare = prepareFunction};
}

MarkKind referenceLineMark() {
    Setting at = list("at", "At", "One value or several.", {.unit = "x"});
    at.fallback = Value(Numbers{0});
    std::vector<Setting> line = lineSettings();
    line[0].fallback = 0.6;
    std::vector<Setting> own = {
        ofSetting(), std::move(at),
        choice("label-at", "Text stands",
               {{"end", "at the end"}, {"start", "at the start"}, {"none", "nowhere"}},
               "Where the line is named.", {.group = kLooksGroup}),
        widensSetting(true)};
    return {.info = {.key = "reference-line",
                     .name = "Reference line",
                     .purpose = "A line across the panel at a value",
                     .group = "Marks",
                     .settings = together({own, withoutData("Text"), line})},
            .takes = Takes::Nothing,
            .prepare = prepareLine};
}

MarkKind referenceRangeMark() {
    Setting range = interval("range", "From … to", "First and last value; an empty end goes on.",
                             {.unit = "x", .whenEmpty = "open"});
    range.fallback = Value(Numbers{0, 1});
    std::vector<Setting> own = {ofSetting(), std::move(range), opacitySetting(0.15),
                                choice("label-at", "Text stands",
                                       {{"end", "at the end"},
                                        {"start", "at the start"},
                                        {"legend", "in the legend"},
                                        {"none", "nowhere"}},
                                       "Where the range is named.", {.group = kLooksGroup}),
                                widensSetting(false)};
    return {.info = {.key = "reference-range",
                     .name = "Reference range",
                     .purpose = "A part of an axis, shaded across the panel",
                     .group = "Marks",
                     .settings = together({own, withoutData("Text")})},
            .takes = Takes::Nothing,
            .prepare = prepareRange,
            .behind = true};
}

} // namespace jointer::figure
