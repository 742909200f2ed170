// SPDX-License-Identifier: GPL-3.0-or-later
// Summary of a span: the numbers that the readout shows of it, kept, with where they come from.
#include "analyses/analysis.h"
#include "analyses/points_within.h"
#include "base/text.h"
#include "base/unit_text.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::analyses {

namespace {

void add(AnalysisResult& out, const TaskInput& input, bool several, const SpanNumbers& s) {
    const std::string of = several ? " of " + input.spec.dataset.text() : "";
    const std::string &x = input.curve->xMeaning.unit, &y = input.curve->yMeaning.unit;
    const std::string area = multipliedUnits(y, x);
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

Result<AnalysisResult> compute(const Task& task, const Taken&) {
    if (task.inputs.empty()) return failure("no-input", "This summary has no dataset.");
    AnalysisResult out{.state = "done"};
    std::size_t points = 0;
    for (const TaskInput& input : task.inputs) {
        const SpanNumbers numbers = numbersOfSpan(*pointsWithin(input), -INFINITY, INFINITY);
        add(out, input, task.inputs.size() > 1, numbers);
        points += numbers.n;
    }
    if (points == 0)
        return failure("no-points",
                       "There are no points to summarise: all are missing, left out or outside the "
                       "span.");
    out.quality.push_back(
        {.key = "n", .label = "n", .value = static_cast<double>(points), .state = "quality"});
    const Span& span = task.inputs.front().spec.span;
    out.sentence = span.isAll() ? "Summarised." : fmt::format("Summarised, {}.", spanText(span));
    out.detail = counted(static_cast<long long>(points), "point");
    return out;
}

} // namespace

AnalysisKind summaryAnalysis() {
    return {.info = {.key = "summary",
                     .name = "Summary of a span",
                     .purpose = "Mean, SD, area, maximum and width of the points of a span"},
            .slots = {{.key = "datasets", .label = "Datasets", .of = "dataset", .most = 100000}},
            .compute = compute,
            .costly = false};
}

} // namespace jointer::analyses
