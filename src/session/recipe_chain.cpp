// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/recipe_chain.h"

#include "session/recipe_run.h"
#include "session/trend.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>

namespace jointer {

namespace {

// By the recipe's analyses of the data: what those of a dataset have reached that go its way, of each kind in their
// order.
Reached reachedBy(const Recipe& recipe, const Project& project, DatasetId dataset, evaluate::Evaluator& evaluator,
                  const Cancellation& stop) {
    Reached out;
    std::map<std::string, std::size_t> seen;
    for (const auto& a : analysesOf(*recipe.parts, recipe.inputs.front().dataset)) {
        auto mine = analysesOf(project, dataset);
        std::erase_if(mine, [&](const auto& other) { return other->kind != a->kind; });
        if (const std::size_t k = seen[a->kind]++; k < mine.size())
            out[a->id] = evaluator.analysis(project, *mine[k], {.stop = stop});
    }
    return out;
}

} // namespace

void sortInOrder(const Recipe& recipe, std::vector<DatasetId>& datasets, const Project& project) {
    const std::string by = recipeSettings().text(recipe.settings, "order");
    if (by.empty()) return;
    const auto valueOf = [&](DatasetId id) {
        const auto d = project.datasets.find(id);
        std::vector<Attribute> attributes = d ? d->attributes : std::vector<Attribute>();
        if (d) takeFromName(recipe, d->name, attributes);
        const auto number = numberOf(attributes, by);
        return number ? number->first : INFINITY;
    };
    std::ranges::stable_sort(datasets, {}, valueOf);
}

Result<std::vector<Edit>> runInTurn(const Recipe& recipe, const std::vector<DatasetId>& datasets,
                                    const Project& project, const InputDatasets& inputs,
                                    evaluate::Evaluator& evaluator, const Cancellation& stop) {
    std::vector<Edit> out;
    const bool chained = isChained(recipe);
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
            Recipe further = recipe;
            further.parts = std::make_shared<const Project>(begunAt(*recipe.parts, *before));
            Edit begun = edits::applyRecipe(further, id, inputs);
            auto other = begun.apply(now);
            if (!other) return std::unexpected(other.error());
            if (goesOnWith(*other, recipe, *next, id, evaluator, stop)) {
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
