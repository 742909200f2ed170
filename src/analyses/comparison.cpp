// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/comparison.h"

#include "analyses/fit_analysis.h"
#include "analyses/free_curve.h"
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
        .purpose =
            "Which of several fits the same points speak for: AICc, BIC, weights, F tests, cross-validation",
        .group = "Analyses",
        .settings = {choice("leave-out", "Leave out",
                            {{"nothing", "nothing"}, {"points", "points"}, {"levels", "levels of x"}},
                            "Cross-validation: parts of the points are left out in turn and predicted by the "
                            "rest. Levels: all points "
                            "of one x together."),
                     wholeNumber("parts", "Parts", 10,
                                 "In how many parts; as many as there are points: each for itself.",
                                 {.lowest = 2, .highest = 100000, .shownIf = "leave-out=points|levels"})}};
    return info;
}

namespace {

constexpr std::size_t kMostModels = 6;

fit::FreeForm formOf(const Settings& settings, double dof, std::vector<double> fitted) {
    return {.dof = dof,
            .fitted = std::move(fitted),
            .predicted = [settings](const fit::FitMember& through,
                                    const std::vector<double>& xs) -> std::optional<std::vector<double>> {
                const auto curve = freeCurve(settings, through.predictors[0], through.y, through.sigma, true);
                if (!curve) return {};
                return curve->values(xs, {});
            }};
}

// What it is: a formula or a method.
std::string descriptionOf(const AnalysisResult& result) {
    if (const FreeCurveDetail* free = freeCurveDetail(result)) return free->members[0].curve.told;
    return fitDetail(result)->taken->model().formula();
}

// Of what can be compared, by what each is called; two of one name by what they are, or else by number.
std::vector<fit::Candidate> candidatesOf(const std::vector<ResultPtr>& results) {
    std::vector<fit::Candidate> all;
    const auto isTaken = [&](const std::string& name) {
        return std::ranges::find(all, name, &fit::Candidate::name) != all.end();
    };
    for (const ResultPtr& result : results) {
        auto candidate = result ? candidateOf(*result, {}) : std::nullopt;
        if (!candidate) continue;
        const NamedCurve* curve = result->curve("fit");
        std::string name = curve ? curve->label : descriptionOf(*result);
        if (isTaken(name)) name = descriptionOf(*result);
        for (int number = 2; isTaken(name); ++number)
            name = fmt::format("{} ({})", descriptionOf(*result), number);
        candidate->name = std::move(name);
        all.push_back(std::move(*candidate));
    }
    return all;
}

NamedTable tableOf(const fit::ModelComparison& c) {
    std::vector<std::string> names;
    std::vector<double> k, rss, aicc, bic, weight, error;
    for (const fit::Compared& m : c.models) {
        names.push_back(m.name);
        k.push_back(m.k);
        rss.push_back(m.rss);
        aicc.push_back(m.aicc);
        bic.push_back(m.bic);
        weight.push_back(m.weight);
        error.push_back(m.predictionError);
    }
    Table t{.name = "Models"};
    t.columns = {textColumn("model", names),
                 numberColumn("parameters", "", k),
                 numberColumn("residual sum", "", rss),
                 numberColumn("AICc", "", aicc),
                 numberColumn("BIC", "", bic),
                 numberColumn("weight", "", weight),
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
    t.columns = {textColumn("simpler", simpler),
                 textColumn("larger", larger),
                 numberColumn(c.absolute ? "χ²" : "F", "", statistic),
                 numberColumn("dof", "", first),
                 numberColumn("dof 2", "", second),
                 numberColumn("p", "", p)};
    return {"tests", "Tests", std::move(t)};
}

void addQuantities(const fit::ModelComparison& c, AnalysisResult& out) {
    for (std::size_t k = 0; k < c.models.size(); ++k) {
        const fit::Compared& m = c.models[k];
        const auto add = [&](const char* key, const char* label, double value, const char* meaning) {
            if (std::isfinite(value))
                out.quantities.push_back({.key = fmt::format("{} of {}", key, k + 1),
                                          .label = label,
                                          .meaning = meaning,
                                          .value = value,
                                          .state = "summary",
                                          .subject = m.name,
                                          .digits = 3});
        };
        add("weight", "weight", m.weight, "share of the evidence, by AICc");
        add("aicc_difference", "ΔAICc", m.aiccDifference, "above the lowest");
        add("bic_difference", "ΔBIC", m.bicDifference, "above the lowest");
        add("prediction_error", "prediction error", m.predictionError,
            "root mean square over what was left out");
    }
    for (const fit::NestedTest& t : c.tests)
        out.quantities.push_back({.key = fmt::format("p of {} against {}", t.larger + 1, t.simpler + 1),
                                  .label = "p against “" + c.models[t.simpler].name + "”",
                                  .meaning = c.absolute ? "χ² test of models of which one holds the other"
                                                        : "F test of models of which one holds the other",
                                  .value = t.p,
                                  .state = "summary",
                                  .subject = c.models[t.larger].name,
                                  .digits = 2});
}

Result<AnalysisResult> compute(const Task& task, const Taken&) {
    const std::vector<fit::Candidate> candidates = candidatesOf(task.analyses);
    if (candidates.size() < 2)
        return failure("few-fits", "A comparison needs two curves or more of the same points: fit another "
                                   "model to the dataset, then "
                                   "choose both.");
    const Settings& s = task.spec.settings;
    const std::string leave = comparisonSettings().text(s, "leave-out");
    fit::CompareOptions options{.leaveOut = leave == "points"   ? fit::LeaveOut::Points
                                            : leave == "levels" ? fit::LeaveOut::Levels
                                                                : fit::LeaveOut::Nothing,
                                .parts = comparisonSettings().integer(s, "parts")};
    if (task.effort != Effort::Full) options.leaveOut = fit::LeaveOut::Nothing;
    auto comparison = fit::compareModels(candidates, options, task.stop);
    if (!comparison) return std::unexpected(comparison.error());
    auto detail = std::make_shared<ComparisonDetail>();
    detail->verdict = fit::verdictOf(*comparison);
    detail->comparison = std::move(*comparison);
    AnalysisResult out{.state = "done"};
    addQuantities(detail->comparison, out);
    out.tables = {tableOf(detail->comparison), testsOf(detail->comparison)};
    out.sentence = detail->verdict.sentence;
    out.detail = counted(static_cast<long long>(detail->comparison.n), "point");
    for (const std::string& against : detail->verdict.against)
        out.issues.push_back({"against", "But " + against + ".", {}});
    out.whole = task.effort == Effort::Full && !task.stop.stop_requested();
    out.kept = std::move(detail);
    return out;
}

} // namespace

std::optional<fit::Candidate> candidateOf(const AnalysisResult& result, std::string name) {
    if (const FitDetail* f = fitDetail(result))
        return fit::Candidate{std::move(name), f->taken->problem, f->report};
    const FreeCurveDetail* free = freeCurveDetail(result);
    if (!free || free->members.size() != 1) return {};
    const FreeCurveDetail::Member& m = free->members.front();
    return fit::Candidate{
        std::move(name), free->taken->problem, {}, formOf(free->settings, m.curve.dof, m.fitted)};
}

Result<fit::FreeForm> freeFormOf(const Settings& settings, const fit::FitMember& points,
                                 const Cancellation& stop) {
    const auto curve = freeCurve(settings, points.predictors[0], points.y, points.sigma, false, stop);
    if (!curve) return std::unexpected(curve.error());
    return formOf(settings, curve->dof, curve->values(points.predictors[0], {}));
}

AnalysisKind comparisonAnalysis() {
    return {.info = comparisonSettings(),
            .slots = slotsOfFits(
                {.most = kMostModels, .fewest = 2, .eager = true, .kinds = {"fit", "free-curve"}}),
            .compute = compute};
}

} // namespace jointer::analyses
