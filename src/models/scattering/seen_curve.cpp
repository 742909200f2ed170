// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/scattering/seen_curve.h"

#include <algorithm>
#include <cmath>
#include <mutex>

namespace jointer::models::scattering {

const std::vector<DerivedInfo>& BareCurve::derived() const {
    static const std::vector<DerivedInfo> none;
    return none;
}

namespace {

constexpr double kReachStep = 1.15; // reaches are rounded up by such ratios, so that a layout serves many

class SeenCurve final : public Model {
public:
    SeenCurve(BarePtr bare, Resolution resolution, bool background)
        : bare_(std::move(bare)), resolution_(std::move(resolution)), background_(background),
          parameters_(bare_->parameters()) {
        if (background_) parameters_.push_back({"background", "the same at every q", "y"});
    }

    const BarePtr& bare() const { return bare_; }
    const std::vector<ParameterInfo>& parameters() const override { return parameters_; }
    const std::vector<DerivedInfo>& derived() const override { return bare_->derived(); }
    std::string formula() const override { return bare_->formula() + (background_ ? " + background" : ""); }

    double derive(std::size_t which, std::span<const double> p, std::span<double> gradient) const override {
        const auto own = p.first(bare_->parameters().size());
        const double value = bare_->derive(which, own);
        std::vector<double> moved(own.begin(), own.end());
        std::ranges::fill(gradient, 0);
        for (std::size_t k = 0; k < std::min(own.size(), gradient.size()); ++k) {
            const double by = 1e-5 * std::max(std::abs(own[k]), 1e-12);
            moved[k] = own[k] + by;
            const double above = bare_->derive(which, moved);
            moved[k] = own[k] - by;
            const double below = bare_->derive(which, moved);
            moved[k] = own[k];
            gradient[k] = std::isfinite(above) && std::isfinite(below) ? (above - below) / (2 * by) : 0;
        }
        return value;
    }

    void evaluate(Predictors xs, std::span<const double> p, std::span<double> values,
                  std::span<double> gradient) const override {
        const std::span<const double> x = xs[0];
        const std::size_t n = x.size(), own = bare_->parameters().size();
        const auto bareP = p.first(own);
        const auto bareGradient = gradient.empty() ? gradient : gradient.first(n * own);
        if (resolution_.isSharp())
            bare_->evaluate(x, bareP, values, bareGradient);
        else
            smeared(x, bareP, values, bareGradient);
        for (std::size_t i = 0; i < n; ++i)
            if (!(x[i] >= 0)) values[i] = std::nan("");
        if (!background_) return;
        for (double& v : values) v += p[own];
        if (!gradient.empty()) std::ranges::fill(gradient.subspan(n * own), 1.0);
    }

    std::optional<std::vector<double>> guess(const Curve& curve) const override {
        auto start = bare_->guess(curve);
        if (!start) return start;
        // The search gives the background last, needed or not.
        if (!background_ && start->size() > bare_->parameters().size()) start->pop_back();
        return start;
    }

private:
    using LayoutPtr = std::shared_ptr<const SmearingLayout>;
    struct Kept {
        std::vector<double> x;
        CurveShape shape;
        LayoutPtr layout;
    };

    LayoutPtr layoutFor(std::span<const double> x, std::span<const double> p) const {
        CurveShape shape{bare_->reach(p), bare_->feature(p), bare_->isSingularAtZero(), bare_->breaks(p)};
        const auto rounded = [](double v) {
            return v > 0 && std::isfinite(v)
                       ? std::pow(kReachStep, std::ceil(std::log(v) / std::log(kReachStep)))
                       : v;
        };
        shape.reach = rounded(shape.reach);
        if (shape.feature) shape.feature = rounded(*shape.feature);
        const std::scoped_lock lock(guard_);
        for (const Kept& k : kept_)
            if (k.layout && k.shape == shape && std::ranges::equal(k.x, x)) return k.layout;
        auto made = std::make_shared<const SmearingLayout>(smearingLayout(x, resolution_, shape));
        std::swap(kept_[0], kept_[1]);
        kept_[0] = {{x.begin(), x.end()}, shape, made};
        return made;
    }

    void smeared(std::span<const double> x, std::span<const double> p, std::span<double> values,
                 std::span<double> gradient) const {
        const LayoutPtr layout = layoutFor(x, p);
        const std::size_t m = layout->nodes.size(), n = x.size();
        std::vector<double> at(m), by(gradient.empty() ? 0 : m * p.size());
        bare_->evaluate(layout->nodes, p, at, by);
        const auto mean = [&](std::span<const double> nodes, std::span<double> out) {
            for (std::size_t i = 0; i < n; ++i) {
                const SmearingRow& row = layout->rows[i];
                double sum = row.weights.empty() ? std::nan("") : 0;
                for (std::size_t k = 0; k < row.weights.size(); ++k)
                    sum += row.weights[k] * nodes[row.first + k];
                out[i] = sum;
            }
        };
        mean(at, values);
        for (std::size_t k = 0; k < p.size() && !gradient.empty(); ++k)
            mean(std::span<const double>(by).subspan(k * m, m), gradient.subspan(k * n, n));
    }

    BarePtr bare_;
    Resolution resolution_;
    bool background_;
    std::vector<ParameterInfo> parameters_;
    mutable std::mutex guard_;
    mutable std::array<Kept, 2> kept_;
};

} // namespace

ModelPtr seenCurve(BarePtr bare, Resolution resolution, bool background) {
    return std::make_shared<SeenCurve>(std::move(bare), std::move(resolution), background);
}

BarePtr bareOf(const Model& model) {
    const auto* seen = dynamic_cast<const SeenCurve*>(&model);
    return seen ? seen->bare() : nullptr;
}

} // namespace jointer::models::scattering
