// SPDX-License-Identifier: GPL-3.0-or-later
// Strips the second line of a doublet.
#include "describe/setting_makers.h"
#include "steps/columns.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace jointer::steps {

namespace {

const KindInfo& doubletInfo() {
    using namespace describe;
    static const KindInfo kind{
        .key = "strip-doublet",
        .name = "Strip second line",
        .purpose = "Take off the second line of a doublet, such as Kα₂ in diffraction",
        .group = "Shape",
        .settings = {
            choice("rule", "Second line at",
                   {{"wavelengths", "wavelengths"}, {"distance", "a distance"}},
                   "By Bragg's law from two wavelengths (x is 2θ in degrees), or at a fixed distance in x."),
            number("first", "First wavelength", 1.540593, "Of the line that stays.",
                   {.unit = "Å", .lowest = 1e-9, .shownIf = "rule=wavelengths"}),
            number("second", "Second wavelength", 1.544427, "Of the line that goes.",
                   {.unit = "Å", .lowest = 1e-9, .shownIf = "rule=wavelengths"}),
            number("distance", "Distance", 0, "Of the second line from the first in x.",
                   {.unit = "x", .shownIf = "rule=distance"}),
            number("ratio", "Ratio", 0.5, "Intensity of the second line as a share of the first.",
                   {.lowest = 0, .highest = 0.999, .slider = {{0.3, 0.6}}})}};
    return kind;
}

// Where a line stands whose second line falls on x.
using LineSource = std::function<double(double)>;

// I₁(x) = I(x) − r·I₁(where the line of that second line stands), from the end at which there is none yet;
// and the variances, as if neighbouring results were independent. Source: W. A. Rachinger, J. Sci. Instrum.
// 25 (1948) 254.
class Stripping {
public:
    Stripping(Values x, const LineSource& source, double ratio)
        : x_(x), source_(source), ratio_(ratio), upwards_(source(x.back()) < x.back()) {}

    List values(Values y) const {
        const std::size_t n = y.size(), ends = std::min<std::size_t>(5, n);
        double level = 0; // of the first line where the curve was not measured
        for (std::size_t k = 0; k < ends; ++k) level += y[at(k)] / static_cast<double>(ends) / (1 + ratio_);
        List clean(n);
        for (std::size_t k = 0; k < n; ++k) {
            const std::size_t i = at(k);
            const Neighbours near = neighbours(i);
            auto of = [&](std::size_t j) { return isDone(j, i) ? clean[j] : y[j] / (1 + ratio_); };
            const double line = near.outside ? level : std::lerp(of(near.below), of(near.above), near.share);
            clean[i] = y[i] - ratio_ * line;
        }
        return clean;
    }

    List variances(Values v) const {
        List out(v.begin(), v.end());
        for (std::size_t k = 0; k < v.size(); ++k) {
            const std::size_t i = at(k);
            const Neighbours near = neighbours(i);
            if (near.outside) continue;
            const double t = near.share;
            out[i] += ratio_ * ratio_ * ((1 - t) * (1 - t) * out[near.below] + t * t * out[near.above]);
        }
        return out;
    }

private:
    struct Neighbours {
        bool outside;
        std::size_t below = 0, above = 0;
        double share = 0;
    };
    std::size_t at(std::size_t k) const { return upwards_ ? k : x_.size() - 1 - k; }
    bool isDone(std::size_t j, std::size_t now) const { return upwards_ ? j < now : j > now; }
    Neighbours neighbours(std::size_t i) const {
        const double place = source_(x_[i]);
        if (!std::isfinite(place) || place < x_.front() || place > x_.back()) return {true};
        const auto above = static_cast<std::size_t>(std::ranges::lower_bound(x_, place) - x_.begin());
        if (above == 0 || x_[above] == place) return {false, above, above, 0};
        return {false, above - 1, above, (place - x_[above - 1]) / (x_[above] - x_[above - 1])};
    }

    Values x_;
    const LineSource& source_;
    double ratio_;
    bool upwards_; // the second line lies above its first
};

Outcome<StepOutput> strip(const StepInput& in) {
    const KindInfo& info = doubletInfo();
    const bool byDistance = info.text(in.settings, "rule") == "distance";
    const double distance = info.number(in.settings, "distance"), ratio = info.number(in.settings, "ratio");
    const double first = info.number(in.settings, "first"), second = info.number(in.settings, "second");
    constexpr double kHalfDegree = std::numbers::pi / 360;
    const LineSource source = [=](double x) {
        return byDistance ? x - distance
                          : std::asin(std::sin(x * kHalfDegree) * first / second) / kHalfDegree;
    };
    const std::size_t points = countingPoints(in.curve).x.size();
    if (points < 3 || (byDistance ? distance == 0 : first == second))
        return leftAlone(in.curve, "Strip second line: nothing was done.",
                         points < 3 ? "too few points" : "both lines are at one place");
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    Curve& c = out.value.curve;
    applyLinear(
        c,
        [&](Values x) {
            const auto xs = std::make_shared<const List>(x.begin(), x.end());
            return Linear{[=, &source](Values v) { return Stripping(*xs, source, ratio).values(v); },
                          [=, &source](Values v) { return Stripping(*xs, source, ratio).variances(v); }};
        },
        "stripping the second line");
    out.value.sentence = fmt::format("Stripped the second line, {} of the first.", shareText(ratio));
    out.value.detail = byDistance ? "at a distance of " + readableNumber(distance)
                                  : fmt::format("wavelengths {} and {} Å", readableNumber(first, 7),
                                                readableNumber(second, 7));
    out.value.layers.push_back(takenLayer(in.curve, c));
    return out;
}

} // namespace

StepKind stripDoubletStep() {
    return {.info = doubletInfo(), .apply = strip};
}

} // namespace jointer::steps
