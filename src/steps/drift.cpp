// SPDX-License-Identifier: GPL-3.0-or-later
// Takes off a drift between two calibrations of an instrument, evenly in x.
#include "describe/setting_makers.h"
#include "steps/columns.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::steps {

namespace {

const KindInfo& driftInfo() {
    using namespace describe;
    static const KindInfo kind{
        .key = "drift",
        .name = "Drift",
        .purpose = "Between two calibrations of a logger, taken off in time",
        .group = "Values",
        .settings = {
            openNumber("first-read", "First: read", "What the instrument read at the first calibration.",
                       {.unit = "y", .whenEmpty = "right"}),
            openNumber("first-true", "should be", "What it should have read then.",
                       {.unit = "y", .whenEmpty = "right"}),
            openNumber("last-read", "Last: read", "What the instrument read at the last calibration.",
                       {.unit = "y", .whenEmpty = "right"}),
            openNumber("last-true", "should be", "What it should have read then.",
                       {.unit = "y", .whenEmpty = "right"}),
            interval("between", "Between",
                     "x (or times) of the two calibrations; open: the ends of the curve.",
                     {.whenEmpty = "ends of the curve"}),
            choice("as", "As", {{"offset", "offset"}, {"factor", "factor"}},
                   "What drifts evenly with x: an amount, or a factor. Outside the two it stays as at the "
                   "nearer one.")}};
    return kind;
}

Outcome<StepOutput> undrift(const StepInput& in) {
    auto pair = [&](const char* read, const char* known) -> std::optional<std::pair<double, double>> {
        const auto r = numberOf(driftInfo(), in.settings, read),
                   k = numberOf(driftInfo(), in.settings, known);
        return r && k ? std::optional(std::pair(*r, *k)) : std::nullopt;
    };
    const auto first = pair("first-read", "first-true"), last = pair("last-read", "last-true");
    if (!first && !last)
        return leftAlone(in.curve, "Drift: no calibration yet.",
                         "type what was read and what it should have been");
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    Curve& c = out.value.curve;
    auto [from, to] =
        intervalOf(driftInfo(), in.settings, "between").value_or(std::pair(-INFINITY, INFINITY));
    if (std::isinf(from)) from = c.x.front(); // an open end is that of the curve
    if (std::isinf(to)) to = c.x.back();
    const bool factor = driftInfo().text(in.settings, "as") == "factor";
    auto correction = [&](const auto& p) {
        if (!p) return factor ? 1.0 : 0.0;
        return factor ? p->second / p->first : p->second - p->first;
    };
    const double a = correction(first), b = correction(last);
    if (!std::isfinite(a) || !std::isfinite(b))
        return leftAlone(
            in.curve, "Drift: nothing was done.", "a reading of zero has no factor",
            {"zero-reading", "A calibration that read zero gives no factor: take an offset.", {}});
    List factors(c.size(), 1.0), offsets(c.size(), 0.0), taken(c.size());
    for (std::size_t i = 0; i < c.size(); ++i) {
        const double share = to > from ? std::clamp((c.x[i] - from) / (to - from), 0.0, 1.0) : 1;
        const double now = std::lerp(a, b, share);
        (factor ? factors : offsets)[i] = now;
    }
    applyAffine(c, factors, offsets);
    const AxisMeaning& y = c.yMeaning;
    out.value.sentence =
        factor ? fmt::format("Took off a drift: factor {} to {}.", readableNumber(a), readableNumber(b))
               : fmt::format("Took off a drift: {} to {} added.", readableNumber(a), placeText(y, b));
    out.value.detail = "between " + placeText(c.xMeaning, from) + " and " + placeText(c.xMeaning, to);
    out.value.layers.push_back(takenLayer(in.curve, c));
    return out;
}

} // namespace

StepKind driftStep() {
    return {.info = driftInfo(), .apply = undrift};
}

} // namespace jointer::steps
