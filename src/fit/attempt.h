// SPDX-License-Identifier: GPL-3.0-or-later
// One attempt at a fit, from one set of start values: weighted residuals over the free parameters, the
// solver, and what came of it. Used by fit.cpp, which decides about further attempts.
#pragma once

#include "fit/fit.h"
#include "fit/solver.h"

namespace jointer::fit {

struct Attempt {
    std::vector<double> start, values; // of all parameters of all members
    SolverResult solved;
    FitState state = FitState::NotConverged;
    std::vector<std::uint8_t> atLimit, undetermined; // by free parameter
    Eigen::MatrixXd unseen; // free parameters × directions along which the model does not change, each in
                            // units of the parameter's effect
};

// A further residual that pulls a function of one member's parameters to a value: with it the solver finds
// the best of all fits that have the value so reached.
struct Pull {
    std::size_t member = 0;
    std::function<double(std::span<const double> parameters, std::span<double> gradient)> function;
    double target = 0, weight = 0;
};

class Fitter {
public:
    Fitter(const FitProblem& problem, std::vector<Specs> specs, ParameterMap map);

    // Levenberg–Marquardt from the given start values.
    Attempt attempt(std::vector<double> start, const FitOptions& options, const Cancellation& stop) const;

    // The exact solution of a linear model of one member without ties, in extended precision. Not converged
    // where it does not apply: the model is not linear, something is undetermined, or a limit is violated.
    Attempt linearAttempt(const std::vector<double>& start) const;

    // The start values with those parameters that enter linearly solved for, the others kept. Start values
    // then have the scale of the data, whatever they were. Unchanged where that cannot be done.
    std::vector<double> withLinearSolved(std::vector<double> start) const;

    // Free parameters that enter linearly, as positions among the free ones.
    std::vector<Eigen::Index> linearParameters(const std::vector<double>& values) const;

    // Residuals as the solver sees them at the given values: weighted, as distances where x has errors too.
    Vectors weightedResiduals(const std::vector<double>& values) const;

    // Weighted columns of the free parameters at the given values; those of an attempt, where it has kept
    // them.
    Matrices jacobian(const std::vector<double>& values) const;
    Matrices jacobian(const Attempt& attempt) const;
    Eigen::Matrix<long double, Eigen::Dynamic, Eigen::Dynamic> linearJacobian() const;

    // Whether the one model is linear as it is fitted: solved exactly.
    bool isLinear() const;

    // Further weights of all observations, under a robust loss: their roots.
    void setLossWeights(Vectors roots) { lossRoots_ = std::move(roots); }
    void setPull(std::optional<Pull> pull) { pull_ = std::move(pull); }

    const ParameterMap& map() const { return map_; }
    const std::vector<Specs>& specs() const { return specs_; }
    const ParameterSpec& specOfFree(Eigen::Index k) const;
    std::size_t observationCount() const { return problem_->observationCount(); }
    const FitProblem& problem() const { return *problem_; }
    // Fills in what the solver’s end means; of a provisional one not what is undetermined.
    FitState judged(Attempt& attempt, bool provisional = false) const;

private:
    bool evaluate(const Eigen::VectorXd& free, const std::vector<double>& base, Vectors& r,
                  Matrices* J) const;
    bool evaluateMember(std::size_t m, const std::vector<double>& all, Eigen::VectorXd& r,
                        Eigen::MatrixXd* J) const;
    void addPull(const std::vector<double>& all, Vectors& r, Matrices* J) const;

    const FitProblem* problem_;
    std::vector<Specs> specs_;
    ParameterMap map_;
    std::vector<std::vector<std::span<const double>>> xs_;
    Vectors y_, rootWeight_; // rootWeight_ is empty without weights
    Vectors lossRoots_;
    std::optional<Pull> pull_;
    double dataNorm_ = 0;
};

// The problem must outlive it. Errors: those of fit().
Result<Fitter> prepare(const FitProblem& problem);

// Whether a constant can be made from the columns of a linear model.
bool spansConstant(const FitMember& member);

} // namespace jointer::fit
