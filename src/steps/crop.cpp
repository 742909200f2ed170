// SPDX-License-Identifier: GPL-3.0-or-later
// Keeps only an interval of x.
#include "describe/setting_makers.h"
#include "steps/columns.h"

namespace jointer::steps {

namespace {

const KindInfo& info() {
    static const KindInfo kind{
        .key = "crop",
        .name = "Crop",
        .purpose = "Keep only an interval of x",
        .group = "Points",
        .settings = {describe::interval("span", "Keep", "Interval of x that is kept.")}};
    return kind;
}

Outcome<StepOutput> apply(const StepInput& in) {
    const Curve& curve = in.curve;
    const auto span = intervalOf(info(), in.settings, "span");
    if (!span)
        return leftAlone(curve, "Crop: no interval chosen yet.", "set the interval, or use the tool Span");
    std::vector<std::uint8_t> keep(curve.size());
    std::size_t kept = 0;
    for (std::size_t i = 0; i < curve.size(); ++i) {
        keep[i] = curve.x[i] >= span->first && curve.x[i] <= span->second;
        kept += keep[i];
    }
    Outcome<StepOutput> out{{.curve = selected(curve, keep)}, {}};
    out.value.sentence = "Kept " + spanText(curve.xMeaning, span->first, span->second) + ".";
    out.value.detail = countedPoints(curve.size() - kept) + " taken off";
    if (kept == 0)
        out.issues.push_back(
            {"nothing-left", "No point lies in the interval: nothing is left of the curve.", {}});
    return out;
}

void upgrade(Settings& s) {
    if (const Value* range = s.find("range"); range && !s.has("span")) s.set("span", *range);
    s.remove("range");
}

} // namespace

StepKind cropStep() {
    return {.info = info(), .apply = apply, .upgrade = upgrade};
}

} // namespace jointer::steps
