// SPDX-License-Identifier: GPL-3.0-or-later
// Intervals by the profile of the residual sum: the values of a quantity at which the best fit that has this
// value is worse by what chance allows. They are as asymmetric as the model is.
// Source: D. M. Bates, D. G. Watts, Nonlinear Regression Analysis (1988), section 6.1.
#pragma once

#include "fit/fit.h"

namespace jointer::fit {

// How the residual sum grows as one quantity is moved and everything else follows.
struct ProfileCurve {
    std::string name;
    std::size_t member = 0;
    std::vector<double> values, rss; // in order of the values
};

struct Profiled {
    std::vector<ProfileCurve> curves; // of all free parameters and derived numbers, where asked for
    std::vector<Issue> warnings;
};

// Replaces the intervals of free parameters and derived numbers: from RSSmin to RSSmin·(1 + F(level; 1,
// dof)/dof), with absolute errors χ² + z². An end beyond which the sum never grows so far is infinite; one at
// a limit of the parameter is the limit. Requires: the report is that of the problem, converged.
Profiled profile(const FitProblem& problem, FitReport& report, bool curves = false,
                 const Cancellation& stop = {});

} // namespace jointer::fit
