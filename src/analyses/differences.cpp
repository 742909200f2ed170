// SPDX-License-Identifier: GPL-3.0-or-later
// Datasets compared by the parameters of their fits: each pair's difference with its interval.
#include "fit/differences.h"
#include "analyses/fit_analysis.h"
#include "base/text.h"
#include "base/unit_text.h"
#include "data/column_names.h"
#include "describe/setting_makers.h"
#include "fit/quality.h"
#include "stats/group_tests.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::analyses {

namespace {

constexpr std::size_t kMostFits = 6;

const KindInfo& info() {
    using namespace describe;
    static const KindInfo made{
        .key = "differences",
        .name = "Compare datasets",
        .purpose = "Differences of parameters between datasets, of one fit over several or of several fits, "
                   "with intervals",
        .group = "Analyses",
        .settings = {
            word("parameter", "Parameter", "Which; empty: all that the fits have in common.",
                 {.whenEmpty = "all"}),
            number("level", "Level", 0.95, "Of the intervals.", {.lowest = 0.5, .highest = 0.9999})}};
    return made;
}

// Of every fit its members, called by their datasets without what all of these are called alike.
std::vector<fit::Estimate> estimatesOf(const std::vector<const FitDetail*>& fits,
                                       const std::string& parameter) {
    std::vector<fit::Estimate> all;
    for (const FitDetail* f : fits) {
        auto own = fit::estimatesOf(f->report, parameter);
        for (std::size_t k = 0; k < own.size() && k < f->taken->members.size(); ++k)
            own[k].of = f->taken->members[k].name;
        std::ranges::move(own, std::back_inserter(all));
    }
    std::vector<std::string> names;
    for (const fit::Estimate& e : all) names.push_back(e.of);
    const std::size_t shared = sharedBeginning(names).size();
    for (fit::Estimate& e : all) e.of.erase(0, shared);
    return all;
}

std::string unitOf(const FitDetail& f, const std::string& parameter) {
    const auto& infos = f.taken->model().parameters();
    const auto at = std::ranges::find(infos, parameter, &models::ParameterInfo::name);
    const std::string& y = f.taken->members.front().curve->yMeaning.unit;
    return at == infos.end() ? "" : models::unitText(at->unit, f.taken->xUnit(0), y);
}

void add(const fit::Difference& d, const std::string& unit, AnalysisResult& out) {
    const std::string pair = d.first + " − " + d.second;
    out.quantities.push_back({.key = "difference of " + d.parameter + ", " + pair,
                              .label = d.parameter,
                              .meaning = "the difference",
                              .unit = unit,
                              .value = d.value,
                              .se = d.se,
                              .low = d.low,
                              .high = d.high,
                              .state = "difference",
                              .subject = pair});
    out.quantities.push_back({.key = "p of " + d.parameter + ", " + pair,
                              .label = "p of " + d.parameter,
                              .meaning = "of no difference, after Holm over all pairs",
                              .value = d.corrected,
                              .state = "summary",
                              .subject = pair,
                              .digits = 2});
}

// A single difference with its number.
std::string oneText(const fit::Difference& d, const std::string& unit) {
    const std::string size =
        readableWithError(std::abs(d.value), d.se).text() + (unit.empty() ? "" : " " + readableUnit(unit));
    const std::string p = stats::probabilityText(d.corrected);
    if (!(d.corrected < 0.05))
        return fmt::format("{} of {} and {} do not differ beyond their errors (by {}, {}).", d.parameter,
                           d.first, d.second, size, p);
    return fmt::format("{} of {} is {} than that of {} by {} ({}).", d.parameter, d.first,
                       d.value < 0 ? "lower" : "higher", d.second, size, p);
}

std::string sentenceOf(const std::vector<fit::Difference>& all, const std::string& unit) {
    if (all.size() == 1) return oneText(all.front(), unit);
    std::vector<std::string> differ;
    for (const fit::Difference& d : all)
        if (d.corrected < 0.05 && std::ranges::find(differ, d.parameter) == differ.end())
            differ.push_back(d.parameter);
    if (differ.empty()) return "No parameter differs beyond its error.";
    return fmt::format("{} {} between the datasets.", joined(differ, ", "),
                       differ.size() == 1 ? "differs" : "differ");
}

// Whether one value, or one curve, would do for all.
std::string equalText(const std::vector<fit::Equality>& all) {
    std::vector<std::string> would;
    std::string curve;
    for (const fit::Equality& e : all) {
        if (e.parameter.empty())
            curve = fmt::format("one curve {} ({})", e.test.p < 0.05 ? "would not" : "would",
                                stats::probabilityText(e.test.p));
        else if (e.test.p >= 0.05)
            would.push_back(fmt::format("one {} ({})", e.parameter, stats::probabilityText(e.test.p)));
    }
    if (all.empty()) return {};
    const std::string values =
        would.empty() ? "No single value would do for all" : "For all would do " + joined(would, " or ");
    return " " + values + (curve.empty() ? "." : "; " + curve + ".");
}

void add(const fit::Equality& e, AnalysisResult& out) {
    const std::string what = e.parameter.empty() ? "one curve" : "one " + e.parameter;
    out.quantities.push_back({.key = "p of " + what,
                              .label = "p of " + what,
                              .meaning = "for all datasets, against each for itself",
                              .value = e.test.p,
                              .state = "summary",
                              .digits = 2});
}

Result<AnalysisResult> compute(const Task& task, const Taken&) {
    std::vector<const FitDetail*> fits;
    for (const ResultPtr& a : task.analyses)
        if (const FitDetail* f = a ? fitDetail(*a) : nullptr) fits.push_back(f);
    const std::string wanted = info().text(task.spec.settings, "parameter");
    std::vector<fit::Difference> all;
    AnalysisResult out{.state = "done"};
    if (!fits.empty())
        for (const models::ParameterInfo& p : fits.front()->taken->model().parameters()) {
            if (!wanted.empty() && p.name != wanted) continue;
            const auto found = fit::differencesOf(p.name, estimatesOf(fits, p.name),
                                                  info().number(task.spec.settings, "level"));
            for (const fit::Difference& d : found) add(d, unitOf(*fits.front(), p.name), out);
            all.insert(all.end(), found.begin(), found.end());
        }
    if (all.empty())
        return failure(
            "no-pairs",
            "There is no parameter that two datasets have each for itself: fit several datasets together, or "
            "choose a fit of another dataset as “Fit 2”.");
    out.sentence = sentenceOf(all, unitOf(*fits.front(), all.front().parameter));
    const bool sameTime = std::ranges::all_of(
        fits, [&](const FitDetail* f) { return f->taken->time == fits.front()->taken->time; });
    if (!sameTime)
        out.issues.push_back(
            {"time-origins",
             "These fits count their times from different days: what holds at the beginning of each "
             "cannot be compared. Fit the datasets together.",
             {}});
    if (const auto problem = joinedProblem(fits); problem && sameTime) {
        const auto equal = fit::equalitiesOf(*problem, {}, task.stop);
        for (const fit::Equality& e : equal)
            if (wanted.empty() || e.parameter == wanted || e.parameter.empty()) add(e, out);
        if (wanted.empty()) out.sentence += equalText(equal);
    }
    if (fits.size() == 1 && fits.front()->report.comparison)
        out.detail = fit::sharingText(fits.front()->report);
    else
        out.detail = counted(static_cast<long long>(all.size()), "difference");
    return out;
}

} // namespace

AnalysisKind differencesAnalysis() {
    return {.info = info(),
            .slots = slotsOfFits({.most = kMostFits, .fewest = 1, .elsewhere = true}),
            .compute = compute};
}

} // namespace jointer::analyses
