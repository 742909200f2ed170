// SPDX-License-Identifier: GPL-3.0-or-later
// Shift and scale by numbers.
#include "describe/setting_makers.h"
#include "steps/columns.h"

#include <algorithm>
#include <cmath>

namespace jointer::steps {

namespace {

const KindInfo& shiftInfo() {
    using namespace describe;
    static const KindInfo kind{
        .key = "shift",
        .name = "Shift",
        .purpose = "Move a curve along x or y",
        .group = "Place",
        .settings = {number("x", "By in x", 0, "Added to x; of times in seconds.", {.unit = "x"}),
                     number("y", "By in y", 0, "Added to y.", {.unit = "y"})}};
    return kind;
}

std::string signedText(double v) {
    return (v < 0 ? "" : "+") + readableNumber(v);
}

Outcome<StepOutput> shift(const StepInput& in) {
    const double dx = shiftInfo().number(in.settings, "x"), dy = shiftInfo().number(in.settings, "y");
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    Curve& c = out.value.curve;
    for (double& x : c.x) x += dx;
    applyAffine(c, List{1.0}, List{dy});
    // A grip at the highest point: the curve is moved by it.
    const CountingPoints points = countingPoints(in.curve);
    if (!points.y.empty()) {
        const auto top = static_cast<std::size_t>(std::ranges::max_element(points.y) - points.y.begin());
        out.value.handles.push_back({.form = HandleForm::Grip,
                                     .x = points.x[top] + dx,
                                     .y = points.y[top] + dy,
                                     .says = "drag to move the curve",
                                     .homeX = points.x[top],
                                     .homeY = points.y[top]});
    }
    std::vector<std::string> said;
    const auto unit = [](const AxisMeaning& m) {
        return m.isTime ? std::string(" s") : m.unit.empty() ? "" : " " + m.unit;
    };
    if (dx != 0) said.push_back("x " + signedText(dx) + unit(c.xMeaning));
    if (dy != 0) said.push_back("y " + signedText(dy) + unit(c.yMeaning));
    out.value.sentence = said.empty() ? "Shift: by nothing yet." : "Shifted: " + joined(said, ", ") + ".";
    return out;
}

const KindInfo& scaleInfo() {
    using namespace describe;
    static const KindInfo kind{
        .key = "scale",
        .name = "Scale",
        .purpose = "Multiply x or y by a number",
        .group = "Place",
        .settings = {
            number("x", "x times", 1, "Factor of x.", {}), number("y", "y times", 1, "Factor of y.", {}),
            word("x-unit", "Unit of x", "Unit of the new x; empty keeps it.", {.whenEmpty = "as it is"}),
            word("y-unit", "Unit of y", "Unit of the new y; empty keeps it.", {.whenEmpty = "as it is"})}};
    return kind;
}

Outcome<StepOutput> scale(const StepInput& in) {
    const double fx = scaleInfo().number(in.settings, "x"), fy = scaleInfo().number(in.settings, "y");
    if (fx == 0)
        return leftAlone(in.curve, "Scale: nothing was done.", "x cannot be multiplied by zero",
                         {"zero-factor", "With a factor of zero all x would be the same: type another.", {}});
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    Curve& c = out.value.curve;
    for (double& x : c.x) x *= fx;
    for (double& s : c.sigmaX) s *= std::abs(fx);
    applyAffine(c, List{fy}, List{0.0});
    sortByX(c);
    if (fx < 0) c.xMeaning.descending = !c.xMeaning.descending;
    if (const std::string unit = scaleInfo().text(in.settings, "x-unit"); !unit.empty())
        c.xMeaning.unit = unit;
    if (const std::string unit = scaleInfo().text(in.settings, "y-unit"); !unit.empty())
        c.yMeaning.unit = unit;
    std::vector<std::string> said;
    if (fx != 1) said.push_back("x times " + readableNumber(fx));
    if (fy != 1) said.push_back("y times " + readableNumber(fy));
    out.value.sentence = said.empty() ? "Scale: by nothing yet." : "Scaled: " + joined(said, ", ") + ".";
    return out;
}

} // namespace

StepKind shiftStep() {
    return {.info = shiftInfo(), .apply = shift};
}
StepKind scaleStep() {
    return {.info = scaleInfo(), .apply = scale};
}

} // namespace jointer::steps
