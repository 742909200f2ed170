// SPDX-License-Identifier: GPL-3.0-or-later
// Corrections of an instrument: dilution, drift between two calibrations, the second line of a doublet; and
// the order of points with equal x.
#include "describe/setting_makers.h"
#include "numerics/spline.h"
#include "steps/interpolation.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace jointer::steps {

namespace {

// ---- dilution --------------------------------------------------------------------------------------------

const KindInfo& dilutionInfo() {
    using namespace describe;
    static const KindInfo kind{
        .key = "dilution",
        .name = "Dilution",
        .purpose = "Multiply by the factor by which a sample was diluted",
        .group = "Values",
        .settings = {number("factor", "Factor", 1, "y is multiplied by it.", {}),
                     word("attribute", "Attribute",
                          "Name of the attribute that holds the factor; it goes before the "
                          "number.",
                          {.whenEmpty = "none"}),
                     reference("column", "Column", "column",
                               "Column that holds a factor for each row; it goes before the others.")}};
    return kind;
}

Outcome<StepOutput> dilute(const StepInput& in) {
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    Curve& c = out.value.curve;
    const std::string column = in.settings.reference("column"),
                      attribute = dilutionInfo().text(in.settings, "attribute");
    if (const auto at = in.facts.columns.find(column); !column.empty() && at != in.facts.columns.end()) {
        List factor(c.size(), std::nan(""));
        std::size_t without = 0;
        for (std::size_t i = 0; i < c.size(); ++i) {
            const auto held = i < c.rowIds.size() ? at->second.find(c.rowIds[i]) : at->second.end();
            if (held != at->second.end()) factor[i] = held->second;
            without += !std::isfinite(factor[i]) && c.counts(i);
        }
        applyAffine(c, factor, List{0.0});
        out.value.sentence = "Multiplied by the dilution of each row.";
        if (without > 0)
            out.issues.push_back(
                {"no-factor", countedPoints(without) + " without a factor: no value there.", {}});
        return out;
    }
    double factor = dilutionInfo().number(in.settings, "factor");
    std::string from;
    if (!attribute.empty()) {
        const auto at = std::ranges::find(in.facts.attributes, attribute, &Attribute::name);
        const auto value = at == in.facts.attributes.end() ? std::nullopt : parseNumber(at->value);
        if (!value)
            return leftAlone(in.curve, "Dilution: nothing was done.", "the attribute holds no number",
                             {"no-factor",
                              fmt::format("The dataset has no attribute “{}” that is a number.", attribute),
                              {}});
        factor = *value;
        from = " (" + attribute + ")";
    }
    applyAffine(c, List{factor}, List{0.0});
    out.value.sentence = fmt::format("Multiplied by the dilution, {}{}.", readableNumber(factor), from);
    return out;
}

// ---- drift -----------------------------------------------------------------------------------------------

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
    const auto [from, to] =
        intervalOf(driftInfo(), in.settings, "between").value_or(std::pair(c.x.front(), c.x.back()));
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

// ---- doublet ---------------------------------------------------------------------------------------------

const KindInfo& doubletInfo() {
    using namespace describe;
    static const KindInfo kind{
        .key = "strip-doublet",
        .name = "Strip second line",
        .purpose = "Take off the second line of a doublet, such as Kα₂ in diffraction",
        .group = "Shape",
        .settings = {
            choice("rule", "Second line at",
                   {{"wavelengths", "a second wavelength"}, {"distance", "a distance"}},
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
    Outcome<StepOutput> out{{.curve = in.curve, .uncertainty = Carried::ByDerivative}, {}};
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

// ---- equal x ---------------------------------------------------------------------------------------------

const KindInfo& sortInfo() {
    using namespace describe;
    static const KindInfo kind{
        .key = "sort",
        .name = "Order points",
        .purpose = "By x, with points of the same x kept, averaged or thinned",
        .group = "Points",
        .settings = {choice("equal", "Of equal x",
                            {{"average", "average"},
                             {"first", "keep the first"},
                             {"last", "keep the last"},
                             {"keep", "keep all"}},
                            "What becomes of several points with the same x."),
                     number("within", "Equal within", 0, "How far apart x may be to count as the same.",
                            {.unit = "x", .lowest = 0})}};
    return kind;
}

Outcome<StepOutput> sorted(const StepInput& in) {
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    Curve& c = out.value.curve;
    const bool wasSorted = std::ranges::is_sorted(c.x);
    sortByX(c);
    const std::string equal = sortInfo().text(in.settings, "equal");
    const double within = sortInfo().number(in.settings, "within");
    std::vector<std::uint8_t> keep(c.size(), 1);
    std::size_t groups = 0, points = 0;
    for (std::size_t begin = 0, end; begin < c.size() && equal != "keep"; begin = end) {
        std::vector<std::size_t> members; // of those that count
        for (end = begin; end < c.size() && c.x[end] - c.x[begin] <= within; ++end)
            if (c.counts(end)) members.push_back(end);
        if (end == begin) ++end; // an x that is no number
        if (members.size() < 2) continue;
        ++groups;
        points += members.size();
        const std::size_t kept = equal == "last" ? members.back() : members.front();
        for (std::size_t i : members) keep[i] = i == kept;
        if (equal != "average") continue;
        const auto n = static_cast<double>(members.size());
        auto mean = [&](List& list) {
            double sum = 0, present = 0;
            for (std::size_t i : members)
                if (std::isfinite(list[i])) sum += list[i], ++present;
            list[kept] = present > 0 ? sum / present : std::nan("");
        };
        double variance = 0;
        for (std::size_t i : members) variance += c.sigma.empty() ? 0 : c.sigma[i] * c.sigma[i];
        mean(c.x);
        mean(c.y);
        for (List& r : c.replicates) mean(r);
        for (CommonError& common : c.common) mean(common.y);
        if (!c.sigma.empty()) c.sigma[kept] = std::sqrt(variance) / n;
    }
    if (groups > 0) c = selected(c, keep);
    out.value.sentence = wasSorted ? "Points are in order of x." : "Put the points in order of x.";
    if (groups > 0)
        out.value.detail = fmt::format("{} at {} of x {}", countedPoints(points),
                                       counted(static_cast<long long>(groups), "value"),
                                       equal == "average" ? "averaged" : "thinned to one each");
    else
        out.value.detail = "no points share an x";
    return out;
}

} // namespace

StepKind dilutionStep() {
    return {.info = dilutionInfo(), .asksFacts = true, .apply = dilute};
}
StepKind driftStep() {
    return {.info = driftInfo(), .apply = undrift};
}
StepKind stripDoubletStep() {
    return {.info = doubletInfo(), .apply = strip};
}
StepKind sortStep() {
    return {.info = sortInfo(), .apply = sorted};
}

} // namespace jointer::steps
