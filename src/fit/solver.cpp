// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/solver.h"

#include "fit/householder.h"

#include <cmath>
#include <limits>

namespace jointer::fit {

namespace {

using Eigen::Index, Eigen::MatrixXd, Eigen::VectorXd;

constexpr double kLargestDamping = 1e20;

// The linear problem at one point: the free columns, scaled, as a triangle.
struct Tangent {
    std::vector<Index> free; // columns that may move: not held by a limit
    VectorXd scale;          // of the free columns
    MatrixXd r;              // triangle
    VectorXd q;              // Qᵀ residuals, the part along the columns
};

class Minimiser {
public:
    Minimiser(const ResidualFunction& f, const VectorXd& lower, const VectorXd& upper, double dataNorm,
              const SolverOptions& options)
        : f_(f), lower_(lower), upper_(upper), floor_(4 * std::numeric_limits<double>::epsilon() * dataNorm),
          options_(options) {}

    SolverResult run(VectorXd start, const Cancellation& stop) {
        SolverResult out;
        p_ = start.cwiseMax(lower_).cwiseMin(upper_);
        if (!f_(p_, residuals_, &jacobian_))
            return out.p = p_, out.rss = std::numeric_limits<double>::infinity(), out;
        rss_ = residuals_.squaredNorm();
        smallestScale_ = 1e-3 * jacobian_.colwise().norm().transpose();
        out.end = SolverEnd::IterationLimit;
        for (; out.iterations < options_.maxIterations; ++out.iterations) {
            if (stop.stop_requested()) {
                out.end = SolverEnd::Stopped;
                break;
            }
            const Tangent t = tangent();
            const double along = t.q.norm();
            if (along <= options_.offsetTolerance * std::sqrt(rss_) || along <= floor_) {
                out.end = SolverEnd::Converged;
                break;
            }
            if (!improve(t, stop)) {
                if (stop.stop_requested()) {
                    out.end = SolverEnd::Stopped;
                    break;
                }
                // Rounding hides any further gain: at the bottom when what is left to gain is negligible.
                out.end = along * along <= 1e-9 * rss_ || along <= 1e3 * floor_ ? SolverEnd::Converged
                                                                                : SolverEnd::Stuck;
                break;
            }
            if (!f_(p_, residuals_, &jacobian_)) break;
        }
        if (out.end == SolverEnd::Converged && !stop.stop_requested()) polish();
        out.p = p_;
        out.rss = rss_;
        return out;
    }

private:
    // Near the bottom the residual sum no longer feels a step, but the tangents still do: undamped steps as
    // long as they shorten that part of the residuals. Worth up to half of the digits.
    void polish() {
        Tangent t = tangent();
        const double enough = 0.1 * options_.offsetTolerance * std::sqrt(rss_);
        for (int k = 0; k < 60 && t.q.size() > 0 && t.q.norm() > enough; ++k) {
            const VectorXd before = p_, r = residuals_;
            const MatrixXd J = jacobian_;
            damping_ = 0;
            const VectorXd step = dampedStep(t);
            for (Index i = 0; i < step.size(); ++i)
                p_[t.free[static_cast<std::size_t>(i)]] += step[i] / t.scale[i];
            p_ = p_.cwiseMax(lower_).cwiseMin(upper_);
            const bool finite = p_.allFinite() && f_(p_, residuals_, &jacobian_);
            Tangent next = finite ? tangent() : t;
            if (!finite || next.q.norm() > 0.95 * t.q.norm() ||
                residuals_.squaredNorm() > rss_ * (1 + 1e-9)) {
                p_ = before;
                residuals_ = r;
                jacobian_ = J;
                return;
            }
            rss_ = residuals_.squaredNorm();
            t = std::move(next);
        }
    }

    // A column that depends on earlier ones has no direction of its own: it does not move, and the others are
    // seen as if it were not there.
    Tangent tangent() const {
        Tangent t;
        const VectorXd downhill = jacobian_.transpose() * residuals_;
        for (Index k = 0; k < p_.size(); ++k) {
            const bool held =
                (p_[k] <= lower_[k] && downhill[k] <= 0) || (p_[k] >= upper_[k] && downhill[k] >= 0);
            if (!held) t.free.push_back(k);
        }
        for (;;) {
            triangulate(t);
            Index dependent = 0;
            while (dependent < t.q.size() && std::abs(t.r(dependent, dependent)) > 1e-13) ++dependent;
            if (dependent == t.q.size()) return t;
            t.free.erase(t.free.begin() + dependent);
        }
    }

    void triangulate(Tangent& t) const {
        const auto m = static_cast<Index>(t.free.size());
        MatrixXd a(jacobian_.rows(), m + 1); // the residuals beside the columns
        a.col(m) = residuals_;
        t.scale.resize(m);
        for (Index k = 0; k < m; ++k) {
            const Index column = t.free[static_cast<std::size_t>(k)];
            const double norm = std::max(jacobian_.col(column).norm(), smallestScale_[column]);
            t.scale[k] = norm > 0 ? norm : 1;
            a.col(k) = jacobian_.col(column) / t.scale[k];
        }
        const Index rank = std::min(a.rows(), m);
        triangularise(a, m);
        t.q = a.col(m).head(rank);
        t.r = a.topLeftCorner(rank, m).triangularView<Eigen::Upper>();
    }

    // The damped step: least squares of the triangle above a diagonal √λ.
    VectorXd dampedStep(const Tangent& t) const {
        const Index m = t.scale.size();
        MatrixXd a = MatrixXd::Zero(t.r.rows() + m, m + 1);
        a.topLeftCorner(t.r.rows(), m) = t.r;
        a.bottomLeftCorner(m, m).diagonal().setConstant(std::sqrt(damping_));
        a.col(m).head(t.q.size()) = t.q;
        triangularise(a, m);
        return backSubstituted(a, m, m);
    }

    // Tries steps with growing damping until one lowers the residual sum.
    bool improve(const Tangent& t, const Cancellation& stop) {
        VectorXd trial(p_.size()), r;
        for (double growth = 2; damping_ < kLargestDamping && !stop.stop_requested(); growth *= 2) {
            const VectorXd step = dampedStep(t);
            trial = p_;
            for (Index k = 0; k < step.size(); ++k)
                trial[t.free[static_cast<std::size_t>(k)]] += step[k] / t.scale[k];
            trial = trial.cwiseMax(lower_).cwiseMin(upper_);
            if (trial == p_) return false;
            if (step.allFinite() && f_(trial, r, nullptr) && r.squaredNorm() < rss_) {
                const double predicted = t.q.squaredNorm() - (t.q - t.r * step).squaredNorm();
                const double gain = predicted > 0 ? (rss_ - r.squaredNorm()) / predicted : 1;
                damping_ = std::max(
                    1e-20, damping_ * std::max(1.0 / 3, 1 - std::pow(2 * std::min(gain, 1.0) - 1, 3)));
                p_ = trial;
                rss_ = r.squaredNorm();
                return true;
            }
            damping_ *= growth;
        }
        damping_ = 1e-4;
        return false;
    }

    const ResidualFunction& f_;
    const VectorXd &lower_, &upper_;
    double floor_;
    const SolverOptions& options_;
    VectorXd p_, residuals_, smallestScale_;
    MatrixXd jacobian_;
    double rss_ = 0, damping_ = 1e-4;
};

} // namespace

SolverResult minimise(const ResidualFunction& residuals, VectorXd start, const VectorXd& lower,
                      const VectorXd& upper, double dataNorm, const SolverOptions& options,
                      const Cancellation& stop) {
    return Minimiser(residuals, lower, upper, dataNorm, options).run(std::move(start), stop);
}

} // namespace jointer::fit
