// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/orthogonal.h"

#include <algorithm>
#include <cmath>

namespace jointer::fit {

namespace {

// Moves all points of a member along the curve at once.
class Feet {
public:
    Feet(const models::Model& model, models::Predictors xs, std::span<const double> parameters,
         std::span<const double> y, std::span<const double> sigma, std::span<const double> sigmaX)
        : model_(model), xs_(xs.begin(), xs.end()), x_(xs[0]), parameters_(parameters), y_(y), sigma_(sigma),
          sigmaX_(sigmaX), n_(y.size()), delta_(n_, 0.0), foot_(xs[0].begin(), xs[0].end()), f_(n_),
          slope_(n_), cost_(n_) {
        xs_[0] = foot_;
    }

    void find() {
        look(foot_, f_);
        for (std::size_t i = 0; i < n_; ++i) cost_[i] = cost(i, delta_[i], f_[i]);
        for (int round = 0; round < kRounds && move(); ++round) {}
        takeSlopes();
    }

    const std::vector<double>& foot() const { return foot_; }
    double value(std::size_t i) const { return f_[i]; }
    double slope(std::size_t i) const { return slope_[i]; }
    double delta(std::size_t i) const { return delta_[i]; }
    const std::vector<std::span<const double>>& places() const { return xs_; }

private:
    static constexpr int kRounds = 60;

    double cost(std::size_t i, double delta, double f) const {
        const double e = (y_[i] - f) / sigma_[i], d = sigmaX_[i] > 0 ? delta / sigmaX_[i] : 0;
        const double sum = e * e + d * d;
        return std::isfinite(sum) ? sum : INFINITY;
    }
    void look(const std::vector<double>& at, std::vector<double>& f) {
        auto places = xs_;
        places[0] = at;
        model_.evaluate(places, parameters_, f);
    }
    // Central differences of the fourth order over a fraction of the errors of x.
    void takeSlopes() {
        std::vector<double> at(n_), f(n_);
        std::ranges::fill(slope_, 0);
        const std::pair<double, double> terms[] = {{-2, 1}, {-1, -8}, {1, 8}, {2, -1}};
        for (const auto& [by, factor] : terms) {
            for (std::size_t i = 0; i < n_; ++i) at[i] = foot_[i] + by * stepOf(i);
            look(at, f);
            for (std::size_t i = 0; i < n_; ++i) slope_[i] += factor * f[i];
        }
        for (std::size_t i = 0; i < n_; ++i) {
            slope_[i] /= 12 * stepOf(i);
            if (!std::isfinite(slope_[i])) slope_[i] = 0;
        }
    }
    double stepOf(std::size_t i) const {
        const double scale = std::max(sigmaX_[i], 1e-6 * std::abs(foot_[i]));
        return 1e-3 * (scale > 0 ? scale : 1);
    }
    // One step of Gauss and Newton for each, halved until it helps. Whether any moved noticeably.
    bool move() {
        takeSlopes();
        std::vector<double> step(n_, 0.0);
        for (std::size_t i = 0; i < n_; ++i) {
            if (!(sigmaX_[i] > 0)) continue;
            const double s = slope_[i] / sigma_[i], w = 1 / sigmaX_[i];
            step[i] = ((y_[i] - f_[i]) / sigma_[i] * s - delta_[i] * w * w) / (s * s + w * w);
        }
        bool moved = false;
        std::vector<double> at = foot_, f = f_;
        std::vector<std::uint8_t> waits(n_);
        for (std::size_t i = 0; i < n_; ++i) waits[i] = std::abs(step[i]) > 1e-9 * sigmaX_[i];
        for (int halving = 0; halving < 12 && std::ranges::count(waits, 1) > 0; ++halving) {
            for (std::size_t i = 0; i < n_; ++i) at[i] = waits[i] ? x_[i] + delta_[i] + step[i] : foot_[i];
            look(at, f);
            for (std::size_t i = 0; i < n_; ++i) {
                if (!waits[i]) continue;
                const double now = cost(i, delta_[i] + step[i], f[i]);
                if (!(now < cost_[i])) {
                    step[i] /= 2;
                    continue;
                }
                moved |= cost_[i] - now > 1e-12 * cost_[i];
                delta_[i] += step[i];
                foot_[i] = at[i];
                f_[i] = f[i];
                cost_[i] = now;
                waits[i] = 0;
            }
        }
        return moved;
    }

    const models::Model& model_;
    std::vector<std::span<const double>> xs_;
    std::span<const double> x_, parameters_, y_, sigma_, sigmaX_;
    std::size_t n_;
    std::vector<double> delta_, foot_, f_, slope_, cost_;
};

} // namespace

bool orthogonalDistances(const models::Model& model, models::Predictors xs,
                         std::span<const double> parameters, std::span<const double> y,
                         std::span<const double> sigma, std::span<const double> sigmaX, Eigen::VectorXd& d,
                         Eigen::MatrixXd* J) {
    Feet feet(model, xs, parameters, y, sigma, sigmaX);
    feet.find();
    const auto n = std::ssize(y);
    d.resize(n);
    Eigen::VectorXd width(n);
    for (Eigen::Index i = 0; i < n; ++i) {
        const auto k = static_cast<std::size_t>(i);
        const double e = y[k] - feet.value(k), x = sigmaX[k] > 0 ? feet.delta(k) / sigmaX[k] : 0;
        d[i] = std::copysign(std::hypot(e / sigma[k], x), e);
        width[i] = std::hypot(sigma[k], feet.slope(k) * sigmaX[k]);
    }
    if (J) {
        const auto m = std::ssize(parameters);
        J->resize(n, m);
        std::vector<double> f(y.size());
        model.evaluate(feet.places(), parameters, f, {J->data(), static_cast<std::size_t>(n * m)});
        J->array().colwise() /= width.array();
    }
    return d.allFinite() && (!J || J->allFinite());
}

} // namespace jointer::fit
