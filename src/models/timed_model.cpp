// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/timed_model.h"

#include "data/column.h"

#include <algorithm>
#include <cmath>

namespace jointer::models {

namespace {

struct Unit {
    const char* symbol;
    const char* name;
    double seconds, whole; // the origin lies on whole ones of these
    double longest;        // what takes longer wants the next
};
constexpr double kMinute = 60, kHour = 3600, kDay = 86400, kYear = 365.25 * kDay;
constexpr Unit kUnits[] = {{"s", "seconds", 1, 1, 5 * kMinute},
                           {"min", "minutes", kMinute, kMinute, 5 * kHour},
                           {"h", "hours", kHour, kHour, 5 * kDay},
                           {"d", "days", kDay, kDay, 4 * kYear},
                           {"a", "years", kYear, kDay, INFINITY}};

class Timed final : public Model {
public:
    Timed(ModelPtr model, TimeScale scale) : model_(std::move(model)), scale_(std::move(scale)) {
        for (const Component& c : model_->components()) {
            components_.push_back(c);
            components_.back().model = std::make_shared<const Timed>(c.model, scale_);
        }
    }

    const std::vector<ParameterInfo>& parameters() const override { return model_->parameters(); }
    const std::vector<DerivedInfo>& derived() const override { return model_->derived(); }
    double derive(std::size_t which, std::span<const double> parameters, std::span<double> gradient) const override {
        return model_->derive(which, parameters, gradient);
    }
    std::string formula() const override { return model_->formula(); }
    std::size_t predictorCount() const override { return model_->predictorCount(); }
    bool isLinear() const override { return model_->isLinear(); }
    const std::vector<Component>& components() const override { return components_; }
    Asked asked() const override { return {model_.get(), scale_.origin, scale_.unit}; }

    void evaluate(Predictors xs, std::span<const double> parameters, std::span<double> values,
                  std::span<double> gradient) const override {
        const Counted counted(xs, scale_);
        model_->evaluate(counted.columns, parameters, values, gradient);
    }
    void design(Predictors xs, std::span<long double> columns) const override {
        const Counted counted(xs, scale_);
        model_->design(counted.columns, columns);
    }
    std::optional<std::vector<double>> guess(const Curve& curve) const override {
        Curve counted = curve;
        for (double& x : counted.x) x = scale_.fromMoment(x);
        for (double& s : counted.sigmaX) s /= scale_.unit;
        counted.xMeaning.isTime = false;
        return model_->guess(counted);
    }

private:
    struct Counted {
        std::vector<double> first;
        std::vector<std::span<const double>> columns;
        Counted(Predictors xs, const TimeScale& scale) : first(xs[0].begin(), xs[0].end()), columns(xs.begin(), xs.end()) {
            for (double& x : first) x = scale.fromMoment(x);
            columns[0] = first;
        }
    };

    ModelPtr model_;
    TimeScale scale_;
    std::vector<Component> components_;
};

} // namespace

TimeScale timeScaleOf(double first, double last, std::string symbol) {
    const Unit* unit = std::ranges::find_if(kUnits, [&](const Unit& u) {
        return symbol.empty() ? last - first <= u.longest : u.symbol == symbol;
    });
    if (unit == std::end(kUnits)) unit = std::end(kUnits) - 1;
    return {std::floor(first / unit->whole) * unit->whole, unit->seconds, unit->symbol};
}

std::string words(const TimeScale& scale) {
    const Unit* unit = std::ranges::find(kUnits, scale.symbol, [](const Unit& u) { return std::string(u.symbol); });
    const bool isDate = std::fmod(scale.origin, kDay) == 0;
    return std::string(unit == std::end(kUnits) ? "" : unit->name) + " since " +
           (isDate ? isoDate(scale.origin) : isoDateTime(scale.origin));
}

ModelPtr timedModel(ModelPtr model, const TimeScale& scale) {
    return std::make_shared<const Timed>(std::move(model), scale);
}

} // namespace jointer::models
