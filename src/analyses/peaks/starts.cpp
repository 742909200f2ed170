// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/peaks/starts.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

namespace jointer::analyses {

namespace {

using Eigen::Index, Eigen::MatrixXd, Eigen::VectorXd;

constexpr double kLeastShare = 0.02; // of the highest: what a peak that would point the other way begins with
constexpr double kBesidePeaks = 1.2; // in widths: points farther from all peaks tell of the baseline

VectorXd evaluated(const models::Model& model, std::span<const double> x, std::span<const double> p) {
    VectorXd out(std::ssize(x));
    model.evaluate({&x, 1}, p, {out.data(), x.size()});
    return out;
}

// The columns that multiply the parameters of a linear baseline.
MatrixXd columnsOf(const models::Model& model, std::span<const double> x) {
    const std::size_t count = model.parameters().size();
    std::vector<double> values(x.size()), nothing(count, 0.0);
    MatrixXd out(std::ssize(x), static_cast<Index>(count));
    model.evaluate({&x, 1}, nothing, values, {out.data(), x.size() * count});
    return out;
}

// Points away from all peaks; all of them where hardly any are.
Curve beside(const PeaksPlan& plan, const std::vector<double>& x, const std::vector<double>& y) {
    Curve c;
    for (std::size_t i = 0; i < x.size(); ++i) {
        const bool in = std::ranges::any_of(plan.peaks, [&](const PlannedPeak& p) {
            return std::abs(x[i] - p.place) < kBesidePeaks * p.width;
        });
        if (in) continue;
        c.x.push_back(x[i]);
        c.y.push_back(y[i]);
    }
    if (c.size() >= 8) return c;
    c.x = x;
    c.y = y;
    return c;
}

// Heights with the wanted signs and the baseline's parameters, so that their sum is nearest to y.
VectorXd solved(const MatrixXd& columns, const VectorXd& y, const std::vector<double>& signs) {
    const auto peaks = std::ssize(signs);
    VectorXd fixed = VectorXd::Zero(columns.cols());
    std::vector<std::uint8_t> held(static_cast<std::size_t>(columns.cols()), 0);
    for (int round = 0; round < 6; ++round) {
        std::vector<Index> free;
        for (Index k = 0; k < columns.cols(); ++k)
            if (!held[static_cast<std::size_t>(k)]) free.push_back(k);
        MatrixXd some(columns.rows(), std::ssize(free));
        for (Index k = 0; k < some.cols(); ++k) some.col(k) = columns.col(free[static_cast<std::size_t>(k)]);
        const VectorXd size = some.colwise().norm().cwiseMax(1e-300);
        some = some * size.cwiseInverse().asDiagonal();
        MatrixXd normal = some.transpose() * some;
        normal.diagonal().array() += 1e-10; // peaks that lie upon each other share
        const VectorXd found =
            normal.ldlt().solve(some.transpose() * (y - columns * fixed)).cwiseQuotient(size);
        VectorXd out = fixed;
        for (Index k = 0; k < some.cols(); ++k) out[free[static_cast<std::size_t>(k)]] = found[k];
        double largest = 0;
        for (Index k = 0; k < peaks; ++k) largest = std::max(largest, std::abs(out[k]));
        bool turned = false;
        for (Index k = 0; k < peaks; ++k) {
            const double sign = signs[static_cast<std::size_t>(k)];
            if (held[static_cast<std::size_t>(k)] || out[k] * sign > 0) continue;
            held[static_cast<std::size_t>(k)] = 1;
            fixed[k] = sign * kLeastShare * largest;
            turned = true;
        }
        if (!turned) return out;
    }
    return fixed;
}

// A baseline that is not linear is guessed beside the peaks; taken off `rest`.
void guessBaseline(PeaksPlan& plan, const std::vector<double>& x, const std::vector<double>& y,
                   VectorXd& rest) {
    const models::Model& level = *plan.baseline.model;
    if (const auto found = level.guess(beside(plan, x, y)))
        plan.baseline.begin = *found;
    else
        plan.baseline.begin.assign(level.parameters().size(), 1.0);
    rest -= evaluated(level, x, plan.baseline.begin);
}

// The peaks with height 1, each a column; their starts are set so.
MatrixXd columnsOfPeaks(PeaksPlan& plan, const std::vector<double>& x) {
    MatrixXd columns(std::ssize(x), std::ssize(plan.peaks));
    for (Index k = 0; k < columns.cols(); ++k) {
        PlannedPeak& p = plan.peaks[static_cast<std::size_t>(k)];
        p.begin = p.shape.traits->begin(p.place, 1, p.width);
        p.begin.insert(p.begin.end(), p.partner.begin(), p.partner.end());
        columns.col(k) = evaluated(*p.model, x, p.begin);
    }
    return columns;
}

// The heights as the plan has them, and the level that suits them best.
VectorXd asPlanned(const PeaksPlan& plan, const MatrixXd& columns, const VectorXd& rest) {
    VectorXd found = VectorXd::Zero(columns.cols());
    const auto peaks = std::ssize(plan.peaks), more = columns.cols() - peaks;
    for (Index k = 0; k < peaks; ++k) found[k] = plan.peaks[static_cast<std::size_t>(k)].height;
    if (more > 0) {
        const VectorXd left = rest - columns.leftCols(peaks) * found.head(peaks);
        found.tail(more) = columns.rightCols(more).colPivHouseholderQr().solve(left);
    }
    return found;
}

} // namespace

void giveStarts(PeaksPlan& plan, const std::vector<double>& x, const std::vector<double>& y, bool asTold) {
    VectorXd rest = Eigen::Map<const VectorXd>(y.data(), std::ssize(y));
    models::ModelPtr level = plan.baseline.model; // whose parameters are solved with the heights
    const bool integral = plan.baseline.key == "shirley";
    if (integral) level = *models::makeModel("line", {});
    if (level && !level->isLinear()) {
        guessBaseline(plan, x, y, rest);
        level = nullptr;
    }
    MatrixXd columns = columnsOfPeaks(plan, x);
    const Index peaks = columns.cols();
    if (level) {
        columns.conservativeResize(Eigen::NoChange, peaks + std::ssize(level->parameters()));
        columns.rightCols(columns.cols() - peaks) = columnsOf(*level, x);
    }
    std::vector<double> signs;
    for (const PlannedPeak& p : plan.peaks) signs.push_back(p.height < 0 ? -1 : 1);
    const VectorXd found = asTold ? asPlanned(plan, columns, rest) : solved(columns, rest, signs);
    double area = 0;
    for (Index k = 0; k < peaks; ++k) {
        PlannedPeak& p = plan.peaks[static_cast<std::size_t>(k)];
        p.height = found[k];
        p.begin[p.shape.traits->size] *= p.height;
        area += std::abs(p.height) * p.width;
    }
    if (integral) { // from the line: its levels at both ends
        const double intercept = found[found.size() - 2], slope = found[found.size() - 1];
        const double rise = slope * (plan.high - plan.low);
        plan.baseline.begin = {intercept + slope * plan.low, area > 0 ? rise / area : 0};
    } else if (level) {
        plan.baseline.begin.assign(found.data() + peaks, found.data() + found.size());
    }
}

} // namespace jointer::analyses
