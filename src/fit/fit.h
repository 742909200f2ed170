// SPDX-License-Identifier: GPL-3.0-or-later
// Fitting a model to the points of one or more members: problem in, report out. What did not converge is a
// report too, with its state and warnings in words; only a problem that makes no sense is an error.
// Deterministic and thread-safe.
// Example: `auto r = fit({.members = {{.model = *makeModel("line", {}), .predictors = {x}, .y = y}}}, {});`
#pragma once

#include "base/parallel.h"
#include "fit/parameters.h"
#include "models/model.h"

namespace jointer::fit {

// How the variance of one more observation goes: as the uncertainties of the points near it, or as a rule
// says.
enum class Scatter { ByPoint, Level, LevelSquared };

// One set of points. The models of all members have the same parameters.
struct FitMember {
    std::string name{}; // as messages call it; may be empty where there is one
    models::ModelPtr model{};
    std::vector<std::vector<double>> predictors{}; // k columns of n values
    std::vector<double> y{};
    std::vector<double> sigma{};  // standard uncertainties or relative weights 1/σ²; empty: all alike
    std::vector<double> sigmaX{}; // of the first predictor: orthogonal distances; empty: it is exact
    Scatter scatter = Scatter::ByPoint;
    std::vector<ParameterSpec> parameters{}; // what differs here from those of the problem

    double weight(std::size_t i) const { return sigma.empty() ? 1 : 1 / (sigma[i] * sigma[i]); }
};

// How residuals count: by their squares, or less the farther they lie (u = residual over scale).
enum class Loss { Squares, Huber, Cauchy, Bisquare };
std::string_view lossKey(Loss loss);

struct FitProblem {
    std::vector<FitMember> members;
    bool absolute = false; // sigma are absolute: errors are not scaled by the scatter of the residuals
    std::vector<ParameterSpec> parameters{}; // by name; parameters not named are free
    Loss loss = Loss::Squares;
    // Numbers wanted beside those that the model derives: formulas over the parameters and the curve
    // (curve_numbers.h).
    std::vector<models::DerivedInfo> derive{};
    // Steps of release: the parameters that are let free in each, with those of the steps before. At the end
    // all are, that are not fixed or tied. Empty: all at once.
    std::vector<std::vector<std::string>> schedule{};

    std::size_t observationCount() const;
};

struct FitOptions {
    double level = 0.95; // of intervals
    int maxIterations = 500;
    bool restarts = true;     // from other start values when the first attempt ends badly
    int starts = 1;           // from how many start values it is tried in any case
    std::uint64_t seed = 1;   // of the further ones
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
    double low = 0, high = 0; // interval at the level; infinite: open on that side
    Treatment treatment = Treatment::Free;
    bool shared = false; // one value for several members
    bool atLimit = false;
    bool determined = true;
};

struct DerivedResult {
    std::string name, unit;
    double value = 0, se = 0;
    double low = 0, high = 0;
    std::vector<double> gradient; // over the parameters of the member
    bool shared = false;          // of parameters that several members share: the same in all of them
};

struct MemberReport {
    std::string name;
    std::size_t n = 0;
    double rss = 0; // weighted
    double r2 = 0;
    std::vector<ParameterResult> parameters;
    std::vector<DerivedResult> derived;
    std::vector<double> starts; // where the successful attempt began
    // parameters × directions: covariance = root·rootᵀ, scaled as the errors are. The first `own` directions
    // are the member's, the others are common to all members.
    Eigen::MatrixXd root;
    Eigen::Index own = 0;
    Eigen::MatrixXd unseen; // parameters × directions along which the model does not change; empty: none
    std::vector<double> fitted, residuals; // unweighted, one for each observation
    std::vector<double> apart;             // all parameters of a fit of this member for itself, where some are shared
    std::vector<double> counts;            // under a robust loss, how much each observation counts: 0 … 1

    std::vector<double> values() const;
};

// Where fits from several start values ended.
struct End {
    FitState state = FitState::NotConverged;
    double rss = 0;
    int count = 0;              // of the starts that came there
    std::vector<double> values; // of all parameters of all members, of the first that came there
};

// One step of release.
struct Stage {
    std::vector<std::string> released;
    FitState state = FitState::NotConverged;
    double rss = 0;
    int iterations = 0;
};

// One value for all members against one for each. With absolute uncertainties by χ²: the second dof is 0.
struct Comparison {
    double f = 0, dof[2] = {0, 0}, p = 1;
    double aiccDifference = 0; // shared less separate: negative speaks for sharing
};

struct FitReport {
    FitState state = FitState::NotConverged;
    bool provisional = false; // without inference
    int iterations = 0;
    int restarts = 0;
    std::size_t n = 0;
    long dof = 0;
    std::vector<MemberReport> members;
    double rss = 0; // weighted
    double residualSd = 0;
    std::optional<double> chi2, reducedChi2; // only with absolute uncertainties
    double r2 = 0, adjustedR2 = 0, aicc = 0, bic = 0;
    bool r2AboutZero = false; // a linear model without a constant
    double runsP = 1;         // probability of so few or many runs in random residuals
    double level = 0.95;
    bool absolute = false;
    double scale = 0; // of the residuals, under a robust loss
    std::optional<Comparison> comparison;
    std::vector<Stage> stages; // of a schedule
    std::vector<End> ends;     // of several starts, the best first
    std::vector<Issue> warnings;

    std::vector<double> values() const; // of all members, one after the other
    const MemberReport& one() const { return members.front(); }
    MemberReport& one() { return members.front(); }
};

// Errors: sizes that do not match, unknown parameter names, ties and formulas that cannot be used, no points.
Result<FitReport> fit(const FitProblem& problem, const FitOptions& options = {},
                      const Cancellation& stop = {});

// Where one attempt from the start values comes to, without inference: the parameters of all members. Errors:
// as above.
Result<std::vector<double>> attempted(const FitProblem& problem, const FitOptions& options = {},
                                      const Cancellation& stop = {});

// One parameter among those of all members; of a shared one any member will do.
struct ParameterPlace {
    std::size_t member = 0;
    std::string name;
};

// Correlation of the free parameters of a report, those of each member and then the shared ones; NaN where
// not determined. Names are "k", or "k of y1" where they belong to one of several members.
struct Correlation {
    std::vector<std::string> names;
    std::vector<ParameterPlace> places; // of each
    Eigen::MatrixXd values;
};
Correlation correlation(const FitReport& report);

// A curve with its bands. Shape: as xs[0]. Intervals are half widths at the report's level.
struct Prediction {
    std::vector<double> y, confidence, prediction;
};
Prediction predict(const FitProblem& problem, const FitReport& report, models::Predictors xs,
                   std::size_t member = 0);

// Fitted values and residuals of all members at their points.
void fillResiduals(const FitProblem& problem, FitReport& report);

// The fitted curve alone.
std::vector<double> curve(const models::Model& model, const MemberReport& report, models::Predictors xs);

// Student's t for a two-sided interval of the level; infinite dof (absolute errors) gives the normal value.
double tQuantile(double level, double dof);
double tQuantile(const FitReport& report);

} // namespace jointer::fit
