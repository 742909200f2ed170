// SPDX-License-Identifier: GPL-3.0-or-later
// A curve without a formula as an analysis: what it takes, and what it tells of each dataset.
#include "analyses/fit_taking.h"
#include "analyses/free_curve.h"
#include "base/text.h"
#include "fit/residual_tests.h"
#include "numerics/loess.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::analyses {

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
    for (std::size_t i = 0; i < points.y.size(); ++i) sum += points.weight(i), mean += points.weight(i) * points.y[i];
    mean /= sum;
    for (std::size_t i = 0; i < points.y.size(); ++i) {
        m.residuals.push_back(points.y[i] - m.fitted[i]);
        m.rss += points.weight(i) * m.residuals[i] * m.residuals[i];
        total += points.weight(i) * (points.y[i] - mean) * (points.y[i] - mean);
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
        out_.detail =
            fmt::format("{}; {}", taken_.weightsNote,
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
            add({.key = "dof",
                 .label = "degrees of freedom",
                 .meaning = "that the curve takes, as a polynomial would",
                 .value = m.curve.dof});
        if (m.scale > 0)
            add({.key = "residual_sd",
                 .label = "residual SD",
                 .unit = unit,
                 .value = std::sqrt(m.rss / m.curve.left)});
        const auto quality = [&](const char* key, const char* label, double value) {
            if (k == 0)
                out_.quality.push_back({.key = key, .label = label, .value = value, .state = "quality"});
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
        slope.yMeaning = {"d" + slope.yMeaning.name + "/d" + slope.xMeaning.name,
                          models::unitText("y/x", taken_.xUnit(k), slope.yMeaning.unit)};
        out_.curves.push_back(std::move(slope));
        residuals.role = "residuals";
        residuals.points = pointsOf(k, detail_->members[k].residuals);
        residuals.yMeaning = {"residual", taken_.members[k].curve->yMeaning.unit};
        out_.curves.push_back(std::move(residuals));
    }

    void addDoubts(std::size_t k) {
        const Member& m = detail_->members[k];
        if (!m.curve.exact)
            out_.issues.push_back(
                {"approximate",
                 fmt::format("Beyond {} points the degrees of freedom are taken from a part of them.",
                             numerics::kMostExact),
                 {}});
        // Too many runs are what a supple curve leaves of any noise.
        if (const auto [p, few] = fit::runsTest(m.residuals);
            few && p < 0.01 && m.scale > 0 && m.residuals.size() >= 10)
            out_.issues.push_back(
                {"pattern",
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
        auto curve =
            freeCurve(task.spec.settings, points.predictors[0], points.y, points.sigma, rough, task.stop);
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
    return method == "loess"         ? "LOESS"
           : method == "interpolate" ? "Curve through the points"
                                     : "Smoothing spline";
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
