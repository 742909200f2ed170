// SPDX-License-Identifier: GPL-3.0-or-later
#include "forty_shells.h"

#include "maker.h"
#include "scanned_shells.h"
#include "session/import.h"
#include "session/recipe_fill.h"

namespace jointer::demo {

namespace {

constexpr int kShells = 40;
constexpr std::uint64_t kSeed = 20310502;

io::ReadResult readShell(const std::pair<std::string, std::string>& file) {
    auto reading = io::read(file.second, file.first, {});
    return reading ? std::move(*reading) : io::ReadResult{};
}

} // namespace

std::vector<std::pair<std::string, std::string>> fortyShellFiles() {
    std::vector<std::pair<std::string, std::string>> out;
    for (int shell = 1; shell <= kShells; ++shell) out.push_back(scannedShell(shell, kSeed));
    return out;
}

Recipe shellRecipe() {
    Maker maker("Shell");
    const auto file = scannedShell(8, kSeed);
    maker.apply(importEdit(readShell(file), {}, nameFromPath(file.first)));
    const DatasetId d = maker.lastDataset();
    maker.apply(edits::addStep(d, "despike", {}, ""));
    Analysis peaks{.kind = "peaks", .inputs = {{.dataset = d}}, .model = {.kind = "lorentzian"}};
    peaks.settings.set("baseline", "polynomial-2");
    peaks.settings.set("count", 4);
    maker.apply(edits::addAnalysis(std::move(peaks)));
    auto draft = makeRecipe(maker.project(), d, {.name = "Bands of a shell"});
    Recipe recipe = draft ? std::move(draft->recipe) : Recipe{};
    recipe.purpose = "Spikes out, four Lorentzian bands on a bowed baseline; site and age from the name of the file";
    recipe.settings.set("pattern", Value(std::string("shell_{site}_{age:d}d")));
    recipe.settings.set("order", Value(std::string("age")));
    return recipe;
}

Project fortyShells() {
    Maker maker("Forty shells");
    maker.apply(edits::keepRecipe(shellRecipe()));
    const Recipe recipe = maker.project().recipes[0];
    for (const auto& file : fortyShellFiles()) {
        auto filled = filledWithData(recipe, readShell(file), file.first);
        if (!filled) continue;
        for (FilledRecipe& one : *filled) maker.apply(edits::joinFilled(recipe, std::move(one), {}));
    }
    return std::move(maker.project());
}

} // namespace jointer::demo
