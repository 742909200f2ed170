// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/colour_scale.h"

#include "describe/setting_makers.h"
#include "stats/summary.h"

#include <algorithm>
#include <cmath>

namespace jointer::figure {

bool ColourScale::operator==(const ColourScale& o) const {
    return map == o.map && range.low == o.range.low && range.high == o.range.high && reversed == o.reversed &&
           logarithmic == o.logarithmic && centre == o.centre && limits == o.limits && name == o.name &&
           unit == o.unit;
}

double ColourScale::share(double v) const {
    if (std::isnan(v) || (logarithmic && !(v > 0))) return NAN;
    double low = range.low, high = range.high;
    if (centre && !logarithmic) {
        const double reach = std::max(std::abs(high - *centre), std::abs(low - *centre));
        low = *centre - reach;
        high = *centre + reach;
    }
    const auto along = [this](double x) { return logarithmic ? std::log(x) : x; };
    const double t = std::clamp((along(v) - along(low)) / (along(high) - along(low)), 0.0, 1.0);
    return reversed ? 1 - t : t;
}

draw::Colour ColourScale::at(double v) const {
    if (limits.size() < 2) return mapped(map, share(v));
    const auto above = std::upper_bound(limits.begin(), limits.end(), v);
    const auto steps = static_cast<std::ptrdiff_t>(limits.size()) - 1;
    const auto step = std::clamp<std::ptrdiff_t>(above - limits.begin() - 1, 0, steps - 1);
    if (centre) // by the middle of the step, so that the centre divides
        return mapped(map, share((limits[static_cast<std::size_t>(step)] + limits[static_cast<std::size_t>(step) + 1]) / 2));
    const double t = steps == 1 ? 0.5 : static_cast<double>(step) / static_cast<double>(steps - 1);
    return mapped(map, reversed ? 1 - t : t);
}

std::vector<draw::Colour> ColourScale::table(std::size_t count) const {
    std::vector<draw::Colour> out;
    out.reserve(count);
    for (std::size_t k = 0; k < count; ++k) {
        const double t = count > 1 ? static_cast<double>(k) / static_cast<double>(count - 1) : 0.5;
        const double v = logarithmic ? range.low * std::pow(range.high / range.low, t)
                                     : std::lerp(range.low, range.high, t);
        out.push_back(at(v));
    }
    return out;
}

std::vector<Setting> colourScaleSettings(const std::string& group, const std::string& shownIf) {
    using namespace describe;
    return {choice("map", "Colours", colourMaps(), "A map of even steps to the eye; the first ones also print in grey.",
                   {.group = group, .shownIf = shownIf}),
            flag("map-reversed", "Reversed", false, "From the high end of the map to the low one.",
                 {.group = group, .shownIf = shownIf}),
            interval("colour-range", "From, to", "The values that have the first and the last colour.",
                     {.unit = "z", .group = group, .shownIf = shownIf, .whenEmpty = "automatic"}),
            number("colour-cut", "Cut off", 0, "So many per cent of the values beyond each end of the colours.",
                   {.unit = "%", .lowest = 0, .highest = 49, .group = group, .shownIf = shownIf}),
            flag("colour-log", "Logarithmic", false, "Colours go by the logarithm; what is not above zero has none.",
                 {.group = group, .shownIf = shownIf}),
            openNumber("colour-centre", "Middle", "The value that has the middle colour; both sides reach as far.",
                       {.unit = "z", .group = group, .shownIf = shownIf, .whenEmpty = "none"})};
}

std::optional<ColourScale> colourScaleFor(const Look& look, std::vector<double> values) {
    ColourScale scale{.map = look.text("map"),
                      .reversed = look.flag("map-reversed"),
                      .logarithmic = look.flag("colour-log")};
    std::erase_if(values, [&](double v) { return !std::isfinite(v) || (scale.logarithmic && !(v > 0)); });
    if (values.empty()) return {};
    const double cut = std::clamp(look.number("colour-cut") / 100, 0.0, 0.49);
    if (cut > 0) {
        std::ranges::sort(values);
        scale.range = {stats::quantile(values, cut), stats::quantile(values, 1 - cut)};
    } else {
        const auto [low, high] = std::ranges::minmax(values);
        scale.range = {low, high};
    }
    const Numbers typed = look.numbers("colour-range");
    if (typed.size() == 2) {
        if (std::isfinite(typed[0]) && (!scale.logarithmic || typed[0] > 0)) scale.range.low = typed[0];
        if (std::isfinite(typed[1]) && (!scale.logarithmic || typed[1] > 0)) scale.range.high = typed[1];
        if (scale.range.low > scale.range.high) {
            std::swap(scale.range.low, scale.range.high);
            scale.reversed = !scale.reversed;
        }
    }
    if (!(scale.range.low < scale.range.high)) {
        const double about = scale.range.low, by = about != 0 ? 0.5 * std::abs(about) : 0.5;
        scale.range = scale.logarithmic ? Range{about / 2, about * 2} : Range{about - by, about + by};
    }
    if (const double centre = look.number("colour-centre"); std::isfinite(centre)) scale.centre = centre;
    return scale;
}

} // namespace jointer::figure
