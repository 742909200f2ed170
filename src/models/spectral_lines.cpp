// SPDX-License-Identifier: GPL-3.0-or-later
// Peaks whose parameters are not what one reads from them: Voigt, exponentially modified Gaussian,
// Doniach–Šunjić. Height, width and place of the maximum are found on the profile.
#include "models/catalogue.h"
#include "models/formula_model.h"
#include "models/peak_base.h"
#include "models/peak_features.h"

#include <algorithm>
#include <cmath>

namespace jointer::models {

namespace {

enum class Feature { Place, Height, Width };

struct NamedFeature {
    Feature feature;
    const char *name, *unit;
};

struct LineSpec {
    std::string formula; // without the base
    std::vector<ParameterInfo> parameters;
    std::vector<DerivedInfo> derived; // by formulas
    std::vector<NamedFeature> features;
    TraitsPtr traits;
};

class Line final : public Model {
public:
    Line(LineSpec spec, Base base) : spec_(std::move(spec)), base_(base) {
        bare_ = libraryModel(spec_.formula, spec_.parameters, {}, {});
        std::vector<ParameterInfo> all = spec_.parameters;
        for (const ParameterInfo& p : baseParameters(base)) all.push_back(p);
        whole_ = libraryModel(spec_.formula + baseFormula(base), all, {}, {});
        derived_ = spec_.derived;
        for (const NamedFeature& f : spec_.features) derived_.push_back({f.name, "", f.unit});
    }

    const std::vector<ParameterInfo>& parameters() const override { return whole_->parameters(); }
    const std::vector<DerivedInfo>& derived() const override { return derived_; }
    std::string formula() const override { return whole_->formula(); }
    void evaluate(Predictors xs, std::span<const double> p, std::span<double> values,
                  std::span<double> gradient) const override {
        whole_->evaluate(xs, p, values, gradient);
    }
    double derive(std::size_t which, std::span<const double> p, std::span<double> gradient) const override {
        std::ranges::fill(gradient, 0);
        const PeakReading peak(*bare_, *spec_.traits, p.first(spec_.parameters.size()));
        const Feature feature = spec_.features[which - spec_.derived.size()].feature;
        const PeakNumber found = feature == Feature::Place    ? peak.maximum()
                                 : feature == Feature::Height ? peak.height()
                                                              : peak.width(0.5);
        std::ranges::copy(found.gradient, gradient.begin());
        return found.value;
    }
    std::optional<std::vector<double>> guess(const Curve& curve) const override {
        const auto seen = guessPeak(curve, base_);
        if (!seen) return std::nullopt;
        std::vector<double> start = spec_.traits->begin((*seen)[0], (*seen)[1], (*seen)[2]);
        start.insert(start.end(), seen->begin() + 3, seen->end());
        return start;
    }

private:
    LineSpec spec_;
    Base base_;
    ModelPtr bare_, whole_;
    std::vector<DerivedInfo> derived_;
};

Setting directionSetting() {
    return {.key = "direction",
            .label = "Tail",
            .kind = SettingKind::Choice,
            .fallback = std::string("right"),
            .help = "The side on which the peak has its tail.",
            .choices = {{"right", "to larger x"}, {"left", "to smaller x"}}};
}

bool isLeft(const Settings& settings) {
    return settings.text("direction", "right") == "left";
}

const NamedFeature kPlace{Feature::Place, "maximum", "x"}, kHeight{Feature::Height, "height", "y"},
    kWidth{Feature::Width, "fwhm", "x"};

TraitsPtr voigtTraits(const Settings&) {
    return std::make_shared<const PeakTraits>(
        PeakTraits{.begin =
                       [](double place, double height, double width) {
                           return std::vector{place, height, 0.6 * width, 0.6 * width};
                       },
                   .widths = {2, 3}});
}

TraitsPtr modifiedGaussianTraits(const Settings& settings) {
    return std::make_shared<const PeakTraits>(
        PeakTraits{.begin =
                       [left = isLeft(settings)](double place, double height, double width) {
                           const double shift = (left ? 0.25 : -0.25) * width;
                           return std::vector{place + shift, 1.15 * height * width, 0.7 * width, 0.4 * width};
                       },
                   .widths = {2, 3},
                   .topAtCentre = false,
                   .symmetric = false});
}

TraitsPtr doniachSunjicTraits(const Settings&) {
    return std::make_shared<const PeakTraits>(
        PeakTraits{.begin =
                       [](double place, double height, double width) {
                           return std::vector{place, height, 0.9 * width, 0.1};
                       },
                   .topAtCentre = false,
                   .symmetric = false,
                   .hasArea = false});
}

ModelPtr makeVoigt(const Settings& settings) {
    LineSpec spec{.formula = "height*voigt(x - centre, gauss, lorentz)",
                  .parameters = {{"centre", "position of the maximum", "x"},
                                 {"height", "height above the base", "y"},
                                 {"gauss", "full width at half maximum of the Gaussian part", "x", 0},
                                 {"lorentz", "full width at half maximum of the Lorentzian part", "x", 0}},
                  // ∫ = height·s·√π/erfcx(γ/s), s the Gaussian’s scale and γ the Lorentzian’s half width
                  .derived = {{"area",
                               "height*max(gauss, 1e-9*lorentz)/(2*sqrt(ln(2)))*sqrt(pi)/"
                               "erfcx(lorentz*sqrt(ln(2))/max(gauss, 1e-9*lorentz))",
                               "xy"}},
                  .features = {kWidth},
                  .traits = voigtTraits(settings)};
    return std::make_shared<Line>(std::move(spec), baseOf(settings));
}

// The Gaussian followed by an exponential: each half of the formula where it does not overflow, and widths
// that are nearly nought taken as small ones, so that both limits are reached.
ModelPtr makeModifiedGaussian(const Settings& settings) {
    const bool left = isLeft(settings);
    const std::string d = left ? "(centre - x)" : "(x - centre)";
    const std::string s = "(max(gauss, 1e-7*tail)/(2*sqrt(2*ln(2))))", t = "max(tail, 1e-5*gauss)";
    const std::string u = "((" + s + "/" + t + " - " + d + "/" + s + ")/sqrt(2))";
    LineSpec spec{.formula = "area/(2*" + t + ")*if(" + u + " > 0, exp(-" + d + "^2/(2*" + s + "^2))*erfcx(" +
                             u + "), exp(" + s + "^2/(2*" + t + "^2) - " + d + "/" + t + ")*erfc(" + u + "))",
                  .parameters = {{"centre", "position of the Gaussian", "x"},
                                 {"area", "area above the base", "xy"},
                                 {"gauss", "full width at half maximum of the Gaussian", "x", 0},
                                 {"tail", "length in which the tail falls to 1/e", "x", 0}},
                  .derived = {{"centroid", left ? "centre - tail" : "centre + tail", "x"}},
                  .features = {kPlace, kHeight, kWidth},
                  .traits = modifiedGaussianTraits(settings)};
    return std::make_shared<Line>(std::move(spec), baseOf(settings));
}

// Source: S. Doniach, M. Šunjić, J. Phys. C 3 (1970) 285; scaled to one at the centre.
ModelPtr makeDoniachSunjic(const Settings& settings) {
    const std::string u = isLeft(settings) ? "(2*(x - centre)/lorentz)" : "(2*(centre - x)/lorentz)";
    LineSpec spec{.formula = "level*cos(pi*asymmetry/2 + (1 - asymmetry)*atan" + u + ")*(1 + " + u +
                             "^2)^((asymmetry - 1)/2)/cos(pi*asymmetry/2)",
                  .parameters = {{"centre", "position of the line", "x"},
                                 {"level", "height at the centre", "y"},
                                 {"lorentz", "full width of the symmetric line", "x", 0},
                                 {"asymmetry", "0: Lorentzian; larger: longer tail", "", 0, 0.49}},
                  .features = {kPlace, kHeight, kWidth},
                  .traits = doniachSunjicTraits(settings)};
    return std::make_shared<Line>(std::move(spec), baseOf(settings));
}

} // namespace

std::vector<ModelKind> spectralLineModels() {
    return {{{.key = "voigt",
              .name = "Voigt",
              .purpose = "Spectral lines broadened by chance and by lifetime, exact",
              .group = "Peak shapes",
              .settings = {baseSetting()}},
             makeVoigt,
             nullptr,
             voigtTraits},
            {{.key = "exponentially-modified-gaussian",
              .name = "Exponentially modified Gaussian",
              .purpose = "Peaks of chromatography with a tail",
              .group = "Peak shapes",
              .settings = {directionSetting(), baseSetting()}},
             makeModifiedGaussian,
             nullptr,
             modifiedGaussianTraits},
            {{.key = "doniach-sunjic",
              .name = "Doniach–Šunjić",
              .purpose = "Photoemission of metals: a line with a long tail; its area does not exist",
              .group = "Peak shapes",
              .settings = {directionSetting(), baseSetting()}},
             makeDoniachSunjic,
             nullptr,
             doniachSunjicTraits}};
}

} // namespace jointer::models
