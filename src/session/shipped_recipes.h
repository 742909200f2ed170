// SPDX-License-Identifier: GPL-3.0-or-later
// The recipes that come with the program: ordinary ones, in resources/recipes.
#pragma once

#include "data/curve.h"
#include "session/recipes.h"

namespace jointer {

struct ShippedRecipe {
    std::string key; // never renamed
    Recipe recipe;
};
const std::vector<ShippedRecipe>& shippedRecipes();

// Those that a dataset looks made for, by the names and units of its axes and how many points there are.
std::vector<const ShippedRecipe*> recipesFor(const AxisMeaning& x, const AxisMeaning& y, bool xIsTime,
                                             std::size_t points);

// From a file, or by the key of one that comes with the program. Errors: "recipe-file", and those of reading.
Result<Recipe> recipeFor(const std::string& fileOrKey);

} // namespace jointer
