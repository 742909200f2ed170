// SPDX-License-Identifier: GPL-3.0-or-later
// Fits that would serve: the models of the library tried on one dataset and ranked by evidence.
#pragma once

#include "analyses/analysis.h"

namespace jointer::analyses {

struct Serving {
    std::string key;
    double aiccDifference = 0;      // to the best
    std::vector<double> parameters; // reached, for its picture
};

// Quick fits of all models of one predictor to a part of the points, without restarts: those that converge,
// best first. Not for results, but for a choice. Cost: about a second; stoppable.
std::vector<Serving> fitsThatServe(const Curve& curve, const Span& span, const Cancellation& stop);

} // namespace jointer::analyses
