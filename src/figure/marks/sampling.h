// SPDX-License-Identifier: GPL-3.0-or-later
// Where a curve that can be asked anywhere is asked to be drawn: evenly on the axis, and more closely where it
// turns within little, such as at a narrow peak of a wide pattern.
#pragma once

#include <functional>
#include <span>
#include <vector>

namespace jointer::figure {

struct Sampling {
    std::vector<double> xs, ys; // ascending x
};

using AskedAt = std::function<std::vector<double>(const std::vector<double>& xs)>;

constexpr int kEvenPlaces = 600;

// Straight pieces between the places miss the curve by less than a thousandth of its range, as far as it shows at
// the even places or at the seeds, of which some thousand are asked: such as the points that were measured. Both
// ascend. Empty unless there are two even places.
Sampling sampledWell(const AskedAt& curve, std::vector<double> even, std::span<const double> seeds);

// Ascending, each once.
std::vector<double> unitedPlaces(const std::vector<double>& a, const std::vector<double>& b);

} // namespace jointer::figure
