// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/shipped_recipes.h"

#include "base/text.h"
#include "project/recipe_json.h"

#include <algorithm>

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
JOINTER_RECIPE(jointer_recipe_scattering, "scattering-sizes.json")

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
        add("scattering-sizes", jointer_recipe_scattering, jointer_recipe_scattering_end);
        return list;
    }();
    return all;
}

namespace {

// What tells a kind of measurement: words in the names of x and y, and units of x.
struct Sign {
    const char* key;
    std::vector<std::string> x, xUnits, y;
    std::size_t fewest, most; // points
};

const std::vector<Sign>& signs() {
    constexpr std::size_t kMany = static_cast<std::size_t>(-1);
    static const std::vector<Sign> all = {
        {"diffraction-lines",
         {"2theta", "2θ", "two theta", "two_theta", "2-theta", "twotheta", "2 theta"},
         {},
         {},
         60,
         kMany},
        {"photoelectron-region", {"binding energy", "kinetic energy"}, {}, {}, 30, kMany},
        {"vibration-bands",
         {"wavenumber", "raman", "shift"},
         {"cm-1", "1/cm", "cm^-1", "cm^{-1}", "cm⁻¹"},
         {},
         60,
         kMany},
        {"chromatogram",
         {"retention", "elution"},
         {},
         {"mau", "absorbance", "detector", "signal (mau)"},
         100,
         kMany},
        {"scattering-sizes",
         {},
         {"1/Å", "1/a", "Å^-1", "Å^{-1}", "Å⁻¹", "1/nm", "nm^-1", "nm^{-1}", "nm⁻¹"},
         {},
         20,
         kMany},
        {"dose-response",
         {"dose", "concentration", "conc"},
         {},
         {"response", "effect", "inhibition", "survival", "viability"},
         5,
         200}};
    return all;
}

bool holdsOne(const std::string& text, const std::vector<std::string>& words) {
    return std::ranges::any_of(words, [&](const std::string& w) { return text.find(w) != text.npos; });
}

} // namespace

std::vector<const ShippedRecipe*> recipesFor(const AxisMeaning& x, const AxisMeaning& y, bool xIsTime,
                                             std::size_t points) {
    const std::string xName = lowerAscii(x.name), yName = lowerAscii(y.name), unit = lowerAscii(x.unit);
    const std::string yUnit = lowerAscii(y.unit);
    std::vector<std::string> keys;
    for (const Sign& s : signs()) {
        if (points < s.fewest || points > s.most) continue;
        const bool byUnit = std::ranges::count(s.xUnits, unit) > 0;
        const bool byName = holdsOne(xName, s.x) && (s.xUnits.empty() || byUnit || unit.empty());
        const bool timed =
            s.key == std::string_view("chromatogram") && (unit == "min" || xName.starts_with("time"));
        const bool byY = timed && (holdsOne(yName, s.y) || yUnit == "mau");
        if (byUnit || byName || byY) keys.emplace_back(s.key);
    }
    if (xIsTime && points > 50) keys.emplace_back("logger-series");
    std::vector<const ShippedRecipe*> out;
    for (const std::string& key : keys)
        for (const ShippedRecipe& r : shippedRecipes())
            if (r.key == key) out.push_back(&r);
    return out;
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
