// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/positive_inversion.h"

#include <algorithm>
#include <cmath>
#include <random>
#include <vector>

namespace jointer::fit {

using Eigen::Index, Eigen::MatrixXd, Eigen::VectorXd;

namespace {

// The active set of Lawson and Hanson: who is free to be above zero.
class ActiveSet {
public:
    ActiveSet(const MatrixXd& h, const VectorXd& g, const VectorXd& start)
        : h_(h), g_(g), x_(VectorXd::Zero(g.size())), isFree_(static_cast<std::size_t>(g.size()), 0) {
        for (Index k = 0; k < start.size(); ++k)
            if (start[k] > 0) release(k), x_[k] = start[k];
        if (!free_.empty()) settle();
    }

    VectorXd solved() {
        const double small = 1e-12 * std::max(1e-300, g_.cwiseAbs().maxCoeff());
        for (Index round = 0; round < 3 * g_.size() + 10; ++round) {
            const VectorXd pull = g_ - h_ * x_;
            Index best = -1;
            for (Index k = 0; k < g_.size(); ++k)
                if (!isFree_[static_cast<std::size_t>(k)] && pull[k] > small &&
                    (best < 0 || pull[k] > pull[best]))
                    best = k;
            if (best < 0) break;
            release(best);
            settle();
        }
        return x_;
    }

private:
    void release(Index k) {
        free_.push_back(k);
        isFree_[static_cast<std::size_t>(k)] = 1;
    }

    // To the minimum over those that are free; who would go below zero on the way is no longer.
    void settle() {
        while (!free_.empty()) {
            const MatrixXd part = h_(free_, free_);
            const VectorXd to = part.llt().solve(VectorXd(g_(free_)));
            double step = 1;
            for (std::size_t a = 0; a < free_.size(); ++a)
                if (to[static_cast<Index>(a)] <= 0) {
                    const double from = x_[free_[a]], end = to[static_cast<Index>(a)];
                    step = std::min(step, from > end ? from / (from - end) : 0.0);
                }
            for (std::size_t a = 0; a < free_.size(); ++a)
                x_[free_[a]] += step * (to[static_cast<Index>(a)] - x_[free_[a]]);
            if (step >= 1) return;
            const double least = 1e-14 * std::max(1e-300, x_.maxCoeff());
            std::erase_if(free_, [&](Index k) {
                if (x_[k] > least) return false;
                x_[k] = 0;
                isFree_[static_cast<std::size_t>(k)] = 0;
                return true;
            });
        }
    }

    const MatrixXd& h_;
    const VectorXd& g_;
    VectorXd x_;
    std::vector<Index> free_;
    std::vector<std::uint8_t> isFree_;
};

} // namespace

VectorXd nonNegativeMinimum(const MatrixXd& h, const VectorXd& g, const VectorXd& start) {
    return ActiveSet(h, g, start).solved();
}

namespace {

constexpr double kLoosest = 1e-10, kTightest = 1e6; // strengths that are tried, against the data's own
constexpr int kStrengths = 17;
constexpr int kRepeats = 60; // of the noise, for the errors
constexpr std::uint64_t kSeed = 20310518;
constexpr double kEmpty = 0.02; // of the mean amount: what is expected where the data tell nothing

// Second differences, with zeros beyond both ends.
MatrixXd roughness(Index m) {
    MatrixXd d = MatrixXd::Zero(m + 2, m);
    for (Index k = 0; k < m; ++k) d(k, k) += 1, d(k + 1, k) -= 2, d(k + 2, k) += 1;
    return d.transpose() * d;
}

double logDeterminant(const MatrixXd& positive) {
    const Eigen::LLT<MatrixXd> llt(positive);
    double sum = 0;
    for (Index k = 0; k < positive.rows(); ++k) sum += 2 * std::log(std::max(llt.matrixLLT()(k, k), 1e-300));
    return sum;
}

class Inversion {
public:
    explicit Inversion(const PositiveProblem& p) : p_(p), m_(p.kernel.cols()), n_(p.y.size()) {
        const Index columns = m_ + (p.background ? 1 : 0);
        a_.resize(n_, columns);
        a_.leftCols(m_) = p.kernel;
        if (p.background) a_.col(m_).setOnes();
        const VectorXd w = p.sigma.cwiseInverse();
        a_ = w.asDiagonal() * a_;
        y_ = w.cwiseProduct(p.y);
        // In units in which the data hold all amounts alike.
        unit_ = std::sqrt(std::max((a_.leftCols(m_).colwise().squaredNorm()).mean(), 1e-300));
        backgroundUnit_ = p.background ? a_.col(m_).norm() : 1;
        a_.leftCols(m_) /= unit_;
        if (p.background) a_.col(m_) /= backgroundUnit_;
        h_ = a_.transpose() * a_;
        g_ = a_.transpose() * y_;
        rough_ = roughness(m_);
        roughness_ = logDeterminant(rough_);
    }

    PositiveResult smooth() {
        double best = -INFINITY, at = 1;
        const auto look = [&](double strength) {
            const double e = evidence(strength);
            if (e > best) best = e, at = strength;
        };
        for (int k = 0; k < kStrengths; ++k)
            look(kLoosest * std::pow(kTightest / kLoosest, double(k) / (kStrengths - 1)));
        const double centre = at, ratio = std::pow(kTightest / kLoosest, 1.0 / (kStrengths - 1));
        for (const double by : {-0.7, -0.4, -0.2, 0.2, 0.4, 0.7}) look(centre * std::pow(ratio, by));
        PositiveResult out;
        out.strength = at;
        out.logEvidence = best;
        const VectorXd x = nonNegativeMinimum(hessian(at), g_, last_);
        finish(x, out);
        const MatrixXd h = hessian(at);
        out.measured = (h.inverse() * h_).trace();
        takeCovariance(p_.wantsErrors ? scatter(h, x, out.noise) : MatrixXd::Zero(h.rows(), h.cols()), out);
        return out;
    }

    // From the smoothest answer's noise, strengths downwards until −2αS is the number of good directions.
    PositiveResult entropy(const PositiveResult& start) {
        const double noise2 = start.noise * start.noise;
        const MatrixXd h = h_ / noise2;
        const VectorXd g = g_ / noise2;
        const double level = std::max(kEmpty * start.amounts.mean() * unit_, 1e-300);
        const Index columns = a_.cols();
        VectorXd f = VectorXd::Constant(columns, level), model = f;
        if (p_.background) f[m_] = model[m_] = std::max(start.background * backgroundUnit_, 1e-3 * level);
        double alpha = (h * f - g).cwiseAbs().maxCoeff() + 1e-300;
        PositiveResult out;
        VectorXd roots;
        for (int round = 0; round < 400; ++round) {
            for (int newton = 0; newton < 30; ++newton) {
                roots = f.cwiseSqrt();
                MatrixXd scaled = roots.asDiagonal() * h * roots.asDiagonal();
                scaled.diagonal().array() += alpha;
                VectorXd pull = roots.cwiseProduct(g - h * f);
                for (Index k = 0; k < columns; ++k)
                    pull[k] -= alpha * roots[k] * std::log(std::max(f[k], 1e-290) / model[k]);
                VectorXd step = scaled.ldlt().solve(pull);
                const double length = step.norm(), longest = 0.4 * std::sqrt(f.sum());
                if (length > longest) step *= longest / length;
                for (Index k = 0; k < columns; ++k)
                    f[k] = std::max(f[k] + roots[k] * step[k], 0.05 * f[k] + 1e-14 * level);
                if (length < 1e-6 * std::sqrt(f.sum())) break;
            }
            roots = f.cwiseSqrt();
            const MatrixXd metric = roots.asDiagonal() * h * roots.asDiagonal();
            const VectorXd eigen =
                Eigen::SelfAdjointEigenSolver<MatrixXd>(metric, Eigen::EigenvaluesOnly).eigenvalues();
            double good = 0, entropy = 0;
            for (Index k = 0; k < columns; ++k) {
                const double e = std::max(eigen[k], 0.0);
                good += e / (alpha + e);
                entropy += f[k] - model[k] - f[k] * std::log(std::max(f[k], 1e-290) / model[k]);
            }
            out.measured = good;
            if (-2 * alpha * entropy <= good && round > 3) break;
            alpha *= 0.7;
        }
        out.strength = alpha;
        out.logEvidence = start.logEvidence;
        finish(f, out);
        roots = f.cwiseSqrt();
        MatrixXd inner = roots.asDiagonal() * h * roots.asDiagonal();
        inner.diagonal().array() += alpha;
        out.noise = start.noise;
        takeCovariance(roots.asDiagonal() * inner.inverse() * roots.asDiagonal() / noise2, out);
        return out;
    }

private:
    MatrixXd hessian(double strength) const {
        MatrixXd h = h_;
        h.topLeftCorner(m_, m_) += strength * rough_;
        if (p_.background) h(m_, m_) += 1e-12; // only against a singular matrix
        return h;
    }

    // How the answer scatters with the noise of the points, by repeating it: what is at zero stays near it,
    // which no inverse of a matrix tells. In units in which the noise is one.
    MatrixXd scatter(const MatrixXd& h, const VectorXd& x, double noise) const {
        std::mt19937_64 random(kSeed);
        std::normal_distribution<double> normal;
        const VectorXd seen = a_ * x;
        MatrixXd sum = MatrixXd::Zero(x.size(), x.size());
        for (int k = 0; k < kRepeats; ++k) {
            VectorXd y = y_;
            for (Index i = 0; i < n_; ++i) y[i] = seen[i] + noise * normal(random);
            const VectorXd off = nonNegativeMinimum(h, a_.transpose() * y, x) - x;
            sum += off * off.transpose();
        }
        return sum / (kRepeats * noise * noise);
    }

    double evidence(double strength) {
        const MatrixXd h = hessian(strength);
        const VectorXd x = last_ = nonNegativeMinimum(h, g_, last_);
        const double chi2 = (y_ - a_ * x).squaredNorm();
        const double prior = strength * x.head(m_).dot(rough_ * x.head(m_));
        const double volume =
            0.5 * (static_cast<double>(m_) * std::log(strength) + roughness_) - 0.5 * logDeterminant(h);
        if (p_.sigmaIsAbsolute) return -0.5 * (chi2 + prior) + volume;
        return -0.5 * static_cast<double>(n_) * std::log(std::max(chi2 + prior, 1e-300)) + volume;
    }

    void finish(const VectorXd& x, PositiveResult& out) const {
        const VectorXd seen = a_ * x;
        out.chi2 = (y_ - seen).squaredNorm();
        out.fitted = seen.cwiseProduct(p_.sigma);
        out.amounts = x.head(m_) / unit_;
        if (p_.background) out.background = x[m_] / backgroundUnit_;
        const MatrixXd inverse = hessian(std::max(out.strength, 1e-12)).inverse();
        const double left = std::max(1.0, static_cast<double>(n_) - (inverse * h_).trace());
        out.noise = p_.sigmaIsAbsolute ? 1 : std::sqrt(out.chi2 / left);
    }

    void takeCovariance(const MatrixXd& of, PositiveResult& out) const {
        out.covariance = of.topLeftCorner(m_, m_) * (out.noise * out.noise / (unit_ * unit_));
        out.errors = out.covariance.diagonal().cwiseMax(0).cwiseSqrt();
        if (p_.background)
            out.backgroundError = out.noise * std::sqrt(std::max(of(m_, m_), 0.0)) / backgroundUnit_;
    }

    const PositiveProblem& p_;
    Index m_, n_;
    MatrixXd a_, h_, rough_;
    VectorXd y_, g_, last_;                                // the last answer
    double unit_ = 1, backgroundUnit_ = 1, roughness_ = 0; // the last: ln of the determinant
};

} // namespace

Result<PositiveResult> positiveInversion(const PositiveProblem& p) {
    if (p.y.size() < 5 || p.kernel.cols() < 3)
        return failure("few-points", "An inversion needs five points and three amounts at least.");
    if (!p.kernel.allFinite() || !p.y.allFinite() || !p.sigma.allFinite() || !(p.sigma.minCoeff() > 0))
        return failure("not-finite", "An inversion needs numbers, and uncertainties above zero.");
    Inversion inversion(p);
    PositiveResult smooth = inversion.smooth();
    if (p.prior == Prior::Smooth) return smooth;
    return inversion.entropy(smooth);
}

} // namespace jointer::fit
