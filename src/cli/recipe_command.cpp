// SPDX-License-Identifier: GPL-3.0-or-later
// `recipe`: one made from a dataset of a project, or told in sentences.
#include "base/text.h"
#include "cli/commands.h"
#include "session/session.h"
#include "session/shipped_recipes.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>
#include <iostream>
#include <nlohmann/json.hpp>

namespace jointer::cli {

using Json = nlohmann::ordered_json;

namespace {

class RecipeCommand final : public Command {
public:
    std::string name() const override { return "recipe"; }
    std::string purpose() const override { return "Tell a recipe in sentences, or make one from a dataset"; }

    void declare(CLI::App& app) override {
        app.add_option("source", source_,
                       "Recipe file, key of one that comes with the program, or with --dataset a project");
        app.add_option("--dataset", dataset_, "The dataset whose way becomes a recipe");
        app.add_option("--name", called_, "How the recipe is called; else as the dataset");
        app.add_option("--to", to_, "File to write the recipe to");
        app.add_flag("--json", json_, "As JSON");
    }

    int run() override {
        if (source_.empty()) return list();
        if (dataset_.empty()) {
            const auto recipe = recipeFor(source_);
            if (!recipe) return fail(recipe.error(), CannotRead);
            return tell({*recipe, {}, {}});
        }
        const auto opened = session_.open(source_);
        if (!opened) return fail(opened.error(), CannotRead);
        const Project& p = session_.project();
        std::vector<std::string> names;
        for (const auto& d : p.datasets) {
            names.push_back("“" + d->name + "”");
            if (d->name != dataset_) continue;
            const auto draft = makeRecipe(p, d->id, {.name = called_.empty() ? d->name : called_});
            return draft ? tell(*draft) : fail(draft.error(), Failed);
        }
        return fail({"no-dataset",
                     fmt::format("There is no dataset called “{}”; the project has {}.", dataset_,
                                 names.empty() ? "none" : joined(names, ", ")),
                     {.file = source_}},
                    WrongUsage);
    }

private:
    int list() {
        Json all = Json::array();
        for (const ShippedRecipe& r : shippedRecipes()) {
            all.push_back({{"key", r.key}, {"name", r.recipe.name}, {"purpose", r.recipe.purpose}});
            if (!json_) std::cout << fmt::format("{:<24} {}\n", r.key, r.recipe.purpose);
        }
        if (json_) print({{"recipes", all}});
        return Done;
    }

    int tell(const RecipeDraft& draft) {
        if (!to_.empty())
            if (const auto good = writeRecipeFile(draft.recipe, to_); !good)
                return fail(good.error(), CannotWrite);
        Json sentences = Json::array(), left = Json::array(), inputs = Json::array();
        for (const RecipeSentence& s : sentencesOf(draft.recipe)) {
            sentences.push_back({{"part", s.part}, {"text", s.text}, {"detail", s.detail}});
            if (!json_)
                std::cout << fmt::format("{:<9} {}{}\n", s.part, s.text,
                                         s.detail.empty() ? "" : " " + s.detail);
        }
        for (const LeftBehind& l : draft.left) left.push_back(l.sentence);
        for (const std::string& w : draft.without) left.push_back(w);
        for (const RecipeInput& in : draft.recipe.inputs) inputs.push_back(in.name);
        if (json_)
            print({{"name", draft.recipe.name},
                   {"inputs", inputs},
                   {"sentences", sentences},
                   {"not_carried", left}});
        for (const Json& l : left) std::cerr << "Not carried over: " << l.get<std::string>() << '\n';
        return left.empty() ? Done : DoneWithWarnings;
    }

    std::string source_, dataset_, called_, to_;
    bool json_ = false;
    Session session_;
};

} // namespace

std::unique_ptr<Command> recipeCommand() {
    return std::make_unique<RecipeCommand>();
}

} // namespace jointer::cli
