// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/specs.h"

#include <algorithm>
#include <cmath>

namespace jointer::fit {

ParameterSpec& specOf(FitProblem& problem, std::size_t member, const std::string& name) {
    std::vector<ParameterSpec>& own = problem.members[member].parameters;
    const auto at = std::ranges::find(own, name, &ParameterSpec::name);
    if (at != own.end()) return *at;
    const auto told = std::ranges::find(problem.parameters, name, &ParameterSpec::name);
    return own.emplace_back(told == problem.parameters.end() ? ParameterSpec{.name = name} : *told);
}

void beginAt(const FitReport& ended, FitProblem& problem) {
    for (std::size_t m = 0; m < problem.members.size(); ++m)
        for (const ParameterResult& p : ended.members[m].parameters) {
            if (p.treatment != Treatment::Free || !std::isfinite(p.value)) continue;
            ParameterSpec& spec = specOf(problem, m, p.name);
            spec.start = std::clamp(p.value, spec.lower, spec.upper);
        }
}

} // namespace jointer::fit
