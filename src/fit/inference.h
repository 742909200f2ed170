// SPDX-License-Identifier: GPL-3.0-or-later
// From the tangents at the solution to standard errors, intervals and derived quantities.
#pragma once

#include "fit/attempt.h"
#include "fit/curve_numbers.h"

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

// A number that the model of a member or the problem derives.
struct DerivedNumber {
    models::DerivedInfo info;
    const FollowingFormula* formula = nullptr; // none: the model computes it
    AskedCurve curve;
    std::size_t which = 0; // of those of the model

    // Shape: both have an entry for each parameter of the member.
    double value(std::span<const double> parameters, std::span<double> gradient) const;
};
// Requires: the problem is one that prepare() has taken.
std::vector<DerivedNumber> derivedOf(const FitProblem& problem, std::size_t member);

// The values alone, without errors.
void fillValues(const Fitter& fitter, const Attempt& attempt, FitReport& report);

} // namespace jointer::fit
