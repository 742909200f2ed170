// SPDX-License-Identifier: GPL-3.0-or-later
// Single peaks in terms of centre, height and full width at half maximum, on an optional straight base.
#include "models/catalogue.h"
#include "models/formula_model.h"
#include "models/start_values.h"

#include <algorithm>
#include <cmath>

namespace jointer::models {

namespace {

enum class Base { None, Constant, Line };

Base baseOf(const Settings& settings) {
    const std::string key = settings.text("base", "none");
    return key == "line" ? Base::Line : key == "constant" ? Base::Constant : Base::None;
}

// The base under the peak by the ends of the curve, then the point furthest from it and the width at half of
// it.
std::optional<std::vector<double>> guessPeak(const Curve& curve, Base base) {
    const SortedPoints p = sortedPoints(curve);
    if (p.size() < 3) return std::nullopt;
    const double first = base == Base::None ? 0 : endLevel(p.y, true),
                 last = base == Base::None ? 0 : endLevel(p.y, false);
    const double tilt = base == Base::Line ? (last - first) / (p.x.back() - p.x.front()) : 0;
    const double offset = base == Base::Line ? first - tilt * p.x.front() : 0.5 * (first + last);
    const std::vector<double> smooth = runningMedian(p.y, std::min<std::size_t>(3, p.size() / 20));
    std::vector<double> over(p.size());
    for (std::size_t i = 0; i < p.size(); ++i) over[i] = smooth[i] - offset - tilt * p.x[i];
    const auto top = static_cast<std::size_t>(
        std::ranges::max_element(over, {}, [](double v) { return std::abs(v); }) - over.begin());
    std::size_t left = top, right = top;
    while (left > 0 && over[left] / over[top] > 0.5) --left;
    while (right + 1 < over.size() && over[right] / over[top] > 0.5) ++right;
    // A side that never falls to half (a peak cut by the span) is taken to mirror the other.
    const double leftWidth = over[left] / over[top] > 0.5 ? 0 : p.x[top] - p.x[left];
    const double rightWidth = over[right] / over[top] > 0.5 ? 0 : p.x[right] - p.x[top];
    double width =
        leftWidth > 0 && rightWidth > 0 ? leftWidth + rightWidth : 2 * std::max(leftWidth, rightWidth);
    if (!(width > 0)) width = (p.x.back() - p.x.front()) / 4;
    std::vector<double> start = {p.x[top], over[top], width};
    if (base != Base::None) start.push_back(offset);
    if (base == Base::Line) start.push_back(tilt);
    return start;
}

ModelPtr makePeak(const Settings& settings, const std::string& shape, const std::string& areaFactor) {
    const Base base = baseOf(settings);
    std::vector<ParameterInfo> parameters = {{"centre", "position of the maximum", "x"},
                                             {"height", "height above the base", "y"},
                                             {"fwhm", "full width at half maximum", "x", 0}};
    std::string text = "height*" + shape;
    if (base != Base::None) {
        parameters.push_back({"offset", base == Base::Line ? "base at x = 0" : "level of the base", "y"});
        text += " + offset";
    }
    if (base == Base::Line) {
        parameters.push_back({"tilt", "slope of the base", "y/x"});
        text += " + tilt*x";
    }
    return libraryModel(text, parameters, {{"area", "height*fwhm*" + areaFactor, "xy"}},
                        [base](const Curve& c) { return guessPeak(c, base); });
}

ModelPtr makeGaussian(const Settings& s) {
    return makePeak(s, "exp(-4*ln(2)*((x - centre)/fwhm)^2)", "sqrt(pi/(4*ln(2)))");
}
ModelPtr makeLorentzian(const Settings& s) {
    return makePeak(s, "1/(1 + 4*((x - centre)/fwhm)^2)", "pi/2");
}

} // namespace

std::vector<ModelKind> peakModels() {
    const Setting base{
        .key = "base",
        .label = "Base",
        .kind = SettingKind::Choice,
        .fallback = std::string("none"),
        .help = "What the peak stands on: nothing, a level or a sloping line, fitted together with it.",
        .choices = {{"none", "none"}, {"constant", "constant"}, {"line", "line"}}};
    return {{{.key = "gaussian",
              .name = "Gaussian",
              .purpose = "Peaks broadened by chance: instrument profiles, distributions",
              .group = "Peaks",
              .settings = {base}},
             makeGaussian},
            {{.key = "lorentzian",
              .name = "Lorentzian",
              .purpose = "Peaks broadened by lifetime: spectral lines with long wings",
              .group = "Peaks",
              .settings = {base}},
             makeLorentzian}};
}

} // namespace jointer::models
