// SPDX-License-Identifier: GPL-3.0-or-later
// How good a fit is: sums of squares, criteria, shared against separate, and warnings in words.
#pragma once

#include "fit/search.h"

namespace jointer::fit {

// Weighted squares about the mean of each member, or about zero.
double weightedTotal(const FitProblem& problem, bool aboutZero);

// AICc and BIC of n points with so many free parameters (of a curve without a formula its degrees of freedom); the scatter
// is one more unless uncertainties are absolute. NaN: too few points.
struct Criteria {
    double aicc, bic;
};
Criteria criteriaOf(double rss, double free, std::size_t n, bool absolute);

// Requires: n, rss and the residuals of the report.
void addQuality(FitReport& report, const Fitter& fitter, Eigen::Index rankLacks);
void addComparison(FitReport& report, const Separate& separate);
// What it says, in a sentence; empty: nothing is shared.
std::string sharingText(const FitReport& report);
// Parameters that have run away together: each is nothing beside its error, and they cannot be told apart.
// The fit is then not determined. Requires: inference.
void markRunaways(FitReport& report, bool isLinear);
void addWarnings(FitReport& report, const FitProblem& problem, bool isLinear);
// What a small probability of the runs test says.
std::string notRandomText(double runsP);

} // namespace jointer::fit
