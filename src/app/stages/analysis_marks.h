// SPDX-License-Identifier: GPL-3.0-or-later
// The marks of the main plot of Analyse: the points, the open analysis strong with its parts and members, the
// others of the dataset thin.
#pragma once

#include "app/canvas/work_figure.h"

class QColor;

namespace jointer::app {

// It has one curve for a dataset, with residuals.
bool isFitted(const Analysis& a);

// How the analysis takes a dataset; as it is where it does not.
AnalysisInput inputOf(const Analysis& a, DatasetId dataset);

// `a`: the open analysis, or none; `peak`: the selected one of its peaks; `stressed`: of its samples.
std::vector<Element> mainMarks(const Project& project, const Dataset& d, const Analysis* a, int peak,
                               const std::string& stressed);

// A colour thinned towards the ground, the more the larger the number.
Value tint(const QColor& colour, int number);

// A crowd of points would hide a curve that is fitted to them in their own colour.
void standOut(PlotContent& c, const Value& ink);

} // namespace jointer::app
