// SPDX-License-Identifier: GPL-3.0-or-later
// From counts of scattering to intensities: the medium taken off, what was transmitted and how thick it was,
// and the absolute scale by a standard.
#include "describe/setting_makers.h"
#include "steps/interpolation.h"
#include "steps/kinds.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::steps {

namespace {

const KindInfo& backgroundInfo() {
    using namespace describe;
    static const KindInfo kind{
        .key = "scattering-background",
        .name = "Take off the medium",
        .purpose = "Scattering per thickness and transmission, less that of the medium",
        .group = "Scattering",
        .settings = {
            reference("medium", "Medium", "dataset",
                      "The same measured of the medium alone, or of an empty cell."),
            number("transmission", "Transmission", 1, "Share of the beam that the sample lets through.",
                   {.lowest = 1e-6, .highest = 1}),
            number("medium-transmission", "Of medium", 1, "Share of the beam that the medium lets through.",
                   {.lowest = 1e-6, .highest = 1}),
            number("thickness", "Thickness", 0.1, "Of the sample along the beam.",
                   {.unit = "cm", .lowest = 1e-6}),
            number("medium-thickness", "Of medium", 0.1, "Of the medium along the beam.",
                   {.unit = "cm", .lowest = 1e-6}),
            number("share", "Share", 1,
                   "Of the medium in the sample: one less the volume fraction of particles.",
                   {.lowest = 0, .highest = 2})}};
    return kind;
}

// y/(T·d) − share·medium/(Tₘ·dₘ), with the uncertainties of both.
Outcome<StepOutput> takeOffMedium(const StepInput& in) {
    const KindInfo& info = backgroundInfo();
    const std::string of = in.settings.reference("medium");
    const OtherCurve* medium = in.other(of);
    if (!medium)
        return of.empty()
                   ? leftAlone(in.curve, "Take off the medium: none chosen yet.", "choose its dataset")
                   : leftAlone(in.curve, "Take off the medium: nothing was done.", "the dataset is not there",
                               {"dataset-gone", "The dataset is not there: choose another.", {}});
    const auto value = [&](const char* key) { return info.number(in.settings, key); };
    const double own = 1 / (value("transmission") * value("thickness"));
    const double its = value("share") / (value("medium-transmission") * value("medium-thickness"));
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    Curve& c = out.value.curve;
    const Knots knots = knotsOf(*medium->curve);
    const std::size_t n = c.size();
    List factor(n, own), offset(n), others(n);
    std::size_t outside = 0;
    std::vector<std::uint8_t> excluded = c.excluded;
    excluded.resize(n, 0);
    for (std::size_t i = 0; i < n; ++i) {
        const Between o = between(knots, c.x[i]);
        others[i] = its / own * o.y; // on the scale of what is drawn before
        offset[i] = -its * o.y;
        if (std::isfinite(o.y)) continue;
        outside += in.curve.counts(i);
        excluded[i] = 1;
        factor[i] = std::nan("");
    }
    applyAffine(c, factor, offset);
    for (std::size_t i = 0; i < c.sigma.size(); ++i)
        c.sigma[i] = std::hypot(c.sigma[i], its * std::sqrt(between(knots, c.x[i]).variance));
    if (outside > 0) c.excluded = excluded;
    out.value.sentence = fmt::format("Took off “{}”, both per transmission and thickness.", medium->name);
    std::vector<std::string> details = {
        fmt::format("sample T = {}, {} cm", readableNumber(value("transmission")),
                    readableNumber(value("thickness"))),
        fmt::format("medium T = {}, {} cm", readableNumber(value("medium-transmission")),
                    readableNumber(value("medium-thickness")))};
    if (value("share") != 1) details.push_back("medium times " + readableNumber(value("share")));
    if (outside > 0) details.push_back(countedPoints(outside) + " beyond it left out");
    out.value.detail = joined(details, " · ");
    out.value.layers.push_back(curveLayer("baseline", in.curve, others));
    return out;
}

const KindInfo& scaleInfo() {
    using namespace describe;
    static const KindInfo kind{
        .key = "absolute-scale",
        .name = "Absolute scale",
        .purpose = "Intensities in cm⁻¹ by a standard that was measured in the same way",
        .group = "Scattering",
        .settings = {reference("standard", "Standard", "dataset",
                               "The standard, measured and treated like this curve."),
                     number("value", "Its intensity", 0.01632,
                            "Of the standard where it is flat; that of water at 20 °C.",
                            {.unit = "1/cm", .lowest = 1e-300}),
                     interval("within", "Flat in", "Interval of q in which the standard is flat.",
                              {.whenEmpty = "everywhere"})}};
    return kind;
}

// The factor is the known intensity over the mean of the standard; its uncertainty is common to all points.
Outcome<StepOutput> toAbsolute(const StepInput& in) {
    const KindInfo& info = scaleInfo();
    const std::string of = in.settings.reference("standard");
    const OtherCurve* standard = in.other(of);
    if (!standard)
        return of.empty()
                   ? leftAlone(in.curve, "Absolute scale: no standard chosen yet.", "choose its dataset")
                   : leftAlone(in.curve, "Absolute scale: nothing was done.", "the dataset is not there",
                               {"dataset-gone", "The dataset is not there: choose another.", {}});
    const auto within = intervalOf(info, in.settings, "within");
    double sum = 0, squares = 0, n = 0;
    for (std::size_t i = 0; i < standard->curve->size(); ++i) {
        const double x = standard->curve->x[i], y = standard->curve->y[i];
        if (!standard->curve->counts(i) || (within && (x < within->first || x > within->second))) continue;
        sum += y, squares += y * y, ++n;
    }
    const double mean = n > 0 ? sum / n : 0;
    if (!(mean > 0))
        return leftAlone(
            in.curve, "Absolute scale: nothing was done.", "the standard has no level there",
            {"no-points", "The standard has no points above zero in that interval: choose another.", {}});
    const double factor = info.number(in.settings, "value") / mean;
    const double spread = n > 1 ? std::sqrt(std::max(0.0, squares / n - mean * mean) / (n - 1)) / mean : 0;
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    Curve& c = out.value.curve;
    applyAffine(c, List(c.size(), factor), List(c.size(), 0.0));
    if (spread > 0) {
        List by(c.size());
        for (std::size_t i = 0; i < c.size(); ++i) by[i] = spread * c.y[i];
        c.common.push_back({fmt::format("the standard “{}”", standard->name), std::move(by)});
    }
    c.yMeaning.unit = "1/cm";
    out.value.sentence =
        fmt::format("Intensities in cm⁻¹ by “{}”: times {}.", standard->name, readableNumber(factor));
    out.value.detail =
        fmt::format("its mean over {} is {}{}", countedPoints(static_cast<std::size_t>(n)),
                    readableNumber(mean), spread > 0 ? fmt::format(", known to {}", shareText(spread)) : "");
    return out;
}

} // namespace

StepKind scatteringBackgroundStep() {
    return {.info = backgroundInfo(), .apply = takeOffMedium};
}
StepKind absoluteScaleStep() {
    return {.info = scaleInfo(), .apply = toAbsolute};
}

} // namespace jointer::steps
