// SPDX-License-Identifier: GPL-3.0-or-later
// Lines of equal height in a field, and the areas above a height. Between nodes z is taken as linear along
// the sides of cells; where a cell is a saddle its middle decides, so that lines of different levels never
// cross. Thread-safe.
#pragma once

#include "fields/field.h"

namespace jointer::fields {

struct ContourLine {
    std::vector<Place> points; // higher ground lies at the left
    bool closed = false;
};

// For each level the lines at it. A cell with a missing corner has none. Cost: linear in cells that a level
// passes.
std::vector<std::vector<ContourLine>> contourLines(const Field& field, const std::vector<double>& levels);

// For each level the closed borders of where z is at least so high, holes turned the other way round; filled
// upon each other in ascending order they leave no seams. −∞: of all that is there.
std::vector<std::vector<ContourLine>> regionsAbove(const Field& field, const std::vector<double>& levels);

// Levels: so many at round values, so far apart, or as listed; ascending, within the range.
std::vector<double> levelsFor(double low, double high, int count, double distance,
                              const std::vector<double>& listed);

} // namespace jointer::fields
