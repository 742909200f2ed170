// SPDX-License-Identifier: GPL-3.0-or-later
// What is done with recipes: kept from a dataset, run on files, folders and the selected datasets.
#include "app/file_dialogs.h"
#include "app/stages/runs_view.h"
#include "app/widgets.h"
#include "session/recipe_batch.h"


namespace jointer::app {

void RunsView::takeRecipe(const Recipe& recipe, DatasetId of) {
    std::vector<Edit> list = {edits::keepRecipe(recipe)};
    if (of) list.push_back(edits::takeIntoRun(of, recipe.name));
    if (!document_.apply(edits::together("Keep recipe", std::move(list)))) return;
    for (const auto& r : document_.project().recipes)
        if (r->name == recipe.name) showRecipe(r->id);
}

bool RunsView::takeFile(const std::string& file) {
    const auto recipe = readRecipeFile(file);
    if (recipe) takeRecipe(*recipe);
    return recipe.has_value();
}

void RunsView::keepAsRecipe(DatasetId dataset) {
    const auto d = document_.project().datasets.find(dataset);
    if (!d) return document_.say(tr("Select a dataset whose way is to become a recipe."), true);
    madeOf_ = dataset;
    wish_ = {.name = "Way of " + d->name};
    remake();
}

void RunsView::remake() {
    auto draft = makeRecipe(document_.project(), madeOf_, wish_);
    if (!draft) return document_.say(text(draft.error().text), true);
    left_ = draft->left;
    without_ = draft->without;
    sideShown_.clear();
    takeRecipe(draft->recipe, madeOf_);
}

void RunsView::showRecipe(RecipeId recipe) {
    const auto made = document_.project().recipes.find(recipe);
    if (made && made->name != wish_.name) {
        left_.clear();
        without_.clear();
    }
    recipe_ = recipe;
    looked_.clear();
    sideShown_.clear();
    refresh();
}

void RunsView::askForFiles() {
    const QStringList paths = ask::files(this, document_, tr("Run on files"), readerFilter());
    std::vector<std::string> files;
    for (const QString& p : paths) files.push_back(p.toStdString());
    if (!files.empty()) runOn(files);
}

void RunsView::askForFolder() {
    const QString path = ask::folder(this, document_, tr("Run on a folder"));
    if (!path.isEmpty()) runOn({path.toStdString()});
}

void RunsView::runOn(const std::vector<std::string>& filesAndFolders) {
    auto files = filesOf(filesAndFolders);
    if (!files) return document_.say(text(files.error().sentence()), true);
    const std::size_t given = files->size();
    const auto begun = run_.begin(recipe_, std::move(*files));
    if (!begun) return document_.say(text(begun.error().text), true);
    if (*begun < given)
        document_.say(
            tr("%1 of %2 files were run before and are passed over.").arg(given - *begun).arg(given));
}

void RunsView::runOnSelection() {
    const auto recipe = document_.project().recipes.find(recipe_);
    if (!recipe) return;
    if (document_.selection().empty())
        return document_.say(tr("Select the datasets at the left that are to go the recipe’s way."), true);
    run_.beginOn(recipe_, document_.selection());
}

} // namespace jointer::app
