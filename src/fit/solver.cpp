// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/solver.h"

#include <cmath>
#include <limits>
#include <optional>

namespace jointer::fit {

namespace {

using Eigen::Index, Eigen::VectorXd;

constexpr double kLargestDamping = 1e20;

class Minimiser {
public:
    Minimiser(const ResidualFunction& f, const FreeLayout& layout, const VectorXd& lower,
              const VectorXd& upper, double dataNorm, const SolverOptions& options)
        : f_(f), layout_(layout), lower_(lower), upper_(upper),
          floor_(4 * std::numeric_limits<double>::epsilon() * dataNorm), options_(options) {}

    SolverResult run(VectorXd start, const Cancellation& stop) {
        SolverResult out;
        p_ = start.cwiseMax(lower_).cwiseMin(upper_);
        const bool only = options_.maxIterations == 0; // how it is there
        if (!f_(p_, residuals_, only ? nullptr : &jacobian_))
            return out.p = p_, out.rss = std::numeric_limits<double>::infinity(), out;
        rss_ = squaredNorm(residuals_);
        if (only) return out.p = p_, out.rss = rss_, out.end = SolverEnd::IterationLimit, out;
        smallestScale_ = 1e-3 * columnNorms(layout_, jacobian_);
        out.end = SolverEnd::IterationLimit;
        std::optional<BlockTriangle> t; // where it stands
        for (; out.iterations < options_.maxIterations; ++out.iterations) {
            if (stop.stop_requested()) {
                out.end = SolverEnd::Stopped;
                break;
            }
            t.emplace(tangent());
            const double along = std::sqrt(t->alongSquared());
            if (along <= options_.offsetTolerance * std::sqrt(rss_) || along <= floor_) {
                out.end = SolverEnd::Converged;
                break;
            }
            if (!improve(*t, stop)) {
                if (stop.stop_requested()) {
                    out.end = SolverEnd::Stopped;
                    break;
                }
                // Rounding hides any further gain: at the bottom when what is left to gain is negligible.
                out.end = along * along <= 1e-9 * rss_ || along <= 1e3 * floor_ ? SolverEnd::Converged
                                                                                : SolverEnd::Stuck;
                break;
            }
        }
        if (out.end == SolverEnd::Converged && !stop.stop_requested()) polish(std::move(*t));
        out.p = p_;
        out.rss = rss_;
        out.jacobian = std::move(jacobian_);
        return out;
    }

private:
    // Near the bottom the residual sum no longer feels a step, but the tangents still do: undamped steps as
    // long as they shorten that part of the residuals. Worth up to half of the digits.
    void polish(BlockTriangle t) {
        const double enough = 0.1 * options_.offsetTolerance * std::sqrt(rss_);
        for (int k = 0; k < 60 && std::sqrt(t.alongSquared()) > enough; ++k) {
            const VectorXd before = p_;
            const VectorXd trial = (p_ + t.step(0)).cwiseMax(lower_).cwiseMin(upper_);
            if (!trial.allFinite() || !f_(trial, trialResiduals_, &trialJacobian_)) return;
            const double rss = squaredNorm(trialResiduals_);
            if (rss > rss_ * (1 + 1e-9)) return;
            const double rssBefore = rss_;
            (void)take(trial, rss, true);
            BlockTriangle next = tangent();
            if (std::sqrt(next.alongSquared()) > 0.95 * std::sqrt(t.alongSquared())) {
                (void)take(before, rssBefore, true); // back: the buffers have changed places
                return;
            }
            t = std::move(next);
        }
    }

    // Half of the digits do for a step, and where it leads tell products of the columns with the residuals, which
    // have all of them; columns that are nearly dependent are taken with care all the same.
    // A column that depends on earlier ones has no direction of its own: it does not move, and the others are
    // seen as if it were not there. Nor does one that its limit holds.
    BlockTriangle tangent() const {
        VectorXd scale = columnNorms(layout_, jacobian_).cwiseMax(smallestScale_), downhill;
        std::vector<std::uint8_t> active(static_cast<std::size_t>(p_.size()), 1);
        for (Index k = 0; k < p_.size(); ++k) {
            if (!(scale[k] > 0)) scale[k] = 1;
            if (p_[k] > lower_[k] && p_[k] < upper_[k]) continue;
            if (downhill.size() == 0) downhill = timesTransposed(layout_, jacobian_, residuals_);
            const bool held =
                (p_[k] <= lower_[k] && downhill[k] <= 0) || (p_[k] >= upper_[k] && downhill[k] >= 0);
            active[static_cast<std::size_t>(k)] = !held;
        }
        for (;;) {
            BlockTriangle t(layout_, jacobian_, residuals_, active, scale, true);
            const auto dependent = t.dependent(1e-13);
            if (dependent.empty()) return t;
            for (Index k : dependent) active[static_cast<std::size_t>(k)] = 0;
        }
    }

    // Tries steps with growing damping until one lowers the residual sum. The first is mostly taken, so its
    // columns are asked for at once.
    bool improve(const BlockTriangle& t, const Cancellation& stop) {
        bool first = true;
        for (double growth = 2; damping_ < kLargestDamping && !stop.stop_requested(); growth *= 2) {
            const VectorXd step = t.step(damping_);
            const VectorXd trial = (p_ + step).cwiseMax(lower_).cwiseMin(upper_);
            if (trial == p_) return false;
            if (step.allFinite() && f_(trial, trialResiduals_, first ? &trialJacobian_ : nullptr)) {
                const double rss = squaredNorm(trialResiduals_);
                if (rss < rss_) {
                    const double predicted = t.gain(step);
                    const double gain = predicted > 0 ? (rss_ - rss) / predicted : 1;
                    damping_ = std::max(
                        1e-20, damping_ * std::max(1.0 / 3, 1 - std::pow(2 * std::min(gain, 1.0) - 1, 3)));
                    return take(trial, rss, first);
                }
            }
            first = false;
            damping_ *= growth;
        }
        damping_ = 1e-4;
        return false;
    }

    // Goes to the trial. False: there are no finite columns there.
    bool take(const VectorXd& trial, double rss, bool haveColumns) {
        p_ = trial;
        rss_ = rss;
        if (!haveColumns) return f_(p_, residuals_, &jacobian_);
        std::swap(residuals_, trialResiduals_);
        std::swap(jacobian_, trialJacobian_);
        return true;
    }

    const ResidualFunction& f_;
    const FreeLayout& layout_;
    const VectorXd &lower_, &upper_;
    double floor_;
    const SolverOptions& options_;
    VectorXd p_, smallestScale_;
    Vectors residuals_, trialResiduals_;
    Matrices jacobian_, trialJacobian_;
    double rss_ = 0, damping_ = 1e-4;
};

} // namespace

SolverResult minimise(const ResidualFunction& residuals, const FreeLayout& layout, VectorXd start,
                      const VectorXd& lower, const VectorXd& upper, double dataNorm,
                      const SolverOptions& options, const Cancellation& stop) {
    return Minimiser(residuals, layout, lower, upper, dataNorm, options).run(std::move(start), stop);
}

} // namespace jointer::fit
