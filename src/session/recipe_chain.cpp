// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/recipe_chain.h"

#include "analyses/begin_again.h"
#include "base/text.h"
#include "session/recipe_run.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>

namespace jointer {

namespace {

using Reached = std::vector<evaluate::AnalysisOutcome>; // of the recipe's analyses of the data, in their order

// Those of a dataset that go the way of the recipe: of each kind in their order.
Reached reachedBy(const Recipe& recipe, const Project& project, DatasetId dataset, evaluate::Evaluator& evaluator,
                  const Cancellation& stop) {
    Reached out;
    std::map<std::string, std::size_t> seen;
    for (const auto& a : analysesOf(*recipe.parts, recipe.inputs.front().dataset)) {
        auto mine = analysesOf(project, dataset);
        std::erase_if(mine, [&](const auto& other) { return other->kind != a->kind; });
        const std::size_t k = seen[a->kind]++;
        out.push_back(k < mine.size() ? evaluator.analysis(project, *mine[k], {.stop = stop})
                                      : evaluate::AnalysisOutcome{.result = failure("none", "")});
    }
    return out;
}

Recipe begunAt(const Recipe& recipe, const Reached& reached) {
    Recipe out = recipe;
    Project parts = *recipe.parts;
    std::size_t k = 0;
    for (const auto& a : analysesOf(*recipe.parts, recipe.inputs.front().dataset)) {
        const evaluate::AnalysisOutcome& last = reached[k++];
        if (!last.good()) continue;
        Analysis begun = *a;
        analyses::beginAt(begun, *last);
        parts.analyses = parts.analyses.with(std::move(begun));
    }
    out.parts = std::make_shared<const Project>(std::move(parts));
    return out;
}

} // namespace

void sortInOrder(const Recipe& recipe, std::vector<DatasetId>& datasets, const Project& project) {
    const std::string by = recipeSettings().text(recipe.settings, "order");
    if (by.empty()) return;
    const auto valueOf = [&](DatasetId id) -> double {
        if (const auto d = project.datasets.find(id))
            for (const Attribute& a : d->attributes)
                if (a.name == by) return parseNumber(trimmed(a.value)).value_or(INFINITY);
        return INFINITY;
    };
    std::ranges::stable_sort(datasets, {}, valueOf);
}

Result<std::vector<Edit>> runInTurn(const Recipe& recipe, const std::vector<DatasetId>& datasets,
                                    const Project& project, const InputDatasets& inputs,
                                    evaluate::Evaluator& evaluator, const Cancellation& stop) {
    std::vector<Edit> out;
    const bool chained = isChained(recipe);
    const bool better = recipeSettings().text(recipe.settings, "starts") == "better";
    Project now = project;
    std::optional<Reached> before;
    for (const DatasetId id : datasets) {
        if (stop.stop_requested()) break;
        Edit plain = edits::applyRecipe(recipe, id, inputs);
        if (!chained) {
            out.push_back(std::move(plain));
            continue;
        }
        auto next = plain.apply(now);
        if (!next) return std::unexpected(next.error());
        if (before) {
            Edit begun = edits::applyRecipe(begunAt(recipe, *before), id, inputs);
            auto other = begun.apply(now);
            if (!other) return std::unexpected(other.error());
            if (!better ||
                standingOf(*other, id, evaluator, stop) < standingOf(*next, id, evaluator, stop)) {
                plain = std::move(begun);
                next = std::move(other);
            }
        }
        now = std::move(*next);
        before = reachedBy(recipe, now, id, evaluator, stop);
        out.push_back(std::move(plain));
    }
    return out;
}

} // namespace jointer
