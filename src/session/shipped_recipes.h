// SPDX-License-Identifier: GPL-3.0-or-later
// The recipes that come with the program: ordinary ones, in resources/recipes.
#pragma once

#include "session/recipes.h"

namespace jointer {

struct ShippedRecipe {
    std::string key; // never renamed
    Recipe recipe;
};
const std::vector<ShippedRecipe>& shippedRecipes();

// From a file, or by the key of one that comes with the program. Errors: "recipe-file", and those of reading.
Result<Recipe> recipeFor(const std::string& fileOrKey);

} // namespace jointer
