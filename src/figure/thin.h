// SPDX-License-Identifier: GPL-3.0-or-later
// Thinning of dense curves and clouds to a resolution, without a visible difference.
#pragma once

#include "draw/geometry.h"

#include <vector>

namespace jointer::figure {

// Of a polyline with ascending x at most four points for each column of the given width: first, lowest,
// highest, last. Lines with few points for their length stay as they are.
std::vector<draw::Point> thinnedLine(std::vector<draw::Point> points, double columnMm);

// Of a cloud one point for each cell of the given size.
std::vector<draw::Point> thinnedCloud(std::vector<draw::Point> points, double cellMm);

} // namespace jointer::figure
