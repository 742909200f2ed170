// SPDX-License-Identifier: GPL-3.0-or-later
// Recipes: made from a dataset of a project, told in sentences, kept as files. What a recipe does with files
// is in recipe_run.h. Pure functions but for the files.
#pragma once

#include "describe/kind.h"
#include "project/edit.h"

#include <filesystem>
#include <map>

namespace jointer {

// What can be set of a recipe: where fits begin, how attributes are found in names, in which order files go.
const KindInfo& recipeSettings();

// Something that hangs on single points of the dataset and so means nothing for another one.
struct LeftBehind {
    StepId step;
    std::string sentence;        // what it is
    std::vector<Choice> rules{}; // what may stand in its place
    std::string rule{};          // the one that does
};

struct RecipeWish {
    std::string name;
    bool figures = true;                   // those that show nothing but what the recipe holds
    std::map<StepId, std::string> rules{}; // in the place of what is left behind
};

struct RecipeDraft {
    Recipe recipe;
    std::vector<LeftBehind> left;
    std::vector<std::string> without; // analyses and figures that are not carried, and why
};

// The way of one dataset: its import rule, steps, analyses and figures. Other datasets that these name become
// inputs to be filled. Errors: "target-gone".
Result<RecipeDraft> makeRecipe(const Project& project, DatasetId dataset, const RecipeWish& wish);

// What a recipe does, in the order in which it does it.
struct RecipeSentence {
    std::string part; // "Reading", "Cleaning", "Analysis", "Figure"
    std::string text, detail;
};
std::vector<RecipeSentence> sentencesOf(const Recipe& recipe);

// Settings that differ from the defaults, as a person reads them: "window 11 points, degree 2".
std::string settingsText(const KindInfo& kind, const Settings& given);

// Files. Errors: "recipe-file".
Result<Recipe> readRecipeFile(const std::filesystem::path& file);
Result<void> writeRecipeFile(const Recipe& recipe, const std::filesystem::path& file);

// The personal library: $JOINTER_RECIPES, else below the user's data folder.
std::filesystem::path personalRecipes();
// All recipes of a folder, by name; files that cannot be read are told. A folder that is not there is empty.
Outcome<std::vector<Recipe>> recipesIn(const std::filesystem::path& folder);
// Under a file name made of its own, in place of one of the same name.
Result<std::filesystem::path> keepIn(const Recipe& recipe, const std::filesystem::path& folder);

namespace edits {
Edit keepRecipe(Recipe recipe); // in place of the one of its id, else of one of the same name
Edit removeRecipe(RecipeId id);
// The dataset that a recipe was made of belongs to what it makes.
Edit takeIntoRun(DatasetId dataset, const std::string& recipe);
} // namespace edits

} // namespace jointer
