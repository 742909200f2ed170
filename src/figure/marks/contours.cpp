// SPDX-License-Identifier: GPL-3.0-or-later
// A field as lines of equal height, and as areas between them.
#include "fields/contours.h"
#include "base/text.h"
#include "figure/marks/contour_labels.h"
#include "figure/marks/field_mark.h"

#include <cmath>

namespace jointer::figure {

using namespace draw;

namespace {

constexpr std::size_t kMostFiner = 4000000; // nodes of a field that is made finer

// Without points that nobody can tell from the one before; both ends stay.
std::vector<Point> sparser(std::vector<Point> points, double mm) {
    std::size_t kept = 1;
    for (std::size_t k = 1; k < points.size(); ++k) {
        const Point& last = points[kept - 1];
        if (k + 1 < points.size() && std::hypot(points[k].x - last.x, points[k].y - last.y) < mm) continue;
        points[kept++] = points[k];
    }
    points.resize(std::min(kept, points.size()));
    return points;
}

// On the page; empty where a place is none.
Polyline onPage(const Frame& frame, const fields::ContourLine& line) {
    Polyline out{.points = {}, .closed = line.closed};
    out.points.reserve(line.points.size());
    for (const fields::Place& p : line.points) {
        const Point at = frame.at(p.x, p.y);
        if (std::isfinite(at.x) && std::isfinite(at.y)) out.points.push_back({cut(at.x), cut(at.y)});
    }
    out.points = sparser(std::move(out.points), 0.25 / frame.pixelsPerMm);
    return out;
}

class Contours : public FieldMark {
public:
    std::vector<double> levels;
    std::shared_ptr<const fields::Field> finer;

    void prepareLevels(const MarkTask& task) {
        if (isEmpty()) return;
        levels = levelsOf(task.look, *field, colours ? &*colours : nullptr);
        finer = field;
        const int times = task.look.integer("finer");
        if (times > 1 && field->z.size() * static_cast<std::size_t>(times * times) <= kMostFiner)
            finer = std::make_shared<const fields::Field>(fields::refined(*field, times));
    }
};

class ContourLines final : public Contours {
public:
    LineLook line;
    int strongEvery = 0;
    bool labelled = true, byColour = false;
    double labelEvery = 60, labelPt = 0;

    void draw(const Frame& frame, Group& into) const override {
        if (isEmpty() || levels.empty()) return;
        const auto all = fields::contourLines(*finer, levels);
        TextStyle style = frame.text;
        style.sizePt = labelPt > 0 ? labelPt : 0.85 * style.sizePt;
        LineLabels labels(frame.area, style, labelEvery);
        Group group = outlined(frame);
        for (std::size_t k = 0; k < levels.size(); ++k) {
            std::vector<Polyline> lines;
            const bool strong = isStrong(k);
            for (const fields::ContourLine& one : all[k]) {
                Polyline shown = onPage(frame, one);
                if (shown.points.size() < 2) continue;
                if (labelled && (strong || strongEvery <= 1))
                    std::ranges::move(labels.broken(std::move(shown), readableNumber(levels[k], 6)),
                                      std::back_inserter(lines));
                else
                    lines.push_back(std::move(shown));
            }
            if (lines.empty()) continue;
            LineLook look = line;
            if (strong && strongEvery > 1) look.widthMm *= 2;
            add(group,
                Path{.lines = std::move(lines), .stroke = look.stroke(colourOf(levels[k])), .fill = {}});
        }
        if (!group.items.empty()) add<>(into, std::move(group));
        addText(into, labels.takeTexts());
    }

    void key(Rect box, Group& into) const override {
        const double middle = box.y + box.height / 2;
        add(into, linePath({{{{box.x, middle}, {box.right(), middle}}, false}}, line, colour));
    }
    const ColourScale* colourScale() const override { return byColour ? FieldMark::colourScale() : nullptr; }

private:
    bool isStrong(std::size_t k) const {
        if (strongEvery <= 1) return true;
        const double step = levels.size() > 1 ? levels[1] - levels[0] : 1;
        const double n = std::round(levels[k] / step);
        return std::abs(std::remainder(n, strongEvery)) < 1e-6;
    }
    Colour colourOf(double level) const { return byColour && colours ? colours->at(level) : colour; }
};

// Each layer covers the one below, so that there are no seams.
class FilledContours final : public Contours {
public:
    void draw(const Frame& frame, Group& into) const override {
        if (isEmpty() || !colours) return;
        std::vector<double> from{-INFINITY};
        std::ranges::copy(levels, std::back_inserter(from));
        const auto regions = fields::regionsAbove(*finer, from);
        Group group = outlined(frame);
        for (std::size_t k = 0; k < from.size(); ++k) {
            Path layer{.lines = {}, .stroke = {}, .fill = colourOf(k), .evenOdd = true};
            for (const fields::ContourLine& ring : regions[k]) {
                Polyline shown = onPage(frame, ring);
                if (shown.points.size() > 2) layer.lines.push_back(std::move(shown));
            }
            if (!layer.lines.empty()) add(group, std::move(layer));
        }
        if (!group.items.empty()) add<>(into, std::move(group));
    }

private:
    // Of the step that begins at the k-th limit.
    Colour colourOf(std::size_t k) const {
        const auto& limits = colours->limits;
        if (limits.size() < 2) return colours->at(colours->range.low);
        return colours->at((limits[k] + limits[std::min(k + 1, limits.size() - 1)]) / 2);
    }
};

MarkPtr prepareLines(const MarkTask& task) {
    auto mark = std::make_unique<ContourLines>();
    mark->line = LineLook(task.look);
    mark->strongEvery = task.look.integer("strong-every");
    mark->labelled = task.look.flag("labels");
    mark->labelEvery = task.look.number("label-every");
    mark->labelPt = task.look.number("label-size");
    mark->byColour = task.look.flag("by-colour");
    prepareField(task, *mark);
    giveColours(task, *mark);
    mark->prepareLevels(task);
    return mark;
}

MarkPtr prepareFilled(const MarkTask& task) {
    auto mark = std::make_unique<FilledContours>();
    prepareField(task, *mark);
    giveColours(task, *mark);
    mark->named = false;
    if (mark->isEmpty() || !mark->colours) return mark;
    mark->prepareLevels(task);
    ColourScale& scale = *mark->colours;
    // Levels at the ends of the range have nothing beyond them.
    std::erase_if(mark->levels, [&](double v) { return v <= scale.range.low || v >= scale.range.high; });
    const double step = mark->levels.size() > 1 ? mark->levels[1] - mark->levels[0] : 0;
    scale.limits.push_back(mark->levels.empty()
                               ? scale.range.low
                               : std::min(scale.range.low, mark->levels.front() - 1e-9 * step));
    std::ranges::copy(mark->levels, std::back_inserter(scale.limits));
    scale.limits.push_back(std::max(
        scale.range.high, scale.limits.back() + 1e-9 * std::max(1.0, std::abs(scale.limits.back()))));
    return mark;
}

} // namespace

MarkKind contourLinesMark() {
    using namespace describe;
    const std::string labels = "Numbers on the lines";
    std::vector<Setting> line = without(lineSettings(), "join");
    for (Setting& s : line)
        if (s.key == "width") s.fallback = Value(0.6);
    return {
        .info = {.key = "contour-lines",
                 .name = "Contour lines",
                 .purpose = "Lines of equal height of a field",
                 .group = "Marks",
                 .settings = together(
                     {commonSettings(),
                      std::move(line),
                      levelSettings(),
                      {flag("labels", "Numbers", true, "The height stands in the line, along it.",
                            {.group = labels}),
                       number("label-every", "Every", 60, "Distance of the numbers on a line.",
                              {.unit = "mm",
                               .lowest = 5,
                               .highest = 1000,
                               .group = labels,
                               .shownIf = "labels=yes"}),
                       openNumber("label-size", "Size", "Of the numbers; empty goes with the text.",
                                  {.unit = "pt",
                                   .lowest = 3,
                                   .highest = 72,
                                   .group = labels,
                                   .shownIf = "labels=yes",
                                   .whenEmpty = "automatic"}),
                       wholeNumber(
                           "strong-every", "Strong", 0,
                           "Every so manieth line is twice as wide and has the numbers; 0: all are alike.",
                           {.lowest = 0, .highest = 100, .group = "Levels"}),
                       flag("by-colour", "In colours", false, "Each line in the colour of its height.",
                            {.group = "Colours"})},
                      colourScaleSettings("Colours", "by-colour=yes")})},
        .prepare = prepareLines,
        .of = evaluate::fieldKinds()};
}

MarkKind filledContoursMark() {
    return {
        .info = {.key = "filled-contours",
                 .name = "Filled contours",
                 .purpose = "Areas between levels of a field, each in its colour",
                 .group = "Marks",
                 .settings = together({fieldSettings(), levelSettings(), colourScaleSettings("Colours")})},
        .prepare = prepareFilled,
        .behind = true,
        .of = evaluate::fieldKinds()};
}

} // namespace jointer::figure
