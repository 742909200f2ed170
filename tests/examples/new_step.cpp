// SPDX-License-Identifier: GPL-3.0-or-later
// A step as it would stand in src/steps/mirror.cpp: y is mirrored at a level.
#include "describe/setting_makers.h"
#include "steps/columns.h"

namespace jointer::steps {

namespace {

const KindInfo& info() {
    static const KindInfo kind{
        .key = "mirror",
        .name = "Mirror",
        .purpose = "Turn a curve upside down about a level",
        .group = "Place",
        .settings = {describe::number("at", "Level", 0, "What stays where it is.", {.unit = "y"})}};
    return kind;
}

Outcome<StepOutput> apply(const StepInput& in) {
    const double at = info().number(in.settings, "at");
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    applyAffine(out.value.curve, List{-1.0}, List{2 * at}); // y, replicates and uncertainties
    out.value.sentence = "Mirrored at " + readableNumber(at) + ".";
    return out;
}

} // namespace

StepKind mirrorStep() {
    return {.info = info(), .apply = apply};
}

} // namespace jointer::steps
