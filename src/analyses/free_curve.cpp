// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/free_curve.h"

#include "analyses/fit_taking.h"
#include "base/text.h"
#include "describe/setting_makers.h"
#include "fit/residual_tests.h"
#include "numerics/loess.h"
#include "numerics/smoothing_spline.h"
#include "numerics/spline.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numeric>

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
                   {{"loess", "LOESS"}, {"smoothing-spline", "smoothing spline"}, {"interpolate", "through the points"}},
                   "LOESS: at each place a polynomial through the nearest points. Smoothing spline: the curve that bends "
                   "least for how near it comes. Through the points: no scatter is assumed."),
            number("fraction", "Fraction", 0.5, "Part of the points that is near.",
                   {.lowest = 0.001, .highest = 1, .shownIf = "method=loess", .slider = std::pair(0.05, 1.0)}),
            choice("degree", "Degree", {{"2", "2"}, {"1", "1"}}, "Of the local polynomial.", {.shownIf = "method=loess"}),
            flag("robust", "Robust", false, "Points far off count less.", {.shownIf = "method=loess"}),
            openNumber("smoothness", "Smoothness",
                       "Logarithm of the penalty on bending, in units of the distance of points: 0 follows nearly every "
                       "point, 4 smooths over some tens. Empty: by generalised cross-validation.",
                       {.lowest = -12, .highest = 30, .shownIf = "method=smoothing-spline", .whenEmpty = "automatic",
                        .slider = std::pair(-2.0, 10.0)}),
            openNumber("dof", "Degrees of freedom", "Instead of the smoothness: how many the curve shall have.",
                       {.lowest = 2, .highest = 1e6, .shownIf = "method=smoothing-spline", .whenEmpty = "automatic"}),
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
    c.values = [loess](std::span<const double> at, std::span<double> norms) { return loess->values(at, norms); };
    c.told = fmt::format("LOESS of {:.3g} % of the points, degree {}{}", 100 * wish.fraction, wish.degree,
                         robust ? ", robust" : "");
    c.own = {{.key = "neighbours", .label = "neighbours", .meaning = "points that are near each place",
              .value = static_cast<double>(loess->neighbours()), .state = "summary"}};
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
    c.at = [spline](double at) { return FreeCurve::At{(*spline)(at), spline->slope(at), spline->spread(at)}; };
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
    c.told = fmt::format("Smoothing spline, smoothness {:.3g}{}", spline->smoothness(), automatic ? " by cross-validation" : "");
    c.own = {{.key = "smoothness", .label = "smoothness", .meaning = "logarithm of the penalty on bending",
              .value = spline->smoothness(), .state = "summary"},
             {.key = "cross_validation", .label = "cross-validation", .meaning = "n·RSS/(n − dof)²",
              .value = spline->crossValidation(), .state = "summary"}};
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
                  : pieces == "cubic"  ? joinedBy(std::make_shared<const numerics::NaturalSpline>(xs, ys))
                                       : joinedBy(std::make_shared<const numerics::ShapePreservingSpline>(xs, ys));
    c.dof = static_cast<double>(xs.size());
    c.told = pieces == "straight" ? "Straight pieces through the points" : "Cubic pieces through the points";
    return c;
}

} // namespace

Result<FreeCurve> freeCurve(const Settings& settings, const std::vector<double>& x, const std::vector<double>& y,
                            const std::vector<double>& sigma, bool rough, const Cancellation& stop) {
    const std::string method = freeCurveSettings().text(settings, "method");
    const std::size_t least = method == "interpolate" ? 2 : 4;
    if (x.size() < least)
        return failure("few-points", fmt::format("A curve without a formula needs at least {} points; there {}.",
                                                 least, x.size() == 1 ? "is 1" : fmt::format("are {}", x.size())));
    if (method == "interpolate") return throughPoints(settings, x, y);
    if (method == "loess") return loessOf(settings, x, y, weightsOf(sigma), rough, stop);
    return splineOf(settings, x, y, weightsOf(sigma));
}

namespace {

using Member = FreeCurveDetail::Member;

Taken take(const Task& task) {
    auto taken = std::make_shared<FitTaken>();
    Taken out;
    for (const TaskInput& input : task.inputs)
        if (auto done = takeMember(input, task, nullptr, 1, *taken, out.issues); !done) {
            out.issues = {done.error()};
            return out;
        }
    taken->time = timeOf(task);
    Hasher h;
    h.add("free-curve");
    addTo(h, task.spec);
    addTo(h, *taken);
    out.digest = h.digest();
    out.bytes = bytesOf(*taken);
    out.value = taken;
    return out;
}

void measure(Member& m, const fit::FitMember& points, bool absolute, double level) {
    m.fitted = m.curve.values(points.predictors[0], {});
    double total = 0, sum = 0, mean = 0;
    const auto weight = [&](std::size_t i) { return points.weight(i); };
    for (std::size_t i = 0; i < points.y.size(); ++i) sum += weight(i), mean += weight(i) * points.y[i];
    mean /= sum;
    for (std::size_t i = 0; i < points.y.size(); ++i) {
        m.residuals.push_back(points.y[i] - m.fitted[i]);
        m.rss += weight(i) * m.residuals[i] * m.residuals[i];
        total += weight(i) * (points.y[i] - mean) * (points.y[i] - mean);
    }
    m.r2 = total > 0 ? 1 - m.rss / total : NAN;
    if (!(m.curve.left > 1e-9)) return;
    m.scale = absolute ? 1 : std::sqrt(m.rss / m.curve.left);
    m.t = fit::tQuantile(level, absolute ? INFINITY : m.curve.degrees);
}

// What the method is and what it leaves, told of each dataset.
class Teller {
public:
    Teller(const Task& task, std::shared_ptr<const FreeCurveDetail> detail)
        : task_(task), detail_(std::move(detail)), taken_(*detail_->taken) {}

    AnalysisResult tell() {
        out_.state = "done";
        out_.kept = detail_;
        for (std::size_t k = 0; k < detail_->members.size(); ++k) {
            addQuantities(k);
            addCurves(k);
            addDoubts(k);
        }
        const Member& first = detail_->members[0];
        out_.sentence = first.curve.told + ".";
        out_.detail = fmt::format("{}; {}", taken_.weightsNote,
                                  counted(static_cast<long long>(taken_.problem.observationCount()), "point"));
        return std::move(out_);
    }

private:
    bool several() const { return detail_->members.size() > 1; }

    void addQuantities(std::size_t k) {
        const Member& m = detail_->members[k];
        const std::string of = several() ? " of " + taken_.members[k].dataset.text() : "";
        const std::string& unit = taken_.members[k].curve->yMeaning.unit;
        const auto add = [&](Quantity q) {
            q.key += of;
            q.state = "summary";
            q.member = taken_.members[k].dataset;
            out_.quantities.push_back(std::move(q));
        };
        for (const Quantity& q : m.curve.own) add(q);
        if (m.curve.dof > 0)
            add({.key = "dof", .label = "degrees of freedom", .meaning = "that the curve takes, as a polynomial would",
                 .value = m.curve.dof});
        if (m.scale > 0) add({.key = "residual_sd", .label = "residual SD", .unit = unit, .value = std::sqrt(m.rss / m.curve.left)});
        const auto quality = [&](const char* key, const char* label, double value) {
            if (k == 0) out_.quality.push_back({.key = key, .label = label, .value = value, .state = "quality"});
        };
        quality("n", "n", static_cast<double>(m.fitted.size()));
        quality("dof", "dof", m.curve.left);
        quality("r2", "R²", m.r2);
        quality("rss", "residual sum", m.rss);
        if (m.scale > 0) quality("residual_sd", "residual SD", std::sqrt(m.rss / m.curve.left));
    }

    std::shared_ptr<const Curve> pointsOf(std::size_t k, const std::vector<double>& values) const {
        auto curve = std::make_shared<Curve>();
        curve->x = taken_.problem.members[k].predictors[0];
        curve->y = values;
        curve->xMeaning = taken_.members[k].curve->xMeaning;
        curve->yMeaning = taken_.members[k].curve->yMeaning;
        return curve;
    }

    void addCurves(std::size_t k) {
        const std::vector<double>& x = taken_.problem.members[k].predictors[0];
        NamedCurve fitted{.role = "fit",
                          .label = nameOf(task_.spec),
                          .member = taken_.members[k].dataset,
                          .founded = Span(x.front(), x.back()),
                          .xMeaning = taken_.members[k].curve->xMeaning,
                          .yMeaning = taken_.members[k].curve->yMeaning};
        NamedCurve residuals = fitted, slope = fitted;
        fitted.sample = [detail = detail_, k](const std::vector<double>& xs) {
            const Member& m = detail->members[k];
            Sampled s;
            std::vector<double> norms(m.scale > 0 ? xs.size() : 0);
            s.y = m.curve.values(xs, norms);
            for (double norm : norms) {
                s.confidence.push_back(m.t * m.scale * norm);
                s.prediction.push_back(m.t * m.scale * std::hypot(1, norm));
            }
            return s;
        };
        out_.curves.push_back(std::move(fitted));
        slope.role = "derivative";
        slope.sample = [detail = detail_, k](const std::vector<double>& xs) {
            Sampled s;
            const double unit = detail->taken->time ? detail->taken->time->unit : 1;
            for (double at : xs) s.y.push_back(unit * detail->members[k].curve.at(at).slope);
            return s;
        };
        slope.yMeaning = {"d" + slope.yMeaning.name + "/d" + slope.xMeaning.name, models::unitText("y/x", taken_.xUnit(k), slope.yMeaning.unit)};
        out_.curves.push_back(std::move(slope));
        residuals.role = "residuals";
        residuals.points = pointsOf(k, detail_->members[k].residuals);
        residuals.yMeaning = {"residual", taken_.members[k].curve->yMeaning.unit};
        out_.curves.push_back(std::move(residuals));
    }

    void addDoubts(std::size_t k) {
        const Member& m = detail_->members[k];
        if (!m.curve.exact)
            out_.issues.push_back({"approximate",
                                   fmt::format("Beyond {} points the degrees of freedom are taken from a part of them.",
                                               numerics::kMostExact),
                                   {}});
        // Too many runs are what a supple curve leaves of any noise.
        if (const auto [p, few] = fit::runsTest(m.residuals); few && p < 0.01 && m.scale > 0 && m.residuals.size() >= 10)
            out_.issues.push_back({"pattern",
                                   fmt::format("The residuals follow a pattern (runs test p {}): the curve is too smooth for "
                                               "these points, or neighbours depend on each other. Take a smaller fraction, "
                                               "or less smoothness.",
                                               p < 0.001 ? std::string("< 0.001") : fmt::format("= {:.3f}", p)),
                                   {}});
    }

    const Task& task_;
    std::shared_ptr<const FreeCurveDetail> detail_;
    const FitTaken& taken_;
    AnalysisResult out_;
};

Result<AnalysisResult> compute(const Task& task, const Taken& given) {
    auto detail = std::make_shared<FreeCurveDetail>();
    detail->taken = std::static_pointer_cast<const FitTaken>(given.value);
    detail->settings = task.spec.settings;
    const bool rough = task.effort != Effort::Full;
    const double level = freeCurveSettings().number(task.spec.settings, "level");
    for (const fit::FitMember& points : detail->taken->problem.members) {
        auto curve = freeCurve(task.spec.settings, points.predictors[0], points.y, points.sigma, rough, task.stop);
        if (!curve) return std::unexpected(curve.error());
        Member m{.curve = std::move(*curve)};
        measure(m, points, detail->taken->problem.absolute, level);
        detail->members.push_back(std::move(m));
    }
    AnalysisResult out = Teller(task, std::move(detail)).tell();
    out.whole = !rough && !task.stop.stop_requested();
    return out;
}

std::string nameFor(const Analysis& spec) {
    const std::string method = freeCurveSettings().text(spec.settings, "method");
    return method == "loess" ? "LOESS" : method == "interpolate" ? "Curve through the points" : "Smoothing spline";
}

} // namespace

const FreeCurveDetail* freeCurveDetail(const AnalysisResult& result) {
    return dynamic_cast<const FreeCurveDetail*>(result.kept.get());
}

AnalysisKind freeCurveAnalysis() {
    return {.info = freeCurveSettings(),
            .slots = {{.key = "datasets", .label = "Datasets", .of = "dataset", .most = 100000}},
            .take = take,
            .compute = compute,
            .name = nameFor,
            .givesCurve = true};
}

} // namespace jointer::analyses
