// SPDX-License-Identifier: GPL-3.0-or-later
// Where an axis is broken, and the break as an edit.
#include "evaluate/evaluator.h"
#include "figure/actions.h"

#include <algorithm>
#include <cmath>

namespace jointer::figure {

namespace {

// Multiples of it are round to read.
double roundStep(double width, bool isTime) {
    if (isTime)
        for (const double unit : {86400.0, 3600.0, 60.0}) // days, hours, minutes
            if (unit <= width / 8) return unit;
    return std::pow(10, std::floor(std::log10(width / 8)));
}

} // namespace

Range widestGap(const Project& project, const Figure& figure, const AxisGeometry& axis,
                evaluate::Evaluator& evaluator) {
    const bool alongX = isAlongX(axis.side);
    std::vector<double> places = {axis.map.start(), axis.map.end()};
    auto collect = [&](const std::string& source) {
        const auto dataset = project.datasets.find(DatasetId::fromText(source));
        if (!dataset) return;
        const auto curve = evaluator.measured(project, dataset->id).value;
        for (std::size_t i = 0; i < curve->size(); ++i) {
            const double v = alongX ? curve->x[i] : curve->y[i];
            if (curve->counts(i) && axis.map.contains(v)) places.push_back(axis.map.place(v));
        }
    };
    if (const Element* panel = figure.find(panelOf(figure, axis.axis)))
        for (const Element& e : panel->children) {
            collect(e.source);
            for (const std::string& member : e.settings.references("datasets")) collect(member);
        }
    std::erase_if(places, [](double place) { return !std::isfinite(place); });
    std::ranges::sort(places);
    const double length = places.back() - places.front();
    double low = places.front() + 0.4 * length, high = places.front() + 0.6 * length, widest = 0.15 * length;
    // Not before the first or after the last of them.
    for (std::size_t k = 2; k + 1 < places.size(); ++k)
        if (const double own = places[k] - places[k - 1]; own > widest) {
            widest = own;
            low = places[k - 1] + 0.1 * own;
            high = places[k] - 0.1 * own;
        }
    const auto [from, to] = std::minmax({axis.map.value(low), axis.map.value(high)});
    const double step = roundStep(to - from, axis.meaning.isTime);
    return {std::ceil(from / step) * step, std::floor(to / step) * step};
}

Edit breakAxis(FigureId figure, ElementId axis, double from, double to) {
    return edits::arrange(figure, "Break axis", [=](Project&, Figure& f) -> Result<void> {
        Element* e = findElement(f.elements, axis);
        if (!e || e->kind != "axis") return failure("no-axis", "Select an axis to break.");
        Numbers breaks = e->settings.numbers("breaks");
        breaks.push_back(std::min(from, to));
        breaks.push_back(std::max(from, to));
        e->settings.set("breaks", Value(std::move(breaks)));
        return {};
    });
}

} // namespace jointer::figure
