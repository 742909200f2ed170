// SPDX-License-Identifier: GPL-3.0-or-later
// The average of replicates, or of several datasets, with its uncertainty.
#include "describe/setting_makers.h"
#include "stats/summary.h"
#include "steps/interpolation.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::steps {

namespace {

const KindInfo& info() {
    using namespace describe;
    static const KindInfo kind{
        .key = "average",
        .name = "Average",
        .purpose = "Replicates or several datasets become one curve",
        .group = "Other datasets",
        .settings = {
            references(
                "with", "With", "dataset",
                "Datasets that are averaged with this one, on straight lines at its x; open: the replicates "
                "of this one.",
                {.whenEmpty = "its replicates"}),
            choice("statistic", "As", {{"mean", "mean"}, {"median", "median"}, {"weighted", "weighted mean"}},
                   "The weighted mean takes 1/uncertainty² as weights."),
            choice("uncertainty", "Uncertainty", {{"sem", "SEM"}, {"sd", "SD"}, {"carried", "carried"}},
                   "From the scatter (standard error of the mean, standard deviation), or from the "
                   "uncertainties of "
                   "what is averaged.")}};
    return kind;
}

struct Reading {
    double y, sigma; // sigma NaN: not known
};

struct Averaged {
    double y = std::nan(""), sigma = std::nan("");
};

Averaged averageOf(const std::vector<Reading>& readings, const std::string& statistic,
                   const std::string& uncertainty) {
    List ys;
    double weights = 0, weighted = 0, variance = 0;
    bool known = true;
    for (const Reading& r : readings) {
        ys.push_back(r.y);
        known &= r.sigma > 0;
        const double w = 1 / (r.sigma * r.sigma);
        weights += w;
        weighted += w * r.y;
        variance += r.sigma * r.sigma;
    }
    Averaged out;
    if (ys.empty()) return out;
    const auto n = static_cast<double>(ys.size());
    const stats::Summary s = stats::summarise(ys);
    const bool byWeights = statistic == "weighted" && known;
    out.y = byWeights ? weighted / weights : statistic == "median" ? s.median : s.mean;
    if (uncertainty == "sd") out.sigma = s.sd;
    if (uncertainty == "sem")
        out.sigma = statistic == "median" ? 1.2533141373155 * stats::robustSd(ys) / std::sqrt(n) : s.sem;
    if (uncertainty == "carried" && known)
        out.sigma = byWeights ? 1 / std::sqrt(weights) : std::sqrt(variance) / n;
    return out;
}

Outcome<StepOutput> apply(const StepInput& in) {
    const auto named = datasetsNamed(info(), in.settings);
    std::vector<Knots> others;
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    for (const std::string& reference : named)
        if (const OtherCurve* other = in.other(reference))
            others.push_back(knotsOf(*other->curve));
        else
            out.issues.push_back({"dataset-gone", "A dataset of the average is not there any more.", {}});
    Curve& c = out.value.curve;
    if (others.empty() && c.replicates.size() < 2)
        return leftAlone(in.curve, "Average: nothing to average yet.",
                         "this dataset has no replicates; choose datasets");
    const std::string statistic = info().text(in.settings, "statistic"),
                      uncertainty = info().text(in.settings, "uncertainty");
    List y(c.size()), sigma(c.size());
    std::size_t alone = 0;
    double unweighted = 0;
    for (std::size_t i = 0; i < c.size(); ++i) {
        std::vector<Reading> readings;
        const double own = c.sigma.empty() ? std::nan("") : c.sigma[i];
        if (others.empty()) {
            for (const List& r : c.replicates)
                if (std::isfinite(r[i]))
                    readings.push_back({r[i], own * std::sqrt(static_cast<double>(c.replicates.size()))});
        } else if (c.counts(i))
            readings.push_back({c.y[i], own});
        for (const Knots& k : others)
            if (const Between o = between(k, c.x[i]); std::isfinite(o.y))
                readings.push_back({o.y, k.variance.empty() ? std::nan("") : std::sqrt(o.variance)});
        alone += readings.size() == 1;
        unweighted += statistic == "weighted" &&
                      std::ranges::any_of(readings, [](const Reading& r) { return !(r.sigma > 0); });
        const Averaged a = averageOf(readings, statistic, uncertainty);
        y[i] = a.y;
        sigma[i] = a.sigma;
    }
    for (std::size_t i = 0; i < c.size(); ++i)
        if (!c.isExcluded(i) || others.empty()) c.y[i] = y[i];
    c.replicates.clear();
    const bool any = std::ranges::any_of(sigma, [](double s) { return std::isfinite(s); });
    if (any) {
        c.sigma = std::move(sigma);
        c.sigmaCarried = true;
        if (uncertainty != "carried")
            c.sigmaSource = uncertainty == "sd" ? "SD of what was averaged" : "SEM of what was averaged";
    } else if (!c.sigma.empty()) {
        c.sigma.clear();
        out.value.uncertaintyLost = true;
    }
    const std::size_t n = others.empty() ? in.curve.replicates.size() : others.size() + 1;
    out.value.sentence = fmt::format("Averaged {}: {}.",
                                     others.empty() ? counted(static_cast<long long>(n), "replicate")
                                                    : counted(static_cast<long long>(n), "dataset"),
                                     statistic == "weighted" ? "weighted mean" : statistic);
    out.value.detail = any ? "uncertainty: " + (uncertainty == "carried" ? std::string("carried")
                                                : uncertainty == "sd"    ? "SD"
                                                                         : "SEM")
                           : "";
    if (alone > 0)
        out.value.detail +=
            fmt::format("{}{} from one reading", out.value.detail.empty() ? "" : " · ", countedPoints(alone));
    if (unweighted > 0)
        out.issues.push_back(
            {"no-weights", "Where an uncertainty is not known the plain mean was taken.", {}});
    return out;
}

} // namespace

StepKind averageStep() {
    return {.info = info(), .apply = apply};
}

} // namespace jointer::steps
