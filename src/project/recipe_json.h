// SPDX-License-Identifier: GPL-3.0-or-later
// Recipes as JSON, the same within a project and as a file of its own: what is empty is left out, so that it
// can be read, edited by hand and compared in version control. docs/file-format.md describes it.
#pragma once

#include "project/project_json.h"

namespace jointer {

Json toJson(const Recipe& recipe);

// Missing or ill-typed members take their defaults, as in projects.
Recipe recipeFromJson(const Json& json);

// As a file holds it.
std::string recipeText(const Recipe& recipe);

// Whether it takes data, and names nothing that it does not hold. Errors: "recipe-file".
Result<void> checkRecipe(const Recipe& recipe, const std::string& file = {});

// Of a file from anywhere: everything in it is checked before it is used. Errors: "recipe-file" with the line
// where it is no JSON, is none of ours, is too large or too deep, or names what it does not hold.
Result<Recipe> recipeFromText(std::string_view text, const std::string& file = {});

} // namespace jointer
