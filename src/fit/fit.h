// SPDX-License-Identifier: GPL-3.0-or-later
// Fitting a model to points: problem in, report out. What did not converge is a report too, with its state
// and warnings in words; only a problem that makes no sense is an error. Deterministic and thread-safe.
// Example: `auto r = fit({.model = *makeModel("line", {}), .predictors = {x}, .y = y}, {});`
#pragma once

#include "base/parallel.h"
#include "fit/parameters.h"
#include "models/model.h"

namespace jointer::fit {

struct FitProblem {
    models::ModelPtr model;
    std::vector<std::vector<double>> predictors; // k columns of n values
    std::vector<double> y;
    std::vector<double> sigma; // standard uncertainties or relative weights 1/σ²; empty: all alike
    bool absolute = false;     // sigma are absolute: errors are not scaled by the scatter of the residuals
    std::vector<ParameterSpec> parameters; // by name; parameters not named are free
};

struct FitOptions {
    double level = 0.95; // of intervals
    int maxIterations = 500;
    bool restarts = true;     // from other start values when the first attempt ends badly
    bool provisional = false; // few iterations, no restarts, no inference: for pictures while dragging
};

enum class FitState { Converged, OnLimit, Undetermined, NotConverged, Stopped };
std::string_view stateKey(FitState state);   // "on-limit"
FitState stateFromKey(std::string_view key); // anything else is not converged
std::string_view stateText(FitState state);  // "on a limit"

struct ParameterResult {
    std::string name;
    double value = 0;
    double se = 0;            // NaN: not known
    double low = 0, high = 0; // interval at the level
    Treatment treatment = Treatment::Free;
    bool atLimit = false;
    bool determined = true;
};

struct DerivedResult {
    std::string name, unit;
    double value = 0, se = 0;
};

struct FitReport {
    FitState state = FitState::NotConverged;
    bool provisional = false; // without inference
    int iterations = 0;
    int restarts = 0;
    std::size_t n = 0;
    long dof = 0;
    std::vector<ParameterResult> parameters;
    std::vector<DerivedResult> derived;
    std::vector<double> starts; // where the successful attempt began
    double rss = 0;             // weighted
    double residualSd = 0;
    std::optional<double> chi2, reducedChi2; // only with absolute uncertainties
    double r2 = 0, adjustedR2 = 0, aicc = 0, bic = 0;
    bool r2AboutZero = false; // a linear model without a constant
    double runsP = 1;         // probability of so few or many runs in random residuals
    double level = 0.95;
    bool absolute = false;
    double typicalVariance = 0;  // of one more observation, for prediction intervals
    Eigen::MatrixXd correlation; // of the free parameters, in their order
    Eigen::MatrixXd root;        // parameters × free: covariance = root·rootᵀ, scaled as the errors are
    Eigen::MatrixXd unseen; // parameters × directions along which the model does not change; empty: none
    std::vector<double> fitted, residuals; // unweighted, one for each observation
    std::vector<Issue> warnings;

    std::vector<double> values() const;
};

// Errors: sizes that do not match, unknown parameter names, ties that cannot be used, no points.
Result<FitReport> fit(const FitProblem& problem, const FitOptions& options = {},
                      const Cancellation& stop = {});

// The curve with its bands. Shape: as xs[0]. Intervals are half widths at the report's level.
struct Prediction {
    std::vector<double> y, confidence, prediction;
};
Prediction predict(const models::Model& model, const FitReport& report, models::Predictors xs);

// Student's t for a two-sided interval of the level; infinite dof (absolute errors) gives the normal value.
double tQuantile(double level, double dof);

// Two-sided probability of the runs test of Wald and Wolfowitz about zero, normal approximation.
double runsProbability(const std::vector<double>& residuals);

} // namespace jointer::fit
