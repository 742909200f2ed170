// SPDX-License-Identifier: GPL-3.0-or-later
// Single peaks in terms of centre, height and full width at half maximum, on an optional straight base.
#include "models/catalogue.h"
#include "models/formula_model.h"
#include "models/peak_base.h"

#include <algorithm>
#include <cmath>

namespace jointer::models {

namespace {

// A parameter that a shape has beside centre, height and width, and where the fit begins with it.
struct Further {
    ParameterInfo info;
    double start;
};

// `shape` has its height at one; `area` is that of a peak of height and width one, over the further
// parameters; empty: there is none.
ModelPtr makePeak(const Settings& settings, const std::string& shape, const std::string& area,
                  const std::vector<Further>& further = {}, const char* centre = "position of the maximum") {
    const Base base = baseOf(settings);
    std::vector<ParameterInfo> parameters = {{"centre", centre, "x"},
                                             {"height", "height above the base", "y"},
                                             {"fwhm", "full width at half maximum", "x", 0}};
    for (const Further& f : further) parameters.push_back(f.info);
    std::string text = "height*" + shape;
    for (const ParameterInfo& p : baseParameters(base)) parameters.push_back(p);
    text += baseFormula(base);
    std::vector<DerivedInfo> derived;
    if (!area.empty()) derived.push_back({"area", "height*fwhm*" + area, "xy"});
    return libraryModel(
        text, parameters, derived, [base, further](const Curve& c) -> std::optional<std::vector<double>> {
            auto start = guessPeak(c, base);
            if (!start) return std::nullopt;
            for (std::size_t k = 0; k < further.size(); ++k)
                start->insert(start->begin() + 3 + static_cast<std::ptrdiff_t>(k), further[k].start);
            return start;
        });
}

constexpr const char* kGaussian = "exp(-4*ln(2)*((x - centre)/fwhm)^2)";
constexpr const char* kLorentzian = "1/(1 + 4*((x - centre)/fwhm)^2)";
constexpr const char* kGaussianArea = "sqrt(pi/(4*ln(2)))";

// The half width on each side is its share of the whole.
constexpr const char* kSplit = "((x - centre)/(fwhm*if(x < centre, 1 - asymmetry, 1 + asymmetry)))^2";
const Further kAsymmetry{
    {"asymmetry", "share by which the right half is wider than the left", "", -0.99, 0.99}, 0};

ModelPtr makeGaussian(const Settings& s) {
    return makePeak(s, kGaussian, kGaussianArea);
}
ModelPtr makeLorentzian(const Settings& s) {
    return makePeak(s, kLorentzian, "pi/2");
}
ModelPtr makePseudoVoigt(const Settings& s) {
    return makePeak(s, std::string("(share*") + kLorentzian + " + (1 - share)*" + kGaussian + ")",
                    std::string("(share*pi/2 + (1 - share)*") + kGaussianArea + ")",
                    {{{"share", "of the Lorentzian; 0: Gaussian", "", 0, 1}, 0.5}});
}
ModelPtr makeSplitPseudoVoigt(const Settings& s) {
    return makePeak(s,
                    std::string("(share/(1 + 4*") + kSplit + ") + (1 - share)*exp(-4*ln(2)*" + kSplit + "))",
                    std::string("(share*pi/2 + (1 - share)*") + kGaussianArea + ")",
                    {{{"share", "of the Lorentzian; 0: Gaussian", "", 0, 1}, 0.5}, kAsymmetry});
}
ModelPtr makePearson(const Settings& s) {
    return makePeak(s, "(1 + 4*(2^(1/exponent) - 1)*((x - centre)/fwhm)^2)^(-exponent)",
                    "sqrt(pi)/(2*sqrt(2^(1/exponent) - 1))*exp(lgamma(exponent - 0.5) - lgamma(exponent))",
                    {{{"exponent", "1: Lorentzian; large: Gaussian", "", 0.51, 500}, 2}});
}
ModelPtr makeSplitGaussian(const Settings& s) {
    return makePeak(s, std::string("exp(-4*ln(2)*") + kSplit + ")", kGaussianArea, {kAsymmetry});
}
ModelPtr makeSplitLorentzian(const Settings& s) {
    return makePeak(s, std::string("1/(1 + 4*") + kSplit + ")", "pi/2", {kAsymmetry});
}
// Half the width at half maximum is centre·sinh(w), w the distance from ln(centre) at which half is left.
ModelPtr makeLogNormal(const Settings& s) {
    const std::string w = "ln(fwhm/(2*centre) + sqrt((fwhm/(2*centre))^2 + 1))";
    return makePeak(s, "if(x > 0, exp(-ln(2)*(ln(max(x, 1e-300)/centre)/" + w + ")^2), 0)",
                    "centre/fwhm*" + w + "*sqrt(pi/ln(2))*exp(" + w + "^2/(4*ln(2)))");
}
ModelPtr makeFano(const Settings& s) {
    return makePeak(s, "(shape + 2*(x - centre)/fwhm)^2/((1 + shape^2)*(1 + 4*((x - centre)/fwhm)^2))", "",
                    {{{"shape", "ratio of the two ways; large: Lorentzian", ""}, 3}},
                    "position of the resonance");
}

// Centre, height and width, then the further parameters where a fit begins with them.
TraitsPtr traitsWith(std::vector<double> further, PeakTraits traits = {}) {
    traits.begin = [further = std::move(further)](double place, double height, double width) {
        std::vector<double> p = {place, height, width};
        p.insert(p.end(), further.begin(), further.end());
        return p;
    };
    return std::make_shared<const PeakTraits>(std::move(traits));
}
TraitsPtr plainTraits(const Settings&) {
    return traitsWith({});
}
TraitsPtr mixedTraits(const Settings&) {
    return traitsWith({0.5});
}
TraitsPtr pearsonTraits(const Settings&) {
    return traitsWith({2});
}
TraitsPtr splitTraits(const Settings&) {
    return traitsWith({0}, {.begin = {}, .symmetric = false});
}
TraitsPtr splitMixedTraits(const Settings&) {
    return traitsWith({0.5, 0}, {.begin = {}, .symmetric = false});
}
TraitsPtr logNormalTraits(const Settings&) {
    return traitsWith({}, {.begin = {}, .symmetric = false, .moves = false});
}
TraitsPtr fanoTraits(const Settings&) {
    return traitsWith({3}, {.begin = {}, .topAtCentre = false, .symmetric = false, .hasArea = false});
}

} // namespace

std::vector<ModelKind> peakModels() {
    const Setting base = baseSetting();
    return {{{.key = "gaussian",
              .name = "Gaussian",
              .purpose = "Peaks broadened by chance: instrument profiles, distributions",
              .group = "Peak shapes",
              .settings = {base}},
             makeGaussian,
             nullptr,
             plainTraits},
            {{.key = "lorentzian",
              .name = "Lorentzian",
              .purpose = "Peaks broadened by lifetime: spectral lines with long wings",
              .group = "Peak shapes",
              .settings = {base}},
             makeLorentzian,
             nullptr,
             plainTraits},
            {{.key = "pseudo-voigt",
              .name = "Pseudo-Voigt",
              .purpose = "Gaussian and Lorentzian mixed: diffraction lines, spectra with both broadenings",
              .group = "Peak shapes",
              .settings = {base}},
             makePseudoVoigt,
             nullptr,
             mixedTraits},
            {{.key = "pearson-7",
              .name = "Pearson VII",
              .purpose = "Diffraction lines: from Lorentzian to Gaussian by one exponent",
              .group = "Peak shapes",
              .settings = {base}},
             makePearson,
             nullptr,
             pearsonTraits},
            {{.key = "split-gaussian",
              .name = "Split Gaussian",
              .purpose = "Peaks that are steeper on one side",
              .group = "Peak shapes",
              .settings = {base}},
             makeSplitGaussian,
             nullptr,
             splitTraits},
            {{.key = "split-lorentzian",
              .name = "Split Lorentzian",
              .purpose = "Lines with long wings that are steeper on one side",
              .group = "Peak shapes",
              .settings = {base}},
             makeSplitLorentzian,
             nullptr,
             splitTraits},
            {{.key = "split-pseudo-voigt",
              .name = "Split pseudo-Voigt",
              .purpose = "Diffraction lines at low angles, steeper on one side",
              .group = "Peak shapes",
              .settings = {base}},
             makeSplitPseudoVoigt,
             nullptr,
             splitMixedTraits},
            {{.key = "log-normal",
              .name = "Log-normal peak",
              .purpose = "Sizes of particles, fluorescence: a tail to larger x; x above zero",
              .group = "Peak shapes",
              .settings = {base}},
             makeLogNormal,
             nullptr,
             logNormalTraits},
            {{.key = "fano",
              .name = "Fano",
              .purpose = "Resonance on a continuum, with a dip beside the maximum",
              .group = "Peak shapes",
              .settings = {base}},
             makeFano,
             nullptr,
             fanoTraits}};
}

} // namespace jointer::models
