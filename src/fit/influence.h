// SPDX-License-Identifier: GPL-3.0-or-later
// What each observation weighs in a fit, by the tangents at the solution.
// Source: R. D. Cook, S. Weisberg, Residuals and Influence in Regression (1982); of curved models W. Ross, Can. J. Stat.
// 15 (1987) 91. Exact for models that are linear in their parameters.
#pragma once

#include "fit/fit.h"

namespace jointer::fit {

// Of one member; shape: an entry for each of its observations.
struct Influence {
    std::vector<double> leverage;     // the part of the fitted value that is the observation's own: 0 … 1
    std::vector<double> standardised; // residuals over their own standard errors
    std::vector<double> distance;     // of Cook: how far all parameters move without it, in units of their errors squared
    Eigen::MatrixXd shift;            // parameters × observations: by how much each moves when it is left out
};

// Requires: a report with its inference (roots); empty without.
Influence influenceOf(const FitProblem& problem, const FitReport& report, std::size_t member = 0);
std::vector<Influence> influencesOf(const FitProblem& problem, const FitReport& report); // of all members

// The one point that alone decides a number, in words: which, and what the number would be without it. None: there is no
// such point, or so few that each decides much. `placeText`: how an x is told (empty: as a number).
std::optional<Issue> decidingPoint(const FitProblem& problem, const FitReport& report, const Influence& influence,
                                   std::size_t member = 0, const std::function<std::string(double)>& placeText = {});

// Quantiles of the normal distribution at which n ordered values are to be expected: Φ⁻¹((i − 3/8)/(n + 1/4)).
// Source: G. Blom, Statistical Estimates and Transformed Beta-Variables (1958). Shape: as the values, in their order.
std::vector<double> normalScores(const std::vector<double>& values);

} // namespace jointer::fit
