// SPDX-License-Identifier: GPL-3.0-or-later
// A dataset that is no curve on a plot, as its first figure would show it: a map, contours, a diagram of
// waters.
#pragma once

#include "app/canvas/work_figure.h"
#include "figure/first_figure.h"

namespace jointer::app {

// With the coordinates that it needs; datasets without marks of their own leave the content as it is. Takes
// time.
inline void takeOwnMarks(PlotContent& c, DatasetId dataset) {
    auto own = figure::ownMarks(c.project, dataset, *c.evaluator);
    if (own.empty()) return;
    c.coordinates = figure::coordinatesFor(c.project, own.front());
    c.marks = std::move(own);
}

} // namespace jointer::app
