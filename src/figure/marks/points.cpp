// SPDX-License-Identifier: GPL-3.0-or-later
// Points, lines, and points with a line.
#include "figure/marks/classes.h"
#include "figure/marks/series.h"

namespace jointer::figure {

namespace {

template <bool symbols, bool line> MarkPtr prepare(const MarkTask& task) {
    auto s = std::make_unique<Series>();
    if constexpr (symbols) {
        s->symbol = SymbolLook(task.look);
        s->errors = ErrorLook(task.look);
    }
    if constexpr (line) s->line = LineLook(task.look);
    prepareSeries(task, *s);
    return s;
}

bool isCrowded(const Curve& curve) {
    return curve.size() > 150;
}

bool inGroups(const Curve& curve) {
    return !curve.xMeaning.categories.empty();
}

} // namespace

MarkKind pointsMark() {
    return {.info = {.key = "points",
                     .name = "Points",
                     .purpose = "A symbol for each point, with its error",
                     .group = "Marks",
                     .settings =
                         together({commonSettings(), symbolSettings(), classSettings(), errorSettings(), datasetSettings()})},
            .prepare = prepare<true, false>,
            .likely = [](const Curve& c) { return inGroups(c)    ? 3
                                                  : isCrowded(c) ? 5
                                                                 : 9; }};
}

MarkKind lineMark() {
    return {
        .info = {.key = "line",
                 .name = "Line",
                 .purpose = "The points joined",
                 .group = "Marks",
                 .settings = together({commonSettings(), lineSettings(), gapSettings(), datasetSettings()})},
        .prepare = prepare<false, true>,
        .likely = [](const Curve& c) { return inGroups(c)    ? 0
                                              : isCrowded(c) ? 9
                                                             : 6; }};
}

MarkKind pointsLineMark() {
    return {.info = {.key = "points-line",
                     .name = "Points with line",
                     .purpose = "Symbols, joined",
                     .group = "Marks",
                     .settings = together({commonSettings(), symbolSettings(), lineSettings(), gapSettings(),
                                           classSettings(), errorSettings(), datasetSettings()})},
            .prepare = prepare<true, true>,
            .likely = [](const Curve& c) { return inGroups(c)    ? 2
                                                  : isCrowded(c) ? 3
                                                                 : 8; }};
}

} // namespace jointer::figure
