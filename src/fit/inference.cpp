// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/inference.h"

#include "formula/program.h"

#include <algorithm>
#include <boost/math/distributions/normal.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>
#include <map>

namespace jointer::fit {

using Eigen::Index, Eigen::MatrixXd, Eigen::VectorXd;
using LongMatrix = Eigen::Matrix<long double, -1, -1>;

namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();

// The free parameters that are not on a limit, without as many undetermined ones as the rank lacks: what is
// left spans the same tangents, so that all others have the errors that they have without those.
std::vector<Index> independent(const Attempt& a, const MatrixXd& jacobian) {
    std::vector<Index> out, doubtful;
    for (std::size_t k = 0; k < a.atLimit.size(); ++k)
        if (!a.atLimit[k]) (a.undetermined[k] ? doubtful : out).push_back(static_cast<Index>(k));
    const Index kept = std::ssize(doubtful) - a.unseen.cols();
    if (doubtful.empty() || kept <= 0) return out;
    auto columns = [&](const std::vector<Index>& which) {
        MatrixXd m(jacobian.rows(), std::ssize(which));
        for (Index i = 0; i < m.cols(); ++i)
            m.col(i) = jacobian.col(which[static_cast<std::size_t>(i)]).stableNormalized();
        return m;
    };
    MatrixXd rest = columns(doubtful);
    if (!out.empty()) {
        const MatrixXd base = columns(out);
        rest -= base * Eigen::HouseholderQR<MatrixXd>(base).solve(rest);
    }
    const Eigen::ColPivHouseholderQR<MatrixXd> qr(rest);
    for (Index i = 0; i < kept; ++i)
        out.push_back(doubtful[static_cast<std::size_t>(qr.colsPermutation().indices()[i])]);
    std::ranges::sort(out);
    return out;
}

// (JᵀJ)⁻¹ = root·rootᵀ of the given columns.
template <class Matrix> MatrixXd inverseRoot(const Matrix& jacobian, const std::vector<Index>& columns) {
    const auto m = static_cast<Index>(columns.size());
    Matrix a(jacobian.rows(), m);
    for (Index k = 0; k < m; ++k) a.col(k) = jacobian.col(columns[static_cast<std::size_t>(k)]);
    const auto scale = a.colwise().norm().transpose().eval();
    a = (a * scale.cwiseInverse().asDiagonal()).eval();
    const Matrix r =
        Eigen::HouseholderQR<Matrix>(a).matrixQR().topRows(m).template triangularView<Eigen::Upper>();
    const Matrix inverse = r.template triangularView<Eigen::Upper>().solve(Matrix::Identity(m, m));
    return (scale.cwiseInverse().asDiagonal() * inverse).template cast<double>();
}

MatrixXd correlationOf(const MatrixXd& root) {
    MatrixXd rows = root;
    for (Index k = 0; k < rows.rows(); ++k) {
        const double norm = rows.row(k).norm();
        rows.row(k) =
            norm > 0 ? (rows.row(k) / norm).eval() : Eigen::RowVectorXd::Constant(rows.cols(), kNaN).eval();
    }
    MatrixXd c = rows * rows.transpose();
    c.diagonal().setOnes();
    return c;
}

// Formulas of derived quantities belong to the library; each is compiled once in a thread.
const formula::Program* derivedProgram(const std::string& text, const std::vector<std::string>& names) {
    static thread_local std::map<std::string, formula::Program> known;
    std::string key = text;
    for (const std::string& n : names) key += '\n' + n;
    const auto at = known.find(key);
    return at != known.end()
               ? &at->second
               : &known.emplace(key, *formula::Program::compile(*formula::Expression::parse(text), {}, names))
                      .first->second;
}

// Whether a quantity with this gradient is the same along all of them.
bool isSeen(const VectorXd& gradient, const MatrixXd& unseen) {
    for (Index s = 0; s < unseen.cols(); ++s) {
        const double size = gradient.cwiseAbs().dot(unseen.col(s).cwiseAbs());
        if (std::abs(gradient.dot(unseen.col(s))) > 1e-6 * size) return false;
    }
    return true;
}

void addDerived(const Fitter& fitter, const models::Model& model, FitReport& report) {
    std::vector<std::string> names;
    for (const ParameterSpec& s : fitter.specs()) names.push_back(s.name);
    const std::vector<double> values = report.values();
    for (const models::DerivedInfo& info : model.derived()) {
        const auto program = derivedProgram(info.formula, names);
        DerivedResult d{info.name, info.unit};
        VectorXd gradient(static_cast<Index>(names.size()));
        program->evaluate({}, values, {&d.value, 1}, {gradient.data(), names.size()});
        bool known = report.root.size() > 0 && isSeen(gradient, report.unseen);
        for (std::size_t k = 0; k < names.size(); ++k) {
            const ParameterResult& p = report.parameters[k];
            known &= gradient[static_cast<Index>(k)] == 0 || !p.atLimit;
        }
        d.se = known ? (gradient.transpose() * report.root).norm() : kNaN;
        report.derived.push_back(std::move(d));
    }
}

} // namespace

double tQuantile(double level, double dof) {
    const double upper = 0.5 + level / 2;
    if (std::isinf(dof)) return boost::math::quantile(boost::math::normal(), upper);
    if (!(dof > 0)) return kNaN;
    // Many fits of one kind ask for the same value.
    static thread_local double lastLevel = 0, lastDof = 0, last = 0;
    if (level != lastLevel || dof != lastDof) {
        last = boost::math::quantile(boost::math::students_t(dof), upper);
        lastLevel = level;
        lastDof = dof;
    }
    return last;
}

double runsProbability(const std::vector<double>& residuals) {
    double positive = 0, negative = 0, runs = 0, last = 0;
    for (double r : residuals) {
        if (r == 0 || std::isnan(r)) continue;
        (r > 0 ? positive : negative) += 1;
        if (r * last <= 0) ++runs;
        last = r > 0 ? 1 : -1;
    }
    const double n = positive + negative;
    if (positive < 3 || negative < 3) return 1;
    const double mean = 2 * positive * negative / n + 1;
    const double variance = (mean - 1) * (mean - 2) / (n - 1);
    return std::erfc(std::abs(runs - mean) / std::sqrt(2 * variance));
}

MatrixXd undeterminedDirections(const MatrixXd& J, const std::vector<std::uint8_t>& leftOut) {
    std::vector<Index> columns, without; // with an effect, and those that have none at all
    for (Index k = 0; k < J.cols(); ++k) {
        if (leftOut[static_cast<std::size_t>(k)]) continue;
        const double norm = J.col(k).norm();
        (norm > 0 && std::isfinite(norm) ? columns : without).push_back(k);
    }
    std::vector<VectorXd> directions;
    for (Index k : without) directions.push_back(VectorXd::Unit(J.cols(), k));
    const auto m = static_cast<Index>(columns.size());
    MatrixXd a(std::max(J.rows(), m), m);
    a.setZero();
    for (Index k = 0; k < m; ++k)
        a.col(k).head(J.rows()) = J.col(columns[static_cast<std::size_t>(k)]).normalized();
    const MatrixXd r =
        m == 0 ? MatrixXd()
               : MatrixXd(
                     Eigen::HouseholderQR<MatrixXd>(a).matrixQR().topRows(m).triangularView<Eigen::Upper>());
    // Only a triangle with a small pivot can hide a direction without effect; then the costly look is taken.
    if (m > 0 && r.diagonal().cwiseAbs().minCoeff() <= 1e-4) {
        const Eigen::JacobiSVD<MatrixXd> svd(r, Eigen::ComputeFullV);
        for (Index s = 0; s < m; ++s) {
            if (svd.singularValues()[s] > 3e-13 * svd.singularValues()[0]) continue;
            VectorXd direction = VectorXd::Zero(J.cols());
            for (Index k = 0; k < m; ++k)
                direction[columns[static_cast<std::size_t>(k)]] = svd.matrixV()(k, s);
            directions.push_back(std::move(direction));
        }
    }
    MatrixXd out(J.cols(), std::ssize(directions));
    for (Index i = 0; i < out.cols(); ++i) out.col(i) = directions[static_cast<std::size_t>(i)];
    return out;
}

namespace {

// Directions of all parameters along which the model does not change, with the scale of their effect.
MatrixXd unseenByAll(const Fitter& fitter, const Attempt& a, const MatrixXd& tangents) {
    if (a.unseen.cols() == 0) return {};
    MatrixXd directions = a.unseen;
    for (Index k = 0; k < directions.rows(); ++k)
        if (const double norm = tangents.col(k).norm(); norm > 0) directions.row(k) /= norm;
    return fitter.map().slopes(a.values) * directions;
}

} // namespace

void infer(const Fitter& fitter, const Attempt& a, FitReport& report) {
    const bool started = a.solved.end != SolverEnd::BadStart;
    const MatrixXd tangents = started ? fitter.jacobian(a.values) : MatrixXd();
    const std::vector<Index> columns = started ? independent(a, tangents) : std::vector<Index>();
    const bool known = report.dof > 0 && !columns.empty();
    const bool linear = fitter.problem().model->isLinear() && !fitter.map().hasTies();
    MatrixXd freeRoot = MatrixXd::Zero(fitter.map().freeCount(), static_cast<Index>(columns.size()));
    if (known) {
        const MatrixXd root =
            linear ? inverseRoot(fitter.linearJacobian(), columns) : inverseRoot(tangents, columns);
        for (std::size_t k = 0; k < columns.size(); ++k)
            freeRoot.row(columns[k]) = root.row(static_cast<Index>(k));
        report.root = fitter.map().slopes(a.values) * freeRoot * (report.absolute ? 1.0 : report.residualSd);
    }
    report.unseen = unseenByAll(fitter, a, tangents);
    report.correlation =
        known ? correlationOf(freeRoot) : MatrixXd::Constant(freeRoot.rows(), freeRoot.rows(), kNaN);
    for (Index k = 0; k < report.correlation.rows() && known; ++k) {
        if (!a.undetermined[static_cast<std::size_t>(k)]) continue;
        report.correlation.row(k).setConstant(kNaN);
        report.correlation.col(k).setConstant(kNaN);
        report.correlation(k, k) = 1;
    }

    const double t = tQuantile(report.level, report.absolute ? INFINITY : static_cast<double>(report.dof));
    std::vector<std::uint8_t> hasError(a.values.size(), 0);
    for (Index k : columns)
        hasError[fitter.map().free()[static_cast<std::size_t>(k)]] =
            !a.undetermined[static_cast<std::size_t>(k)];
    for (std::size_t k = 0; k < a.values.size(); ++k) {
        const ParameterSpec& spec = fitter.specs()[k];
        ParameterResult p{spec.name, a.values[k], kNaN, kNaN, kNaN, spec.treatment};
        if (spec.treatment == Treatment::Fixed)
            p.se = 0;
        else if (known && (hasError[k] || (spec.treatment == Treatment::Tied &&
                                           isSeen(VectorXd::Unit(std::ssize(a.values), static_cast<Index>(k)),
                                                  report.unseen))))
            p.se = report.root.row(static_cast<Index>(k)).norm();
        p.low = p.value - t * p.se;
        p.high = p.value + t * p.se;
        report.parameters.push_back(p);
    }
    for (std::size_t k = 0; k < fitter.map().free().size() && k < a.atLimit.size(); ++k) {
        report.parameters[fitter.map().free()[k]].atLimit = a.atLimit[k];
        report.parameters[fitter.map().free()[k]].determined = !a.undetermined[k];
    }
    addDerived(fitter, *fitter.problem().model, report);
}

Prediction predict(const models::Model& model, const FitReport& report, models::Predictors xs) {
    const std::size_t n = xs[0].size(), parameters = report.parameters.size();
    Prediction out;
    out.y.resize(n);
    MatrixXd gradient(static_cast<Index>(n), static_cast<Index>(parameters));
    model.evaluate(xs, report.values(), out.y, {gradient.data(), n * parameters});
    const double t = tQuantile(report.level, report.absolute ? INFINITY : static_cast<double>(report.dof));
    const bool known = report.root.size() > 0;
    for (std::size_t i = 0; i < n; ++i) {
        const double variance =
            known ? (gradient.row(static_cast<Index>(i)) * report.root).squaredNorm() : kNaN;
        out.confidence.push_back(t * std::sqrt(variance));
        out.prediction.push_back(t * std::sqrt(variance + report.typicalVariance));
    }
    return out;
}

} // namespace jointer::fit
