// SPDX-License-Identifier: GPL-3.0-or-later
// The fitted curve and its bands.
#include "fit/fit.h"

#include <algorithm>
#include <cmath>

namespace jointer::fit {

std::vector<double> curve(const models::Model& model, const MemberReport& report, models::Predictors xs) {
    std::vector<double> y(xs[0].size());
    model.evaluate(xs, report.values(), y);
    return y;
}

namespace {

// The variance of one more observation at a place, before the scatter of the residuals scales it.
class Noise {
public:
    explicit Noise(const FitMember& member) : member_(member) {
        if (member.scatter != Scatter::ByPoint || member.sigma.empty()) return;
        for (std::size_t i = 0; i < member.sigma.size(); ++i)
            points_.emplace_back(member.predictors[0][i], member.sigma[i] * member.sigma[i]);
        std::ranges::sort(points_);
        for (const auto& [x, own] : points_) means_.push_back(localMean(x));
    }
    double variance(double x, double y) const {
        if (member_.sigma.empty()) return 1;
        if (member_.scatter == Scatter::Level) return std::abs(y);
        if (member_.scatter == Scatter::LevelSquared) return y * y;
        return between(x);
    }

private:
    static constexpr std::size_t kNear = 5;
    // Straight between the means about two neighbours, so that the band has no steps.
    double between(double x) const {
        const auto after = std::ranges::lower_bound(points_, x, {}, &std::pair<double, double>::first);
        if (after == points_.begin()) return means_.front();
        if (after == points_.end()) return means_.back();
        const auto k = static_cast<std::size_t>(after - points_.begin());
        const double low = points_[k - 1].first, high = points_[k].first;
        return high > low ? std::lerp(means_[k - 1], means_[k], (x - low) / (high - low)) : means_[k];
    }
    // Of the variances of the points that are nearest.
    double localMean(double x) const {
        const std::size_t count = std::min(kNear, points_.size());
        auto first = static_cast<std::size_t>(
            std::ranges::lower_bound(points_, x, {}, &std::pair<double, double>::first) - points_.begin());
        first = std::min(first > count / 2 ? first - count / 2 : 0, points_.size() - count);
        while (first + count < points_.size() && points_[first + count].first - x < x - points_[first].first)
            ++first;
        while (first > 0 && x - points_[first - 1].first < points_[first + count - 1].first - x) --first;
        double sum = 0;
        for (std::size_t i = first; i < first + count; ++i) sum += points_[i].second;
        return sum / static_cast<double>(count);
    }
    const FitMember& member_;
    std::vector<std::pair<double, double>> points_; // x and variance
    std::vector<double> means_;                     // about each of them
};

} // namespace

Prediction predict(const FitProblem& problem, const FitReport& report, models::Predictors xs, std::size_t m) {
    const FitMember& member = problem.members[m];
    const MemberReport& of = report.members[m];
    const std::size_t n = xs[0].size(), parameters = of.parameters.size();
    Prediction out;
    out.y.resize(n);
    const bool known = of.root.size() > 0;
    Eigen::MatrixXd gradient;
    if (known) gradient.resize(static_cast<Eigen::Index>(n), static_cast<Eigen::Index>(parameters));
    member.model->evaluate(xs, of.values(), out.y,
                           {gradient.data(), static_cast<std::size_t>(gradient.size())});
    const double t = tQuantile(report);
    const double spread = report.scale > 0 ? report.scale : report.absolute ? 1 : report.residualSd;
    const Noise noise(member);
    for (std::size_t i = 0; i < n; ++i) {
        const double variance =
            known ? (gradient.row(static_cast<Eigen::Index>(i)) * of.root).squaredNorm() : std::nan("");
        out.confidence.push_back(t * std::sqrt(variance));
        out.prediction.push_back(t *
                                 std::sqrt(variance + spread * spread * noise.variance(xs[0][i], out.y[i])));
    }
    return out;
}

} // namespace jointer::fit
