// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/searched_model.h"

#include "models/start_values.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

namespace jointer::models {

namespace {

constexpr std::size_t kMostPoints = 150; // that the search looks at
constexpr int kRefinements = 3;

// Means of neighbours where there are many points: what noise does to one of them matters less.
SortedPoints fewer(SortedPoints p) {
    if (p.size() <= kMostPoints) return p;
    SortedPoints out;
    for (std::size_t k = 0; k < kMostPoints; ++k) {
        const std::size_t from = k * p.size() / kMostPoints, to = (k + 1) * p.size() / kMostPoints;
        double x = 0, y = 0;
        for (std::size_t i = from; i < to; ++i) x += p.x[i], y += p.y[i];
        out.x.push_back(x / static_cast<double>(to - from));
        out.y.push_back(y / static_cast<double>(to - from));
    }
    return out;
}

// The points as the search sees them: predictors, and y.
struct Points {
    std::vector<std::vector<double>> xs;
    std::vector<double> y;
    std::size_t size() const { return y.size(); }
};

// One predictor in order and thinned; of several all points as they are.
Points pointsOf(const Curve& curve, std::size_t predictors) {
    if (predictors == 1) {
        SortedPoints p = fewer(sortedPoints(curve));
        return {{std::move(p.x)}, std::move(p.y)};
    }
    Points p{std::vector<std::vector<double>>(predictors), {}};
    for (std::size_t i = 0; i < curve.size() && curve.more.size() + 1 >= predictors; ++i) {
        if (!curve.counts(i)) continue;
        p.xs[0].push_back(curve.x[i]);
        for (std::size_t k = 1; k < predictors; ++k) p.xs[k].push_back(curve.more[k - 1][i]);
        p.y.push_back(curve.y[i]);
    }
    return p;
}

struct Scale {
    double low, high;
    bool byRatio;
    bool bothSigns = false; // the lower half of the shares is negative
    double at(double share) const {
        if (bothSigns) return (share < 0.5 ? -low : low) * std::pow(high / low, std::abs(2 * share - 1));
        return byRatio ? low * std::pow(high / low, share) : std::lerp(low, high, share);
    }
};

Scale scaleOf(const SearchedParameter& p, const Points& points) {
    const auto& x = points.xs[p.search == Search::PositiveSecond ? 1 : 0];
    const auto [first, last] = std::ranges::minmax(x);
    const double range = last - first;
    const double step = range / static_cast<double>(points.size() - 1);
    double positive = INFINITY;
    for (double v : x)
        if (v > 0) positive = std::min(positive, v);
    if (std::isinf(positive)) positive = range;
    const double middle = std::max(std::abs(0.5 * (first + last)), 0.5 * range);
    Scale s{p.low, p.high, p.low > 0 && p.high > 0};
    switch (p.search) {
    case Search::Place:
        return {first, last, false};
    case Search::Positive:
    case Search::PositiveSecond:
        s = {positive / 3, 5 * std::max(last, positive), true};
        break;
    case Search::Length:
        s = {0.5 * step, 5 * range, true};
        break;
    case Search::Rate:
        s = {0.2 / range, 2 / step, true, p.info.lowest < 0};
        break;
    case Search::TimesX:
        s = {p.low * middle, p.high * middle, true};
        break;
    default:
        break;
    }
    s.low = std::max(s.low, p.info.lowest > 0 ? p.info.lowest : s.low);
    s.high = std::min(s.high, p.info.highest);
    return s;
}

// The linear parameters that fit best with the others as they are, and what is left over.
class Elimination {
public:
    Elimination(const Model& model, const std::vector<SearchedParameter>& parameters, const Points& p)
        : model_(model), parameters_(parameters), xs_(p.xs.begin(), p.xs.end()), values_(p.size()),
          gradient_(p.size() * parameters.size()),
          y_(Eigen::Map<const Eigen::VectorXd>(p.y.data(), static_cast<Eigen::Index>(p.size()))) {
        for (std::size_t k = 0; k < parameters.size(); ++k)
            if (parameters[k].search == Search::Linear) linear_.push_back(k);
    }

    double rss(std::vector<double>& all) {
        for (std::size_t k : linear_) all[k] = 0;
        model_.evaluate(xs_, all, values_, gradient_);
        const auto n = y_.size();
        const Eigen::VectorXd rest = y_ - Eigen::Map<const Eigen::VectorXd>(values_.data(), n);
        if (!rest.allFinite()) return INFINITY;
        if (linear_.empty()) return rest.squaredNorm();
        Eigen::MatrixXd columns(n, static_cast<Eigen::Index>(linear_.size()));
        for (std::size_t j = 0; j < linear_.size(); ++j)
            columns.col(static_cast<Eigen::Index>(j)) =
                Eigen::Map<const Eigen::VectorXd>(gradient_.data() + linear_[j] * values_.size(), n);
        if (!columns.allFinite()) return INFINITY;
        const Eigen::VectorXd size = columns.colwise().norm().cwiseMax(1e-300);
        columns = columns * size.cwiseInverse().asDiagonal();
        Eigen::MatrixXd normal = columns.transpose() * columns;
        normal.diagonal().array() += 1e-10; // columns that are nearly alike share their part
        Eigen::VectorXd found = normal.ldlt().solve(columns.transpose() * rest);
        for (std::size_t j = 0; j < linear_.size(); ++j) {
            const ParameterInfo& info = parameters_[linear_[j]].info;
            const auto at = static_cast<Eigen::Index>(j);
            all[linear_[j]] = std::clamp(found[at] / size[at], info.lowest, info.highest);
            found[at] = all[linear_[j]] * size[at];
        }
        const double left = (rest - columns * found).squaredNorm();
        return std::isfinite(left) ? left : INFINITY;
    }

private:
    const Model& model_;
    const std::vector<SearchedParameter>& parameters_;
    std::vector<std::span<const double>> xs_;
    std::vector<double> values_, gradient_;
    Eigen::VectorXd y_;
    std::vector<std::size_t> linear_;
};

// All combinations of `steps` places between the shares `low` and `high` of each scale.
struct Grid {
    std::vector<double> low, high;
    int steps;
    double share(std::size_t axis, int place) const {
        return steps < 2 ? 0.5 * (low[axis] + high[axis])
                         : std::lerp(low[axis], high[axis], static_cast<double>(place) / (steps - 1));
    }
};

} // namespace

std::optional<std::vector<double>>
searchedStart(const Model& model, const std::vector<SearchedParameter>& parameters, const Curve& curve) {
    const Points points = pointsOf(curve, model.predictorCount());
    if (points.size() < 2) return std::nullopt;
    std::vector<std::size_t> searched;
    std::vector<Scale> scales;
    for (std::size_t k = 0; k < parameters.size(); ++k)
        if (parameters[k].search != Search::Linear) {
            searched.push_back(k);
            scales.push_back(scaleOf(parameters[k], points));
        }
    Elimination elimination(model, parameters, points);
    std::vector<double> now(parameters.size(), 0.0), best;
    double least = INFINITY;
    std::vector<double> bestShare(searched.size(), 0.5);
    auto tryAll = [&](const Grid& grid) {
        std::vector<int> place(searched.size(), 0);
        for (bool more = true; more;) {
            for (std::size_t a = 0; a < searched.size(); ++a) {
                const ParameterInfo& info = parameters[searched[a]].info;
                now[searched[a]] =
                    std::clamp(scales[a].at(grid.share(a, place[a])), info.lowest, info.highest);
            }
            if (const double rss = elimination.rss(now); rss < least) {
                least = rss;
                best = now;
                for (std::size_t a = 0; a < searched.size(); ++a) bestShare[a] = grid.share(a, place[a]);
            }
            more = false;
            for (std::size_t a = 0; a < searched.size() && !more; ++a) {
                more = ++place[a] < grid.steps;
                if (!more) place[a] = 0;
            }
        }
    };
    constexpr int kSteps[] = {1, 60, 22, 9, 6, 4};
    const int steps = kSteps[std::min<std::size_t>(searched.size(), 5)];
    Grid grid{std::vector<double>(searched.size(), 0.0), std::vector<double>(searched.size(), 1.0), steps};
    tryAll(grid);
    double width = steps > 1 ? 1.0 / (steps - 1) : 0;
    for (int round = 0; round < kRefinements && !searched.empty() && !best.empty(); ++round) {
        for (std::size_t a = 0; a < searched.size(); ++a)
            grid.low[a] = bestShare[a] - width, grid.high[a] = bestShare[a] + width;
        grid.steps = searched.size() <= 2 ? 7 : searched.size() == 3 ? 5 : 3;
        tryAll(grid);
        width *= searched.size() <= 2 ? 0.34 : 0.5;
    }
    return best.empty() ? std::nullopt : std::optional(best);
}

ModelPtr searchedModel(std::string text, const std::vector<SearchedParameter>& parameters,
                       std::vector<DerivedInfo> derived, std::size_t predictors) {
    std::vector<ParameterInfo> infos;
    for (const SearchedParameter& p : parameters) infos.push_back(p.info);
    // The search needs the model, which needs its rule: one without a rule serves the search.
    const ModelPtr bare = libraryModel(text, infos, {}, {}, predictors);
    return libraryModel(
        std::move(text), std::move(infos), std::move(derived),
        [bare, parameters](const Curve& c) { return searchedStart(*bare, parameters, c); }, predictors);
}

} // namespace jointer::models
