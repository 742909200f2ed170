// SPDX-License-Identifier: GPL-3.0-or-later
// Small pieces of which the plots of a work stage are made.
#pragma once

#include "app/canvas/work_figure.h"

class QColor;

namespace jointer::app {

Element mark(const char* kind, const std::string& source,
             std::initializer_list<std::pair<const char*, Value>> settings);
Value str(const QColor& colour);

// What a mark of a curve below the plot has: `settings` and the dataset that it is of.
Element stripMark(const char* kind, const Analysis& analysis, DatasetId dataset,
                  std::initializer_list<std::pair<const char*, Value>> settings);
void giveOwnX(PlotContent& strip); // it is over another quantity than the plot

// Whether the curve of an analysis goes over decades.
bool isOfScattering(const Analysis& analysis);

// Plot and strip share one range of x.
void chooseRange(PlotContent& content, const Curve& measured);
// Few points are drawn larger: there is room, and they are aimed at.
void chooseSizes(PlotContent& content, std::size_t points);

} // namespace jointer::app
