// SPDX-License-Identifier: GPL-3.0-or-later
// Straight lines and polynomials up to degree nine.
#include "models/catalogue.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::models {

namespace {

class Polynomial final : public Model {
public:
    explicit Polynomial(int degree, bool throughOrigin) : degree_(degree), first_(throughOrigin ? 1 : 0) {
        const bool line = degree == 1;
        for (int k = first_; k <= degree; ++k) {
            if (line)
                parameters_.push_back(k == 0
                                          ? ParameterInfo{"intercept", "value at x = 0", "y"}
                                          : ParameterInfo{"slope", "change of y for one unit of x", "y/x"});
            else if (degree == 0)
                parameters_.push_back({"level", "mean of the points", "y"});
            else
                parameters_.push_back({fmt::format("c{}", k),
                                       k == 0 ? "value at x = 0" : fmt::format("factor of x^{}", k),
                                       k == 0   ? "y"
                                       : k == 1 ? "y/x"
                                                : fmt::format("y/x^{}", k)});
        }
        if (line && first_ == 0) derived_ = {{"zero", "-intercept/slope", "x"}};
    }

    const std::vector<ParameterInfo>& parameters() const override { return parameters_; }
    const std::vector<DerivedInfo>& derived() const override { return derived_; }
    bool isLinear() const override { return true; }

    std::string formula() const override {
        std::string text;
        for (int k = first_; k <= degree_; ++k)
            text += (text.empty() ? "" : " + ") + parameters_[index(k)].name +
                    (k == 0   ? ""
                     : k == 1 ? "*x"
                              : fmt::format("*x^{}", k));
        return text;
    }

    void evaluate(Predictors xs, std::span<const double> p, std::span<double> values,
                  std::span<double> gradient) const override {
        const std::span<const double> x = xs[0];
        const std::size_t n = values.size();
        for (std::size_t i = 0; i < n; ++i) {
            double sum = 0;
            for (int k = degree_; k >= first_; --k) sum = sum * x[i] + p[index(k)];
            values[i] = first_ == 1 ? sum * x[i] : sum;
        }
        if (gradient.empty()) return;
        for (std::size_t i = 0; i < n; ++i) {
            double power = first_ == 1 ? x[i] : 1;
            for (int k = first_; k <= degree_; ++k, power *= x[i]) gradient[index(k) * n + i] = power;
        }
    }

    void design(Predictors xs, std::span<long double> columns) const override {
        const std::size_t n = xs[0].size();
        for (std::size_t i = 0; i < n; ++i) {
            long double power = first_ == 1 ? xs[0][i] : 1;
            for (int k = first_; k <= degree_; ++k, power *= xs[0][i]) columns[index(k) * n + i] = power;
        }
    }

    std::optional<std::vector<double>> guess(const Curve&) const override {
        return std::vector<double>(parameters_.size(), 0.0);
    }

private:
    std::size_t index(int power) const { return static_cast<std::size_t>(power - first_); }
    int degree_, first_;
    std::vector<ParameterInfo> parameters_;
    std::vector<DerivedInfo> derived_;
};

template <int Degree> ModelPtr make(const Settings& settings) {
    return std::make_shared<Polynomial>(Degree, settings.flag("through-origin"));
}

// y = y₀ + slope·(x − x₀) through a point that is known.
class LineThrough final : public Model {
public:
    LineThrough(double x0, double y0)
        : x0_(x0), y0_(y0), parameters_{{"slope", "change of y for one unit of x", "y/x"}},
          derived_{{"intercept", fmt::format("{} - slope*({})", y0, x0), "y"}} {}

    const std::vector<ParameterInfo>& parameters() const override { return parameters_; }
    const std::vector<DerivedInfo>& derived() const override { return derived_; }
    std::string formula() const override { return fmt::format("{} + slope*(x - ({}))", y0_, x0_); }
    void evaluate(Predictors xs, std::span<const double> p, std::span<double> values,
                  std::span<double> gradient) const override {
        for (std::size_t i = 0; i < values.size(); ++i) {
            values[i] = y0_ + p[0] * (xs[0][i] - x0_);
            if (!gradient.empty()) gradient[i] = xs[0][i] - x0_;
        }
    }
    std::optional<std::vector<double>> guess(const Curve&) const override { return std::vector{0.0}; }

private:
    double x0_, y0_;
    std::vector<ParameterInfo> parameters_;
    std::vector<DerivedInfo> derived_;
};

ModelPtr makeLine(const Settings& settings) {
    const double x0 = settings.number("through-x", NAN), y0 = settings.number("through-y", NAN);
    if (std::isfinite(x0) && std::isfinite(y0)) return std::make_shared<LineThrough>(x0, y0);
    return make<1>(settings);
}

ModelKind constantKind() {
    return {{.key = "constant",
             .name = "Constant",
             .purpose = "A level: the mean, or a background that does not change",
             .group = "Lines and polynomials"},
            make<0>};
}

Setting throughSetting(const char* key, const char* label) {
    return {.key = key,
            .label = label,
            .fallback = std::nan(""),
            .help = "With both given the line passes through this point.",
            .whenEmpty = "free"};
}

template <int Degree> ModelKind kindOf() {
    const Setting origin{.key = "through-origin",
                         .label = "Through the origin",
                         .kind = SettingKind::Flag,
                         .fallback = false,
                         .help = "Leave out the constant, so that the curve passes through x = 0, y = 0."};
    if constexpr (Degree == 1)
        return {{.key = "line",
                 .name = "Straight line",
                 .purpose = "Proportions, calibrations, rates",
                 .group = "Lines and polynomials",
                 .settings = {origin, throughSetting("through-x", "Through x"),
                              throughSetting("through-y", "and y")}},
                makeLine};
    else
        return {{.key = fmt::format("polynomial-{}", Degree),
                 .name = fmt::format("Polynomial of degree {}", Degree),
                 .purpose = Degree == 2 ? "Curved calibrations, one extremum"
                                        : "Smooth curves without a theory; wiggles when the degree is high",
                 .group = "Lines and polynomials",
                 .settings = {origin}},
                make<Degree>};
}

} // namespace

std::vector<ModelKind> polynomialModels() {
    return {kindOf<1>(), kindOf<2>(), kindOf<3>(), kindOf<4>(), kindOf<5>(),
            kindOf<6>(), kindOf<7>(), kindOf<8>(), kindOf<9>(), constantKind()};
}

} // namespace jointer::models
