// SPDX-License-Identifier: GPL-3.0-or-later
// The right side of the runs: what the recipe does and what it leaves behind; and the menu of the recipe.
#include "app/file_dialogs.h"
#include "app/forms/settings_form.h"
#include "app/panes/sentence_row.h"
#include "app/stages/runs_view.h"
#include "app/widgets.h"
#include "session/shipped_recipes.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>

namespace jointer::app {

void RunsView::offerMore() {
    QMenu* menu = newMenu(this);
    const auto recipe = document_.project().recipes.find(recipe_);
    if (recipe) {
        menu->addAction(tr("Run on a folder…"), this, [this] { askForFolder(); });
        menu->addAction(tr("Watch a folder…"), this, [this] { askForWatch(); });
        menu->addAction(tr("Watch a simulated scanner"), this, [this] { watchScanner(); });
        menu->addSeparator();
        menu->addAction(tr("Keep in my library"), this, [this, r = *recipe] {
            const auto file = keepIn(r, personalRecipes());
            document_.say(file ? tr("Kept as %1.").arg(text(file->string())) : text(file.error().sentence()),
                          !file);
        });
        menu->addAction(tr("Export as a file…"), this, [this, r = *recipe] {
            const QString path = ask::newFile(this, document_, tr("Export recipe"),
                                              text(r.name) + ".json", tr("Recipes (*.json)"));
            if (path.isEmpty()) return;
            const auto done = writeRecipeFile(r, path.toStdString());
            document_.say(done ? tr("Wrote %1.").arg(path) : text(done.error().sentence()), !done);
        });
        menu->addAction(tr("Remove from the project"), this,
                        [this, id = recipe_] { document_.apply(edits::removeRecipe(id)); });
        menu->addSeparator();
    }
    menu->addAction(tr("Take from a file…"), this, [this] {
        const QString path =
            ask::file(this, document_, tr("Take recipe"), tr("Recipes (*.json)"));
        if (path.isEmpty()) return;
        const auto read = readRecipeFile(path.toStdString());
        if (read)
            takeRecipe(*read);
        else
            document_.say(text(read.error().sentence()), true);
    });
    auto own = recipesIn(personalRecipes());
    QMenu* library = menu->addMenu(tr("From my library"));
    library->setEnabled(!own.value.empty());
    for (const Recipe& r : own.value) library->addAction(text(r.name), this, [this, r] { takeRecipe(r); });
    QMenu* shipped = menu->addMenu(tr("That come with Jointer"));
    for (const ShippedRecipe& r : shippedRecipes())
        shipped->addAction(text(r.recipe.name), this, [this, &r] { takeRecipe(r.recipe); });
    menu->popup(below(findChild<QPushButton*>("recipeMore")));
}

void RunsView::fillSide() {
    const auto recipe = document_.project().recipes.find(recipe_);
    const auto sentences = recipe ? sentencesOf(*recipe) : std::vector<RecipeSentence>();
    std::string wanted = recipe_.text();
    for (const RecipeSentence& s : sentences) wanted += s.part + s.text + s.detail;
    form_->setVisible(recipe != nullptr);
    if (wanted == sideShown_ && recipe) return form_->sync(recipe->settings);
    sideShown_ = wanted;
    clearLayout(side_);
    if (!recipe) return;
    addHeading(*recipe);
    int number = 0;
    for (const RecipeSentence& s : sentences) {
        if (s.part == "Run") continue; // the form below tells it
        auto* row = new SentenceRow(QString::number(++number), true, false);
        row->setSentence(text(s.text), text(s.detail));
        row->setEnabled(true);
        side_->addWidget(row);
    }
    addNotCarriedOver();
    side_->addSpacing(10);
    side_->addWidget(caption(tr("How it runs")));
    form_->show(recipeSettings(), recipe->settings);
}

void RunsView::addHeading(const Recipe& recipe) {
    auto* name = new QLineEdit(text(recipe.name));
    name->setObjectName("recipeName");
    name->setAccessibleName(tr("Name of the recipe"));
    connect(name, &QLineEdit::editingFinished, this, [this, name] { renameRecipe(name->text()); });
    side_->addWidget(name);
    side_->addSpacing(6);
    if (!recipe.purpose.empty()) addWords(recipe.purpose);
}

void RunsView::addNotCarriedOver() {
    if (left_.empty() && without_.empty()) return;
    side_->addSpacing(8);
    side_->addWidget(caption(tr("Not carried over")));
    for (const LeftBehind& l : left_) {
        addWords(l.sentence);
        if (!l.rules.empty()) addRules(l);
    }
    for (const std::string& w : without_) addWords(w);
}

void RunsView::addRules(const LeftBehind& left) {
    auto* box = new QComboBox;
    box->setAccessibleName(text(left.sentence));
    box->setObjectName("rule");
    for (const Choice& c : left.rules) box->addItem(text(c.label), text(c.key));
    box->setCurrentIndex(box->findData(text(left.rule)));
    connect(box, &QComboBox::activated, this, [this, box, step = left.step](int i) {
        wish_.rules[step] = box->itemData(i).toString().toStdString();
        remake();
    });
    side_->addWidget(box);
}

void RunsView::addWords(const std::string& words) {
    QLabel* label = muted(text(words));
    label->setWordWrap(true);
    side_->addWidget(label);
}

void RunsView::renameRecipe(const QString& name) {
    const auto recipe = document_.project().recipes.find(recipe_);
    const std::string wanted = name.trimmed().toStdString();
    if (!recipe || wanted.empty() || recipe->name == wanted) return;
    Recipe renamed = *recipe;
    renamed.name = wanted;
    if (wish_.name == recipe->name) wish_.name = wanted; // rules that are changed go on with it
    document_.apply(edits::keepRecipe(renamed));
}

} // namespace jointer::app
