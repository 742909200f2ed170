// SPDX-License-Identifier: GPL-3.0-or-later
// Keeps only an interval of x.
#include "base/text.h"
#include "steps/step.h"

namespace jointer::steps {

namespace {

Outcome<StepOutput> apply(const Curve& curve, const Settings& settings) {
    const Numbers range = settings.numbers("range");
    if (range.size() != 2 || curve.size() == 0)
        return {{.curve = curve,
                 .sentence = "Crop: no interval chosen yet.",
                 .detail = "set the interval, or use the Span tool"},
                {}};
    std::vector<std::uint8_t> keep(curve.size());
    std::size_t kept = 0;
    for (std::size_t i = 0; i < curve.size(); ++i) {
        keep[i] = curve.x[i] >= range[0] && curve.x[i] <= range[1];
        kept += keep[i];
    }
    Outcome<StepOutput> out{{.curve = selected(curve, keep)}, {}};
    const std::string unit = curve.xMeaning.unit.empty() ? "" : " " + curve.xMeaning.unit;
    out.value.sentence =
        "Cropped to " + readableNumber(range[0]) + " … " + readableNumber(range[1]) + unit + ".";
    out.value.detail = counted(static_cast<long long>(curve.size() - kept), "point") + " taken off";
    if (kept == 0)
        out.issues.push_back(
            {"nothing-left", "No point lies in the interval: nothing is left of the curve.", {}});
    return out;
}

} // namespace

StepKind cropStep() {
    return {.info = {.key = "crop",
                     .name = "Crop",
                     .purpose = "Keep only an interval of x",
                     .group = "Points",
                     .settings = {{.key = "range",
                                   .label = "Keep",
                                   .kind = SettingKind::Interval,
                                   .help = "Interval of x that is kept.",
                                   .unit = "x",
                                   .whenEmpty = "open"}}},
            .locality = Locality::Point,
            .apply = apply};
}

} // namespace jointer::steps
