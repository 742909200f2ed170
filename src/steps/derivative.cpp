// SPDX-License-Identifier: GPL-3.0-or-later
// Derivatives, by a local polynomial (Savitzky–Golay) or by a spline through the points, and the integral.
#include "describe/setting_makers.h"
#include "numerics/compensated_sum.h"
#include "steps/smoothers.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::steps {

namespace {

const KindInfo& info() {
    using namespace describe;
    static const KindInfo kind{
        .key = "derivative",
        .name = "Derivative",
        .purpose = "First or second derivative of y by x",
        .group = "Shape",
        .settings = {
            choice("order", "Order", {{"1", "first"}, {"2", "second"}}, "Which derivative."),
            choice(
                "method", "Method", {{"savitzky-golay", "Savitzky–Golay"}, {"differences", "differences"}},
                "Of a local polynomial over a window, which smooths; or between neighbours, which does not."),
            wholeNumber("window", "Window", 11, "Number of points, odd. Larger is smoother.",
                        {.unit = "points",
                         .lowest = 3,
                         .highest = 100001,
                         .shownIf = "method=savitzky-golay",
                         .slider = {{3, 101}}}),
            wholeNumber(
                "degree", "Degree", 3, "Degree of the local polynomial. Higher follows sharper peaks.",
                {.lowest = 1, .highest = 7, .shownIf = "method=savitzky-golay", .slider = {{1, 7}}})}};
    return kind;
}

AxisMeaning derivedMeaning(const Curve& c, int order) {
    AxisMeaning m = c.yMeaning;
    const std::string& x = c.xMeaning.name;
    m.name = order == 1 ? fmt::format("d({})/d({})", m.name, x) : fmt::format("d²({})/d({})²", m.name, x);
    const std::string unit = c.xMeaning.isTime ? "s" : c.xMeaning.unit;
    m.unit = unitQuotient(c.yMeaning.unit, order == 1 || unit.empty() ? unit : unit + "^2");
    m.isTime = false;
    return m;
}

Outcome<StepOutput> apply(const StepInput& in) {
    const int order = info().text(in.settings, "order") == "2" ? 2 : 1;
    const bool differences = info().text(in.settings, "method") == "differences";
    int degree = differences ? 2 : info().integer(in.settings, "degree");
    Window window{differences ? 3U : static_cast<std::size_t>(info().integer(in.settings, "window")) | 1, 0};
    const CountingPoints points = countingPoints(in.curve);
    auto nothing = [&](const char* why, const char* advice) {
        return leftAlone(in.curve, "Derivative: nothing was done.", why, {"too-few-points", advice, {}});
    };
    if (points.x.size() < 3 || points.x.front() == points.x.back())
        return nothing("too few points", "A derivative needs at least three points at different x.");
    if (degree < order || window.points <= static_cast<std::size_t>(degree))
        return nothing("the degree does not fit the window",
                       "The degree must be at least the order of the derivative, and below the window.");
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    Curve& c = out.value.curve;
    applyLinear(
        c,
        [&](Values x) {
            const Spacing spacing = spacingOf(x);
            const double widest = std::max(static_cast<double>(window.points), 10.0);
            return localPolynomial(x, window, piecesOf(x, spacing, widest), degree, order);
        },
        "the derivative");
    for (std::size_t i = 0; i < c.size(); ++i) // what does not count has no derivative
        if (!in.curve.counts(i)) c.y[i] = std::nan("");
    c.yMeaning = derivedMeaning(in.curve, order);
    out.value.sentence = fmt::format("{} derivative.", order == 1 ? "First" : "Second");
    out.value.detail =
        differences ? "parabola through three neighbours"
                    : fmt::format("Savitzky–Golay over {}, degree {}", countedPoints(window.points), degree);
    for (std::size_t i = 1; i < points.x.size(); ++i)
        if (points.x[i] == points.x[i - 1]) {
            out.issues.push_back({"double-x",
                                  "Several points have the same x; the derivative goes through their "
                                  "mean. Average them first if that is not meant.",
                                  {}});
            break;
        }
    return out;
}

const KindInfo& integralInfo() {
    using namespace describe;
    static const KindInfo kind{
        .key = "integral",
        .name = "Integral",
        .purpose = "Area from the first point up to each, by trapezoids",
        .group = "Shape",
        .settings = {choice("from", "From", {{"start", "the first point"}, {"end", "the last point"}},
                            "Where the area is zero.")}};
    return kind;
}

// Each area is a sum Σ wₖyₖ whose weights are those of the trapezoids; its variance follows exactly.
Linear cumulative(Values x) {
    const List xs(x.begin(), x.end());
    return {[xs](Values v) {
                List out(v.size());
                numerics::CompensatedSum sum;
                for (std::size_t i = 1; i < v.size(); ++i) {
                    sum.add(0.5 * (v[i] + v[i - 1]) * (xs[i] - xs[i - 1]));
                    out[i] = sum.value();
                }
                return out;
            },
            [xs](Values v) {
                List out(v.size());
                numerics::CompensatedSum inner; // points that have both of their trapezoids
                for (std::size_t i = 1; i < v.size(); ++i) {
                    const double last = 0.5 * (xs[i] - xs[i - 1]);
                    out[i] = inner.value() + last * last * v[i];
                    const double whole = i + 1 < v.size() ? 0.5 * (xs[i + 1] - xs[i - 1]) : 0;
                    if (i == 1) { // the first point has one
                        inner.add(last * last * v[0]);
                        out[1] += last * last * v[0];
                    }
                    inner.add(whole * whole * v[i]);
                }
                return out;
            }};
}

Outcome<StepOutput> integrate(const StepInput& in) {
    const CountingPoints points = countingPoints(in.curve);
    if (points.x.size() < 2)
        return leftAlone(in.curve, "Integral: nothing was done.", "too few points",
                         {"too-few-points", "An area needs at least two points.", {}});
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    Curve& c = out.value.curve;
    applyLinear(c, cumulative, "the integral");
    const std::size_t last = points.places.back();
    const double whole = c.y[last], error = c.sigma.empty() ? 0 : c.sigma[last];
    if (integralInfo().text(in.settings, "from") == "end") {
        applyAffine(c, List{1.0}, List{-whole});
        // Errors are those of the area that is still to come.
        if (!c.sigma.empty() && c.replicates.empty()) {
            Curve turned = in.curve;
            for (double& x : turned.x) x = -x;
            std::vector<std::size_t> order(turned.size());
            for (std::size_t i = 0; i < order.size(); ++i) order[i] = order.size() - 1 - i;
            turned = arranged(turned, order);
            applyLinear(turned, cumulative, "");
            for (std::size_t i = 0; i < c.size(); ++i) c.sigma[i] = turned.sigma[c.size() - 1 - i];
        }
    }
    for (std::size_t i = 0; i < c.size(); ++i)
        if (!in.curve.counts(i)) c.y[i] = std::nan("");
    c.yMeaning.name = fmt::format("∫ {}", in.curve.yMeaning.name);
    c.yMeaning.unit =
        unitProduct(in.curve.yMeaning.unit, in.curve.xMeaning.isTime ? "s" : in.curve.xMeaning.unit);
    c.yMeaning.isTime = false;
    out.value.sentence = "Integrated by trapezoids.";
    const ValueText text = readableWithError(whole, error);
    out.value.detail = "whole area " + (error > 0 ? text.value + " ± " + text.error : readableNumber(whole)) +
                       (c.yMeaning.unit.empty() ? "" : " " + c.yMeaning.unit);
    return out;
}

} // namespace

StepKind derivativeStep() {
    return {.info = info(), .apply = apply};
}
StepKind integralStep() {
    return {.info = integralInfo(), .apply = integrate};
}

} // namespace jointer::steps
