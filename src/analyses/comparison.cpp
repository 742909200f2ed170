// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/comparison.h"

#include "analyses/fit_analysis.h"
#include "base/text.h"
#include "describe/setting_makers.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::analyses {

const ComparisonDetail* comparisonDetail(const AnalysisResult& result) {
    return dynamic_cast<const ComparisonDetail*>(result.kept.get());
}

const KindInfo& comparisonSettings() {
    using namespace describe;
    static const KindInfo info{
        .key = "comparison",
        .name = "Compare models",
        .purpose = "Which of several fits the same points speak for: AICc, BIC, weights, F tests, cross-validation",
        .group = "Analyses",
        .settings = {
            choice("leave-out", "Leave out", {{"nothing", "nothing"}, {"points", "points"}, {"levels", "levels of x"}},
                   "Cross-validation: parts of the points are left out in turn and predicted by the rest. Levels: all points "
                   "of one x together."),
            wholeNumber("parts", "Parts", 10, "In how many parts; as many as there are points: each for itself.",
                        {.lowest = 2, .highest = 100000, .shownIf = "leave-out=points|levels"})}};
    return info;
}

namespace {

constexpr std::size_t kMostModels = 6;

// By what each is called; two of one name by their formulas, or else by number.
std::vector<fit::Candidate> candidatesOf(const std::vector<ResultPtr>& fits) {
    std::vector<fit::Candidate> all;
    const auto isTaken = [&](const std::string& name) { return std::ranges::find(all, name, &fit::Candidate::name) != all.end(); };
    for (const ResultPtr& result : fits) {
        const FitDetail& f = *fitDetail(*result);
        const NamedCurve* curve = result->curve("fit");
        std::string name = curve ? curve->label : f.taken->model().formula();
        if (isTaken(name)) name = f.taken->model().formula();
        for (int number = 2; isTaken(name); ++number) name = fmt::format("{} ({})", f.taken->model().formula(), number);
        all.push_back({name, f.taken->problem, f.report});
    }
    return all;
}

NamedTable tableOf(const fit::ModelComparison& c) {
    std::vector<std::string> names;
    std::vector<double> k, rss, aicc, bic, weight, error;
    for (const fit::Compared& m : c.models) {
        names.push_back(m.name);
        k.push_back(m.k);
        rss.push_back(m.report ? m.report->rss : NAN);
        aicc.push_back(m.report ? m.report->aicc : NAN);
        bic.push_back(m.report ? m.report->bic : NAN);
        weight.push_back(m.weight);
        error.push_back(m.predictionError);
    }
    Table t{.name = "Models"};
    t.columns = {textColumn("model", names),       numberColumn("parameters", "", k), numberColumn("residual sum", "", rss),
                 numberColumn("AICc", "", aicc),   numberColumn("BIC", "", bic),      numberColumn("weight", "", weight),
                 numberColumn("prediction error", "", error)};
    return {"models", "Models", std::move(t)};
}

NamedTable testsOf(const fit::ModelComparison& c) {
    std::vector<std::string> simpler, larger;
    std::vector<double> statistic, first, second, p;
    for (const fit::NestedTest& t : c.tests) {
        simpler.push_back(c.models[t.simpler].name);
        larger.push_back(c.models[t.larger].name);
        statistic.push_back(t.statistic);
        first.push_back(t.dof[0]);
        second.push_back(t.dof[1]);
        p.push_back(t.p);
    }
    Table t{.name = "Tests"};
    t.columns = {textColumn("simpler", simpler), textColumn("larger", larger),
                 numberColumn(c.absolute ? "χ²" : "F", "", statistic), numberColumn("dof", "", first),
                 numberColumn("dof 2", "", second), numberColumn("p", "", p)};
    return {"tests", "Tests", std::move(t)};
}

void addQuantities(const fit::ModelComparison& c, AnalysisResult& out) {
    for (std::size_t k = 0; k < c.models.size(); ++k) {
        const fit::Compared& m = c.models[k];
        const auto add = [&](const char* key, const char* label, double value, const char* meaning) {
            if (std::isfinite(value))
                out.quantities.push_back({.key = fmt::format("{} of {}", key, k + 1), .label = label, .meaning = meaning,
                                          .value = value, .state = "summary", .subject = m.name});
        };
        add("weight", "weight", m.weight, "share of the evidence, by AICc");
        add("aicc_difference", "ΔAICc", m.aiccDifference, "above the lowest");
        add("bic_difference", "ΔBIC", m.bicDifference, "above the lowest");
        add("prediction_error", "prediction error", m.predictionError, "root mean square over what was left out");
    }
    for (const fit::NestedTest& t : c.tests)
        out.quantities.push_back({.key = fmt::format("p of {} against {}", t.larger + 1, t.simpler + 1),
                                  .label = "p against “" + c.models[t.simpler].name + "”",
                                  .meaning = c.absolute ? "χ² test of models of which one holds the other"
                                                        : "F test of models of which one holds the other",
                                  .value = t.p,
                                  .state = "summary",
                                  .subject = c.models[t.larger].name});
}

Result<AnalysisResult> compute(const Task& task, const Taken&) {
    std::vector<ResultPtr> fits;
    for (const ResultPtr& a : task.analyses)
        if (a && fitDetail(*a)) fits.push_back(a);
    if (fits.size() < 2)
        return failure("few-fits", "A comparison needs two fits or more of the same points: fit another model to the dataset, then "
                                   "choose both.");
    const Settings& s = task.spec.settings;
    const std::string leave = comparisonSettings().text(s, "leave-out");
    fit::CompareOptions options{.leaveOut = leave == "points"   ? fit::LeaveOut::Points
                                            : leave == "levels" ? fit::LeaveOut::Levels
                                                                : fit::LeaveOut::Nothing,
                                .parts = comparisonSettings().integer(s, "parts")};
    if (task.effort != Effort::Full) options.leaveOut = fit::LeaveOut::Nothing;
    auto comparison = fit::compareModels(candidatesOf(fits), options, task.stop);
    if (!comparison) return std::unexpected(comparison.error());
    auto detail = std::make_shared<ComparisonDetail>();
    detail->verdict = fit::verdictOf(*comparison);
    detail->comparison = std::move(*comparison);
    AnalysisResult out{.state = "done"};
    addQuantities(detail->comparison, out);
    out.tables = {tableOf(detail->comparison), testsOf(detail->comparison)};
    out.sentence = detail->verdict.sentence;
    out.detail = counted(static_cast<long long>(detail->comparison.n), "point");
    for (const std::string& against : detail->verdict.against) out.issues.push_back({"against", "But " + against + ".", {}});
    out.whole = task.effort == Effort::Full && !task.stop.stop_requested();
    out.kept = std::move(detail);
    return out;
}

} // namespace

AnalysisKind comparisonAnalysis() {
    return {.info = comparisonSettings(), .slots = slotsOfFits({.most = kMostModels, .fewest = 2, .eager = true}), .compute = compute};
}

} // namespace jointer::analyses
