// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/marks/field_mark.h"

#include "fields/contours.h"
#include "figure/marks/sources.h"

#include <cmath>

namespace jointer::figure {

using namespace draw;
using namespace describe;

namespace {

constexpr std::size_t kSampled = 200000; // values that tell where to cut colours off
constexpr int kLevels = 10;

} // namespace

Range FieldMark::reachOf(const std::vector<double>& nodes) const {
    const std::size_t n = nodes.size();
    const double low = nodes[0], high = nodes[n - 1];
    if (!wholeCells) return {low, high};
    return {low - (nodes[1] - low) / 2, high + (high - nodes[n - 2]) / 2};
}

std::optional<Range> FieldMark::extentX(const Scale& x) const {
    std::optional<Range> range;
    if (isEmpty()) return range;
    for (const double v : field->x) widen(range, v, x);
    const Range reach = reachOf(field->x);
    for (const double v : {reach.low, reach.high}) widen(range, v, x);
    return range;
}

std::optional<Range> FieldMark::extentY(const Scale& y, const Range&) const {
    std::optional<Range> range;
    if (isEmpty()) return range;
    for (const double v : field->y) widen(range, v, y);
    const Range reach = reachOf(field->y);
    for (const double v : {reach.low, reach.high}) widen(range, v, y);
    return range;
}

std::vector<double> FieldMark::flushValues() const {
    if (isEmpty()) return {};
    const Range reach = reachOf(field->y);
    return {reach.low, reach.high};
}

Group FieldMark::outlined(const Frame& frame) const {
    Group group{.clip = {}, .items = {}};
    Polyline outline{.points = {}, .closed = true};
    for (const fields::Place& p : field->outline) {
        const Point at = frame.at(p.x, p.y);
        if (std::isfinite(at.x) && std::isfinite(at.y)) outline.points.push_back({cut(at.x), cut(at.y)});
    }
    if (outline.points.size() > 2) group.outline = {std::move(outline)};
    return group;
}

void prepareField(const MarkTask& task, FieldMark& mark, FieldPlaces places) {
    const auto id = DatasetId::fromText(task.source);
    const auto dataset = task.project.datasets.find(id);
    if (!dataset) {
        mark.issues.push_back({"source-gone", "A mark on the figure has lost its dataset.", {}});
        return;
    }
    auto found = task.evaluator.field(task.project, id, {.effort = task.effort});
    mark.field = found.value;
    std::ranges::move(found.issues, std::back_inserter(mark.issues));
    if (places == FieldPlaces::OfPanel && !mark.isEmpty()) {
        if (task.projection)
            mark.field = task.projection->projectField(mark.field, *dataset, mark.issues);
        else if (dataset->source.kind == "composition")
            mark.field = std::make_shared<const fields::Field>(),
            mark.issues.push_back(
                {"not-placed",
                 "“" + dataset->name +
                     "” tells of mixtures of three parts: choose these as the panel's coordinates.",
                 {}});
    }
    mark.label = task.look.text("label");
    if (mark.label.empty()) mark.label = literal(dataset->name);
    mark.colour = task.look.colour("colour", task.ink);
    mark.xMeaning = mark.field->xMeaning;
    mark.yMeaning = mark.field->yMeaning;
}

void giveColours(const MarkTask& task, FieldMark& mark) {
    if (mark.isEmpty()) return;
    const auto& z = mark.field->z;
    std::vector<double> values;
    if (task.look.number("colour-cut") > 0 || task.look.flag("colour-log")) {
        const std::size_t step = std::max<std::size_t>(1, z.size() / kSampled);
        for (std::size_t k = 0; k < z.size(); k += step) values.push_back(z[k]);
    }
    if (const auto extent = mark.field->extent(); extent && !(task.look.number("colour-cut") > 0))
        values.insert(values.end(), {extent->first, extent->second});
    mark.colours = colourScaleFor(task.look, std::move(values));
    if (!mark.colours) return;
    mark.colours->name = mark.field->zMeaning.name;
    mark.colours->unit = mark.field->zMeaning.unit;
}

std::vector<double> levelsOf(const Look& look, const fields::Field& field, const ColourScale* colours) {
    const auto extent = field.extent();
    if (!extent) return {};
    const Range range = colours ? colours->range : Range{extent->first, extent->second};
    const int count = look.integer("levels");
    if (colours && colours->logarithmic && look.numbers("level-list").empty()) {
        std::vector<double> levels; // even on the logarithm: 1, 2, 5 or only powers of ten
        const double decades = std::log10(range.high / range.low);
        for (double p = std::floor(std::log10(range.low)); p <= std::log10(range.high); ++p)
            for (const double step : {1.0, 2.0, 5.0})
                if (const double v = step * std::pow(10.0, p);
                    v >= range.low && v <= range.high && (step == 1 || 3 * decades < 2.0 * count))
                    levels.push_back(v);
        return levels;
    }
    return fields::levelsFor(range.low, range.high, count, look.number("level-distance"),
                             look.numbers("level-list"));
}

std::vector<Setting> fieldSettings(const std::string& whoseName) {
    std::vector<Setting> all = commonSettings(whoseName);
    return without(std::move(all), "colour");
}

std::vector<Setting> levelSettings() {
    const std::string group = "Levels";
    return {
        wholeNumber("levels", "About", kLevels, "How many levels at round values are wished for.",
                    {.lowest = 1, .highest = 200, .group = group}),
        number("level-distance", "Every", 0, "Distance of the levels; 0: by their number.",
               {.unit = "z", .lowest = 0, .highest = 1e300, .group = group}),
        list("level-list", "Listed", "The levels themselves, instead.",
             {.group = group, .whenEmpty = "chosen"}),
        wholeNumber(
            "finer", "Smooth lines", 1,
            "The field is made so many times finer first, along curves through its nodes; lines then turn "
            "smoothly and still do not cross. 1: as it is.",
            {.lowest = 1, .highest = 8, .group = group})};
}

} // namespace jointer::figure
