// SPDX-License-Identifier: GPL-3.0-or-later
// A recipe over datasets of a project, one after the other: of a chained one the fits of each begin where those of
// the one before ended.
#pragma once

#include "evaluate/evaluator.h"
#include "session/recipe_fill.h"

namespace jointer {

// In the order of the attribute that the recipe names, those without a number of it last.
void sortInOrder(const Recipe& recipe, std::vector<DatasetId>& datasets, const Project& project);

// One edit for each dataset, in turn. A chained recipe computes each before the next is begun; stopped, it gives
// those that it has. Errors: those of edits::applyRecipe.
Result<std::vector<Edit>> runInTurn(const Recipe& recipe, const std::vector<DatasetId>& datasets,
                                    const Project& project, const InputDatasets& inputs,
                                    evaluate::Evaluator& evaluator, const Cancellation& stop = {});

} // namespace jointer
