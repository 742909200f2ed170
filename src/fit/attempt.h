// SPDX-License-Identifier: GPL-3.0-or-later
// One attempt at a fit, from one set of start values: weighted residuals over the free parameters, the
// solver, and what came of it. Used by fit.cpp, which decides about further attempts.
#pragma once

#include "fit/fit.h"
#include "fit/solver.h"

namespace jointer::fit {

struct Attempt {
    std::vector<double> start, values; // of all parameters
    SolverResult solved;
    FitState state = FitState::NotConverged;
    std::vector<std::uint8_t> atLimit, undetermined; // by free parameter
    Eigen::MatrixXd unseen; // free parameters × directions along which the model does not change
};

class Fitter {
public:
    Fitter(const FitProblem& problem, std::vector<ParameterSpec> specs, ParameterMap map);

    // Levenberg–Marquardt from the given start values.
    Attempt attempt(std::vector<double> start, const FitOptions& options, const Cancellation& stop) const;

    // The exact solution of a linear model without ties, in extended precision. Not converged where it does
    // not apply: the model is not linear, something is undetermined, or a limit is violated.
    Attempt linearAttempt(const std::vector<double>& start) const;

    // The start values with those parameters that enter linearly solved for, the others kept. Start values
    // then have the scale of the data, whatever they were. Unchanged where that cannot be done.
    std::vector<double> withLinearSolved(std::vector<double> start) const;

    // Free parameters that enter linearly, as positions among the free ones.
    std::vector<Eigen::Index> linearParameters(const std::vector<double>& values) const;

    // Unweighted model values and residuals.
    void residuals(const Attempt& attempt, std::vector<double>& fitted, std::vector<double>& residuals) const;

    // Weighted columns of the free parameters at the given values. Shape: n × free.
    Eigen::MatrixXd jacobian(const std::vector<double>& values) const;
    Eigen::Matrix<long double, Eigen::Dynamic, Eigen::Dynamic> linearJacobian() const;

    // Whether a constant can be made from the columns of a linear model.
    bool spansConstant() const;

    const ParameterMap& map() const { return map_; }
    const std::vector<ParameterSpec>& specs() const { return specs_; }
    std::size_t observationCount() const { return problem_.y.size(); }
    const FitProblem& problem() const { return problem_; }

private:
    bool evaluate(const Eigen::VectorXd& free, const std::vector<double>& base, Eigen::VectorXd& r,
                  Eigen::MatrixXd* J) const;
    void judge(Attempt& attempt) const;

    const FitProblem& problem_;
    std::vector<ParameterSpec> specs_;
    ParameterMap map_;
    std::vector<std::span<const double>> xs_;
    Eigen::VectorXd y_, rootWeight_; // rootWeight_ is empty without weights
};

} // namespace jointer::fit
