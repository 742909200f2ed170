// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/uncertainty.h"

#include "base/text.h"
#include "stats/local_scatter.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::evaluate {

namespace {

using Sigma = std::vector<double>;

Setting amount(double fallback, double highest, const char* unit, const char* help) {
    return {.key = "amount",
            .label = "Amount",
            .fallback = fallback,
            .help = help,
            .unit = unit,
            .lowest = 1e-300,
            .highest = highest};
}

const Setting kFraction =
    amount(0.05, 100, "", "Fraction of y: 0.05 is 5 %. Larger makes all uncertainties larger.");
const Setting kConstant = amount(0.05, 1e300, "y", "The uncertainty of each point. Larger makes all larger.");

double amountIn(const Settings& given, const Setting& setting) {
    return KindInfo{.key = "", .name = "", .purpose = "", .settings = {setting}}.number(given, "amount");
}

// The scatter of the replicates of each point, as SD of one or of their mean.
Sigma ofReplicates(const Curve& c, bool ofMean) {
    Sigma sigma;
    if (c.replicates.size() < 2) return sigma;
    for (std::size_t i = 0; i < c.size(); ++i) {
        double sum = 0, present = 0;
        for (const auto& r : c.replicates)
            if (std::isfinite(r[i])) sum += (r[i] - c.y[i]) * (r[i] - c.y[i]), ++present;
        const double sd = present > 1 ? std::sqrt(sum / (present - 1)) : std::nan("");
        sigma.push_back(ofMean ? sd / std::sqrt(present) : sd);
    }
    return sigma;
}

} // namespace

const Catalogue<UncertaintyRule>& uncertaintyRules() {
    static const Catalogue<UncertaintyRule> all({
        {.info = {.key = "none", .name = "not known", .purpose = "All points count alike"},
         .sigma = [](const Curve&, std::span<const double>, const Settings&) { return Sigma{}; },
         .said = [](const Settings&) { return std::string(); }},
        {.info = {.key = "column", .name = "from its column", .purpose = "The column with the role ± y"},
         .sigma = [](const Curve&, std::span<const double> column,
                     const Settings&) { return Sigma(column.begin(), column.end()); },
         .said = [](const Settings&) { return std::string("from the column of uncertainties"); }},
        {.info = {.key = "weight",
                  .name = "from a column of weights",
                  .purpose = "The column with the role ± y holds weights, 1/σ²"},
         .sigma =
             [](const Curve&, std::span<const double> column, const Settings&) {
                 Sigma sigma;
                 for (double w : column) sigma.push_back(w > 0 ? 1 / std::sqrt(w) : std::nan(""));
                 return sigma;
             },
         .said = [](const Settings&) { return std::string("from the column of weights"); }},
        {.info = {.key = "fraction",
                  .name = "fraction of y",
                  .purpose = "Each is the same part of its y",
                  .settings = {kFraction}},
         .sigma =
             [](const Curve& c, std::span<const double>, const Settings& given) {
                 Sigma sigma;
                 const double fraction = amountIn(given, kFraction);
                 for (double y : c.y) sigma.push_back(fraction * std::abs(y));
                 return sigma;
             },
         .said =
             [](const Settings& given) {
                 return fmt::format("{} % of y", readableNumber(100 * amountIn(given, kFraction)));
             }},
        {.info = {.key = "counting",
                  .name = "square root of counts",
                  .purpose = "The y are counts; below one count, one"},
         .sigma =
             [](const Curve& c, std::span<const double>, const Settings&) {
                 Sigma sigma;
                 for (double y : c.y) sigma.push_back(std::sqrt(std::max(y, 1.0)));
                 return sigma;
             },
         .said = [](const Settings&) { return std::string("square root of the counts"); }},
        {.info = {.key = "constant",
                  .name = "constant",
                  .purpose = "The same for all points",
                  .settings = {kConstant}},
         .sigma = [](const Curve& c, std::span<const double>,
                     const Settings& given) { return Sigma(c.size(), amountIn(given, kConstant)); },
         .said = [](const Settings&) { return std::string("the same for all points"); }},
        {.info = {.key = "sd",
                  .name = "SD of replicates",
                  .purpose = "The scatter of the replicates of each point"},
         .sigma = [](const Curve& c, std::span<const double>,
                     const Settings&) { return ofReplicates(c, false); },
         .said = [](const Settings&) { return std::string("SD of the replicates"); }},
        {.info = {.key = "sem",
                  .name = "SEM of replicates",
                  .purpose = "The standard error of the mean of the replicates of each point"},
         .sigma = [](const Curve& c, std::span<const double>,
                     const Settings&) { return ofReplicates(c, true); },
         .said = [](const Settings&) { return std::string("SEM of the replicates"); }},
        {.info = {.key = "scatter",
                  .name = "scatter of the curve",
                  .purpose = "How far points lie from lines between their neighbours, by ratios above zero"},
         .sigma = [](const Curve& c, std::span<const double>,
                     const Settings&) { return stats::localScatter(c.x, c.y); },
         .said = [](const Settings&) { return std::string("scatter about a local smooth"); }},
    });
    return all;
}

const UncertaintyRule& ruleOf(const Settings& given, bool haveColumn) {
    const UncertaintyRule* rule =
        uncertaintyRules().find(given.text("uncertainty", haveColumn ? "column" : "none"));
    return rule ? *rule : uncertaintyRules().front();
}

void addUncertainty(Curve& curve, std::span<const double> column, const Settings& given) {
    const UncertaintyRule& rule = ruleOf(given, !column.empty());
    curve.sigma = rule.sigma(curve, column, given);
    if (!curve.sigma.empty()) curve.sigmaSource = rule.said(given);
}

} // namespace jointer::evaluate
