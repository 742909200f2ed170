// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/free_curve.h"

#include "base/text.h"
#include "describe/setting_makers.h"
#include "numerics/loess.h"
#include "numerics/smoothing_spline.h"
#include "numerics/spline.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::analyses {

const KindInfo& freeCurveSettings() {
    using namespace describe;
    static const KindInfo info{
        .key = "free-curve",
        .name = "Curve without a formula",
        .purpose = "LOESS, a smoothing spline, or a curve through every point, with bands",
        .group = "Analyses",
        .settings = {
            choice("method", "Method",
                   {{"loess", "LOESS"},
                    {"smoothing-spline", "smoothing spline"},
                    {"interpolate", "through the points"}},
                   "LOESS: at each place a polynomial through the nearest points. Smoothing spline: the "
                   "curve that bends "
                   "least for how near it comes. Through the points: no scatter is assumed."),
            number(
                "fraction", "Fraction", 0.5, "Part of the points that is near.",
                {.lowest = 0.001, .highest = 1, .shownIf = "method=loess", .slider = std::pair(0.05, 1.0)}),
            choice("degree", "Degree", {{"2", "2"}, {"1", "1"}}, "Of the local polynomial.",
                   {.shownIf = "method=loess"}),
            flag("robust", "Robust", false, "Points far off count less.", {.shownIf = "method=loess"}),
            openNumber("smoothness", "Smoothness",
                       "Logarithm of the penalty on bending, in units of the distance of points: 0 follows "
                       "nearly every "
                       "point, 4 smooths over some tens. Empty: by generalised cross-validation.",
                       {.lowest = -12,
                        .highest = 30,
                        .shownIf = "method=smoothing-spline",
                        .whenEmpty = "automatic",
                        .slider = std::pair(-2.0, 10.0)}),
            openNumber("dof", "Degrees of freedom",
                       "Instead of the smoothness: how many the curve shall have.",
                       {.lowest = 2,
                        .highest = 1e6,
                        .shownIf = "method=smoothing-spline",
                        .whenEmpty = "automatic"}),
            choice("pieces", "Pieces",
                   {{"shape", "cubic, keeping the shape"}, {"cubic", "cubic"}, {"straight", "straight"}},
                   "How the points are joined.", {.shownIf = "method=interpolate"}),
            number("level", "Level", 0.95, "Of the bands.", {.lowest = 0.5, .highest = 0.9999})}};
    return info;
}

bool isFreeCurve(std::string_view method) {
    const Setting* methods = freeCurveSettings().find("method");
    return std::ranges::find(methods->choices, method, &Choice::key) != methods->choices.end();
}

namespace {

std::vector<double> weightsOf(const std::vector<double>& sigma) {
    std::vector<double> w;
    for (double s : sigma) w.push_back(1 / (s * s));
    return w;
}

template <class Curve> std::vector<double> valuesOf(const Curve& curve, std::span<const double> at) {
    std::vector<double> out;
    for (double v : at) out.push_back(curve(v));
    return out;
}

FreeCurve loessOf(const Settings& s, const std::vector<double>& x, const std::vector<double>& y,
                  std::vector<double> weights, bool rough, const Cancellation& stop) {
    const KindInfo& info = freeCurveSettings();
    const bool robust = info.flag(s, "robust");
    const numerics::LoessWish wish{.fraction = info.number(s, "fraction"),
                                   .degree = info.text(s, "degree") == "1" ? 1 : 2,
                                   .robustSteps = robust ? 4 : 0};
    const auto loess = std::make_shared<const numerics::Loess>(x, y, std::move(weights), wish);
    FreeCurve c;
    c.at = [loess](double at) {
        const auto a = loess->at(at);
        return FreeCurve::At{a.y, a.slope, a.norm};
    };
    c.values = [loess](std::span<const double> at, std::span<double> norms) {
        return loess->values(at, norms);
    };
    c.told = fmt::format("LOESS of {:.3g} % of the points, degree {}{}", 100 * wish.fraction, wish.degree,
                         robust ? ", robust" : "");
    c.own = {{.key = "neighbours",
              .label = "neighbours",
              .meaning = "points that are near each place",
              .value = static_cast<double>(loess->neighbours()),
              .state = "summary"}};
    if (rough) return c;
    numerics::SmootherStatistics stats = numerics::statisticsOf(*loess, x, stop);
    c.dof = stats.dof;
    c.left = stats.left;
    c.degrees = stats.degrees();
    c.exact = stats.exact;
    c.leverage = std::move(stats.leverage);
    return c;
}

FreeCurve splineOf(const Settings& s, const std::vector<double>& x, const std::vector<double>& y,
                   const std::vector<double>& weights) {
    const KindInfo& info = freeCurveSettings();
    numerics::SplineWish wish;
    if (s.has("smoothness"))
        wish.smoothness = info.number(s, "smoothness");
    else if (s.has("dof"))
        wish.dof = info.number(s, "dof");
    const auto spline = std::make_shared<const numerics::SmoothingSpline>(x, y, weights, wish);
    FreeCurve c;
    c.at = [spline](double at) {
        return FreeCurve::At{(*spline)(at), spline->slope(at), spline->spread(at)};
    };
    c.values = [spline](std::span<const double> at, std::span<double> norms) {
        for (std::size_t i = 0; i < norms.size(); ++i) norms[i] = spline->spread(at[i]);
        return valuesOf(*spline, at);
    };
    c.dof = spline->dof();
    c.left = c.degrees = static_cast<double>(x.size()) - c.dof;
    // Of several points at one place each has its part of the leverage.
    const std::vector<double>& places = spline->places();
    for (double at : x) {
        const auto k = static_cast<std::size_t>(std::ranges::lower_bound(places, at) - places.begin());
        const auto [low, high] = std::ranges::equal_range(x, at);
        c.leverage.push_back(k < places.size() ? spline->leverage(k) / static_cast<double>(high - low) : 0);
    }
    const bool automatic = !wish.smoothness && !wish.dof;
    c.told = fmt::format("Smoothing spline, smoothness {:.3g}{}", spline->smoothness(),
                         automatic ? " by cross-validation" : "");
    c.own = {{.key = "smoothness",
              .label = "smoothness",
              .meaning = "logarithm of the penalty on bending",
              .value = spline->smoothness(),
              .state = "summary"},
             {.key = "cross_validation",
              .label = "cross-validation",
              .meaning = "n·RSS/(n − dof)²",
              .value = spline->crossValidation(),
              .state = "summary"}};
    return c;
}

// Through the mean at each place.
template <class Spline> FreeCurve joinedBy(std::shared_ptr<const Spline> spline) {
    FreeCurve c;
    c.at = [spline](double at) {
        const double h = 1e-6 * std::max(1.0, std::abs(at));
        return FreeCurve::At{(*spline)(at), ((*spline)(at + h) - (*spline)(at - h)) / (2 * h), NAN};
    };
    c.values = [spline](std::span<const double> at, std::span<double> norms) {
        std::ranges::fill(norms, NAN);
        return valuesOf(*spline, at);
    };
    return c;
}

struct Straight {
    std::vector<double> xs, ys;
    double operator()(double x) const { return numerics::interpolateLinear(xs, ys, x); }
};

FreeCurve throughPoints(const Settings& s, const std::vector<double>& x, const std::vector<double>& y) {
    std::vector<double> xs, ys;
    for (std::size_t i = 0; i < x.size();) {
        std::size_t end = i;
        double sum = 0;
        for (; end < x.size() && x[end] == x[i]; ++end) sum += y[end];
        xs.push_back(x[i]);
        ys.push_back(sum / static_cast<double>(end - i));
        i = end;
    }
    const std::string pieces = freeCurveSettings().text(s, "pieces");
    FreeCurve c = pieces == "straight" ? joinedBy(std::make_shared<const Straight>(xs, ys))
                  : pieces == "cubic"
                      ? joinedBy(std::make_shared<const numerics::NaturalSpline>(xs, ys))
                      : joinedBy(std::make_shared<const numerics::ShapePreservingSpline>(xs, ys));
    c.dof = static_cast<double>(xs.size());
    c.told = pieces == "straight" ? "Straight pieces through the points" : "Cubic pieces through the points";
    return c;
}

} // namespace

Result<FreeCurve> freeCurve(const Settings& settings, const std::vector<double>& x,
                            const std::vector<double>& y, const std::vector<double>& sigma, bool rough,
                            const Cancellation& stop) {
    const std::string method = freeCurveSettings().text(settings, "method");
    const std::size_t least = method == "interpolate" ? 2 : 4;
    if (x.size() < least)
        return failure("few-points",
                       fmt::format("A curve without a formula needs at least {} points; there {}.", least,
                                   x.size() == 1 ? "is 1" : fmt::format("are {}", x.size())));
    if (method == "interpolate") return throughPoints(settings, x, y);
    if (method == "loess") return loessOf(settings, x, y, weightsOf(sigma), rough, stop);
    return splineOf(settings, x, y, weightsOf(sigma));
}

} // namespace jointer::analyses
