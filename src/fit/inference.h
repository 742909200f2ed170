// SPDX-License-Identifier: GPL-3.0-or-later
// From the tangents at the solution to standard errors, intervals and derived quantities.
#pragma once

#include "fit/attempt.h"

namespace jointer::fit {

// The directions along which, after scaling, the model does not change within rounding. Columns on a limit
// are left out. Shape: free parameters × as many directions as the rank lacks.
Eigen::MatrixXd undeterminedDirections(const FreeLayout& layout, const Matrices& jacobian,
                                       const std::vector<std::uint8_t>& leftOut);

// Fills parameters, derived quantities and covariance roots of all members of the report.
// Requires: state, rss, residualSd, dof, level, absolute of the report.
void infer(const Fitter& fitter, const Attempt& attempt, FitReport& report);

// Other roots of the covariance of the free parameters: intervals and derived quantities follow.
// Shape: free parameters × directions, common to all members.
void replaceRoots(const Fitter& fitter, const Attempt& attempt, const Eigen::MatrixXd& root,
                  FitReport& report);

// The numbers that the model of a member and the problem derive, and the formula of one over the parameters.
// Requires: the formula is one that prepare() has taken.
std::vector<models::DerivedInfo> derivedOf(const FitProblem& problem, std::size_t member);
const formula::Program* derivedProgram(const std::string& text, const std::vector<std::string>& names);

// The values alone, without errors.
void fillValues(const Fitter& fitter, const Attempt& attempt, FitReport& report);

} // namespace jointer::fit
