// SPDX-License-Identifier: GPL-3.0-or-later
// A fit without one of its points, to be seen beside the whole one.
#pragma once

#include "app/canvas/work_figure.h"

namespace jointer::app {

// Adds its curve, and the numbers that move most as the caption. It is made of a copy of the dataset in which the point is
// left out; the content then shows a project that holds both. `before`: the project without them.
void addWithout(PlotContent& content, const Project& before, const Analysis& analysis, DatasetId dataset, std::uint32_t row);

} // namespace jointer::app
