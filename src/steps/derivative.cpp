// SPDX-License-Identifier: GPL-3.0-or-later
// Derivatives, by a local polynomial (Savitzky–Golay) or between neighbours.
#include "base/unit_text.h"
#include "describe/setting_makers.h"
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
    const std::string unit = unitOfDistance(c.xMeaning);
    m.unit = unitQuotient(c.yMeaning.unit, order == 1 || unit.empty() ? unit : bracketedUnit(unit) + "^2");
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

} // namespace

StepKind derivativeStep() {
    return {.info = info(), .apply = apply};
}

} // namespace jointer::steps
