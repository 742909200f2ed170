// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/fit.h"

#include "fit/inference.h"
#include "fit/quality.h"
#include "fit/robust.h"

#include <algorithm>
#include <cmath>

namespace jointer::fit {

namespace {

constexpr std::string_view kStates[] = {"converged", "on-limit", "undetermined", "not-converged", "stopped"};
constexpr std::string_view kTreatments[] = {"free", "fixed", "tied"};
constexpr std::string_view kLosses[] = {"squares", "huber", "cauchy", "bisquare"};

} // namespace

std::string_view stateKey(FitState s) {
    return kStates[static_cast<int>(s)];
}

FitState stateFromKey(std::string_view key) {
    const auto at = std::ranges::find(kStates, key);
    return at == std::end(kStates) ? FitState::NotConverged : static_cast<FitState>(at - std::begin(kStates));
}

std::string_view treatmentKey(Treatment t) {
    return kTreatments[static_cast<int>(t)];
}

Treatment treatmentFromKey(std::string_view key) {
    const auto at = std::ranges::find(kTreatments, key);
    return at == std::end(kTreatments) ? Treatment::Free
                                       : static_cast<Treatment>(at - std::begin(kTreatments));
}

std::string_view stateText(FitState s) {
    static constexpr std::string_view texts[] = {"converged", "on a limit", "undetermined", "not converged",
                                                 "stopped"};
    return texts[static_cast<int>(s)];
}

std::string_view lossKey(Loss loss) {
    return kLosses[static_cast<int>(loss)];
}

std::vector<double> MemberReport::values() const {
    std::vector<double> v;
    for (const ParameterResult& p : parameters) v.push_back(p.value);
    return v;
}

std::vector<double> FitReport::values() const {
    std::vector<double> all;
    for (const MemberReport& member : members) std::ranges::move(member.values(), std::back_inserter(all));
    return all;
}

namespace {

// At the values of the parameters.
void fillResiduals(const FitMember& from, std::span<const double> values, MemberReport& to) {
    const std::vector<std::span<const double>> xs(from.predictors.begin(), from.predictors.end());
    to.fitted.resize(from.y.size());
    from.model->evaluate(xs, values, to.fitted);
    to.residuals.resize(from.y.size());
    for (std::size_t i = 0; i < from.y.size(); ++i) to.residuals[i] = from.y[i] - to.fitted[i];
}

} // namespace

void fillResiduals(const FitProblem& problem, FitReport& report) {
    for (std::size_t m = 0; m < report.members.size(); ++m)
        fillResiduals(problem.members[m], report.members[m].values(), report.members[m]);
}

std::size_t FitProblem::observationCount() const {
    std::size_t n = 0;
    for (const FitMember& member : members) n += member.y.size();
    return n;
}

namespace {

// The sum of squares of a member, as distances where x has errors too.
double sumOf(const FitMember& member, const MemberReport& report, const Fitter& fitter, const Attempt& a,
             std::size_t m) {
    if (!member.sigmaX.empty()) return fitter.weightedResiduals(a.values)[m].squaredNorm();
    double sum = 0;
    for (std::size_t i = 0; i < member.y.size(); ++i) {
        const double r = report.residuals[i] / (member.sigma.empty() ? 1 : member.sigma[i]);
        sum += r * r;
    }
    return sum;
}

void fillMembers(const Fitter& fitter, const Attempt& a, FitReport& report) {
    const std::size_t count = fitter.map().parameters();
    for (std::size_t m = 0; m < report.members.size(); ++m) {
        MemberReport& member = report.members[m];
        member.name = fitter.problem().members[m].name;
        member.n = fitter.problem().members[m].y.size();
        const auto start = a.start.begin() + static_cast<std::ptrdiff_t>(m * count);
        member.starts.assign(start, start + static_cast<std::ptrdiff_t>(count));
        fillResiduals(fitter.problem().members[m], std::span(a.values).subspan(m * count, count), member);
        member.rss = sumOf(fitter.problem().members[m], member, fitter, a, m);
    }
}

} // namespace

Result<FitReport> fit(const FitProblem& problem, const FitOptions& options, const Cancellation& stop) {
    if (!(options.level > 0 && options.level < 1))
        return failure("level", "The level of intervals lies between 0 and 1, such as 0.95.");
    auto prepared = prepare(problem);
    if (!prepared) return std::unexpected(prepared.error());
    Fitter& fitter = *prepared;
    Search search = sought(fitter, options, stop);
    FitReport report{.state = search.best.state,
                     .provisional = options.provisional,
                     .iterations = search.best.solved.iterations,
                     .restarts = search.restarts,
                     .n = problem.observationCount(),
                     .members = std::vector<MemberReport>(problem.members.size()),
                     .rss = search.best.solved.rss,
                     .level = options.level};
    const bool robust = problem.loss != Loss::Squares && options.maxIterations > 0;
    Reweighted reweighted;
    if (robust) {
        reweighted = reweigh(fitter, search.best, options, stop);
        report.state = search.best.state;
        report.scale = reweighted.scale;
        report.rss = reweighted.rss;
        fitter.setLossWeights({});
        search.best.solved.jacobian.clear(); // it had the weights of the loss
    }
    fillMembers(fitter, search.best, report);
    report.stages = std::move(search.stages);
    report.ends = std::move(search.ends);
    addQuality(report, fitter, search.best.unseen.cols());
    if (options.provisional) {
        fillValues(fitter, search.best, report);
        return report;
    }
    if (robust)
        inferRobustly(fitter, search.best, reweighted, report);
    else
        infer(fitter, search.best, report);
    if (search.separate && !robust) addComparison(report, *search.separate);
    markRunaways(report, fitter.isLinear());
    addWarnings(report, problem, fitter.isLinear());
    return report;
}

Result<std::vector<double>> attempted(const FitProblem& problem, const FitOptions& options,
                                      const Cancellation& stop) {
    const auto prepared = prepare(problem);
    if (!prepared) return std::unexpected(prepared.error());
    FitOptions once = options;
    once.restarts = false;
    return sought(*prepared, once, stop).best.values;
}

} // namespace jointer::fit
