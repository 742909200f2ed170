// SPDX-License-Identifier: GPL-3.0-or-later
// From the tangents at the solution to standard errors, intervals, correlations and derived quantities.
#pragma once

#include "fit/attempt.h"

namespace jointer::fit {

// The directions along which, after scaling, the model does not change within rounding. Columns on a limit
// are left out. Shape: free parameters × as many directions as the rank lacks.
Eigen::MatrixXd undeterminedDirections(const Eigen::MatrixXd& jacobian,
                                       const std::vector<std::uint8_t>& leftOut);

// Fills parameters, derived quantities, correlation and covariance root of the report.
// Requires: state, rss, residualSd, dof, level, absolute of the report.
void infer(const Fitter& fitter, const Attempt& attempt, FitReport& report);

} // namespace jointer::fit
