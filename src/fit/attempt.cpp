// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/attempt.h"

#include "fit/inference.h"

#include <algorithm>
#include <cmath>

namespace jointer::fit {

using Eigen::Index, Eigen::MatrixXd, Eigen::VectorXd;

Fitter::Fitter(const FitProblem& problem, std::vector<ParameterSpec> specs, ParameterMap map)
    : problem_(problem), specs_(std::move(specs)), map_(std::move(map)),
      y_(Eigen::Map<const VectorXd>(problem.y.data(), static_cast<Index>(problem.y.size()))) {
    for (const auto& x : problem.predictors) xs_.emplace_back(x);
    if (problem.sigma.empty()) return;
    rootWeight_ = Eigen::Map<const VectorXd>(problem.sigma.data(), y_.size()).cwiseInverse();
}

bool Fitter::evaluate(const VectorXd& free, const std::vector<double>& base, VectorXd& r, MatrixXd* J) const {
    const std::vector<double> all = map_.all(free, base);
    const auto n = static_cast<std::size_t>(y_.size());
    r.resize(y_.size());
    if (!J) {
        problem_.model->evaluate(xs_, all, {r.data(), n});
    } else if (!map_.hasTies() && map_.free().size() == all.size()) {
        J->resize(y_.size(), static_cast<Index>(all.size()));
        problem_.model->evaluate(xs_, all, {r.data(), n}, {J->data(), n * all.size()});
    } else {
        MatrixXd full(y_.size(), static_cast<Index>(all.size()));
        problem_.model->evaluate(xs_, all, {r.data(), n}, {full.data(), n * all.size()});
        *J = full * map_.slopes(all);
    }
    r = y_ - r;
    if (rootWeight_.size() > 0) {
        r.array() *= rootWeight_.array();
        if (J) J->array().colwise() *= rootWeight_.array();
    }
    return r.allFinite() && (!J || J->allFinite());
}

Attempt Fitter::attempt(std::vector<double> start, const FitOptions& options,
                        const Cancellation& stop) const {
    Attempt a{.start = start};
    VectorXd free(map_.freeCount()), lower(free.size()), upper(free.size());
    for (Index k = 0; k < free.size(); ++k) {
        const std::size_t i = map_.free()[static_cast<std::size_t>(k)];
        free[k] = start[i];
        lower[k] = specs_[i].lower;
        upper[k] = specs_[i].upper;
    }
    const double dataNorm = rootWeight_.size() > 0 ? y_.cwiseProduct(rootWeight_).norm() : y_.norm();
    const SolverOptions solver{.maxIterations = options.provisional ? std::min(4, options.maxIterations)
                                                                    : options.maxIterations};
    a.solved = minimise([&](const VectorXd& p, VectorXd& r, MatrixXd* J) { return evaluate(p, start, r, J); },
                        free, lower, upper, dataNorm, solver, stop);
    a.values = map_.all(a.solved.p, start);
    judge(a);
    return a;
}

void Fitter::judge(Attempt& a) const {
    const auto m = static_cast<std::size_t>(map_.freeCount());
    a.atLimit.assign(m, 0);
    a.undetermined.assign(m, 0);
    bool onLimit = false, undetermined = false;
    for (std::size_t k = 0; k < m; ++k) {
        const ParameterSpec& s = specs_[map_.free()[k]];
        const double v = a.solved.p[static_cast<Index>(k)];
        a.atLimit[k] = v <= s.lower || v >= s.upper;
        onLimit |= a.atLimit[k] != 0;
    }
    if (a.solved.end == SolverEnd::BadStart || a.solved.end == SolverEnd::IterationLimit ||
        a.solved.end == SolverEnd::Stuck) {
        a.state = FitState::NotConverged;
        if (a.solved.end == SolverEnd::BadStart) return;
    }
    a.unseen = undeterminedDirections(jacobian(a.values), a.atLimit);
    for (std::size_t k = 0; k < m && a.unseen.cols() > 0; ++k) {
        a.undetermined[k] = a.unseen.row(static_cast<Index>(k)).cwiseAbs().maxCoeff() > 1e-3;
        undetermined |= a.undetermined[k] != 0;
    }
    if (a.solved.end == SolverEnd::Stopped)
        a.state = FitState::Stopped;
    else if (a.solved.end == SolverEnd::Converged)
        a.state = undetermined ? FitState::Undetermined : onLimit ? FitState::OnLimit : FitState::Converged;
}

MatrixXd Fitter::jacobian(const std::vector<double>& values) const {
    VectorXd free(map_.freeCount()), r;
    for (Index k = 0; k < free.size(); ++k) free[k] = values[map_.free()[static_cast<std::size_t>(k)]];
    MatrixXd J;
    evaluate(free, values, r, &J);
    return J;
}

Eigen::Matrix<long double, -1, -1> Fitter::linearJacobian() const {
    const std::size_t parameters = specs_.size();
    Eigen::Matrix<long double, -1, -1> full(y_.size(), static_cast<Index>(parameters));
    problem_.model->design(xs_, {full.data(), static_cast<std::size_t>(y_.size()) * parameters});
    Eigen::Matrix<long double, -1, -1> columns(y_.size(), map_.freeCount());
    for (Index k = 0; k < columns.cols(); ++k)
        columns.col(k) = full.col(static_cast<Index>(map_.free()[static_cast<std::size_t>(k)]));
    if (rootWeight_.size() > 0) columns.array().colwise() *= rootWeight_.cast<long double>().array();
    return columns;
}

Attempt Fitter::linearAttempt(const std::vector<double>& start) const {
    Attempt a{.start = start};
    if (!problem_.model->isLinear() || map_.hasTies() || map_.freeCount() == 0 ||
        map_.freeCount() > y_.size())
        return a;

    // What the fixed parameters contribute is taken off first.
    std::vector<double> fixedOnly = start;
    for (std::size_t k : map_.free()) fixedOnly[k] = 0;
    VectorXd rest;
    if (!evaluate(VectorXd::Zero(map_.freeCount()), fixedOnly, rest, nullptr)) return a;

    Eigen::Matrix<long double, -1, -1> J = linearJacobian();
    Eigen::Vector<long double, -1> scale = J.colwise().norm();
    if ((scale.array() <= 0).any() || !scale.allFinite()) return a;
    J = J * scale.cwiseInverse().asDiagonal();
    const Eigen::ColPivHouseholderQR<Eigen::Matrix<long double, -1, -1>> qr(J);
    const auto diagonal = qr.matrixR().diagonal().cwiseAbs();
    if (diagonal[map_.freeCount() - 1] < 1e-17L * diagonal[0]) return a;
    a.solved.p = qr.solve(rest.cast<long double>()).cwiseQuotient(scale).cast<double>();
    for (Index k = 0; k < a.solved.p.size(); ++k) {
        const ParameterSpec& s = specs_[map_.free()[static_cast<std::size_t>(k)]];
        if (a.solved.p[k] <= s.lower || a.solved.p[k] >= s.upper) return a;
    }
    a.values = map_.all(a.solved.p, start);
    // The residual sum from the extended solution: rounding the coefficients to doubles would spoil it.
    const Eigen::Vector<long double, -1> exact = qr.solve(rest.cast<long double>());
    a.solved.rss = static_cast<double>((rest.cast<long double>() - J * exact).squaredNorm());
    a.solved.iterations = 1;
    a.solved.end = SolverEnd::Converged;
    a.state = FitState::Converged;
    a.atLimit.assign(map_.free().size(), 0);
    a.undetermined.assign(map_.free().size(), 0);
    return a;
}

// Free parameters whose columns stay the same when all of them are changed.
std::vector<Index> Fitter::linearParameters(const std::vector<double>& values) const {
    std::vector<Index> linear;
    const MatrixXd J = jacobian(values);
    if (map_.hasTies() || !J.allFinite()) return linear;
    auto unchanged = [&](const MatrixXd& other, Index k) {
        return other.allFinite() && (other.col(k) - J.col(k)).norm() <= 1e-9 * J.col(k).norm();
    };
    auto moved = [&](std::vector<double> p, Index k) {
        double& v = p[map_.free()[static_cast<std::size_t>(k)]];
        v = v == 0 ? 1 : 1.7 * v;
        return p;
    };
    for (Index k = 0; k < J.cols(); ++k)
        if (J.col(k).norm() > 0 && unchanged(jacobian(moved(values, k)), k)) linear.push_back(k);
    // Two that multiply each other are linear one by one only: the later one goes.
    for (std::size_t i = 0; i < linear.size(); ++i) {
        const MatrixXd other = jacobian(moved(values, linear[i]));
        std::erase_if(linear, [&](Index k) { return k > linear[i] && !unchanged(other, k); });
    }
    return linear;
}

std::vector<double> Fitter::withLinearSolved(std::vector<double> start) const {
    const std::vector<Index> linear = linearParameters(start);
    if (linear.empty() || static_cast<Index>(linear.size()) > y_.size()) return start;
    std::vector<double> without = start;
    for (Index k : linear) without[map_.free()[static_cast<std::size_t>(k)]] = 0;
    VectorXd free(map_.freeCount()), rest;
    for (Index k = 0; k < free.size(); ++k) free[k] = without[map_.free()[static_cast<std::size_t>(k)]];
    const MatrixXd J = jacobian(start);
    if (!evaluate(free, without, rest, nullptr)) return start;
    MatrixXd columns(J.rows(), static_cast<Index>(linear.size()));
    for (Index i = 0; i < columns.cols(); ++i) columns.col(i) = J.col(linear[static_cast<std::size_t>(i)]);
    const VectorXd solved = columns.colPivHouseholderQr().solve(rest);
    if (!solved.allFinite()) return start;
    for (Index i = 0; i < solved.size(); ++i) {
        const std::size_t k = map_.free()[static_cast<std::size_t>(linear[static_cast<std::size_t>(i)])];
        start[k] = std::clamp(solved[i], specs_[k].lower, specs_[k].upper);
    }
    return start;
}

void Fitter::residuals(const Attempt& attempt, std::vector<double>& fitted,
                       std::vector<double>& residuals) const {
    fitted.resize(problem_.y.size());
    problem_.model->evaluate(xs_, attempt.values, fitted);
    residuals.resize(fitted.size());
    for (std::size_t i = 0; i < fitted.size(); ++i) residuals[i] = problem_.y[i] - fitted[i];
}

bool Fitter::spansConstant() const {
    const std::size_t n = problem_.y.size(), m = specs_.size();
    std::vector<long double> columns(n * m);
    problem_.model->design(xs_, columns);
    const Eigen::Map<const Eigen::Matrix<long double, -1, -1>> J(columns.data(), static_cast<Index>(n),
                                                                 static_cast<Index>(m));
    const Eigen::Vector<long double, -1> one = Eigen::Vector<long double, -1>::Ones(static_cast<Index>(n));
    const Eigen::Vector<long double, -1> norms = J.colwise().norm().cwiseMax(1e-300L);
    const Eigen::Matrix<long double, -1, -1> scaled = J * norms.cwiseInverse().asDiagonal();
    const Eigen::Vector<long double, -1> left = one - scaled * scaled.colPivHouseholderQr().solve(one);
    return left.norm() <= 1e-9L * one.norm();
}

} // namespace jointer::fit
