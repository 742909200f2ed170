// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/integral_background.h"

#include "formula/expression.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::models {

namespace {

class OnIntegral final : public Model {
public:
    OnIntegral(ModelPtr peaks, double low, double high, std::size_t nodes)
        : peaks_(std::move(peaks)), low_(low), distance_((high - low) / static_cast<double>(nodes - 1)) {
        parameters_ = peaks_->parameters();
        parameters_.push_back({"offset", "background before the peaks", "y"});
        parameters_.push_back({"step", "rise of the background over the area of the peaks", "1/x"});
        nodes_.resize(nodes);
        for (std::size_t i = 0; i < nodes; ++i) nodes_[i] = low + static_cast<double>(i) * distance_;
    }

    const std::vector<ParameterInfo>& parameters() const override { return parameters_; }
    const std::vector<DerivedInfo>& derived() const override { return peaks_->derived(); }
    double derive(std::size_t which, std::span<const double> p, std::span<double> gradient) const override {
        const std::size_t own = peaks_->parameters().size();
        std::ranges::fill(gradient, 0);
        return peaks_->derive(which, p.first(own), gradient.first(own));
    }
    const std::vector<Component>& components() const override { return peaks_->components(); }
    std::string formula() const override {
        const auto asT = [](const std::string& name) {
            return name == "x" ? std::string("t") : std::string();
        };
        return fmt::format("{} + offset + step*integral({}, t, {}, x)", peaks_->formula(),
                           formula::renamed(peaks_->formula(), asT), low_);
    }

    void evaluate(Predictors xs, std::span<const double> p, std::span<double> values,
                  std::span<double> gradient) const override {
        const std::size_t n = values.size(), own = peaks_->parameters().size(), m = nodes_.size();
        const double offset = p[own], step = p[own + 1];
        std::vector<double> y(m), g(gradient.empty() ? 0 : m * own), sum(m), area(n);
        const std::span<const double> nodes(nodes_);
        peaks_->evaluate({&nodes, 1}, p.first(own), y, g);
        peaks_->evaluate(xs, p.first(own), values, gradient.empty() ? gradient : gradient.first(n * own));
        integrate(y, sum);
        interpolate(xs[0], y, sum, area);
        for (std::size_t i = 0; i < n; ++i) values[i] += offset + step * area[i];
        if (gradient.empty()) return;
        for (std::size_t i = 0; i < n; ++i) {
            gradient[own * n + i] = 1;
            gradient[(own + 1) * n + i] = area[i];
        }
        for (std::size_t k = 0; k < own; ++k) { // both are linear in the values at the nodes
            const auto column = std::span<const double>(g).subspan(k * m, m);
            integrate(column, sum);
            interpolate(xs[0], column, sum, area);
            for (std::size_t i = 0; i < n; ++i) gradient[k * n + i] += step * area[i];
        }
    }

private:
    // By the cubic through four nodes over the middle one of their three distances.
    void integrate(std::span<const double> y, std::span<double> sum) const {
        const std::size_t m = y.size();
        sum[0] = 0;
        for (std::size_t i = 0; i + 1 < m; ++i) {
            const double a = i > 0 ? y[i - 1] : 3 * y[0] - 3 * y[1] + y[2],
                         d = i + 2 < m ? y[i + 2] : 3 * y[m - 1] - 3 * y[m - 2] + y[m - 3];
            sum[i + 1] = sum[i] + distance_ / 24 * (13 * (y[i] + y[i + 1]) - a - d);
        }
    }
    // The cubic with the integrals at both nodes and the values as its slopes.
    void interpolate(std::span<const double> x, std::span<const double> y, std::span<const double> sum,
                     std::span<double> out) const {
        const auto last = static_cast<double>(y.size() - 1);
        for (std::size_t i = 0; i < x.size(); ++i) {
            const double at = std::clamp((x[i] - low_) / distance_, 0.0, last);
            const auto k = static_cast<std::size_t>(std::min(at, last - 1));
            const double t = at - static_cast<double>(k), s = 1 - t;
            out[i] = sum[k] * s * s * (1 + 2 * t) + sum[k + 1] * t * t * (1 + 2 * s) +
                     distance_ * t * s * (y[k] * s - y[k + 1] * t);
        }
    }

    ModelPtr peaks_;
    double low_, distance_;
    std::vector<ParameterInfo> parameters_;
    std::vector<double> nodes_;
};

} // namespace

ModelPtr onIntegral(ModelPtr peaks, double low, double high, std::size_t nodes) {
    return std::make_shared<OnIntegral>(std::move(peaks), low, high, std::max<std::size_t>(nodes, 8));
}

} // namespace jointer::models
