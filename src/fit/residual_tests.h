// SPDX-License-Identifier: GPL-3.0-or-later
// What residuals tell of a fit: whether neighbours go together, whether the scatter changes with the level, whether it is
// normal, and whether replicates scatter less than the curve misses them.
#pragma once

#include "fit/influence.h"

namespace jointer::fit {

std::vector<double> residualsOf(const FitReport& report); // of all members, one after another

// Of Wald and Wolfowitz about zero, by the normal approximation.
struct RunsTest {
    double p = 1;     // two-sided
    bool few = false; // fewer changes of sign than in random residuals; more of them are no sign of too simple a model
};
RunsTest runsTest(const std::vector<double>& residuals);

// Whether squares of standardised residuals go with the fitted value, member by member.
// Source: R. Koenker, J. Econometrics 17 (1981) 107.
struct ScatterTest {
    double p = 1;       // against a scatter that is the same everywhere
    bool grows = false; // else it shrinks
};

// Squares of replicates about their own means against those of the means about the curve; with absolute uncertainties the
// latter alone, by χ². Source: N. R. Draper, H. Smith, Applied Regression Analysis (1998), 2.1.
struct LackOfFit {
    double statistic = 0;   // F, or χ²
    double dof[2] = {0, 0}; // the second is 0 for χ²
    double p = 1;
    double pureSd = 0; // of replicates about their means
};

// W′ of Shapiro and Francia and its probability in normal samples; NaN for fewer than 5 values or more than 5000.
// Source: P. Royston, The Statistician 42 (1993) 37.
double normalityProbability(const std::vector<double>& values);

struct ResidualTests {
    RunsTest runs;
    std::optional<ScatterTest> scatter;  // none: fewer than 12 points, or fitted values that are all alike
    std::optional<LackOfFit> lackOfFit; // none: no replicates, or a fit for which it is not defined
    double normalP = NAN;
};

// `influences`: of all members. Requires: a report with its inference.
ResidualTests residualTests(const FitProblem& problem, const FitReport& report, const std::vector<Influence>& influences);

// Those that endanger numbers, as warnings: "uneven-scatter", "lack-of-fit".
std::vector<Issue> doubtsOf(const ResidualTests& tests, const FitProblem& problem);

// What the fit could not show, in one sentence: numbers that may as well be zero or anything, and departures from the curve
// that it cannot tell from scatter. Empty: nothing of that kind.
std::string notShown(const FitProblem& problem, const FitReport& report, const ResidualTests& tests);

} // namespace jointer::fit
