// SPDX-License-Identifier: GPL-3.0-or-later
// What the plot of Analyse shows of samples on a standard curve and of groups that are compared.
#pragma once

#include "app/canvas/work_figure.h"

namespace jointer::app {

bool readsSamples(const Analysis& a);

// The standard curve with the readings of the samples, one of them stressed.
void addReadings(const Analysis& a, const Dataset& d, const std::string& stressed,
                 std::vector<Element>& marks);

// Values of groups: each as a point, and how they spread.
std::vector<Element> groupMarks(const Dataset& d);

// A bracket over each pair that was compared: the difference with its interval where few are, and p.
void addBrackets(PlotContent& c, const Analysis& a, const Dataset& d);

} // namespace jointer::app
