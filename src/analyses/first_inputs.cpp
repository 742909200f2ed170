// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/first_inputs.h"

#include "analyses/analysis.h"

#include <algorithm>
#include <ranges>

namespace jointer::analyses {

void giveFirstInputs(Analysis& made, const Project& project) {
    const AnalysisKind* kind = kindOf(made);
    if (!kind || !made.analyses.empty() || made.inputs.empty()) return;
    const auto there = analysesOf(project, made.inputs.front().dataset);
    for (const InputSlot& slot : kind->slots) {
        if (slot.of != "analysis") continue;
        const auto serves = [&](const auto& a) {
            const bool free = std::ranges::find(made.analyses, a->id) == made.analyses.end();
            return free && slot.takes(a->kind);
        };
        const auto last = std::ranges::find_if(there | std::views::reverse, serves);
        if ((slot.fewest == 0 && !slot.eager) || last == (there | std::views::reverse).end()) return;
        made.analyses.push_back((*last)->id);
    }
}

} // namespace jointer::analyses
