// SPDX-License-Identifier: GPL-3.0-or-later
// Multiplies x or y by a number.
#include "describe/setting_makers.h"
#include "steps/columns.h"

#include <cmath>

namespace jointer::steps {

namespace {

const KindInfo& info() {
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

Outcome<StepOutput> apply(const StepInput& in) {
    const double fx = info().number(in.settings, "x"), fy = info().number(in.settings, "y");
    if (fx == 0)
        return leftAlone(in.curve, "Scale: nothing was done.", "x cannot be multiplied by zero",
                         {"zero-factor", "With a factor of zero all x would be the same: type another.", {}});
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    Curve& c = out.value.curve;
    for (double& x : c.x) x *= fx;
    for (double& s : c.sigmaX) s *= std::abs(fx);
    for (double& s : c.resolution) s *= std::abs(fx);
    applyAffine(c, List{fy}, List{0.0});
    sortByX(c);
    if (fx < 0) c.xMeaning.descending = !c.xMeaning.descending;
    if (const std::string unit = info().text(in.settings, "x-unit"); !unit.empty()) c.xMeaning.unit = unit;
    if (const std::string unit = info().text(in.settings, "y-unit"); !unit.empty()) c.yMeaning.unit = unit;
    std::vector<std::string> said;
    if (fx != 1) said.push_back("x times " + readableNumber(fx));
    if (fy != 1) said.push_back("y times " + readableNumber(fy));
    out.value.sentence = said.empty() ? "Scale: by nothing yet." : "Scaled: " + joined(said, ", ") + ".";
    return out;
}

} // namespace

StepKind scaleStep() {
    return {.info = info(), .apply = apply};
}

} // namespace jointer::steps
