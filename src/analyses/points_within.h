// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "analyses/analysis.h"

namespace jointer::analyses {

// The curve with only the points of the span: of several pieces, and of what lies outside. The curve itself
// where all are meant.
inline std::shared_ptr<const Curve> pointsWithin(const TaskInput& input) {
    if (input.spec.span.isAll()) return input.curve;
    std::vector<std::uint8_t> keep;
    for (double x : input.curve->x) keep.push_back(input.spec.span.takes(x));
    return std::make_shared<const Curve>(selected(*input.curve, keep));
}

} // namespace jointer::analyses
