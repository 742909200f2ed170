// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/shipped_recipes.h"

#include "base/text.h"
#include "project/recipe_json.h"

#include <cassert>

// The files become part of the program.
#define JOINTER_RECIPE(symbol, file)                                                                         \
    __asm__(".section .rodata\n" #symbol ":\n.incbin \"" JOINTER_RESOURCES "/recipes/" file "\"\n" #symbol   \
            "_end:\n.byte 0\n.previous\n");                                                                  \
    extern "C" const char symbol[];                                                                          \
    extern "C" const char symbol##_end[];

JOINTER_RECIPE(jointer_recipe_bands, "vibration-bands.json")
JOINTER_RECIPE(jointer_recipe_lines, "diffraction-lines.json")
JOINTER_RECIPE(jointer_recipe_region, "photoelectron-region.json")
JOINTER_RECIPE(jointer_recipe_chromatogram, "chromatogram.json")
JOINTER_RECIPE(jointer_recipe_dose, "dose-response.json")
JOINTER_RECIPE(jointer_recipe_logger, "logger-series.json")

namespace jointer {

const std::vector<ShippedRecipe>& shippedRecipes() {
    static const std::vector<ShippedRecipe> all = [] {
        std::vector<ShippedRecipe> list;
        const auto add = [&](const char* key, const char* begin, const char* end) {
            if (auto recipe = recipeFromText({begin, end}, key)) list.push_back({key, std::move(*recipe)});
        };
        add("vibration-bands", jointer_recipe_bands, jointer_recipe_bands_end);
        add("diffraction-lines", jointer_recipe_lines, jointer_recipe_lines_end);
        add("photoelectron-region", jointer_recipe_region, jointer_recipe_region_end);
        add("chromatogram", jointer_recipe_chromatogram, jointer_recipe_chromatogram_end);
        add("dose-response", jointer_recipe_dose, jointer_recipe_dose_end);
        add("logger-series", jointer_recipe_logger, jointer_recipe_logger_end);
        return list;
    }();
    return all;
}

Result<Recipe> recipeFor(const std::string& fileOrKey) {
    std::error_code error;
    if (!std::filesystem::exists(fileOrKey, error))
        for (const ShippedRecipe& r : shippedRecipes())
            if (r.key == fileOrKey) return r.recipe;
    auto recipe = readRecipeFile(fileOrKey);
    if (recipe) return recipe;
    if (std::filesystem::exists(fileOrKey, error)) return recipe;
    std::vector<std::string> keys;
    for (const ShippedRecipe& r : shippedRecipes()) keys.push_back(r.key);
    return failure("recipe-file",
                   "There is no such recipe file; those that come with the program are " +
                       joined(keys, ", ") + ".",
                   {.file = fileOrKey});
}

} // namespace jointer
