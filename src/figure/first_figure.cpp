// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/first_figure.h"

#include "evaluate/fields.h"
#include "figure/actions.h"
#include "figure/answer_marks.h"
#include "figure/kinds.h"
#include "figure/layout.h"
#include "figure/log_axis.h"
#include "figure/marks/mark.h"

#include <algorithm>
#include <cmath>
#include <functional>

namespace jointer::figure {

namespace {

constexpr std::size_t kMostLanes = 4;
constexpr std::size_t kRunTogether = 600; // points of one curve
constexpr std::size_t kCrowd = 300;       // points that hide a line of their own colour
constexpr double kLaneMm = 28;
constexpr double kWaterMm = 120; // a diagram of waters, whose numbers and titles are many

std::string nextName(const Project& p) {
    return "Figure " + std::to_string(p.figures.size() + 1);
}

std::string markOf(const Project& p, DatasetId id, bool fitted, evaluate::Evaluator& evaluator) {
    const auto likely = likelyMarks(p, id, evaluator);
    if (fitted || likely.empty()) return "points";
    const bool dense = evaluator.measured(p, id).value->size() > kRunTogether;
    return likely.front() == "line" && !dense ? "points" : likely.front();
}

} // namespace

std::string coordinatesOf(const Project& p, const std::vector<DatasetId>& datasets) {
    const auto all = [&](const char* kind) {
        return std::ranges::all_of(datasets, [&](DatasetId id) {
            const auto d = p.datasets.find(id);
            return d && d->source.kind == kind;
        });
    };
    if (datasets.empty()) return {};
    return all("ions") ? "waters" : all("composition") ? "ternary" : "";
}

std::string coordinatesFor(const Project& p, const Element& mark) {
    const MarkKind* kind = markCatalogue().find(mark.kind);
    if (!kind || kind->coordinates.empty()) return coordinatesOf(p, {DatasetId::fromText(mark.source)});
    return kind->coordinates == "cartesian" ? "" : kind->coordinates;
}

void giveCoordinates(Element& panel, const std::string& coordinates) {
    panel.settings.set("coordinates", Value(coordinates));
    std::erase_if(panel.children, [](const Element& e) { return e.kind == "axis"; });
}

// The surface of a fit, and the points it was fitted to.
static std::vector<Element> surfaceMarks(const Project& p, const Dataset& d) {
    std::vector<Element> marks = {newMark("relief-surface", d.id.text())};
    const auto fit = p.analyses.find(AnalysisId::fromText(d.source.settings.reference("fit")));
    if (!fit || fit->inputs.empty()) return marks;
    const auto points = p.datasets.find(fit->inputs.front().dataset);
    if (points && suits(*markCatalogue().find("relief-points"), *points)) {
        marks.push_back(newMark("relief-points", points->id.text()));
        marks.back().settings.set("fill", "filled");
        marks.back().settings.set("size", Value(3.0));
    }
    return marks;
}

// Scattered places become filled contours with lines and the places; grids a map.
std::vector<Element> ownMarks(const Project& p, DatasetId id, evaluate::Evaluator& evaluator) {
    const auto d = p.datasets.find(id);
    if (!d) return {};
    if (!coordinatesOf(p, {id}).empty()) {
        Element points = markFor(p, id, "points", evaluator);
        if (!evaluate::hasField(d->source)) return {std::move(points)};
        points.settings.set("size", Value(2.0));
        return {newMark("filled-contours", id.text()), newMark("contour-lines", id.text()),
                std::move(points)};
    }
    if (d->source.kind == "vectors" || d->source.kind == "flow") return {newMark("arrows", id.text())};
    if (!evaluate::hasField(d->source)) return {};
    if (d->source.kind == "fitted-surface") return surfaceMarks(p, *d);
    const auto places = d->source.kind == "surface" ? evaluator.measured(p, id).value : nullptr;
    if (!places || places->more.empty() ||
        !evaluate::isScattered(places->x, places->more[0], d->source.settings))
        return {newMark("colour-map", id.text())};
    std::vector<Element> marks = {newMark("filled-contours", id.text()), newMark("contour-lines", id.text()),
                                  newMark("places", id.text())};
    marks[2].settings.set("size", Value(1.5));
    return marks;
}

namespace {

bool givesCurve(const Project& p, AnalysisId fit) {
    const auto a = p.analyses.find(fit);
    const analyses::AnalysisKind* kind = a ? analyses::kindOf(*a) : nullptr;
    return kind && (kind->givesCurve || kind->takesSamples);
}

// One dataset, or a group of several, as it first looks.
std::vector<Element> marksOf(const Project& p, const std::vector<DatasetId>& datasets, AnalysisId fit,
                             evaluate::Evaluator& evaluator) {
    const DatasetId first = datasets.front();
    std::vector<Element> marks = {markFor(p, first, markOf(p, first, givesCurve(p, fit), evaluator), evaluator)};
    const auto open = p.analyses.find(fit);
    const analyses::AnalysisKind* kind = open ? analyses::kindOf(*open) : nullptr;
    if (kind && !kind->givesCurve) { // its answer, if that has marks of its own
        std::ranges::move(readingsOf(*open, first), std::back_inserter(marks));
        std::ranges::move(bracketsOf(p, *open, first, evaluator), std::back_inserter(marks));
    } else if (fit) {
        marks[0].settings.set("point", "before-smoothing");
        marks.push_back(newMark("curve", fit.text()));
        if (datasets.size() == 1 && evaluator.measured(p, first).value->size() > kCrowd)
            marks.back().settings.set("colour", "#000000");
    }
    if (datasets.size() > 1) marks = {groupOf(datasets, marks)};
    return marks;
}

// What is measured over the x of the others, each quantity in a lane of its own.
Result<Project> withLanes(const Project& before, const Figure& figure, const std::vector<std::vector<Element>>& lanes,
                          bool legend) {
    auto after = edits::addFigure(figure).apply(before);
    if (!after) return after;
    const Figure& made = after->figures[after->figures.size() - 1];
    const FigureId id = made.id;
    const ElementId panel = made.elements.front().id;
    for (const auto& marks : lanes)
        if (after = addMarks(id, panel, marks, Drop::TopLane).apply(*after); !after) return after;
    return edits::arrange(id, "New figure",
                          [=, count = lanes.size() + 1](Project& p, Figure& f) -> Result<void> {
                              const double height = pageOf(p, f).height;
                              const double wanted = kLaneMm * static_cast<double>(count) + 12;
                              if (wanted > height) f.settings.set("height", Value(wanted));
                              for (Element& e : f.elements.front().children)
                                  if (e.kind == "legend" && !legend) e.settings.set("where", "none");
                              return {};
                          })
        .apply(*after);
}

} // namespace

std::vector<std::vector<DatasetId>> byQuantity(const Project& project, const std::vector<DatasetId>& datasets,
                                               evaluate::Evaluator& evaluator) {
    std::vector<std::vector<DatasetId>> parts;
    std::vector<std::string> units;
    for (DatasetId id : datasets) {
        const std::string unit = evaluator.protocol(project, id).end().curve().yMeaning.unit;
        const auto at = static_cast<std::size_t>(std::ranges::find(units, unit) - units.begin());
        if (at == units.size()) {
            units.push_back(unit);
            parts.emplace_back();
        }
        parts[at].push_back(id);
    }
    return parts;
}

namespace {

Edit addStyled(const Project& project, const std::function<Figure(StyleId)>& make) {
    if (project.styles.empty())
        return {"New figure", {}, [](const Project&) -> Result<Project> {
                    return failure("no-style", "This project has no house style; a figure needs one.");
                }};
    return edits::addFigure(make(project.styles[0].id));
}

} // namespace

Edit addFigureWith(const Project& project, const std::vector<Element>& marks) {
    return addStyled(project, [&](StyleId style) { return newFigure(nextName(project), style, marks); });
}

Edit addEmptyFigure(const Project& project) {
    return addStyled(project, [&](StyleId style) {
        return Figure{.name = nextName(project), .style = style, .settings = {}, .elements = {}, .extra = {}};
    });
}

namespace {

// Zero has a place on the axis of x where one of the datasets begins there.
double commonLinearPart(const Project& p, const std::vector<DatasetId>& datasets, evaluate::Evaluator& evaluator) {
    double smallest = NAN;
    for (DatasetId id : datasets)
        smallest = std::fmin(smallest, linearPart(evaluator.protocol(p, id).end().curve().x));
    return smallest;
}

void giveScales(Figure& figure, LogScales scales, double linearX) {
    for (Element& panel : figure.elements)
        for (Element& e : panel.children) {
            if (e.kind != "axis") continue;
            const std::string side = e.settings.text("side", "bottom");
            if (side == "bottom" && scales.x) makeLogarithmic(e.settings, linearX);
            if (side == "left" && scales.y) makeLogarithmic(e.settings, NAN);
        }
}

// Of a field or of vectors, with its bar.
Edit addFieldFigure(const Project& project, const std::vector<Element>& marks) {
    Figure figure = newFigure(nextName(project), project.styles[0].id, marks);
    for (Element& e : figure.elements[0].children)
        if (e.kind == "legend") e.settings.set("where", "none");
    if (const std::string own = coordinatesFor(project, marks.front()); !own.empty())
        giveCoordinates(figure.elements[0], own);
    if (marks.front().kind != "arrows") figure.elements[0].children.push_back({.kind = "colour-bar"});
    figure.settings.set("height", Value(std::round(0.78 * pageOf(project, figure).width)));
    return edits::addFigure(std::move(figure));
}

// A page large enough for triangles with their titles; no axes.
Edit addProjected(const Project& project, const std::vector<DatasetId>& datasets,
                  const std::string& coordinates, evaluate::Evaluator& evaluator) {
    std::vector<Element> marks =
        datasets.size() == 1
            ? ownMarks(project, datasets.front(), evaluator)
            : std::vector{groupOf(datasets, {markFor(project, datasets.front(), "points", evaluator)})};
    Figure figure = newFigure(nextName(project), project.styles[0].id, marks);
    Element& panel = figure.elements[0];
    giveCoordinates(panel, coordinates);
    if (marks.front().kind == "filled-contours") panel.children.push_back({.kind = "colour-bar"});
    const double width = pageOf(project, figure).width;
    const double height = std::round(coordinates == "waters" ? 0.95 * width : 0.85 * width);
    if (coordinates == "waters" && width < kWaterMm) figure.settings.set("width", Value(kWaterMm));
    figure.settings.set("height",
                        Value(std::max(height, coordinates == "waters" ? std::round(0.92 * kWaterMm) : 0)));
    return edits::addFigure(std::move(figure));
}

} // namespace

Edit addFigureOf(const Project& project, const std::vector<DatasetId>& datasets, AnalysisId fit,
                 evaluate::Evaluator& evaluator, LogScales scales) {
    if (datasets.empty() || project.styles.empty()) return addFigureWith(project, {});
    if (const std::string coordinates = coordinatesOf(project, datasets); !coordinates.empty())
        return addProjected(project, datasets, coordinates, evaluator);
    if (const auto own = ownMarks(project, datasets.front(), evaluator); !own.empty())
        return addFieldFigure(project, own);
    auto parts = byQuantity(project, datasets, evaluator);
    if (parts.size() > kMostLanes) parts = {datasets};
    std::vector<std::vector<Element>> lanes;
    for (std::size_t k = parts.size(); k > 0; --k) // lanes grow upwards: the first is read first
        lanes.push_back(marksOf(project, parts[k - 1], k == 1 ? fit : AnalysisId{}, evaluator));
    Figure figure = newFigure(nextName(project), project.styles[0].id, lanes[0]);
    giveScales(figure, scales, scales.x ? commonLinearPart(project, datasets, evaluator) : NAN);
    if (parts.size() == 1) return edits::addFigure(figure);
    lanes.erase(lanes.begin());
    const bool legend = std::ranges::any_of(parts, [](const auto& part) { return part.size() > 1; });
    return {"New figure", {}, [=](const Project& before) { return withLanes(before, figure, lanes, legend); }};
}

} // namespace jointer::figure
