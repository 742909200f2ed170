// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/fit_analysis.h"

#include "analyses/fit_taking.h"
#include "analyses/fit_telling.h"
#include "base/text.h"
#include "fit/bootstrap.h"
#include "fit/profile.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <set>

namespace jointer::analyses {

namespace {

constexpr std::size_t kQuickPoints = 1000; // of a provisional fit

bool isHeld(const Analysis& analysis) {
    return analysis.settings.flag("hold");
}

// Every so many observations, at most about `most`.
fit::FitMember thinned(const fit::FitMember& all, std::size_t most) {
    const std::size_t stride = std::max<std::size_t>(1, all.y.size() / most);
    auto some = [&](const std::vector<double>& list) {
        std::vector<double> out;
        for (std::size_t i = 0; i < list.size(); i += stride) out.push_back(list[i]);
        return out;
    };
    fit::FitMember few = all;
    for (auto& column : few.predictors) column = some(column);
    few.y = some(all.y);
    few.sigma = some(all.sigma);
    few.sigmaX = some(all.sigmaX);
    return few;
}

// The free parameters of each member begin where they last stood.
void startAt(const std::vector<double>& values, fit::FitProblem& problem) {
    const auto& infos = problem.members[0].model->parameters();
    if (values.size() != infos.size() * problem.members.size()) return;
    for (std::size_t m = 0; m < problem.members.size(); ++m)
        for (std::size_t k = 0; k < infos.size(); ++k) {
            auto named = [&](std::vector<fit::ParameterSpec>& list) {
                return std::ranges::find(list, infos[k].name, &fit::ParameterSpec::name);
            };
            auto& own = problem.members[m].parameters;
            auto at = named(own);
            if (at == own.end()) {
                const auto told = named(problem.parameters);
                at = own.insert(own.end(), told == problem.parameters.end()
                                               ? fit::ParameterSpec{.name = infos[k].name}
                                               : *told);
            }
            if (at->treatment == fit::Treatment::Free)
                at->start = std::clamp(values[m * infos.size() + k], at->lower, at->upper);
        }
}

// A picture while dragging: a few iterations on thinned points from where the last fit stood.
Result<fit::FitReport> quickly(const fit::FitProblem& problem, fit::FitOptions options,
                               const std::vector<double>& lastValues, const Cancellation& stop) {
    fit::FitProblem few = problem;
    const std::size_t each = std::max<std::size_t>(20, kQuickPoints / problem.members.size());
    for (fit::FitMember& member : few.members) member = thinned(member, each);
    startAt(lastValues, few);
    options.provisional = true;
    auto report = fit::fit(few, options, stop);
    if (!report) return report;
    fit::fillResiduals(problem, *report);
    return report;
}

} // namespace

fit::FitOptions optionsOf(const Analysis& analysis) {
    return {.level = fitSettings().number(analysis.settings, "level"),
            .maxIterations = fitSettings().integer(analysis.settings, "iterations"),
            .starts = fitSettings().integer(analysis.settings, "starts"),
            .seed = static_cast<std::uint64_t>(fitSettings().integer(analysis.settings, "seed"))};
}

Result<fit::FitReport> begun(const fit::FitProblem& problem, fit::FitOptions options, int iterations,
                             const Cancellation& stop) {
    options.maxIterations = iterations;
    options.provisional = true;
    return fit::fit(problem, options, stop);
}

std::vector<Issue> intervalsOf(const Task& task, const FitTaken& taken, FitDetail& detail) {
    const std::string interval = fitSettings().text(task.spec.settings, "interval");
    if (interval == "profile") {
        fit::Profiled profiled = fit::profile(taken.problem, detail.report, true, task.stop);
        detail.profiles = std::move(profiled.curves);
        return std::move(profiled.warnings);
    }
    if (interval != "bootstrap") return {};
    const std::string how = fitSettings().text(task.spec.settings, "resampling");
    const fit::BootstrapOptions options{
        .resampling = how == "cases"        ? fit::Resampling::Cases
                      : how == "parametric" ? fit::Resampling::Parametric
                                            : fit::Resampling::Residuals,
        .count = fitSettings().integer(task.spec.settings, "repetitions"),
        .seed = static_cast<std::uint64_t>(fitSettings().integer(task.spec.settings, "seed"))};
    return fit::bootstrap(taken.problem, detail.report, options, task.stop);
}

namespace {

AnalysisResult told(const Task& task, std::shared_ptr<FitDetail> detail) {
    return toldOf(std::move(detail), task, isHeld(task.spec));
}

std::shared_ptr<const FitTaken> takenOf(const Taken& taken) {
    return std::static_pointer_cast<const FitTaken>(taken.value);
}

Result<AnalysisResult> compute(const Task& task, const Taken& given) {
    const auto taken = takenOf(given);
    const fit::FitOptions options = optionsOf(task.spec);
    const fit::FitProblem& problem = taken->problem;
    auto report = isHeld(task.spec)                     ? begun(problem, options, 0, task.stop)
                  : task.effort == Effort::OneIteration ? begun(problem, options, 1, task.stop)
                  : task.effort == Effort::Provisional ? quickly(problem, options, task.lastValues, task.stop)
                                                       : fit::fit(problem, options, task.stop);
    if (!report) return std::unexpected(report.error());
    auto detail = std::make_shared<FitDetail>();
    detail->taken = taken;
    detail->report = std::move(*report);
    if (task.effort == Effort::Full && !isHeld(task.spec))
        std::ranges::move(intervalsOf(task, *taken, *detail), std::back_inserter(detail->report.warnings));
    auto result = told(task, std::move(detail));
    if (isHeld(task.spec)) result.whole = true; // it is what was asked for
    return result;
}

std::string text(const AnalysisResult& result) {
    const FitDetail* detail = fitDetail(result);
    // Curves of profiles are not kept: such a fit is computed again.
    return detail && detail->profiles.empty() ? reportText(detail->report) : std::string();
}

Result<AnalysisResult> fromText(const std::string& stored, const Task& task, const Taken& given) {
    const auto taken = takenOf(given);
    auto report = reportFromText(stored, taken->problem);
    if (!report) return std::unexpected(report.error());
    auto detail = std::make_shared<FitDetail>();
    detail->taken = taken;
    detail->report = std::move(*report);
    return told(task, std::move(detail));
}

std::vector<double> values(const AnalysisResult& result) {
    const FitDetail* detail = fitDetail(result);
    return detail ? detail->report.values() : std::vector<double>();
}

} // namespace

const FitDetail* fitDetail(const AnalysisResult& result) {
    return dynamic_cast<const FitDetail*>(result.kept.get());
}

std::optional<fit::FitProblem> joinedProblem(const std::vector<const FitDetail*>& fits) {
    fit::FitProblem out = fits.front()->taken->problem;
    if (fits.size() == 1) return out;
    out.members.clear();
    out.parameters.clear();
    for (const FitDetail* f : fits) {
        const fit::FitProblem& own = f->taken->problem;
        if (own.absolute != out.absolute || own.loss != out.loss) return {};
        for (fit::FitMember m : own.members) {
            for (const fit::ParameterSpec& p : own.parameters)
                if (std::ranges::find(m.parameters, p.name, &fit::ParameterSpec::name) == m.parameters.end())
                    m.parameters.push_back(p);
            out.members.push_back(std::move(m));
        }
    }
    return out;
}

AnalysisKind fitAnalysis() {
    return {.info = fitSettings(),
            .slots = {{.key = "datasets", .label = "Datasets", .of = "dataset", .most = 100000}},
            .take = takeFit,
            .compute = compute,
            .text = text,
            .fromText = fromText,
            .values = values,
            .name = [](const Analysis& spec) { return modelName(spec.model); },
            .givesCurve = true};
}

} // namespace jointer::analyses
