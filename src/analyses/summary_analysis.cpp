// SPDX-License-Identifier: GPL-3.0-or-later
// Summary of a span: the numbers that the readout shows of it, kept, with where they come from.
#include "analyses/analysis.h"
#include "base/text.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::analyses {

namespace {

struct Numbers final : Detail {
    std::vector<SpanNumbers> of; // one for each input
};

Digest digestOf(const Task& task) {
    Hasher h;
    h.add("summary").add(1);
    for (const TaskInput& input : task.inputs) {
        const Digest curve = jointer::digestOf(*input.curve);
        h.add(curve).add(input.spec.span.pieces.size()).add(input.spec.span.outside);
        for (const auto& [low, high] : input.spec.span.pieces) h.add(low).add(high);
    }
    return h.digest();
}

// The curve with only the points of the span: of several pieces, and of what lies outside.
Curve within(const TaskInput& input) {
    std::vector<std::uint8_t> keep;
    for (double x : input.curve->x) keep.push_back(input.spec.span.takes(x));
    return selected(*input.curve, keep);
}

Taken take(const Task& task) {
    if (task.inputs.empty()) return {.issues = {{"no-input", "This summary has no dataset.", {}}}};
    auto numbers = std::make_shared<Numbers>();
    for (const TaskInput& input : task.inputs)
        numbers->of.push_back(numbersOfSpan(within(input), -INFINITY, INFINITY));
    return {.value = numbers, .digest = digestOf(task), .bytes = 512};
}

void add(AnalysisResult& out, const TaskInput& input, bool several, const SpanNumbers& s) {
    const std::string of = several ? " of " + input.spec.dataset.text() : "";
    const std::string &x = input.curve->xMeaning.unit, &y = input.curve->yMeaning.unit;
    const std::string area = x.empty() ? y : y.empty() ? x : y + "·" + x;
    auto give = [&](const char* key, const char* label, const std::string& unit, double value,
                    double se = NAN) {
        out.quantities.push_back({.key = key + of,
                                  .label = label,
                                  .unit = unit,
                                  .value = value,
                                  .se = se,
                                  .state = "summary",
                                  .member = input.spec.dataset});
    };
    const double n = static_cast<double>(s.n);
    give("n", "n", "", n);
    give("mean", "mean", y, s.mean, s.n > 1 ? s.sd / std::sqrt(n) : NAN);
    give("sd", "SD", y, s.sd);
    give("area", "area", area, s.area);
    give("area-above-chord", "area above chord", area, s.areaAboveChord);
    give("centroid", "centroid", x, s.centroid);
    give("maximum", "maximum", y, s.maximum);
    give("at", "x of maximum", x, s.at);
    give("fwhm", "FWHM", x, s.fwhm);
}

std::string spanText(const Span& span) {
    if (span.isAll()) return "";
    return fmt::format(", {} … {}", std::isfinite(span.low()) ? readableNumber(span.low()) : "all",
                       std::isfinite(span.high()) ? readableNumber(span.high()) : "all");
}

Result<AnalysisResult> compute(const Task& task, const Taken& taken) {
    const auto& numbers = static_cast<const Numbers&>(*taken.value);
    AnalysisResult out{.state = "done"};
    std::size_t points = 0;
    for (std::size_t i = 0; i < task.inputs.size(); ++i) {
        add(out, task.inputs[i], task.inputs.size() > 1, numbers.of[i]);
        points += numbers.of[i].n;
    }
    if (points == 0)
        return failure("no-points",
                       "There are no points to summarise: all are missing, left out or outside the "
                       "span.");
    out.quality.push_back(
        {.key = "n", .label = "n", .value = static_cast<double>(points), .state = "quality"});
    out.sentence = fmt::format("Summarised{}.", spanText(task.inputs.front().spec.span));
    out.detail = counted(static_cast<long long>(points), "point");
    return out;
}

} // namespace

AnalysisKind summaryAnalysis() {
    return {.info = {.key = "summary",
                     .name = "Summary of a span",
                     .purpose = "Mean, SD, area, maximum and width of the points of a span"},
            .slots = {{.key = "datasets", .label = "Datasets", .of = "dataset", .most = 100000}},
            .take = take,
            .compute = compute,
            .costly = false};
}

} // namespace jointer::analyses
