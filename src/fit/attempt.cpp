// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/attempt.h"

#include "fit/inference.h"
#include "fit/orthogonal.h"

#include <algorithm>
#include <cmath>

namespace jointer::fit {

using Eigen::Index, Eigen::MatrixXd, Eigen::VectorXd;

Fitter::Fitter(const FitProblem& problem, std::vector<Specs> specs, ParameterMap map)
    : problem_(&problem), specs_(std::move(specs)), map_(std::move(map)) {
    double squares = 0;
    for (const FitMember& member : problem.members) {
        xs_.emplace_back(member.predictors.begin(), member.predictors.end());
        y_.push_back(Eigen::Map<const VectorXd>(member.y.data(), std::ssize(member.y)));
        VectorXd weight;
        if (!member.sigma.empty())
            weight = Eigen::Map<const VectorXd>(member.sigma.data(), std::ssize(member.y)).cwiseInverse();
        squares += (weight.size() > 0 ? y_.back().cwiseProduct(weight) : y_.back()).squaredNorm();
        rootWeight_.push_back(std::move(weight));
    }
    dataNorm_ = std::sqrt(squares);
}

const ParameterSpec& Fitter::specOfFree(Index k) const {
    const std::size_t place = map_.free()[static_cast<std::size_t>(k)];
    return specs_[place / map_.parameters()][place % map_.parameters()];
}

bool Fitter::isLinear() const {
    return problem_->members.size() == 1 && problem_->members[0].model->isLinear() && !map_.hasTies() &&
           problem_->members[0].sigmaX.empty();
}

namespace {

constexpr std::size_t kManyValues = 20000; // from here on members are evaluated in parallel

} // namespace

bool Fitter::evaluate(const VectorXd& free, const std::vector<double>& base, Vectors& r, Matrices* J) const {
    const std::vector<double> all = map_.all(free, base);
    const std::size_t members = problem_->members.size();
    r.resize(members);
    if (J) J->resize(members);
    std::vector<std::uint8_t> good(members, 1);
    auto some = [&](std::size_t begin, std::size_t end) {
        for (std::size_t m = begin; m < end; ++m)
            good[m] = evaluateMember(m, all, r[m], J ? &(*J)[m] : nullptr);
    };
    if (members > 1 && observationCount() > kManyValues)
        parallelRanges(members, std::max<std::size_t>(1, members / 16), some);
    else
        some(0, members);
    if (pull_) addPull(all, r, J);
    return std::ranges::count(good, 0) == 0;
}

bool Fitter::evaluateMember(std::size_t m, const std::vector<double>& everything, VectorXd& r,
                            MatrixXd* J) const {
    const FitMember& member = problem_->members[m];
    const std::size_t n = member.y.size(), count = map_.parameters();
    const auto rows = static_cast<Index>(n), columns = static_cast<Index>(count);
    const std::span<const double> all(everything.data() + m * count, count);
    const bool direct = map_.isIdentity(m);
    MatrixXd full;
    MatrixXd* target = !J ? nullptr : direct ? J : &full;
    if (!member.sigmaX.empty()) {
        if (!orthogonalDistances(*member.model, xs_[m], all, member.y, member.sigma, member.sigmaX, r,
                                 target))
            return false;
    } else {
        r.resize(rows);
        if (target) target->resize(rows, columns);
        member.model->evaluate(xs_[m], all, {r.data(), n},
                               target ? std::span<double>(target->data(), n * count) : std::span<double>());
        r = y_[m] - r;
    }
    if (J && !direct) *J = full * map_.slopes(m, everything);
    auto weigh = [&](const VectorXd& roots) {
        r.array() *= roots.array();
        if (J) J->array().colwise() *= roots.array();
    };
    if (member.sigmaX.empty() && rootWeight_[m].size() > 0) weigh(rootWeight_[m]);
    if (!lossRoots_.empty()) weigh(lossRoots_[m]);
    return r.allFinite() && (!J || J->allFinite());
}

// As a last row of the member's block.
void Fitter::addPull(const std::vector<double>& all, Vectors& r, Matrices* J) const {
    const std::size_t m = pull_->member, count = map_.parameters();
    VectorXd gradient(static_cast<Index>(count));
    const double value = pull_->function({all.data() + m * count, count}, {gradient.data(), count});
    r[m].conservativeResize(r[m].size() + 1);
    r[m][r[m].size() - 1] = pull_->weight * (pull_->target - value);
    if (!J) return;
    MatrixXd& columns = (*J)[m];
    columns.conservativeResize(columns.rows() + 1, columns.cols());
    columns.row(columns.rows() - 1) = pull_->weight * gradient.transpose() * map_.slopes(m, all);
}

Attempt Fitter::attempt(std::vector<double> start, const FitOptions& options,
                        const Cancellation& stop) const {
    Attempt a{.start = start};
    const VectorXd free = map_.freeOf(start);
    VectorXd lower(free.size()), upper(free.size());
    for (Index k = 0; k < free.size(); ++k) {
        lower[k] = specOfFree(k).lower;
        upper[k] = specOfFree(k).upper;
    }
    const SolverOptions solver{.maxIterations = options.provisional ? std::min(4, options.maxIterations)
                                                                    : options.maxIterations};
    a.solved = minimise([&](const VectorXd& p, Vectors& r, Matrices* J) { return evaluate(p, start, r, J); },
                        map_.layout(), free, lower, upper, dataNorm_, solver, stop);
    a.values = map_.all(a.solved.p, start);
    a.state = judged(a, options.provisional);
    return a;
}

FitState Fitter::judged(Attempt& a, bool provisional) const {
    const auto m = static_cast<std::size_t>(map_.freeCount());
    a.atLimit.assign(m, 0);
    a.undetermined.assign(m, 0);
    bool onLimit = false, undetermined = false;
    for (std::size_t k = 0; k < m; ++k) {
        const ParameterSpec& s = specOfFree(static_cast<Index>(k));
        const double v = a.solved.p[static_cast<Index>(k)];
        a.atLimit[k] = v <= s.lower || v >= s.upper;
        onLimit |= a.atLimit[k] != 0;
    }
    if (a.solved.end == SolverEnd::BadStart) return FitState::NotConverged;
    if (!provisional) a.unseen = undeterminedDirections(map_.layout(), jacobian(a), a.atLimit);
    for (std::size_t k = 0; k < m && a.unseen.cols() > 0; ++k) {
        a.undetermined[k] = a.unseen.row(static_cast<Index>(k)).cwiseAbs().maxCoeff() > 1e-3;
        undetermined |= a.undetermined[k] != 0;
    }
    if (a.solved.end == SolverEnd::Stopped) return FitState::Stopped;
    if (a.solved.end != SolverEnd::Converged) return FitState::NotConverged;
    return undetermined ? FitState::Undetermined : onLimit ? FitState::OnLimit : FitState::Converged;
}

Matrices Fitter::jacobian(const std::vector<double>& values) const {
    Vectors r;
    Matrices J;
    evaluate(map_.freeOf(values), values, r, &J);
    return J;
}

Matrices Fitter::jacobian(const Attempt& attempt) const {
    return attempt.solved.jacobian.empty() ? jacobian(attempt.values) : attempt.solved.jacobian;
}

Vectors Fitter::weightedResiduals(const std::vector<double>& values) const {
    Vectors r;
    evaluate(map_.freeOf(values), values, r, nullptr);
    return r;
}

Eigen::Matrix<long double, -1, -1> Fitter::linearJacobian() const {
    const FitMember& member = problem_->members[0];
    const auto rows = std::ssize(member.y);
    const std::size_t parameters = map_.parameters();
    Eigen::Matrix<long double, -1, -1> full(rows, static_cast<Index>(parameters));
    member.model->design(xs_[0], {full.data(), member.y.size() * parameters});
    Eigen::Matrix<long double, -1, -1> columns(rows, map_.freeCount());
    for (Index k = 0; k < columns.cols(); ++k)
        columns.col(k) = full.col(static_cast<Index>(map_.free()[static_cast<std::size_t>(k)]));
    if (rootWeight_[0].size() > 0) columns.array().colwise() *= rootWeight_[0].cast<long double>().array();
    if (!lossRoots_.empty()) columns.array().colwise() *= lossRoots_[0].cast<long double>().array();
    return columns;
}

Attempt Fitter::linearAttempt(const std::vector<double>& start) const {
    Attempt a{.start = start};
    if (!isLinear() || pull_ || map_.freeCount() == 0 || map_.freeCount() > y_[0].size()) return a;

    // What the fixed parameters contribute is taken off first.
    std::vector<double> fixedOnly = start;
    for (std::size_t k : map_.free()) fixedOnly[k] = 0;
    Vectors all;
    if (!evaluate(VectorXd::Zero(map_.freeCount()), fixedOnly, all, nullptr)) return a;
    const VectorXd& rest = all[0];

    Eigen::Matrix<long double, -1, -1> J = linearJacobian();
    Eigen::Vector<long double, -1> scale = J.colwise().norm();
    if ((scale.array() <= 0).any() || !scale.allFinite()) return a;
    J = J * scale.cwiseInverse().asDiagonal();
    const Eigen::ColPivHouseholderQR<Eigen::Matrix<long double, -1, -1>> qr(J);
    const auto diagonal = qr.matrixR().diagonal().cwiseAbs();
    if (diagonal[map_.freeCount() - 1] < 1e-17L * diagonal[0]) return a;
    a.solved.p = qr.solve(rest.cast<long double>()).cwiseQuotient(scale).cast<double>();
    for (Index k = 0; k < a.solved.p.size(); ++k) {
        const ParameterSpec& s = specOfFree(k);
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

namespace {

// How far the columns of some free parameters differ between two sets of blocks, and how long they are.
std::pair<double, double> differenceOf(const FreeLayout& layout, const Matrices& a, const Matrices& b,
                                       const std::vector<std::uint8_t>& some) {
    double difference = 0, length = 0;
    for (std::size_t m = 0; m < layout.blocks(); ++m)
        for (Index k = 0; k < layout.columns(m); ++k) {
            if (!some[static_cast<std::size_t>(layout.place(m, k))]) continue;
            difference += (a[m].col(k) - b[m].col(k)).squaredNorm();
            length += b[m].col(k).squaredNorm();
        }
    return {std::sqrt(difference), std::sqrt(length)};
}

bool allFinite(const Matrices& J) {
    return std::ranges::all_of(J, [](const MatrixXd& m) { return m.allFinite(); });
}

} // namespace

// Those of one name are linear in all members or in none; so they are asked together.
std::vector<Index> Fitter::linearParameters(const std::vector<double>& values) const {
    const Matrices J = jacobian(values);
    if (map_.hasTies() || !problem_->members[0].sigmaX.empty() || !allFinite(J)) return {};
    const auto count = static_cast<std::size_t>(map_.freeCount());
    auto named = [&](std::size_t parameter) {
        std::vector<std::uint8_t> is(count);
        for (std::size_t k = 0; k < count; ++k) is[k] = map_.free()[k] % map_.parameters() == parameter;
        return is;
    };
    auto unchanged = [&](const Matrices& other, std::size_t parameter) {
        const auto [difference, length] = differenceOf(map_.layout(), other, J, named(parameter));
        return std::isfinite(difference) && difference <= 1e-9 * length;
    };
    auto moved = [&](std::size_t parameter) {
        VectorXd free = map_.freeOf(values);
        const auto is = named(parameter);
        for (Index k = 0; k < free.size(); ++k)
            if (is[static_cast<std::size_t>(k)]) free[k] = free[k] == 0 ? 1 : 1.7 * free[k];
        return jacobian(map_.all(free, values));
    };
    std::vector<std::size_t> linear;
    for (std::size_t parameter = 0; parameter < map_.parameters(); ++parameter) {
        const auto [difference, length] = differenceOf(map_.layout(), J, J, named(parameter));
        if (length > 0 && unchanged(moved(parameter), parameter)) linear.push_back(parameter);
    }
    // Two that multiply each other are linear one by one only: the later one goes.
    for (std::size_t i = 0; i < linear.size(); ++i) {
        const Matrices other = moved(linear[i]);
        std::erase_if(linear, [&](std::size_t k) { return k > linear[i] && !unchanged(other, k); });
    }
    std::vector<Index> out;
    for (std::size_t k = 0; k < count; ++k)
        if (std::ranges::count(linear, map_.free()[k] % map_.parameters()) > 0)
            out.push_back(static_cast<Index>(k));
    return out;
}

std::vector<double> Fitter::withLinearSolved(std::vector<double> start) const {
    const std::vector<Index> linear = linearParameters(start);
    if (linear.empty() || std::ssize(linear) > static_cast<Index>(observationCount())) return start;
    VectorXd free = map_.freeOf(start);
    std::vector<std::uint8_t> active(static_cast<std::size_t>(free.size()), 0);
    for (Index k : linear) {
        free[k] = 0;
        active[static_cast<std::size_t>(k)] = 1;
    }
    const Matrices J = jacobian(start);
    Vectors rest;
    if (!evaluate(free, start, rest, nullptr)) return start;
    const VectorXd scale = columnNorms(map_.layout(), J).cwiseMax(1e-300);
    for (;;) {
        const BlockTriangle t(map_.layout(), J, rest, active, scale);
        const auto dependent = t.dependent(1e-12);
        for (Index k : dependent) active[static_cast<std::size_t>(k)] = 0;
        if (!dependent.empty()) continue;
        const VectorXd solved = t.step(0);
        if (!solved.allFinite()) return start;
        for (Index k : linear) free[k] = std::clamp(solved[k], specOfFree(k).lower, specOfFree(k).upper);
        return map_.all(free, std::move(start));
    }
}

bool spansConstant(const FitMember& member) {
    const std::size_t n = member.y.size(), m = member.model->parameters().size();
    std::vector<long double> columns(n * m);
    const std::vector<std::span<const double>> xs(member.predictors.begin(), member.predictors.end());
    member.model->design(xs, columns);
    const Eigen::Map<const Eigen::Matrix<long double, -1, -1>> J(columns.data(), static_cast<Index>(n),
                                                                 static_cast<Index>(m));
    const Eigen::Vector<long double, -1> one = Eigen::Vector<long double, -1>::Ones(static_cast<Index>(n));
    const Eigen::Vector<long double, -1> norms = J.colwise().norm().cwiseMax(1e-300L);
    const Eigen::Matrix<long double, -1, -1> scaled = J * norms.cwiseInverse().asDiagonal();
    const Eigen::Vector<long double, -1> left = one - scaled * scaled.colPivHouseholderQr().solve(one);
    return left.norm() <= 1e-9L * one.norm();
}

} // namespace jointer::fit
