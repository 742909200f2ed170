// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/fit_edits.h"

#include "base/text.h"

#include <algorithm>

namespace jointer::analyses {

bool isFitted(const ParameterChoice& choice) {
    return choice.treatment == Treatment::Free || choice.treatment == Treatment::Shared;
}

bool isParameter(const Quantity& quantity) {
    return quantity.state != "derived";
}

ParameterChoice& choiceOf(Analysis& fit, const std::string& name, DatasetId member) {
    const auto at = std::ranges::find_if(
        fit.parameters, [&](const ParameterChoice& p) { return p.name == name && p.member == member; });
    return at != fit.parameters.end()
               ? *at
               : fit.parameters.emplace_back(ParameterChoice{.name = name, .member = member});
}

void holdAtRule(Analysis& fit) {
    for (ParameterChoice& p : fit.parameters)
        if (isFitted(p)) p.start.reset();
    fit.settings.set("hold", Value(true));
}

void holdAtValues(Analysis& fit, const std::vector<Quantity>& reached) {
    const bool several = fit.inputs.size() > 1;
    for (const Quantity& q : reached) {
        if (!isParameter(q)) continue;
        ParameterChoice& p = choiceOf(fit, q.label, several ? q.member : DatasetId{});
        if (isFitted(p)) p.start = q.value;
    }
    fit.settings.set("hold", Value(true));
}

void holdAt(Analysis& fit, const std::string& parameter, double value, const std::vector<Quantity>& told,
            DatasetId dataset) {
    if (!fit.settings.flag("hold"))
        for (const Quantity& q : told) {
            if (!isParameter(q) || (q.member && q.member != dataset)) continue;
            ParameterChoice& p = choiceOf(fit, q.label);
            if (isFitted(p) && !p.start) p.start = q.value;
        }
    choiceOf(fit, parameter).start = value;
    fit.settings.set("hold", Value(true));
}

void recordStep(Analysis& fit, const std::vector<Quantity>& told) {
    std::vector<std::string> free;
    for (const Quantity& q : told) {
        const auto said = std::ranges::find(fit.parameters, q.label, &ParameterChoice::name);
        const bool fitted = said == fit.parameters.end() || isFitted(*said);
        if (isParameter(q) && fitted && std::ranges::find(free, q.label) == free.end())
            free.push_back(q.label);
    }
    RowList steps = fit.settings.rows("schedule");
    const std::string names = joined(free, ", ");
    if (free.empty() || (!steps.empty() && steps.back().text("release") == names)) return;
    steps.emplace_back().set("release", Value(names));
    fit.settings.set("schedule", Value(std::make_shared<const RowList>(std::move(steps))));
}

void takeDatasets(Analysis& fit, const std::vector<DatasetId>& datasets, bool taken) {
    for (const DatasetId id : datasets) {
        if (fit.takes(id) == taken) continue;
        if (taken) {
            AnalysisInput in = fit.inputs.front();
            in.dataset = id;
            fit.inputs.push_back(std::move(in));
            continue;
        }
        std::erase_if(fit.inputs, [&](const AnalysisInput& in) { return in.dataset == id; });
        std::erase_if(fit.parameters, [&](const ParameterChoice& p) { return p.member == id; });
    }
}

} // namespace jointer::analyses
