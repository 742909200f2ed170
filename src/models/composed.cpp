// SPDX-License-Identifier: GPL-3.0-or-later
// Models put together: sums and products of others. Their parameters stand one part after the other.
#include "base/parallel.h"
#include "formula/expression.h"
#include "models/catalogue.h"

#include <algorithm>
#include <cmath>

namespace jointer::models {

namespace {

constexpr std::size_t kWorthThreads = 4000; // values: from here on parts are computed side by side

bool isParameter(const Model& model, const std::string& name) {
    return std::ranges::find(model.parameters(), name, &ParameterInfo::name) != model.parameters().end();
}

class Composed : public Model {
public:
    explicit Composed(std::vector<Component> parts) : parts_(std::move(parts)) {
        for (Component& part : parts_) {
            part.firstParameter = parameters_.size();
            predictors_ = std::max(predictors_, part.model->predictorCount());
            auto inWhole = [&](const std::string& name) { return nameInWhole(name, part.number); };
            auto renamed = [&](const std::string& formula) {
                return formula::renamed(formula, [&](const std::string& name) {
                    return isParameter(*part.model, name) ? inWhole(name) : std::string();
                });
            };
            for (ParameterInfo info : part.model->parameters()) {
                info.name = inWhole(info.name);
                parameters_.push_back(std::move(info));
            }
            for (const DerivedInfo& d : part.model->derived())
                derived_.push_back({inWhole(d.name), d.formula.empty() ? "" : renamed(d.formula), d.unit});
            texts_.push_back(renamed(part.model->formula()));
        }
    }

    const std::vector<ParameterInfo>& parameters() const override { return parameters_; }
    const std::vector<DerivedInfo>& derived() const override { return derived_; }
    const std::vector<Component>& components() const override { return parts_; }
    std::size_t predictorCount() const override { return predictors_; }
    double derive(std::size_t which, std::span<const double> p, std::span<double> gradient) const override {
        std::ranges::fill(gradient, 0);
        for (const Component& part : parts_) {
            const std::size_t count = part.model->derived().size();
            if (which < count) return part.model->derive(which, of(part, p), gradientOf(part, gradient, 1));
            which -= count;
        }
        return std::nan("");
    }

protected:
    std::span<const double> of(const Component& part, std::span<const double> all) const {
        return all.subspan(part.firstParameter, part.model->parameters().size());
    }
    std::span<double> gradientOf(const Component& part, std::span<double> all, std::size_t n) const {
        if (all.empty()) return {};
        return all.subspan(part.firstParameter * n, part.model->parameters().size() * n);
    }
    const std::vector<std::string>& texts() const { return texts_; }

private:
    std::vector<Component> parts_;
    std::vector<ParameterInfo> parameters_;
    std::vector<DerivedInfo> derived_;
    std::vector<std::string> texts_;
    std::size_t predictors_ = 1;
};

class Sum final : public Composed {
public:
    using Composed::Composed;

    std::string formula() const override {
        std::string out;
        for (const std::string& text : texts()) out += (out.empty() ? "" : " + ") + text;
        return out;
    }
    bool isLinear() const override {
        return std::ranges::all_of(components(), [](const Component& c) { return c.model->isLinear(); });
    }
    void evaluate(Predictors xs, std::span<const double> p, std::span<double> values,
                  std::span<double> gradient) const override {
        const std::size_t n = values.size(), count = components().size();
        std::vector<double> each(n * count);
        auto some = [&](std::size_t begin, std::size_t end) {
            for (std::size_t k = begin; k < end; ++k) {
                const Component& part = components()[k];
                part.model->evaluate(xs.first(part.model->predictorCount()), of(part, p),
                                     std::span(each).subspan(k * n, n), gradientOf(part, gradient, n));
            }
        };
        if (n * count < kWorthThreads)
            some(0, count);
        else
            parallelRanges(count, 1, some);
        std::ranges::fill(values, 0);
        for (std::size_t k = 0; k < count; ++k)
            for (std::size_t i = 0; i < n; ++i) values[i] += each[k * n + i];
    }
    // Parts that are not linear come first, each from what the ones before have left of the points, above a
    // straight line from end to end where some part can take that; the linear ones take the rest.
    std::optional<std::vector<double>> guess(const Curve& curve) const override {
        std::vector<double> out(parameters().size(), 0.0);
        auto isLinearPart = [](const Component& c) { return c.model->isLinear(); };
        Curve left = curve;
        if (std::ranges::any_of(components(), isLinearPart)) takeChord(left);
        for (const Component& part : components()) {
            if (part.model->isLinear()) continue;
            const auto start = part.model->guess(left);
            if (!start) return std::nullopt;
            std::ranges::copy(*start, out.begin() + static_cast<std::ptrdiff_t>(part.firstParameter));
            take(part, *start, left);
        }
        Curve rest = curve;
        for (const Component& part : components())
            if (!part.model->isLinear()) take(part, of(part, out), rest);
        for (const Component& part : components()) {
            if (!part.model->isLinear()) continue;
            const auto start = part.model->guess(rest);
            if (!start) continue;
            std::ranges::copy(*start, out.begin() + static_cast<std::ptrdiff_t>(part.firstParameter));
            take(part, *start, rest);
        }
        return out;
    }

private:
    static void take(const Component& part, std::span<const double> p, Curve& from) {
        std::vector<double> y(from.size());
        const std::span<const double> x(from.x);
        part.model->evaluate({&x, 1}, p, y);
        for (std::size_t i = 0; i < y.size(); ++i)
            if (std::isfinite(y[i])) from.y[i] -= y[i];
    }
    static void takeChord(Curve& c) {
        if (c.size() < 2) return;
        const auto [low, high] = std::ranges::minmax_element(c.x);
        const auto a = static_cast<std::size_t>(low - c.x.begin()),
                   b = static_cast<std::size_t>(high - c.x.begin());
        if (!(c.x[b] > c.x[a])) return;
        const double from = c.y[a], x0 = c.x[a], slope = (c.y[b] - c.y[a]) / (c.x[b] - c.x[a]);
        for (std::size_t i = 0; i < c.size(); ++i) c.y[i] -= from + slope * (c.x[i] - x0);
    }
};

class Product final : public Composed {
public:
    using Composed::Composed;

    std::string formula() const override {
        std::string out;
        for (const std::string& text : texts()) out += (out.empty() ? "(" : "*(") + text + ")";
        return out;
    }
    void evaluate(Predictors xs, std::span<const double> p, std::span<double> values,
                  std::span<double> gradient) const override {
        const std::size_t n = values.size(), count = components().size();
        std::vector<std::vector<double>> ones(count, std::vector<double>(n));
        for (std::size_t k = 0; k < count; ++k)
            components()[k].model->evaluate(xs.first(components()[k].model->predictorCount()),
                                            of(components()[k], p), ones[k],
                                            gradientOf(components()[k], gradient, n));
        for (std::size_t i = 0; i < n; ++i) {
            values[i] = 1;
            for (const auto& one : ones) values[i] *= one[i];
        }
        if (gradient.empty()) return;
        for (std::size_t k = 0; k < count; ++k)
            for (std::size_t i = 0; i < n; ++i) {
                double others = 1;
                for (std::size_t j = 0; j < count; ++j)
                    if (j != k) others *= ones[j][i];
                const auto mine = gradientOf(components()[k], gradient, n);
                for (std::size_t at = i; at < mine.size(); at += n) mine[at] *= others;
            }
    }
};

} // namespace

CombinerKind sumCombiner() {
    return {{.key = "sum",
             .name = "Sum",
             .purpose = "Parts that lie upon each other, such as peaks and a baseline"},
            [](std::vector<Component> parts) -> ModelPtr { return std::make_shared<Sum>(std::move(parts)); }};
}

CombinerKind productCombiner() {
    return {
        {.key = "product", .name = "Product", .purpose = "Parts that scale each other"},
        [](std::vector<Component> parts) -> ModelPtr { return std::make_shared<Product>(std::move(parts)); }};
}

} // namespace jointer::models
