// SPDX-License-Identifier: GPL-3.0-or-later
// Moves a curve along x so that a peak lies where it should, or so that it agrees with another curve in a
// span. The peak may be looked for on another dataset of the same sample: a charge reference moves all of
// them alike.
#include "describe/setting_makers.h"
#include "steps/interpolation.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::steps {

namespace {

const KindInfo& info() {
    using namespace describe;
    static const KindInfo kind{
        .key = "align",
        .name = "Align",
        .purpose = "Move along x: a peak to its place, or onto another curve",
        .group = "Place",
        .settings = {
            choice("by", "By", {{"peak", "a peak"}, {"curve", "another curve"}},
                   "A peak is brought to a given x; or the curve is moved to where it agrees best with "
                   "another."),
            interval("span", "Within", "Interval of x in which the peak lies, or in which the curves agree.",
                     {.whenEmpty = "whole curve"}),
            choice("peak", "Peak", {{"highest", "highest"}, {"lowest", "lowest"}}, "Which point is the peak.",
                   {.shownIf = "by=peak"}),
            number("at", "Brought to", 0, "Where the peak belongs.", {.unit = "x", .shownIf = "by=peak"}),
            reference("seen-on", "Looked for on", "dataset",
                      "Another dataset of the same sample that shows the peak; this one is moved by the same "
                      "amount. Open: this curve.",
                      {.shownIf = "by=peak", .whenEmpty = "this curve"}),
            reference("with", "Onto", "dataset", "The curve that this one is moved onto.",
                      {.shownIf = "by=curve"}),
            number("farthest", "By at most", 0, "The largest shift that is tried; 0: a tenth of the span.",
                   {.unit = "x", .lowest = 0, .shownIf = "by=curve"})}};
    return kind;
}

constexpr std::size_t kMostCompared = 4000; // points of the other curve

// Correlation of this curve moved by `shift` with the other, over the points of the span.
double agreement(const Knots& mine, const Knots& other, double low, double high, double shift) {
    double n = 0, a = 0, b = 0, aa = 0, bb = 0, ab = 0;
    const auto from = static_cast<std::size_t>(std::ranges::lower_bound(other.x, low) - other.x.begin()),
               to = static_cast<std::size_t>(std::ranges::upper_bound(other.x, high) - other.x.begin());
    const std::size_t stride = std::max<std::size_t>(1, (to - from) / kMostCompared);
    for (std::size_t i = from; i < to; i += stride) {
        const double y = between(mine, other.x[i] - shift).y, o = other.y[i];
        if (!std::isfinite(y)) continue;
        ++n, a += y, b += o, aa += y * y, bb += o * o, ab += y * o;
    }
    const double va = aa - a * a / n, vb = bb - b * b / n;
    return n >= 3 && va > 0 && vb > 0 ? (ab - a * b / n) / std::sqrt(va * vb) : -2;
}

struct Best {
    double shift = 0, correlation = -2;
    bool atEnd = false;
};

Best bestShift(const Knots& mine, const Knots& other, double low, double high, double farthest) {
    const double step =
        std::max(spacingOf(other.x).usual / 2, farthest / 500); // at most a thousand are tried
    Best best;
    const auto steps = static_cast<int>(std::ceil(farthest / step));
    for (int k = -steps; k <= steps; ++k) {
        const double shift = step * k, c = agreement(mine, other, low, high, shift);
        if (c > best.correlation + 1e-13) best = {shift, c, std::abs(k) == steps};
    }
    // Finer and finer about the best, then golden section; what is no better is not taken.
    auto take = [&](double shift) {
        if (const double c = agreement(mine, other, low, high, shift); c > best.correlation + 1e-13)
            best.shift = shift, best.correlation = c;
    };
    double reach = step;
    for (const double fine = spacingOf(other.x).usual / 4; reach > fine && reach > 0; reach /= 10) {
        const double centre = best.shift;
        for (int k = -10; k <= 10; ++k) take(centre + reach * k / 10);
    }
    double a = best.shift - reach, b = best.shift + reach;
    constexpr double kGolden = 0.6180339887498949;
    for (int round = 0; round < 50 && b - a > 1e-12 * (std::abs(best.shift) + step); ++round) {
        const double p = b - kGolden * (b - a), q = a + kGolden * (b - a);
        if (agreement(mine, other, low, high, p) > agreement(mine, other, low, high, q))
            b = q;
        else
            a = p;
    }
    take(0.5 * (a + b));
    return best;
}

Outcome<StepOutput> moved(const StepInput& in, double shift, std::string said, std::string detail) {
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    for (double& x : out.value.curve.x) x += shift;
    out.value.sentence =
        fmt::format("Aligned {}: moved by {}.", said, signedDistance(in.curve.xMeaning, shift));
    out.value.detail = std::move(detail);
    return out;
}

Outcome<StepOutput> apply(const StepInput& in) {
    const auto span = intervalOf(info(), in.settings, "span").value_or(std::pair(-INFINITY, INFINITY));
    auto nothing = [&](const std::string& why) {
        return leftAlone(in.curve, "Align: nothing was done.", why, {"not-aligned", why + ".", {}});
    };
    if (info().text(in.settings, "by") == "peak") {
        const std::string seenOn = in.settings.reference("seen-on");
        const OtherCurve* other = in.other(seenOn);
        if (!seenOn.empty() && !other) return nothing("The dataset with the peak is not there");
        const bool highest = info().text(in.settings, "peak") == "highest";
        const auto peak = extremeWithin(other ? *other->curve : in.curve, span.first, span.second, highest);
        if (!peak) return nothing("There is no peak within the interval");
        const double at = info().number(in.settings, "at");
        return moved(in, at - *peak,
                     fmt::format("by the peak at {}", placeText(in.curve.xMeaning, *peak)) +
                         (other ? " of “" + other->name + "”" : ""),
                     "now at " + placeText(in.curve.xMeaning, at));
    }
    const OtherCurve* other = in.other(in.settings.reference("with"));
    if (!other) return leftAlone(in.curve, "Align: no curve chosen yet.", "choose the one to move onto");
    const Knots mine = knotsOf(in.curve), theirs = knotsOf(*other->curve);
    if (mine.x.size() < 3 || theirs.x.size() < 3) return nothing("There are too few points");
    const double low = std::max(span.first, theirs.x.front()), high = std::min(span.second, theirs.x.back());
    double farthest = info().number(in.settings, "farthest");
    if (farthest == 0) farthest = (high - low) / 10;
    if (!(high > low)) return nothing("The curves do not overlap in the interval");
    const Best best = bestShift(mine, theirs, low, high, farthest);
    if (best.correlation < -1) return nothing("The curves do not overlap, or one of them is flat");
    auto out = moved(in, best.shift, "with “" + other->name + "”",
                     "correlation " + readableNumber(best.correlation, 4));
    if (best.atEnd)
        out.issues.push_back(
            {"shift-at-end",
             "The best shift lies at the end of what was tried: allow more, or choose a span "
             "with a clear feature.",
             {}});
    return out;
}

} // namespace

StepKind alignStep() {
    return {.info = info(), .apply = apply};
}

} // namespace jointer::steps
