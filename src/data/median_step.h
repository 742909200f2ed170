// SPDX-License-Identifier: GPL-3.0-or-later
// How far apart the points of a curve usually are.
#pragma once

#include <cstddef>
#include <limits>
#include <vector>

namespace jointer {

// The median distance of neighbours in ascending x, equal ones apart; 0 where all are equal. Of more than `most` steps
// only every so manieth is looked at.
double medianStep(const std::vector<double>& x, std::size_t most = std::numeric_limits<std::size_t>::max());

} // namespace jointer
