// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/scattering/inverse.h"

#include "analyses/residual_looks.h"
#include "describe/setting_makers.h"

#include <cmath>

namespace jointer::analyses {

namespace {

// Straight between nodes, the end values beyond them.
std::vector<double> between(const std::vector<double>& x, const std::vector<double>& y,
                            const std::vector<double>& at, bool zeroOutside) {
    std::vector<double> out;
    for (const double v : at) {
        if (zeroOutside && (v < x.front() || v > x.back())) {
            out.push_back(0);
            continue;
        }
        const auto above = std::ranges::upper_bound(x, v);
        const auto k =
            static_cast<std::size_t>(std::clamp<std::ptrdiff_t>(above - x.begin() - 1, 0, std::ssize(x) - 2));
        const double share = std::clamp((v - x[k]) / (x[k + 1] - x[k]), 0.0, 1.0);
        out.push_back(std::lerp(y[k], y[k + 1], share));
    }
    return out;
}

} // namespace

NamedCurve inverseCurve(const Task& task, const char* role, std::string label, const ScatteringPoints& points,
                        std::vector<double> lengths, std::vector<double> values, std::vector<double> errors,
                        AxisMeaning meaning) {
    NamedCurve curve{.role = role,
                     .label = std::move(label),
                     .member = task.inputs.front().spec.dataset,
                     .founded = Span(lengths.front(), lengths.back()),
                     .xMeaning = {"radius", points.lengthUnit},
                     .yMeaning = std::move(meaning)};
    for (double& e : errors) e *= 1.96;
    curve.sample = [x = std::move(lengths), y = std::move(values),
                    e = std::move(errors)](const std::vector<double>& at) {
        return Sampled{.y = between(x, y, at, true), .confidence = between(x, e, at, true)};
    };
    return curve;
}

void addInverseFit(const Task& task, const ScatteringPoints& points, const fit::PositiveResult& found,
                   AnalysisResult& out) {
    const DatasetId member = task.inputs.front().spec.dataset;
    std::vector<double> fitted(found.fitted.begin(), found.fitted.end());
    NamedCurve curve{.role = "fit",
                     .member = member,
                     .founded = Span(points.q.front(), points.q.back()),
                     .xMeaning = points.curve->xMeaning,
                     .yMeaning = points.curve->yMeaning};
    auto residuals = std::make_shared<Curve>();
    residuals->x = points.q;
    for (std::size_t i = 0; i < points.size(); ++i) residuals->y.push_back(points.intensity[i] - fitted[i]);
    residuals->xMeaning = points.curve->xMeaning;
    residuals->yMeaning = {"residual", points.curve->yMeaning.unit};
    NamedCurve left = curve;
    left.role = "residuals";
    left.points = std::move(residuals);
    NamedCurve inSigma = left;
    inSigma.role = "residuals-over";
    inSigma.label = kInSigma;
    auto standard = std::make_shared<Curve>(*left.points);
    for (std::size_t i = 0; i < points.size(); ++i) standard->y[i] /= points.sigma[i] * found.noise;
    standard->yMeaning = inSigma.yMeaning = {"residual/σ", ""};
    inSigma.points = std::move(standard);
    inSigma.founded = {};
    out.curves.push_back(std::move(inSigma));
    curve.sample = [x = points.q, y = std::move(fitted)](const std::vector<double>& at) {
        return Sampled{.y = between(x, y, at, false)};
    };
    out.curves.push_back(std::move(curve));
    out.curves.push_back(std::move(left));
    const double n = static_cast<double>(points.size());
    const auto quality = [&](const char* key, const char* label, double value) {
        out.quality.push_back({.key = key, .label = label, .value = value, .state = "quality"});
    };
    quality("n", "n", n);
    if (points.sigmaIsKnown) quality("chi2_n", "χ²/n", found.chi2 / n);
    quality("measured", "numbers measured", found.measured);
    if (points.sigmaIsKnown && found.chi2 > 2 * n)
        out.issues.push_back({"misfit",
                              "The curve does not go through its points: the form, the background, the "
                              "resolution or the uncertainties are not right.",
                              {}});
}

fit::Prior priorOf(const std::string& key) {
    return key == "entropy" ? fit::Prior::Entropy : fit::Prior::Smooth;
}

Setting priorSetting() {
    return describe::choice(
        "prior", "Among all", {{"smooth", "the smoothest"}, {"entropy", "of most entropy"}},
        "Many answers fit the data. This is the smoothest one, or that of most entropy, that is "
        "nowhere below zero; how smooth is chosen by what is most probable.");
}

} // namespace jointer::analyses
