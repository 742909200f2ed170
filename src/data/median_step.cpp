// SPDX-License-Identifier: GPL-3.0-or-later
#include "data/median_step.h"

#include <algorithm>
#include <iterator>

namespace jointer {

double medianStep(const std::vector<double>& x, std::size_t most) {
    std::vector<double> steps;
    const std::size_t stride = std::max<std::size_t>(1, x.size() / most);
    for (std::size_t i = 1; i < x.size(); i += stride)
        if (x[i] > x[i - 1]) steps.push_back(x[i] - x[i - 1]);
    if (steps.empty()) return 0;
    std::ranges::nth_element(steps, steps.begin() + std::ssize(steps) / 2);
    return steps[steps.size() / 2];
}

} // namespace jointer
