// SPDX-License-Identifier: GPL-3.0-or-later
// Inside of unknowns: intervals by fitting again what the standards could as well have been.
#pragma once

#include "analyses/unknowns/standard_curve.h"

namespace jointer::analyses {

// Each repetition draws the residuals of the standards anew, fits, adds to the mean reading of every sample
// an error of the scatter at its place, and reads it. Sets `low` and `high` of samples in range, as
// percentiles widened for few standards; open where too many of the curves do not reach the reading.
// `variances`: of a single reading, by sample; `inversion`: of the curve itself. Stopped, intervals stay as
// they were. Errors: "no-model" for a curve that is no fit of a model, "bootstrap" where hardly any could be
// fitted. Source: B. Efron, R. J. Tibshirani, An Introduction to the Bootstrap (1993), ch. 9; T. C.
// Hesterberg, Am. Stat. 69 (2015) 371.
Result<void> takeRepeatedIntervals(const StandardCurve& curve, const fit::Inversion& inversion,
                                   std::vector<Sample>& samples, const std::vector<double>& variances,
                                   const Cancellation& stop);

} // namespace jointer::analyses
