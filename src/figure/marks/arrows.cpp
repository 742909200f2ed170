// SPDX-License-Identifier: GPL-3.0-or-later
// A vector field as arrows, and the places at which a surface was measured.
#include "base/text.h"
#include "figure/marks/field_mark.h"
#include "figure/marks/series.h"
#include "figure/marks/sources.h"

#include <cmath>
#include <map>

namespace jointer::figure {

using namespace draw;
using namespace describe;

namespace {

class Arrows final : public Mark {
public:
    std::shared_ptr<const Curve> curve; // more: y, u, v; y: the length of the vector
    std::optional<ColourScale> colours;
    double longestMm = 6, perUnitMm = NAN, spacingMm = 3, widthMm = 0.2, headMm = 1.4;
    bool centred = true, evenLength = false;
    std::string keyText;

    std::optional<Range> extentX(const Scale& x) const override {
        return over(curve ? &curve->x : nullptr, x);
    }
    std::optional<Range> extentY(const Scale& y, const Range&) const override {
        return over(curve ? &curve->more[0] : nullptr, y);
    }
    bool isEmpty() const override { return !curve || curve->x.empty(); }
    bool keepsDistance() const override { return true; }
    const ColourScale* colourScale() const override { return colours ? &*colours : nullptr; }

    void draw(const Frame& frame, Group& into) const override {
        if (isEmpty()) return;
        std::map<std::pair<long, long>, bool> taken; // cells of the page in which an arrow stands
        std::map<std::uint32_t, std::pair<Path, Path>> byColour;
        const double perUnit = mmPerUnit();
        for (std::size_t k = 0; k < curve->size(); ++k) {
            const double u = curve->more[1][k], v = curve->more[2][k], speed = curve->y[k];
            const Point at = frame.at(curve->x[k], curve->more[0][k]);
            if (!std::isfinite(at.x + at.y + u + v) || !frame.holds(at) || !(speed > 0)) continue;
            if (spacingMm > 0) {
                const auto cell = [this](double mm) { return std::lround(mm / spacingMm); };
                if (!taken.try_emplace({cell(at.x), cell(at.y)}, true).second) continue;
            }
            const double mm = evenLength ? longestMm : speed * perUnit;
            if (mm < 0.05) continue;
            const Colour c = colours ? colours->at(speed) : colour;
            auto& [shafts, heads] = byColour[static_cast<std::uint32_t>(c.r << 16 | c.g << 8 | c.b)];
            shafts.stroke = Stroke{.widthMm = widthMm, .colour = c};
            heads.fill = c;
            arrow(at, u / speed, -v / speed, mm, shafts, heads);
        }
        for (auto& [key, paths] : byColour) {
            if (!paths.first.lines.empty()) add(into, std::move(paths.first));
            if (!paths.second.lines.empty()) add(into, std::move(paths.second));
        }
    }

    void key(Rect box, Group& into) const override {
        Path shafts{.lines = {}, .stroke = Stroke{.widthMm = widthMm, .colour = colour}, .fill = {}},
            heads{.lines = {}, .stroke = {}, .fill = colour};
        const Point middle{box.x + box.width / 2, box.y + box.height / 2};
        arrow(middle, 1, 0, std::min(box.width, std::max(2.0, longestMm)), shafts, heads);
        if (!shafts.lines.empty()) add(into, std::move(shafts));
        add(into, std::move(heads));
    }

private:
    static std::optional<Range> over(const std::vector<double>* values, const Scale& scale) {
        std::optional<Range> range;
        if (values)
            for (const double v : *values) widen(range, v, scale);
        return range;
    }

    double mmPerUnit() const {
        if (std::isfinite(perUnitMm) && perUnitMm > 0) return perUnitMm;
        double highest = 0;
        for (const double s : curve->y)
            if (std::isfinite(s)) highest = std::max(highest, s);
        return highest > 0 ? longestMm / highest : 0;
    }

    void arrow(Point at, double dx, double dy, double mm, Path& shafts, Path& heads) const {
        const double head = std::min(headMm, 0.6 * mm), half = 0.36 * head;
        const Point tail = centred ? Point{at.x - dx * mm / 2, at.y - dy * mm / 2} : at;
        const Point tip{tail.x + dx * mm, tail.y + dy * mm}, neck{tip.x - dx * head, tip.y - dy * head};
        shafts.lines.push_back({{tail, {neck.x + 0.2 * dx * head, neck.y + 0.2 * dy * head}}});
        heads.lines.push_back(
            {{tip, {neck.x - dy * half, neck.y + dx * half}, {neck.x + dy * half, neck.y - dx * half}},
             true});
    }
};

MarkPtr prepareArrows(const MarkTask& task) {
    auto mark = std::make_unique<Arrows>();
    const Look& look = task.look;
    const FoundCurve found = foundCurve(task, mark->issues);
    takeFrom(found, task, *mark);
    mark->colour = look.colour("colour", task.ink);
    mark->longestMm = look.number("longest");
    mark->perUnitMm = look.number("per-unit");
    mark->spacingMm = look.number("spacing");
    mark->widthMm = look.millimetres("width");
    mark->headMm = look.number("head");
    mark->centred = look.text("at") == "centre";
    mark->evenLength = look.text("lengths") == "even";
    if (!found.curve) return mark;
    if (found.curve->more.size() < 3) {
        mark->issues.push_back({"no-field",
                                "“" + (found.dataset ? found.dataset->name : "") +
                                    "” has no vectors: choose columns for x, y, u and v in Data.",
                                {}});
        return mark;
    }
    mark->curve = found.curve;
    mark->yMeaning =
        found.curve->moreMeanings.empty() ? AxisMeaning{.name = "y"} : found.curve->moreMeanings[0];
    if (look.flag("by-colour")) {
        mark->colours = colourScaleFor(look, found.curve->y);
        if (mark->colours)
            mark->colours->name = found.curve->yMeaning.name,
            mark->colours->unit = found.curve->yMeaning.unit;
    }
    return mark;
}

// The dataset's rows at their x and y; z is told by colours or sizes.
MarkPtr preparePlaces(const MarkTask& task) {
    auto s = std::make_unique<Series>();
    s->symbol = SymbolLook(task.look);
    prepareSeries(task, *s);
    if (!s->curve || s->curve->more.empty()) return s;
    auto moved = std::make_shared<Curve>(*s->curve);
    moved->y = moved->more[0];
    moved->sigma.clear();
    s->overview.reset();
    s->yMeaning = s->curve->moreMeanings.empty() ? AxisMeaning{.name = "y"} : s->curve->moreMeanings[0];
    s->curve = std::move(moved);
    s->colour = task.look.colour("colour", task.ink);
    return s;
}

} // namespace

MarkKind arrowsMark() {
    const std::string lengths = "Lengths";
    return {.info = {.key = "arrows",
                     .name = "Arrows",
                     .purpose = "A vector field: an arrow at each place",
                     .group = "Marks",
                     .settings = together(
                         {commonSettings(),
                          {choice("lengths", "Lengths", {{"speed", "as the vectors"}, {"even", "all alike"}},
                                  "Whether longer vectors have longer arrows.", {.group = lengths}),
                           number("longest", "Longest", 6, "Length of the longest arrow.",
                                  {.unit = "mm", .lowest = 0.2, .highest = 100, .group = lengths}),
                           openNumber("per-unit", "For one unit",
                                      "Length for a vector of 1; empty: by the longest.",
                                      {.unit = "mm",
                                       .lowest = 0,
                                       .highest = 1e9,
                                       .group = lengths,
                                       .whenEmpty = "automatic"}),
                           number("spacing", "Least distance", 3,
                                  "Only one arrow in a square of this edge; 0: all.",
                                  {.unit = "mm", .lowest = 0, .highest = 100}),
                           choice("at", "Stand",
                                  {{"centre", "by the middle"},
                                   {"tail", "by the tail"}},
                                  "Which part of an arrow is at its place."),
                           number("width", "Width", 0.7, "Line width.",
                                  {.unit = "pt", .lowest = 0.05, .highest = 20}),
                           number("head", "Head", 1.5, "Length of the heads.",
                                  {.unit = "mm", .lowest = 0, .highest = 20}),
                           flag("by-colour", "In colours", false, "Each arrow in the colour of its length.",
                                {.group = "Colours"})},
                          colourScaleSettings("Colours", "by-colour=yes"),
                          datasetSettings()})},
            .prepare = prepareArrows,
            .of = {"vectors", "flow"}};
}

MarkKind placesMark() {
    return {.info = {.key = "places",
                     .name = "Places",
                     .purpose = "A symbol where each value of a surface was measured",
                     .group = "Marks",
                     .settings =
                         together({commonSettings(), symbolSettings(), classSettings(), datasetSettings()})},
            .prepare = preparePlaces,
            .of = {"surface", "vectors"}};
}

} // namespace jointer::figure
