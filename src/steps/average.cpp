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

// The standard error of the median of many normal readings, in units of that of their mean: √(π/2).
constexpr double kMedianError = 1.2533141373155003;

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
    const bool byWeights = statistic == "weighted" && known, byMedian = statistic == "median";
    const double spread = byMedian && ys.size() > 2 ? kMedianError : 1; // of two the median is the mean
    out.y = byWeights ? weighted / weights : byMedian ? s.median : s.mean;
    if (uncertainty == "sd") out.sigma = s.sd;
    if (uncertainty == "sem") out.sigma = byMedian ? spread * stats::robustSd(ys) / std::sqrt(n) : s.sem;
    if (uncertainty == "carried" && known)
        out.sigma = byWeights ? 1 / std::sqrt(weights) : spread * std::sqrt(variance) / n;
    return out;
}

// The curves that are averaged at each x of the first one, and how.
struct Average {
    const Curve& curve;
    std::vector<Knots> others; // none: the replicates of the curve
    std::string statistic, uncertainty;

    std::vector<Reading> readingsAt(std::size_t i) const;
    bool anyUnweighted(const std::vector<Reading>& readings) const {
        return statistic == "weighted" &&
               std::ranges::any_of(readings, [](const Reading& r) { return !(r.sigma > 0); });
    }
};

std::vector<Reading> Average::readingsAt(std::size_t i) const {
    std::vector<Reading> readings;
    const double own = curve.sigma.empty() ? std::nan("") : curve.sigma[i];
    if (others.empty()) {
        for (const List& r : curve.replicates)
            if (std::isfinite(r[i]))
                readings.push_back({r[i], own * std::sqrt(static_cast<double>(curve.replicates.size()))});
    } else if (curve.counts(i))
        readings.push_back({curve.y[i], own});
    for (const Knots& k : others)
        if (const Between o = between(k, curve.x[i]); std::isfinite(o.y))
            readings.push_back({o.y, k.variance.empty() ? std::nan("") : std::sqrt(o.variance)});
    return readings;
}

// Gives the uncertainties of the average to the curve, where there are any.
void takeUncertainty(List sigma, const Average& average, StepOutput& out) {
    Curve& c = out.curve;
    if (std::ranges::any_of(sigma, [](double s) { return std::isfinite(s); })) {
        c.sigma = std::move(sigma);
        c.sigmaCarried = true;
        if (average.uncertainty != "carried")
            c.sigmaSource =
                average.uncertainty == "sd" ? "SD of what was averaged" : "SEM of what was averaged";
        out.detail = "uncertainty: " + (average.uncertainty == "carried" ? std::string("carried")
                                        : average.uncertainty == "sd"    ? "SD"
                                                                         : "SEM");
    } else if (!c.sigma.empty()) {
        c.sigma.clear();
        out.uncertaintyLost = true;
    }
}

std::string sentenceOf(const Average& average) {
    const std::size_t n =
        average.others.empty() ? average.curve.replicates.size() : average.others.size() + 1;
    return fmt::format("Averaged {}: {}.",
                       counted(static_cast<long long>(n), average.others.empty() ? "replicate" : "dataset"),
                       average.statistic == "weighted" ? "weighted mean" : average.statistic);
}

Outcome<StepOutput> apply(const StepInput& in) {
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    Average average{.curve = in.curve,
                    .others = {},
                    .statistic = info().text(in.settings, "statistic"),
                    .uncertainty = info().text(in.settings, "uncertainty")};
    for (const std::string& reference : datasetsNamed(info(), in.settings))
        if (const OtherCurve* other = in.other(reference))
            average.others.push_back(knotsOf(*other->curve));
        else
            out.issues.push_back({"dataset-gone", "A dataset of the average is not there any more.", {}});
    Curve& c = out.value.curve;
    if (average.others.empty() && c.replicates.size() < 2)
        return leftAlone(in.curve, "Average: nothing to average yet.",
                         "this dataset has no replicates; choose datasets");
    List sigma(c.size());
    std::size_t alone = 0;
    bool unweighted = false;
    for (std::size_t i = 0; i < c.size(); ++i) {
        const std::vector<Reading> readings = average.readingsAt(i);
        alone += readings.size() == 1;
        unweighted |= average.anyUnweighted(readings);
        const Averaged a = averageOf(readings, average.statistic, average.uncertainty);
        sigma[i] = a.sigma;
        if (!c.isExcluded(i) || average.others.empty()) c.y[i] = a.y;
    }
    c.replicates.clear();
    takeUncertainty(std::move(sigma), average, out.value);
    out.value.sentence = sentenceOf(average);
    if (alone > 0)
        out.value.detail +=
            fmt::format("{}{} from one reading", out.value.detail.empty() ? "" : " · ", countedPoints(alone));
    if (unweighted)
        out.issues.push_back(
            {"no-weights", "Where an uncertainty is not known the plain mean was taken.", {}});
    return out;
}

} // namespace

StepKind averageStep() {
    return {.info = info(), .apply = apply};
}

} // namespace jointer::steps
