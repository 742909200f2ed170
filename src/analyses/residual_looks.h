// SPDX-License-Identifier: GPL-3.0-or-later
// Inside of fits as analyses: residuals over what may show what a fit misses, what they tell in words and numbers, and what
// each point weighs.
#pragma once

#include "analyses/fit_analysis.h"

namespace jointer::analyses {

// What residuals in standard deviations over x are called among those over other things.
inline constexpr const char* kInSigma = "x in σ";

constexpr std::size_t kMostLookedAt = 5000; // points: beyond, nobody looks at each

// One value for each observation of a member, at its first predictor, with the rows that they are of (not of replicates).
std::shared_ptr<Curve> pointsOf(const FitTaken& taken, std::size_t member, const std::vector<double>& values);

// Adds curves "residuals-over", numbers of tests, warnings, and what the fit could not show. `common`: what curves of each
// member have alike. Nothing beyond so many points.
void addResidualLooks(const FitDetail& detail, const std::vector<NamedCurve>& common, AnalysisResult& out);

} // namespace jointer::analyses
