// SPDX-License-Identifier: GPL-3.0-or-later
// A baseline through anchors: straight pieces or a natural cubic spline, taken off or only shown.
#include "base/text.h"
#include "numerics/spline.h"
#include "steps/step.h"

#include <algorithm>
#include <cmath>

namespace jointer::steps {

namespace {

const KindInfo& info() {
    static const KindInfo kind{
        .key = "baseline",
        .name = "Baseline through anchors",
        .purpose = "Take off a background that you mark by hand",
        .group = "Shape",
        .settings = {{.key = "through",
                      .label = "Through",
                      .kind = SettingKind::Choice,
                      .fallback = std::string("spline"),
                      .help = "How the anchors are joined.",
                      .choices = {{"line", "line"}, {"spline", "spline"}}},
                     {.key = "place",
                      .label = "Anchors",
                      .kind = SettingKind::Choice,
                      .fallback = std::string("on-curve"),
                      .help = "On the curve an anchor takes the mean of the points around it; free, it stays "
                              "where you put it.",
                      .choices = {{"on-curve", "on curve"}, {"free", "free"}}},
                     {.key = "mean-over",
                      .label = "Mean over",
                      .kind = SettingKind::WholeNumber,
                      .fallback = 5.0,
                      .help = "Points whose mean gives an anchor on the curve its height. Larger is steadier "
                              "against noise.",
                      .unit = "points",
                      .lowest = 1,
                      .highest = 101,
                      .shownIf = "place=on-curve"},
                     {.key = "then",
                      .label = "Then",
                      .kind = SettingKind::Choice,
                      .fallback = std::string("subtract"),
                      .help = "Take the baseline off, or only show it.",
                      .choices = {{"subtract", "subtract"}, {"show", "show"}}},
                     {.key = "anchors",
                      .label = "Anchor points",
                      .kind = SettingKind::Points,
                      .help = "x and y of each anchor; place them with the Anchor tool.",
                      .hidden = true}}};
    return kind;
}

struct Anchor {
    double x, y;
};

// Anchors by ascending x; of two at the same x the later one counts. On the curve each gets the mean around
// it.
std::vector<Anchor> anchorsOf(const Curve& curve, const Settings& settings) {
    const Numbers flat = settings.numbers("anchors");
    std::vector<Anchor> anchors;
    for (std::size_t i = 0; i + 1 < flat.size(); i += 2)
        if (std::isfinite(flat[i]) && std::isfinite(flat[i + 1])) anchors.push_back({flat[i], flat[i + 1]});
    std::ranges::stable_sort(anchors, {}, &Anchor::x);
    std::vector<Anchor> unique;
    for (const Anchor& a : anchors) {
        if (!unique.empty() && unique.back().x == a.x)
            unique.back() = a;
        else
            unique.push_back(a);
    }
    if (info().text(settings, "place") != "on-curve") return unique;

    std::vector<double> x, y;
    for (std::size_t i = 0; i < curve.size(); ++i)
        if (curve.counts(i)) x.push_back(curve.x[i]), y.push_back(curve.y[i]);
    if (x.empty()) return unique;
    const auto over = static_cast<std::size_t>(info().integer(settings, "mean-over"));
    for (Anchor& a : unique) {
        const std::size_t middle = nearestPoint(x, a.x), half = over / 2;
        const std::size_t from = middle > half ? middle - half : 0,
                          to = std::min(x.size(), middle + half + 1);
        double sum = 0;
        for (std::size_t i = from; i < to; ++i) sum += y[i];
        a.y = sum / static_cast<double>(to - from);
    }
    return unique;
}

Outcome<StepOutput> apply(const Curve& curve, const Settings& settings) {
    Outcome<StepOutput> out{{.curve = curve}, {}};
    const std::vector<Anchor> anchors = anchorsOf(curve, settings);
    if (anchors.empty() || curve.size() == 0) {
        out.value.sentence = "Baseline: no anchors yet.";
        out.value.detail = "click on the plot with the Anchor tool";
        return out;
    }
    std::vector<double> ax, ay;
    for (const Anchor& a : anchors) ax.push_back(a.x), ay.push_back(a.y);
    const bool spline = info().text(settings, "through") == "spline";
    const numerics::NaturalSpline curved(ax, ay);
    std::vector<double> base(curve.size());
    for (std::size_t i = 0; i < curve.size(); ++i)
        base[i] = spline ? curved(curve.x[i]) : numerics::interpolateLinear(ax, ay, curve.x[i]);

    const bool subtract = info().text(settings, "then") == "subtract";
    const std::string through = counted(static_cast<long long>(anchors.size()), "anchor");
    out.value.sentence =
        (subtract ? "Took off a baseline through " : "Shows a baseline through ") + through + ".";
    out.value.detail = spline ? "cubic spline" : "straight pieces";
    const double width = curve.x.back() - curve.x.front();
    if (anchors.size() > 1 &&
        (ax.front() > curve.x.front() + 0.02 * width || ax.back() < curve.x.back() - 0.02 * width))
        out.value.detail += " · continued straight beyond the anchors";
    if (subtract) {
        for (std::size_t i = 0; i < curve.size(); ++i) {
            out.value.curve.y[i] -= base[i];
            for (auto& r : out.value.curve.replicates) r[i] -= base[i];
        }
    }
    out.value.baseline = std::move(base);
    return out;
}

} // namespace

StepKind baselineStep() {
    return {.info = info(), .locality = Locality::Whole, .apply = apply};
}

} // namespace jointer::steps
