// SPDX-License-Identifier: GPL-3.0-or-later
// What a problem must be to be fitted, and what was told of its parameters put in order.
#include "base/text.h"
#include "fit/attempt.h"
#include "fit/curve_numbers.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::fit {

namespace {

std::string of(const FitMember& member) {
    return member.name.empty() ? std::string() : " of " + member.name;
}

Result<void> check(const FitMember& member) {
    if (!member.model) return failure("no-model", "Choose a model first.");
    const std::size_t n = member.y.size();
    if (n == 0)
        return failure("no-points",
                       fmt::format("There are no points{} to fit: all are missing, left out or outside the "
                                   "span.",
                                   of(member)));
    if (member.predictors.size() != member.model->predictorCount())
        return failure(
            "predictors",
            fmt::format("The model needs {}, but {} given.",
                        counted(static_cast<long long>(member.model->predictorCount()), "predictor"),
                        member.predictors.size() == 1 ? "one is" : "several are"));
    const bool ragged = std::ranges::any_of(member.predictors, [&](const auto& x) { return x.size() != n; });
    if (ragged || (!member.sigma.empty() && member.sigma.size() != n) ||
        (!member.sigmaX.empty() && member.sigmaX.size() != n))
        return failure("sizes", "The columns of the fit have different lengths.");
    for (double s : member.sigma)
        if (!(s > 0) || !std::isfinite(s))
            return failure("bad-uncertainty", "Each uncertainty used as a weight must be a positive number; "
                                              "leave out the points without one, or fit without weights.");
    if (!member.sigmaX.empty() && member.sigma.empty())
        return failure("no-uncertainty", "Errors in both variables need the uncertainties of y as well as "
                                         "those of x.");
    return {};
}

Result<void> check(const models::DerivedInfo& derived, const models::Model& model) {
    const auto formula = FollowingFormula::read(derived.formula, model);
    if (!formula)
        return failure("formula",
                       fmt::format("{} = {}: {}", derived.name, derived.formula, formula.error().text));
    return {};
}

Result<void> check(const FitProblem& problem) {
    if (problem.members.empty()) return failure("no-points", "There is nothing to fit.");
    for (const FitMember& member : problem.members)
        if (auto good = check(member); !good) return good;
    for (const FitMember& member : problem.members)
        if (member.model->parameters().size() != problem.members[0].model->parameters().size() ||
            member.sigma.empty() != problem.members[0].sigma.empty())
            return failure("members", "The members of a fit take the same model, and all have uncertainties "
                                      "or none.");
    for (const std::vector<std::string>& step : problem.schedule)
        for (const std::string& name : step)
            if (const auto& all = problem.members[0].model->parameters();
                std::ranges::find(all, name, &models::ParameterInfo::name) == all.end())
                return failure("unknown-parameter",
                               fmt::format("A step of release names {}, which the model has not.", name));
    for (const models::DerivedInfo& derived : problem.derive)
        if (auto good = check(derived, *problem.members[0].model); !good) return good;
    return {};
}

// One spec for each parameter of the model, in its order: what was told of all and of this member, within
// where the model has meaning.
Result<Specs> completeSpecs(const FitProblem& problem, const FitMember& member) {
    Specs specs;
    std::vector<std::string> names;
    for (const models::ParameterInfo& info : member.model->parameters()) {
        specs.push_back({.name = info.name, .lower = info.lowest, .upper = info.highest});
        if (!info.tie.empty()) specs.back().treatment = Treatment::Tied, specs.back().tie = info.tie;
        names.push_back(info.name);
    }
    const Specs model = specs;
    for (const auto* list : {&problem.parameters, &member.parameters})
        for (const ParameterSpec& given : *list) {
            const auto at = std::ranges::find(specs, given.name, &ParameterSpec::name);
            if (at == specs.end())
                return failure("unknown-parameter",
                               fmt::format("The model has no parameter called {}; it has {}.", given.name,
                                           joined(names, ", ")));
            if (given.lower > given.upper)
                return failure("limits",
                               fmt::format("The lower limit of {} is above its upper limit.", given.name));
            const ParameterSpec& within = model[static_cast<std::size_t>(at - specs.begin())];
            *at = given;
            if (given.treatment == Treatment::Free) at->treatment = within.treatment, at->tie = within.tie;
            at->lower = std::max(given.lower, within.lower);
            at->upper = std::min(given.upper, within.upper);
        }
    return specs;
}

Result<std::vector<Specs>> completeSpecs(const FitProblem& problem) {
    std::vector<Specs> all;
    for (const FitMember& member : problem.members) {
        auto specs = completeSpecs(problem, member);
        if (!specs) return std::unexpected(specs.error());
        all.push_back(std::move(*specs));
    }
    return all;
}

} // namespace

Result<Fitter> prepare(const FitProblem& problem) {
    if (auto good = check(problem); !good) return std::unexpected(good.error());
    auto specs = completeSpecs(problem);
    if (!specs) return std::unexpected(specs.error());
    auto map = ParameterMap::make(*specs);
    if (!map) return std::unexpected(map.error());
    return Fitter(problem, std::move(*specs), std::move(*map));
}

} // namespace jointer::fit
