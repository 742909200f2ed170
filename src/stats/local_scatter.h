// SPDX-License-Identifier: GPL-3.0-or-later
// The scatter of points about a local smooth curve, where nothing else tells their uncertainties.
#pragma once

#include <span>
#include <vector>

namespace jointer::stats {

// For each point the standard deviation of single values about straight lines between their neighbours, as
// the root mean square over `window` points around it; of ratios where all values there are above zero. What
// bends between neighbours counts as scatter. NaN: the value is no number. Empty: fewer than 5 points.
// Requires: x ascending.
std::vector<double> localScatter(std::span<const double> x, std::span<const double> y,
                                 std::size_t window = 15);

} // namespace jointer::stats
