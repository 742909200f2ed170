// SPDX-License-Identifier: GPL-3.0-or-later
// Which curves would serve for standards: each level is left out in turn and read back on the curve of the
// others.
#pragma once

#include "analyses/fit_analysis.h"

namespace jointer::analyses {

struct ServingCurve {
    std::string key, name;        // of the model
    double typical = NAN;         // root mean square of how far levels come back, per cent of x
    double worst = NAN;           // the farthest, per cent
    double worstAt = NAN;         // the level
    std::size_t read = 0, of = 0; // levels that came back, of all that were left out
};

// Over straight line, polynomials and logistic curves of as many parameters as the levels allow, the best
// first: those that read most levels, then by `typical`. The first and the last level stay, since nothing is
// read beyond; a level at nought counts by its distance over the lowest other one. Cost: some fits for each
// level.
std::vector<ServingCurve> servingCurves(const FitTaken& taken, const Cancellation& stop = {});

} // namespace jointer::analyses
