// SPDX-License-Identifier: GPL-3.0-or-later
// Which distribution the values of a dataset come from: normal or log-normal, with what tells them apart.
#include "analyses/answers.h"
#include "analyses/points_within.h"
#include "analyses/quantile_plot.h"
#include "base/text.h"
#include "fit/influence.h"
#include "stats/normality.h"
#include "stats/summary.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace jointer::analyses {

namespace {

// A normal distribution by maximum likelihood.
struct Likely {
    double mean = NAN, sd = NAN, logLikelihood = NAN;
};

Likely likelyOf(const std::vector<double>& values) {
    const stats::Summary s = stats::summarise(values);
    const double n = static_cast<double>(values.size()), variance = s.sd * s.sd * (n - 1) / n;
    return {s.mean, s.sd, -0.5 * n * (std::log(2 * std::numbers::pi * variance) + 1)};
}

// Values in ascending order beside the quantiles of the standard normal distribution.
NamedTable quantilesOf(std::vector<double> values, const AxisMeaning& meaning) {
    std::ranges::sort(values);
    std::vector<double> quantiles = fit::normalScores(values);
    NamedTable t{.key = "quantiles", .label = "Quantiles", .table = {.name = "Quantiles of " + meaning.name}};
    t.table.columns = {
        numberColumn("normal quantile", "", std::move(quantiles)),
        numberColumn(meaning.name.empty() ? "value" : meaning.name, meaning.unit, std::move(values))};
    return t;
}

Result<AnalysisResult> compute(const Task& task, const Taken&) {
    if (task.inputs.empty()) return failure("no-input", "This distribution has no dataset.");
    const TaskInput& input = task.inputs[0];
    const auto curve = pointsWithin(input);
    std::vector<double> values;
    for (std::size_t i = 0; i < curve->size(); ++i)
        if (curve->counts(i)) values.push_back(curve->y[i]);
    if (values.size() < 3) return failure("few-points", "A distribution needs three values at least.");
    const AxisMeaning& y = input.curve->yMeaning;
    AnalysisResult out{.state = "done"};
    const double n = static_cast<double>(values.size());
    const auto give = [&](const char* key, const char* label, const char* meaning, const std::string& unit,
                          double value, double se = NAN, int digits = 4) {
        out.quantities.push_back({.key = key,
                                  .label = label,
                                  .meaning = meaning,
                                  .unit = unit,
                                  .value = value,
                                  .se = se,
                                  .state = "summary",
                                  .member = input.spec.dataset,
                                  .digits = digits});
    };
    const auto p = [&](std::vector<double> of) {
        return of.size() <= stats::kMostForNormality ? stats::shapiroWilk(of).p : NAN;
    };
    const Likely normal = likelyOf(values);
    if (!(normal.sd > 0)) return failure("no-scatter", "All values are equal: they have no distribution.");
    give("mean", "mean", "of the normal distribution", y.unit, normal.mean, normal.sd / std::sqrt(n));
    give("sd", "SD", "of the normal distribution", y.unit, normal.sd, normal.sd / std::sqrt(2 * (n - 1)));
    give("p-normal", "p of normal", "of such values, were they normal (Shapiro and Wilk)", "", p(values), NAN,
         2);
    out.sentence = "The values are taken as normal.";
    addQuantilePlot(values, "values", y, input.spec.dataset, out);
    if (std::ranges::min(values) > 0) {
        std::vector<double> taken = values;
        double jacobian = 0; // with which the values themselves are as likely
        for (double& v : taken) v = std::log(v), jacobian += v;
        const Likely logs = likelyOf(taken);
        addQuantilePlot(taken, "logarithms", {"ln " + y.name, ""}, input.spec.dataset, out);
        const double median = std::exp(logs.mean), factor = std::exp(logs.sd);
        give("geometric-mean", "geometric mean", "the median of the log-normal distribution", y.unit, median,
             median * logs.sd / std::sqrt(n));
        give("geometric-sd", "geometric SD", "the factor that holds two thirds on both sides", "", factor,
             factor * logs.sd / std::sqrt(2 * (n - 1)));
        give("p-log-normal", "p of log-normal", "of such values, were they log-normal (Shapiro and Wilk)", "",
             p(taken), NAN, 2);
        const double difference =
            2 * (logs.logLikelihood - jacobian - normal.logLikelihood); // as many parameters each
        give("aicc-difference", "AICc of normal less log-normal",
             "positive speaks for the log-normal distribution", "", difference, NAN, 3);
        const double weight = 1 / (1 + std::exp(-0.5 * std::abs(difference)));
        out.sentence = fmt::format("The values speak for {} distribution, with {:.0f} % of the weight.",
                                   difference > 0 ? "a log-normal" : "a normal", 100 * weight);
        if (std::abs(difference) < 2)
            out.sentence = "The values do not tell a normal from a log-normal distribution.";
    } else
        out.issues.push_back({"not-positive",
                              "There are values that are not above zero: a log-normal distribution has none.",
                              {}});
    out.quality.push_back({.key = "n", .label = "n", .value = n, .state = "quality"});
    out.tables.push_back(quantilesOf(std::move(values), y));
    out.detail = counted(static_cast<long long>(n), "value");
    return out;
}

} // namespace

AnalysisKind distributionAnalysis() {
    return {
        .info = {.key = "distribution",
                 .name = "Distribution of values",
                 .purpose = "Normal or log-normal: mean and SD of both, what speaks for which, quantiles"},
        .slots = {{.key = "dataset", .label = "Dataset", .of = "dataset"}},
        .compute = compute,
        .costly = false};
}

} // namespace jointer::analyses
