// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/recipes.h"

#include "analyses/peaks/peaks.h"
#include "base/files.h"
#include "base/text.h"
#include "describe/setting_makers.h"
#include "evaluate/evaluator.h"
#include "io/reader.h"
#include "models/catalogue.h"
#include "project/change_each.h"
#include "project/recipe_json.h"
#include "session/library.h"
#include "steps/step.h"

#include <algorithm>
#include <fmt/format.h>

namespace jointer {

namespace fs = std::filesystem;

const KindInfo& recipeSettings() {
    using namespace describe;
    static const KindInfo kind{
        .key = "recipe",
        .name = "Recipe",
        .purpose = "The same way for many files",
        .settings = {
            choice("starts", "Start values",
                   {{"recipe", "of the recipe"},
                    {"previous", "from the file before"},
                    {"better", "the better of both"}},
                   "Where the fits of each file begin. From the file before: where its fits ended, so that "
                   "what drifts is followed; then the files run one after the other."),
            made(SettingKind::Text, "pattern", "Attributes from names", Value(std::string()),
                 "How file names tell attributes, such as shell_{site}_{age:d}; a * stands for what does not "
                 "matter.",
                 {}),
            made(SettingKind::Text, "order", "In order of", Value(std::string()),
                 "The attribute by which the files follow each other; empty: by their names.", {}),
            made(SettingKind::Text, "watch", "Watched folder", Value(std::string()),
                 "Where files came from last; never begun by itself.", {.hidden = true})}};
    return kind;
}

namespace {

// "How many" → "how many"; what stands in capitals stays.
std::string lowerFirst(std::string label) {
    const auto isUpper = [&](std::size_t i) {
        return i < label.size() && label[i] >= 'A' && label[i] <= 'Z';
    };
    if (isUpper(0) && !isUpper(1)) label[0] = static_cast<char>(label[0] - 'A' + 'a');
    return label;
}

} // namespace

std::string settingsText(const KindInfo& kind, const Settings& given) {
    std::vector<std::string> said;
    for (const Setting& s : kind.settings) {
        const Value* value = given.find(s.key);
        if (!value || std::holds_alternative<std::monostate>(*value) || s.key == "watch") continue;
        if (s.kind == SettingKind::Reference || s.kind == SettingKind::References) continue;
        const bool placed = s.hidden && s.kind == SettingKind::Points; // on the plot
        if (!placed && !isShown(kind, s, given)) continue;
        std::string text;
        if (s.kind == SettingKind::Points) {
            const auto* flat = std::get_if<Numbers>(value);
            text = counted(flat ? std::ssize(*flat) / 2 : 0, "point");
        } else
            text = valueText(s, *value);
        const bool hasUnit = !s.unit.empty() && s.unit != "x" && s.unit != "y" && s.unit != "points";
        said.push_back(lowerFirst(s.label) + ": " + text + (hasUnit ? " " + s.unit : ""));
    }
    return joined(said, ", ");
}

namespace {

class Telling {
public:
    explicit Telling(const Recipe& recipe) : recipe_(recipe), parts_(*recipe.parts) {}

    std::vector<RecipeSentence> run() {
        for (const RecipeInput& in : recipe_.inputs) tellInput(in);
        for (const auto& d : parts_.datasets) tellSteps(*d);
        for (const auto& a : parts_.analyses) tellAnalysis(*a);
        for (const auto& f : parts_.figures)
            add("Figure", "Draw “" + f->name + "”.", counted(std::ssize(f->elements), "element"));
        if (!recipe_.settings.empty()) add("Run", settingsText(recipeSettings(), recipe_.settings) + ".", {});
        return std::move(out_);
    }

private:
    void add(std::string part, std::string text, std::string detail) {
        out_.push_back({std::move(part), std::move(text), std::move(detail)});
    }
    // Whose step or analysis it is, where that is not the data.
    std::string of(DatasetId id) const {
        if (recipe_.inputs.empty() || recipe_.inputs.front().dataset == id) return {};
        for (const RecipeInput& in : recipe_.inputs)
            if (in.dataset == id) return " of “" + in.name + "”";
        const auto d = parts_.datasets.find(id);
        return d ? " of “" + d->name + "”" : std::string();
    }

    void tellInput(const RecipeInput& in) {
        const auto d = parts_.datasets.find(in.dataset);
        const auto t = d ? parts_.tables.find(d->source.table) : nullptr;
        if (!d) return;
        std::vector<std::string> columns;
        for (const RoleBinding& b : d->source.roles)
            if (const Column* c = t ? t->find(b.column) : nullptr)
                columns.push_back(std::string(roleLabel(b.role)) +
                                  (c->name.empty() ? " as it is found" : " from “" + c->name + "”"));
        add("Reading",
            fmt::format("Take “{}”{}{}.", in.name, columns.empty() ? "" : ": ", joined(columns, ", ")),
            t ? readingText(*t) : std::string());
        if (!t) return;
        for (const Column& c : t->columns)
            if (!c.formula.empty())
                add("Reading", fmt::format("Compute “{}”.", c.name),
                    evaluate::formulaShown(c.formula, *t, &parts_));
    }
    static std::string readingText(const Table& t) {
        const auto json = Json::parse(t.origin.reading, nullptr, false);
        if (!json.is_object() || json.empty()) return "read as it is found";
        KindInfo all{.key = "reading", .name = "Reading", .purpose = {}, .settings = io::readerSettings()};
        const std::string text = settingsText(all, settingsFromJson(json));
        return text.empty() ? "read as it is found" : text;
    }

    void tellSteps(const Dataset& d) {
        for (const Step& s : d.protocol) {
            const steps::StepKind* kind = steps::catalogue().find(s.kind);
            std::string text = (kind ? kind->info.name : s.kind) + of(d.id);
            std::vector<std::string> with;
            if (kind)
                for (const std::string& id : steps::datasetsNamed(kind->info, s.settings))
                    if (const auto other = parts_.datasets.find(DatasetId::fromText(id)))
                        with.push_back("“" + other->name + "”");
            if (!with.empty()) text += " with " + joined(with, ", ");
            add("Cleaning", text + (s.on ? "." : " (switched off)."),
                kind ? settingsText(kind->info, s.settings) : "unknown to this version");
        }
    }

    void tellAnalysis(const Analysis& a) {
        const analyses::AnalysisKind* kind = analyses::kindOf(a);
        std::vector<std::string> details;
        const std::string shape = a.kind == "peaks" ? analyses::commonShape(a) : a.model.kind;
        if (const models::ModelKind* model = models::catalogue().find(shape)) {
            const std::string equation = a.model.settings.text("equation");
            details.push_back(equation.empty() ? model->info.name : equation);
        }
        const DatasetId first = a.inputs.empty() ? DatasetId{} : a.inputs.front().dataset;
        if (a.kind == "peaks")
            details.push_back("baseline: " +
                              valueText(*analyses::peaksSettings().find("baseline"),
                                        analyses::peaksSettings().value(a.settings, "baseline")));
        if (!a.inputs.empty()) details.push_back(analyses::spanText(a.inputs.front().span));
        if (kind)
            if (std::string said = settingsText(kind->info, a.settings); !said.empty())
                details.push_back(std::move(said));
        if (const auto peaks = a.settings.rows("peaks"); !peaks.empty())
            details.push_back(counted(std::ssize(peaks), "peak") + " placed by hand");
        else if (a.kind == "peaks")
            details.push_back("peaks are found anew in each curve");
        for (const ParameterChoice& p : a.parameters) {
            if (p.treatment == Treatment::Fixed && p.start)
                details.push_back(fmt::format("{} fixed at {}", p.name, readableNumber(*p.start)));
            if (p.treatment == Treatment::Tied) details.push_back(p.name + " = " + p.tie);
            if (std::isfinite(p.lower) || std::isfinite(p.upper))
                details.push_back(fmt::format("{} within {} … {}", p.name, readableNumber(p.lower),
                                              readableNumber(p.upper)));
        }
        add("Analysis", analyses::nameOf(a) + of(first) + ".", joined(details, "; "));
    }

    const Recipe& recipe_;
    const Project& parts_;
    std::vector<RecipeSentence> out_;
};

} // namespace

std::vector<RecipeSentence> sentencesOf(const Recipe& recipe) {
    return recipe.parts ? Telling(recipe).run() : std::vector<RecipeSentence>();
}

Result<Recipe> readRecipeFile(const fs::path& file) {
    const auto bytes = MappedFile::open(file);
    if (!bytes) return std::unexpected(bytes.error());
    auto recipe = recipeFromText(bytes->bytes(), file.string());
    if (recipe && recipe->name.empty()) recipe->name = file.stem().string();
    return recipe;
}

Result<void> writeRecipeFile(const Recipe& recipe, const fs::path& file) {
    return replaceFile(file, recipeText(recipe));
}

fs::path personalRecipes() {
    return personalFolder("JOINTER_RECIPES", "recipes");
}

Outcome<std::vector<Recipe>> recipesIn(const fs::path& folder) {
    return allIn(folder, &readRecipeFile);
}

Result<fs::path> keepIn(const Recipe& recipe, const fs::path& folder) {
    return keptIn(recipe, folder, "recipe", &readRecipeFile, &writeRecipeFile);
}

namespace edits {

Edit keepRecipe(Recipe recipe) {
    return {"Keep recipe", {}, [recipe = std::move(recipe)](const Project& before) -> Result<Project> {
                Project after = before;
                Recipe kept = recipe;
                if (kept.name.empty()) kept.name = "Recipe";
                if (!before.recipes.find(kept.id)) kept.id = {};
                for (const auto& r : before.recipes)
                    if (!kept.id && r->name == kept.name) kept.id = r->id;
                if (!kept.id) kept.id = after.newId<RecipeId>();
                after.recipes = after.recipes.with(std::move(kept));
                return after;
            }};
}

Edit takeIntoRun(DatasetId dataset, const std::string& recipe) {
    return {"Keep recipe", {}, [=](const Project& before) -> Result<Project> {
                const auto d = before.datasets.find(dataset);
                const auto r =
                    std::ranges::find(before.recipes, recipe, [](const auto& one) { return one->name; });
                if (!d || r == before.recipes.end())
                    return failure("target-gone", "The dataset or the recipe is no longer there.");
                Project after = before;
                Dataset taken = *d;
                taken.recipe = (*r)->id;
                after.datasets = after.datasets.with(std::move(taken));
                return after;
            }};
}

Edit removeRecipe(RecipeId id) {
    return {"Remove recipe", {}, [id](const Project& before) -> Result<Project> {
                if (!before.recipes.find(id)) return failure("target-gone", "The recipe is no longer there.");
                Project after = before;
                after.recipes = after.recipes.without(id);
                after.datasets = changedEach(after.datasets, [&](Dataset& d) {
                    if (d.recipe == id) d.recipe = {};
                });
                return after;
            }};
}

} // namespace edits

} // namespace jointer
