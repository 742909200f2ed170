// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/robust.h"

#include "fit/inference.h"

#include <algorithm>
#include <cmath>

namespace jointer::fit {

using Eigen::Index, Eigen::MatrixXd, Eigen::VectorXd;

namespace {

// Tuned to 95 % efficiency where the residuals are normal.
constexpr double kHuber = 1.345, kCauchy = 2.3849, kBisquare = 4.685;
constexpr double kNormalScale = 1.482602218505602; // of the median of |u| of normal residuals

double countOf(Loss loss, double u) {
    u = std::abs(u);
    switch (loss) {
    case Loss::Huber:
        return u <= kHuber ? 1 : kHuber / u;
    case Loss::Cauchy:
        return 1 / (1 + (u / kCauchy) * (u / kCauchy));
    case Loss::Bisquare: {
        const double v = 1 - (u / kBisquare) * (u / kBisquare);
        return v > 0 ? v * v : 0;
    }
    case Loss::Squares:
        break;
    }
    return 1;
}

// ψ′(u), with ψ(u) = u·countOf(u).
double slopeOf(Loss loss, double u) {
    switch (loss) {
    case Loss::Huber:
        return std::abs(u) <= kHuber ? 1 : 0;
    case Loss::Cauchy: {
        const double v = (u / kCauchy) * (u / kCauchy);
        return (1 - v) / ((1 + v) * (1 + v));
    }
    case Loss::Bisquare: {
        const double v = (u / kBisquare) * (u / kBisquare);
        return v < 1 ? (1 - v) * (1 - 5 * v) : 0;
    }
    case Loss::Squares:
        break;
    }
    return 1;
}

double middleOf(const Vectors& residuals) {
    std::vector<double> sizes;
    for (const VectorXd& r : residuals)
        for (double v : r) sizes.push_back(std::abs(v));
    const auto middle = sizes.begin() + std::ssize(sizes) / 2;
    std::ranges::nth_element(sizes, middle);
    if (sizes.size() % 2 == 1) return *middle;
    return (*middle + *std::max_element(sizes.begin(), middle)) / 2;
}

Vectors countsOf(Loss loss, const Vectors& residuals, double scale) {
    Vectors out;
    for (const VectorXd& r : residuals)
        out.push_back(r.unaryExpr([&](double v) { return countOf(loss, v / scale); }));
    return out;
}

Vectors roots(const Vectors& counts) {
    Vectors out;
    for (const VectorXd& c : counts) out.push_back(c.cwiseSqrt());
    return out;
}

constexpr int kRounds = 200;

// Rounds of one loss until the parameters stay.
void settle(Fitter& fitter, Loss loss, Attempt& a, Reweighted& w, const FitOptions& options,
            const Cancellation& stop) {
    for (int round = 0; round < (options.provisional ? 3 : kRounds) && !stop.stop_requested(); ++round) {
        fitter.setLossWeights({});
        const Vectors r = fitter.weightedResiduals(a.values);
        w.scale = kNormalScale * middleOf(r);
        w.rss = squaredNorm(r);
        if (!(w.scale > 1e-14 * std::sqrt(w.rss))) { // half of the points are met exactly
            w.counts = countsOf(loss, r, std::max(w.scale, 1e-300));
            return;
        }
        w.counts = countsOf(loss, r, w.scale);
        fitter.setLossWeights(roots(w.counts));
        const int before = a.solved.iterations;
        const VectorXd was = a.solved.p;
        const std::vector<double> start = a.start;
        Attempt next = fitter.linearAttempt(a.values);
        if (next.state != FitState::Converged) next = fitter.attempt(a.values, options, stop);
        const VectorXd change = next.solved.p - was;
        a = std::move(next);
        a.start = start;
        a.solved.iterations += before;
        if (change.norm() <= 1e-11 * a.solved.p.norm()) break;
    }
    fitter.setLossWeights({});
    w.rss = squaredNorm(fitter.weightedResiduals(a.values));
}

} // namespace

Reweighted reweigh(Fitter& fitter, Attempt& a, const FitOptions& options, const Cancellation& stop) {
    Reweighted w;
    const Loss loss = fitter.problem().loss;
    // One that takes far points out altogether needs to know first which those are.
    if (loss == Loss::Bisquare) settle(fitter, Loss::Huber, a, w, options, stop);
    settle(fitter, loss, a, w, options, stop);
    return w;
}

void inferRobustly(Fitter& fitter, const Attempt& a, const Reweighted& w, FitReport& report) {
    infer(fitter, a, report); // the usual ones, for states, and where the sandwich cannot be made
    for (std::size_t m = 0; m < report.members.size(); ++m)
        report.members[m].counts.assign(w.counts[m].begin(), w.counts[m].end());
    if (report.dof <= 0 || a.unseen.cols() > 0) return;
    const FreeLayout& layout = fitter.map().layout();
    const Matrices J = fitter.jacobian(a.values);
    const Vectors r = fitter.weightedResiduals(a.values);
    const Index count = layout.count;
    MatrixXd H = MatrixXd::Zero(count, count), G = H;
    for (std::size_t m = 0; m < J.size(); ++m)
        for (Index i = 0; i < r[m].size(); ++i) {
            const double u = r[m][i] / w.scale, psi = w.scale * u * countOf(fitter.problem().loss, u);
            VectorXd g = VectorXd::Zero(count);
            for (Index k = 0; k < layout.columns(m); ++k) g[layout.place(m, k)] = J[m](i, k);
            H.noalias() += slopeOf(fitter.problem().loss, u) * g * g.transpose();
            G.noalias() += psi * psi * g * g.transpose();
        }
    std::vector<Index> kept;
    for (Index k = 0; k < count; ++k)
        if (!a.atLimit[static_cast<std::size_t>(k)]) kept.push_back(k);
    const MatrixXd bread = H(kept, kept), filling = G(kept, kept);
    const Eigen::LDLT<MatrixXd> solver(bread);
    if (solver.info() != Eigen::Success || !solver.isPositive()) return;
    const MatrixXd inverse = solver.solve(MatrixXd::Identity(bread.rows(), bread.cols()));
    const double small = static_cast<double>(report.n) / static_cast<double>(report.dof);
    const Eigen::SelfAdjointEigenSolver<MatrixXd> split(small * inverse * filling * inverse.transpose());
    const MatrixXd half = split.eigenvectors() * split.eigenvalues().cwiseMax(0).cwiseSqrt().asDiagonal();
    MatrixXd root = MatrixXd::Zero(count, half.cols());
    for (std::size_t k = 0; k < kept.size(); ++k) root.row(kept[k]) = half.row(static_cast<Index>(k));
    replaceRoots(fitter, a, root, report);
}

} // namespace jointer::fit
