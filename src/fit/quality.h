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
void addWarnings(FitReport& report, bool isLinear);

} // namespace jointer::fit
