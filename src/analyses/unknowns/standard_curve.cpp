// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/unknowns/standard_curve.h"

#include "analyses/fit_analysis.h"
#include "analyses/free_curve.h"
#include "fit/residual_tests.h"

#include <algorithm>
#include <cmath>

namespace jointer::analyses {

namespace {

// Several series of standards have one curve where they share all parameters.
bool hasOneCurve(const FitTaken& taken, const FitDetail* fit) {
    if (taken.members.size() == 1) return true;
    if (!fit) return false;
    const std::vector<double> first = fit->report.members.front().values();
    return std::ranges::all_of(fit->report.members,
                               [&](const fit::MemberReport& m) { return m.values() == first; });
}

} // namespace

Result<StandardCurve> StandardCurve::of(const AnalysisResult& result) {
    StandardCurve out;
    out.curve_ = result.curve("fit");
    const FitDetail* fit = fitDetail(result);
    const FreeCurveDetail* free = freeCurveDetail(result);
    if (!out.curve_ || !out.curve_->sample || !(fit || free))
        return failure("no-curve", "Choose a fit of the standards as the curve.");
    out.taken_ = fit ? fit->taken : free->taken;
    out.report_ = fit ? &fit->report : nullptr;
    if (fit) out.parameters_ = fit->report.members.front().values();
    if (out.taken_->problem.members.front().predictors.size() > 1)
        return failure("several-predictors", "A standard curve has a single x.");
    if (!hasOneCurve(*out.taken_, fit))
        return failure(
            "several-curves",
            "Each series of standards has a curve of its own: share all parameters of their fit, or "
            "fit one series alone.");
    out.t_ = fit ? fit::tQuantile(fit->report) : free->members[0].t;
    out.dof_ = fit ? static_cast<double>(fit->report.dof) : free->members[0].curve.degrees;
    if (out.taken_->problem.absolute) out.dof_ = INFINITY;
    out.residualSd_ = fit ? fit->report.residualSd : free->members[0].scale;
    return out;
}

namespace {

double valueOf(const models::Model& model, const std::vector<double>& parameters, double x) {
    const std::vector<double> column = {x};
    const std::span<const double> xs(column);
    double y = NAN;
    model.evaluate({&xs, 1}, parameters, {&y, 1});
    return y;
}

} // namespace

double StandardCurve::y(double x) const {
    return report_ ? valueOf(taken_->model(), parameters_, x) : curve_->sample({x}).y[0];
}

StandardCurve::Variances StandardCurve::variances(const std::vector<double>& xs) const {
    const Sampled s = curve_->sample(xs);
    Variances out;
    for (std::size_t i = 0; i < xs.size(); ++i) {
        const double c = i < s.confidence.size() ? s.confidence[i] / t_ : NAN,
                     p = i < s.prediction.size() ? s.prediction[i] / t_ : NAN;
        out.curve.push_back(c * c);
        const double rest = p * p - c * c; // not known where the curve leaves no degree of freedom
        out.reading.push_back(rest < 0 ? 0 : rest);
    }
    return out;
}

std::pair<double, double> StandardCurve::bandAt(const fit::Inversion& inversion, double x, double y,
                                                double readings) const {
    const auto off = [&](int side) { // how far y is inside the band
        return [&, side](double at) {
            const Variances v = variances({at});
            return side * (this->y(at) - y) - t_ * std::sqrt(v.reading[0] / readings + v.curve[0]);
        };
    };
    const int up = inversion.slope(x) < 0 ? -1 : 1;
    return {inversion.crossing(x, -1, off(-up)), inversion.crossing(x, 1, off(up))};
}

std::vector<StandardBack> StandardCurve::standards() const {
    std::vector<StandardBack> out;
    for (const MemberPoints& m : taken_->members)
        for (std::size_t i = 0; i < m.curve->size(); ++i)
            if (m.used.empty() || m.used[i]) out.push_back({m.curve->x[i], m.curve->y[i]});
    return out;
}

fit::Inversion inversionOf(const models::Model& model, std::vector<double> parameters, double low,
                           double high) {
    return {[&model, parameters = std::move(parameters)](double x) { return valueOf(model, parameters, x); },
            low, high};
}

} // namespace jointer::analyses
