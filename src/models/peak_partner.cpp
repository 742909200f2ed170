// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/peak_partner.h"

#include "formula/expression.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::models {

namespace {

constexpr double kHalfDegree = M_PI / 360; // of 2θ to θ in radians

// Where a place is mapped to, with the slopes by the peak's place and by the rule's parameter.
struct Mapped {
    double place = 0, byCentre = 1, byRule = 0;
};

Mapped mappedBy(const PartnerRule& rule, double c, double by) {
    switch (rule.by) {
    case PartnerRule::By::Distance:
        return {c + by, 1, 1};
    case PartnerRule::By::Factor:
        return {c * by, by, c};
    case PartnerRule::By::Wavelengths:
        break;
    }
    const double factor = rule.second / rule.first, theta = c * kHalfDegree,
                 other = std::asin(factor * std::sin(theta));
    return {other / kHalfDegree, factor * std::cos(theta) / std::cos(other), 0};
}

class Partnered final : public Model {
public:
    Partnered(PeakShape shape, const PartnerRule& rule) : shape_(std::move(shape)), rule_(rule) {
        parameters_ = shape_.model->parameters();
        own_ = parameters_.size();
        parameters_.push_back({"ratio", "area of the partner over that of the peak", "", 0});
        if (rule.by == PartnerRule::By::Distance)
            parameters_.push_back({"distance", "of the partner from the peak", "x"});
        if (rule.by == PartnerRule::By::Factor)
            parameters_.push_back({"factor", "place of the partner over that of the peak", ""});
        parameters_.push_back({"partner_width", "width of the partner over that of the peak", "", 1e-3});
        moved_ = shape_.traits->moves ? nullptr : shape_.model;
    }

    const std::vector<ParameterInfo>& parameters() const override { return parameters_; }
    std::string formula() const override {
        const std::string place = placeText();
        const auto moved = [&](const std::string& name) {
            return name == "x" ? "(centre + (x - " + place + ")/partner_width)" : std::string();
        };
        return fmt::format("{0} + ratio/partner_width*({1})", shape_.model->formula(),
                           formula::renamed(shape_.model->formula(), moved));
    }

    Mapped mapped(std::span<const double> p) const {
        return mappedBy(rule_, p[shape_.traits->centre], p[own_ + 1]);
    }
    double width(std::span<const double> p) const { return p[parameters_.size() - 1]; }
    double ratio(std::span<const double> p) const { return p[own_]; }
    std::size_t own() const { return own_; }
    bool hasRuleParameter() const { return rule_.by != PartnerRule::By::Wavelengths; }
    const PeakShape& shape() const { return shape_; }

    void evaluate(Predictors xs, std::span<const double> p, std::span<double> values,
                  std::span<double> gradient) const override {
        const std::size_t n = values.size();
        const std::span<const double> x = xs[0], bare = p.first(own_);
        const Mapped at = mapped(p);
        const double w = width(p), c = p[shape_.traits->centre], scale = ratio(p) / w;
        std::vector<double> moved(n), second(n), slopes(gradient.empty() ? 0 : n * own_);
        for (std::size_t i = 0; i < n; ++i) moved[i] = c + (x[i] - at.place) / w;
        const std::span<const double> column(moved);
        shape_.model->evaluate({&column, 1}, bare, second, slopes);
        shape_.model->evaluate(xs, bare, values, gradient.empty() ? gradient : gradient.first(n * own_));
        for (std::size_t i = 0; i < n; ++i) values[i] += scale * second[i];
        if (gradient.empty()) return;
        const std::vector<double> byX = slopesByX(moved, bare, slopes);
        for (std::size_t k = 0; k < own_; ++k)
            for (std::size_t i = 0; i < n; ++i) gradient[k * n + i] += scale * slopes[k * n + i];
        for (std::size_t i = 0; i < n; ++i) {
            gradient[shape_.traits->centre * n + i] += scale * byX[i] * (1 - at.byCentre / w);
            gradient[own_ * n + i] = second[i] / w;
            if (hasRuleParameter()) gradient[(own_ + 1) * n + i] = -scale / w * at.byRule * byX[i];
            gradient[(parameters_.size() - 1) * n + i] =
                -scale / w * (second[i] + byX[i] * (x[i] - at.place) / w);
        }
    }

private:
    // ∂shape/∂x: exactly where it moves with its centre, else by differences to h⁶.
    std::vector<double> slopesByX(const std::vector<double>& x, std::span<const double> p,
                                  const std::vector<double>& slopes) const {
        const std::size_t n = x.size();
        std::vector<double> out(n, 0.0);
        if (!moved_) {
            for (std::size_t i = 0; i < n; ++i) out[i] = -slopes[shape_.traits->centre * n + i];
            return out;
        }
        double h = 0;
        for (std::size_t k : shape_.traits->widths) h += 8e-3 * std::abs(p[k]);
        std::vector<double> places(n), y(n);
        for (const auto& [steps, factor] :
             {std::pair(-3, -1.0), {-2, 9.0}, {-1, -45.0}, {1, 45.0}, {2, -9.0}, {3, 1.0}}) {
            for (std::size_t i = 0; i < n; ++i) places[i] = x[i] + steps * h;
            const std::span<const double> column(places);
            moved_->evaluate({&column, 1}, p, y);
            for (std::size_t i = 0; i < n; ++i) out[i] += factor * y[i] / (60 * h);
        }
        return out;
    }

    std::string placeText() const {
        switch (rule_.by) {
        case PartnerRule::By::Distance:
            return "(centre + distance)";
        case PartnerRule::By::Factor:
            return "centre*factor";
        case PartnerRule::By::Wavelengths:
            break;
        }
        return fmt::format("360/pi*asin({}/{}*sin(centre*pi/360))", rule_.second, rule_.first);
    }

    PeakShape shape_;
    PartnerRule rule_;
    std::vector<ParameterInfo> parameters_;
    std::size_t own_ = 0;
    ModelPtr moved_; // a shape that does not only move with its centre
};

} // namespace

double partnerPlace(const PartnerRule& rule, double place, double by) {
    return mappedBy(rule, place, by).place;
}

ModelPtr partneredPeak(const PeakShape& shape, const PartnerRule& rule) {
    return std::make_shared<Partnered>(shape, rule);
}

std::vector<double> PartnerReading::curve(std::span<const double> x) const {
    std::vector<double> moved(x.size()), y(x.size());
    for (std::size_t i = 0; i < x.size(); ++i) moved[i] = centre + (x[i] - place.value) / width;
    const std::span<const double> column(moved);
    shape->evaluate({&column, 1}, std::span(parameters).first(shape->parameters().size()), y);
    for (double& v : y) v *= scale;
    return y;
}

PartnerReading partnerOf(const Model& partnered, std::span<const double> p) {
    const auto& model = static_cast<const Partnered&>(partnered);
    const std::size_t count = p.size(), own = model.own();
    const Mapped at = model.mapped(p);
    PartnerReading out;
    out.shape = model.shape().model.get();
    out.parameters.assign(p.begin(), p.end());
    out.centre = p[model.shape().traits->centre];
    out.width = model.width(p);
    out.scale = model.ratio(p) / out.width;
    out.place = {at.place, std::vector<double>(count, 0.0)};
    out.place.gradient[model.shape().traits->centre] = at.byCentre;
    if (model.hasRuleParameter()) out.place.gradient[own + 1] = at.byRule;
    const PeakReading peak(*model.shape().model, *model.shape().traits, p.first(own));
    const auto scaled = [&](const PeakNumber& of, double by) {
        PeakNumber n{by * of.value, std::vector<double>(count, 0.0)};
        for (std::size_t k = 0; k < own; ++k) n.gradient[k] = by * of.gradient[k];
        return n;
    };
    out.area = scaled(peak.area(), model.ratio(p));
    out.area.gradient[own] = peak.area().value;
    out.height = scaled(peak.height(), out.scale);
    out.height.gradient[own] = peak.height().value / out.width;
    out.height.gradient[count - 1] = -out.height.value / out.width;
    return out;
}

} // namespace jointer::models
