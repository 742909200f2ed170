// SPDX-License-Identifier: GPL-3.0-or-later
// Where a fit begins and begins again: start values, restarts by rule when an attempt ends badly, and several
// members first each for itself. Deterministic.
#pragma once

#include "fit/attempt.h"

namespace jointer::fit {

// Several members fitted each for itself.
struct Separate {
    double rss = 0;
    Eigen::Index parameters = 0; // free and determined
    std::vector<double> values;  // of all parameters of all members
};

struct Search {
    Attempt best;
    int restarts = 0;
    std::optional<Separate> separate; // where parameters are shared
    std::vector<Stage> stages;
    std::vector<End> ends;
};

Search sought(const Fitter& fitter, const FitOptions& options, const Cancellation& stop);

} // namespace jointer::fit
