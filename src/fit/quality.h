// SPDX-License-Identifier: GPL-3.0-or-later
// How good a fit is: sums of squares, criteria, shared against separate, and warnings in words.
#pragma once

#include "fit/search.h"

namespace jointer::fit {

// Weighted squares about the mean of each member, or about zero.
double weightedTotal(const FitProblem& problem, bool aboutZero);

// Requires: n, rss and the residuals of the report.
void addQuality(FitReport& report, const Fitter& fitter, Eigen::Index rankLacks);
void addComparison(FitReport& report, const Separate& separate);
// Parameters that have run away together: each is nothing beside its error, and they cannot be told apart.
// The fit is then not determined. Requires: inference.
void markRunaways(FitReport& report, bool isLinear);
void addWarnings(FitReport& report, const FitProblem& problem, bool isLinear);
// Fewer changes of sign than in random residuals; more of them are no sign of too simple a model.
bool hasFewRuns(const std::vector<double>& residuals);
// What a small probability of the runs test says.
std::string notRandomText(double runsP);

} // namespace jointer::fit
