// SPDX-License-Identifier: GPL-3.0-or-later
// Which of several models the same points speak for: criteria and their weights, F or χ² tests where one model holds the
// other, and how well each predicts what it has not seen. Deterministic and thread-safe.
// Sources: K. P. Burnham, D. R. Anderson, Model Selection and Multimodel Inference (2002); D. M. Bates, D. G. Watts,
// Nonlinear Regression Analysis (1988), 3.10; M. Stone, J. R. Statist. Soc. B 36 (1974) 111.
#pragma once

#include "fit/fit.h"

namespace jointer::fit {

// A curve without a formula through the points of one member.
struct FreeForm {
    double dof = 0; // that it takes, as a polynomial would
    std::vector<double> fitted;
    // The curve through other points, at xs; nothing where they are too few.
    std::function<std::optional<std::vector<double>>(const FitMember& through, const std::vector<double>& xs)> predicted;
};

struct Candidate {
    std::string name;
    FitProblem problem;                // all of the same points
    std::optional<FitReport> report{}; // where it is fitted already
    std::optional<FreeForm> free{};    // then the problem says only which points these are
};

enum class LeaveOut { Nothing, Points, Levels }; // levels: all points of one x together

struct CompareOptions {
    FitOptions fit{};
    LeaveOut leaveOut = LeaveOut::Nothing;
    int parts = 10; // into which points or levels are dealt in turn; as many as there are: each for itself
};

struct Compared {
    std::string name;
    std::optional<FitReport> report; // none: it could not be fitted, or is a curve without a formula
    bool free = false;               // that
    std::string why;                 // it could not be fitted
    double k = 0;                    // free parameters, or degrees of freedom
    double rss = NAN, aicc = NAN, bic = NAN, runsP = 1;
    double aiccDifference = 0, weight = 0; // against the lowest; the weights add up to one
    double bicDifference = 0;
    double predictionError = NAN; // root mean weighted square over what was left out; NaN: not asked for, or some failed
};

// The larger model against one that it holds.
struct NestedTest {
    std::size_t simpler = 0, larger = 0; // places among the candidates
    double statistic = 0;                // F, or χ² where uncertainties are absolute
    double dof[2] = {0, 0};              // the second is 0 for χ²
    double p = 1;
};

struct ModelComparison {
    std::vector<Compared> models; // as the candidates
    std::vector<NestedTest> tests;
    bool absolute = false;
    std::size_t n = 0;

    std::optional<std::size_t> best() const; // of the lowest AICc
};

// Of the same points with the same weights: what can be compared.
bool haveSamePoints(const FitProblem& a, const FitProblem& b);

// Errors: "different-points" where the candidates are not of the same points, "no-models" for none.
Result<ModelComparison> compareModels(const std::vector<Candidate>& candidates, const CompareOptions& options = {},
                                      const Cancellation& stop = {});

// One sentence with the verdict, and what speaks against it.
struct Verdict {
    std::string sentence;
    std::vector<std::string> against;
};
Verdict verdictOf(const ModelComparison& comparison);

} // namespace jointer::fit
