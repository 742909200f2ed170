// SPDX-License-Identifier: GPL-3.0-or-later
// Whether a parameter is the same in several datasets: differences with intervals and p, corrected for their number.
// Sources: B. L. Welch, Biometrika 34 (1947) 28, for fits of their own scatter; S. Holm, Scand. J. Stat. 6 (1979) 65.
#pragma once

#include "fit/fit.h"

namespace jointer::fit {

// One value of a parameter, of a member of a fit.
struct Estimate {
    std::string of; // whose
    double value = 0;
    const FitReport* report = nullptr;
    Eigen::RowVectorXd root{}; // its row: the covariance with another of the same fit is that of the common directions
    Eigen::Index own = 0;
};

struct Difference {
    std::string parameter, first, second; // first less second
    double value = 0, se = NAN, low = NAN, high = NAN;
    double dof = 0;
    double p = NAN;         // of no difference, two-sided
    double corrected = NAN; // the same after Holm, over all differences of the parameter
};

// All free, determined values of a parameter in the members of a report; shared ones once. Requires: inference.
std::vector<Estimate> estimatesOf(const FitReport& report, const std::string& parameter);

// Of all pairs, in order. Level: of the intervals.
std::vector<Difference> differencesOf(const std::string& parameter, const std::vector<Estimate>& estimates, double level);

// Of every parameter that is free in each member, within one report.
std::vector<Difference> differencesOf(const FitReport& report);

// Whether one value of a parameter would do for all members while the others stay each for itself, and whether one curve
// would do for all: against a fit in which nothing is shared, by F, or by χ² with absolute uncertainties (D. M. Bates,
// D. G. Watts, Nonlinear Regression Analysis (1988), 3.11). Of lines: are slopes equal, are lines one.
struct Equality {
    std::string parameter; // empty: the whole curve
    Comparison test;
};
// Empty for a single member, or models that differ. Ties and fixed parameters stay as they are.
std::vector<Equality> equalitiesOf(const FitProblem& problem, const FitOptions& options = {},
                                   const Cancellation& stop = {});

} // namespace jointer::fit
