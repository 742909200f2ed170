// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/first_inputs.h"

#include "analyses/analysis.h"

#include <algorithm>
#include <ranges>

namespace jointer::analyses {

namespace {

// Of other datasets, fits of one dataset alone of the model that the first one has.
void giveThoseElsewhere(Analysis& made, const AnalysisKind& kind, const Project& project, const std::vector<DatasetId>& selected) {
    const auto first = made.analyses.empty() ? nullptr : project.analyses.find(made.analyses.front());
    if (!first || first->inputs.size() != 1) return;
    const auto own = first->inputs.front().dataset;
    for (const auto& d : project.datasets) {
        const bool meant = selected.size() < 2 || std::ranges::find(selected, d->id) != selected.end();
        if (d->id == own || !meant || made.analyses.size() == kind.slots.size()) continue;
        const auto there = analysesOf(project, d->id);
        const auto alike = std::ranges::find_if(there | std::views::reverse, [&](const auto& a) {
            return a->kind == first->kind && a->inputs.size() == 1 && a->model.kind == first->model.kind;
        });
        if (alike != (there | std::views::reverse).end()) made.analyses.push_back((*alike)->id);
    }
}

} // namespace

void giveFirstInputs(Analysis& made, const Project& project, const std::vector<DatasetId>& selected) {
    const AnalysisKind* kind = kindOf(made);
    if (!kind || !made.analyses.empty() || made.inputs.empty()) return;
    const auto there = analysesOf(project, made.inputs.front().dataset);
    for (const InputSlot& slot : kind->slots) {
        if (slot.of != "analysis") continue;
        if (slot.elsewhere) return giveThoseElsewhere(made, *kind, project, selected);
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
