// SPDX-License-Identifier: GPL-3.0-or-later
// The amount in a sample to which known amounts were added: where the line of its readings meets none.
// Source of the interval: E. C. Fieller, J. R. Stat. Soc. B 16 (1954) 175, as the band of the line inverted.
#include "analyses/answers.h"
#include "analyses/unknowns/standard_curve.h"
#include "base/text.h"
#include "describe/setting_makers.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::analyses {

namespace {

using namespace describe;

const KindInfo& info() {
    static const KindInfo kind{
        .key = "standard-addition",
        .name = "Standard addition",
        .purpose = "The amount in a sample from its readings after known additions",
        .settings = {number("blank", "Reading of none", 0, "Of a blank: what is read where there is nothing.",
                            {.unit = "y"}),
                     number("dilution", "Dilution", 1,
                            "The amount in the original is so many times that read.", {.lowest = 1e-12})}};
    return kind;
}

Result<AnalysisResult> compute(const Task& task, const Taken&) {
    if (task.inputs.empty() || task.analyses.empty() || !task.analyses[0])
        return failure("no-curve", "Choose a fit of the readings over what was added.");
    const auto curve = StandardCurve::of(*task.analyses[0]);
    if (!curve) return std::unexpected(curve.error());
    const auto points = curve->standards();
    if (points.empty()) return failure("no-points", "There are no readings: all are left out.");
    const auto [least, most] = std::ranges::minmax(points, {}, &StandardBack::given);
    if (!(most.given > least.given))
        return failure("few-points", "Standard addition needs two amounts added at least.");
    const double blank = info().number(task.spec.settings, "blank"),
                 by = info().number(task.spec.settings, "dilution");
    const fit::Inversion inversion([&](double x) { return curve->y(x); }, least.given, most.given);
    const auto found = inversion.nearest(blank, least.given);
    if (!found) return failure("no-solution", "The curve never comes down to the reading of none.");
    const double x = *found, slope = inversion.slope(x);
    const double variance = curve->variances({x}).curve[0];
    Quantity q{.key = "amount",
               .label = curve->xMeaning().name,
               .meaning = "in the sample before any addition",
               .unit = curve->xMeaning().unit,
               .value = -x * by,
               .se = by * std::sqrt(variance) / std::abs(slope),
               .state = "summary",
               .member = task.inputs[0].spec.dataset};
    const auto [below, above] = curve->bandAt(inversion, x, blank, INFINITY);
    q.high = -by * below;
    q.low = -by * above;
    AnalysisResult out{.state = "done"};
    if (q.value < 0) {
        q.good = false;
        out.issues.push_back(
            {"negative",
             "The line meets none at an amount that was added: the sample reads less than a blank.",
             {}});
    }
    const double beyond = (least.given - x) / (most.given - least.given);
    if (beyond > 1.5)
        out.issues.push_back(
            {"far",
             fmt::format("The line is followed {:.1f} times the span of the additions: add more next time.",
                         beyond),
             {}});
    out.good = q.good;
    out.sentence = fmt::format("Standard addition: where the fit over {} comes to {}.",
                               counted(std::ssize(points), "reading"), readableNumber(blank, 4));
    out.detail = "interval by the band of the curve (Fieller)";
    out.quantities.push_back(std::move(q));
    return out;
}

} // namespace

AnalysisKind standardAdditionAnalysis() {
    return {.info = info(),
            .slots = {{.key = "curve",
                       .label = "Fit over additions",
                       .of = "analysis",
                       .kinds = {"fit", "free-curve"}},
                      {.key = "dataset", .label = "Readings", .of = "dataset"}},
            .compute = compute,
            .costly = false};
}

} // namespace jointer::analyses
