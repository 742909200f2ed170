// SPDX-License-Identifier: GPL-3.0-or-later
// What steps show beside their result, and the frequencies that a curve holds.
#include "figure/marks/series.h"
#include "figure/marks/sources.h"

namespace jointer::figure {

namespace {

constexpr double kTakenPt = 3.5; // symbols of points that a step took away

MarkPtr layerOf(const MarkTask& task, const std::string& layer) {
    auto s = std::make_unique<Series>();
    s->line = LineLook(task.look);
    FoundCurve found;
    s->curve = curveOfStep(task, layer, found, s->issues);
    takeFrom(found, task, *s);
    // Single points that a step took away: no line joins them.
    if (layer != "taken" || !s->curve || 2 * s->curve->size() >= found.measuredPoints) return s;
    s->symbol = SymbolLook();
    s->symbol->sizeMm = kTakenPt * draw::kMmPerPt;
    s->line.reset();
    return s;
}

MarkPtr prepareSpectrum(const MarkTask& task) {
    auto s = std::make_unique<Series>();
    s->line = LineLook(task.look);
    const auto id = DatasetId::fromText(task.source);
    FoundCurve found{.dataset = task.project.datasets.find(id)};
    if (found.dataset) {
        const auto protocol = task.evaluator.protocol(task.project, id);
        found.curve = task.evaluator.spectrum(protocol.at(CurvePoint::fromText(task.look.text("point"))));
    } else
        s->issues.push_back({"source-gone", "A mark on the figure has lost its dataset.", {}});
    s->curve = found.curve;
    takeFrom(found, task, *s);
    return s;
}

std::vector<Setting> layerSettings() {
    return together(
        {commonSettings(),
         lineSettings(),
         {describe::word("step", "Step",
                         "Id of the step; empty takes the last one that has something to show.",
                         {.group = kShownGroup, .whenEmpty = "automatic"}),
          describe::number("offset", "Offset", 0, "By how much the curve is moved up.",
                           {.unit = "y", .lowest = -1e300, .highest = 1e300, .group = kPlaceGroup})}});
}

} // namespace

MarkKind baselineMark() {
    return {.info = {.key = "baseline",
                     .name = "Baseline",
                     .purpose = "The baseline of a step, before it was taken off",
                     .group = "Marks",
                     .settings = layerSettings()},
            .prepare = [](const MarkTask& task) { return layerOf(task, "baseline"); }};
}

MarkKind takenMark() {
    return {.info = {.key = "taken",
                     .name = "Taken away",
                     .purpose = "What a step took away",
                     .group = "Marks",
                     .settings = layerSettings()},
            .prepare = [](const MarkTask& task) { return layerOf(task, "taken"); }};
}

MarkKind spectrumMark() {
    return {.info = {.key = "spectrum",
                     .name = "Frequencies",
                     .purpose = "Amplitude over the frequencies that a curve holds",
                     .group = "Marks",
                     .settings = together({commonSettings(), lineSettings(), datasetSettings()})},
            .prepare = prepareSpectrum};
}

} // namespace jointer::figure
