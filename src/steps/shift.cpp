// SPDX-License-Identifier: GPL-3.0-or-later
// Moves a curve along x or y, by numbers or by its grip.
#include "describe/setting_makers.h"
#include "steps/columns.h"

#include <algorithm>
#include <cmath>

namespace jointer::steps {

namespace {

const KindInfo& info() {
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

Outcome<StepOutput> apply(const StepInput& in) {
    const double dx = info().number(in.settings, "x"), dy = info().number(in.settings, "y");
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
    if (dx != 0) said.push_back("x " + signedDistance(c.xMeaning, dx));
    if (dy != 0) said.push_back("y " + signedDistance(c.yMeaning, dy));
    out.value.sentence = said.empty() ? "Shift: by nothing yet." : "Shifted: " + joined(said, ", ") + ".";
    return out;
}

} // namespace

StepKind shiftStep() {
    return {.info = info(), .apply = apply};
}

} // namespace jointer::steps
