// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/model_section.h"

#include "analyses/fit_analysis.h"
#include "analyses/ingredients.h"
#include "analyses/model_parts.h"
#include "app/forms/equation_field.h"
#include "app/forms/settings_form.h"
#include "app/panes/formula_label.h"
#include "app/panes/ingredient_row.h"
#include "app/panes/model_button.h"
#include "app/panes/model_help.h"
#include "app/panes/model_picker.h"
#include "app/widgets.h"
#include "models/series.h"
#include "session/own_models.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScreen>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QSlider>
#include <QVBoxLayout>
#include <algorithm>

namespace jointer::app {

namespace {

bool isComposed(const ModelNode& model) {
    return models::combiners().find(model.kind) != nullptr;
}

// What the parts are, to tell whether their rows must be made again.
std::string shapeOf(const ModelNode& model, int open) {
    std::string shape = model.kind + std::to_string(open);
    for (const ModelNode& child : model.children) shape += " " + child.kind + std::to_string(child.component);
    return shape;
}

} // namespace

ModelSection::ModelSection(AnalysisCard& card, QVBoxLayout& layout)
    : QObject(&card), card_(card), model_(new ModelButton), parts_(new QWidget), keepRow_(new QWidget),
      seriesRow_(new QWidget), series_(new QSlider(Qt::Horizontal)), seriesWords_(muted({})),
      partRows_(new QVBoxLayout(parts_)), equation_(new EquationField), starts_(new QLineEdit),
      keepName_(new QLineEdit), error_(errorLabel()), formula_(new FormulaLabel),
      ingredients_(new IngredientRow(card)), settings_(new SettingsForm) {
    connect(model_, &QPushButton::clicked, this, [this] { openPicker(); });
    layout.addWidget(model_);
    partRows_->setContentsMargins(0, 0, 0, 0);
    partRows_->setSpacing(2);
    layout.addWidget(parts_);
    auto* links = new QHBoxLayout;
    links->setSpacing(10);
    links->addWidget(button(&card_, tr("+ part"), "link",
                            tr("Adds a part: peaks upon a baseline, several processes at once"),
                            [this] { openPicker(true); }));
    help_ = button(&card_, tr("about it"), "link", tr("What the model is for and what its parameters mean"),
                   [this] { showHelp(); });
    links->addWidget(help_);
    keep_ = button(&card_, tr("keep"), "link", tr("Keeps the equation in the project and for other projects"),
                   [this] {
                       keepRow_->setVisible(!keepRow_->isVisible());
                       keepName_->setFocus();
                   });
    links->addWidget(keep_);
    links->addStretch(1);
    layout.addLayout(links);
    auto* row = new QHBoxLayout(seriesRow_);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(seriesWords_);
    series_->setObjectName("series");
    series_->setPageStep(1);
    series_->setToolTip(tr("Goes up and down in steps; the fit follows"));
    row->addWidget(series_, 1);
    connect(series_, &QSlider::valueChanged, this, &ModelSection::stepTo);
    layout.addWidget(seriesRow_);
    buildEquation(layout);
    layout.addWidget(error_);
    layout.addWidget(formula_);
    layout.addWidget(ingredients_);
    settings_->setNarrowest(214); // a card within the pane
    settings_->foldGroups();
    connect(settings_, &SettingsForm::changed, this, [this](const QString& key, const Value& value) {
        card_.change(
            tr("Change model"),
            [key = key.toStdString(), value, part = open_](Analysis& a) {
                analyses::partOf(a.model, part).settings.set(key, value);
                analyses::dropGoneParameters(a);
            },
            "model " + key.toStdString());
    });
    connect(settings_, &SettingsForm::dragBegan, &card_.document(), &Document::beginDrag);
    connect(settings_, &SettingsForm::dragEnded, &card_.document(), &Document::endDrag);
    layout.addWidget(settings_);
}

void ModelSection::buildEquation(QVBoxLayout& layout) {
    connect(equation_, &EquationField::taken, this, [this](const QString& typed) {
        card_.change(tr("Change equation"), [typed = typed.toStdString(), part = open_](Analysis& a) {
            ModelNode& node = analyses::partOf(a.model, part);
            if (node.kind == "equation") node.settings.set("equation", Value(typed));
        });
    });
    layout.addWidget(equation_);
    starts_->setObjectName("startRules");
    starts_->setAccessibleName(tr("Start rules"));
    starts_->setPlaceholderText(tr("start rules: a = max(y)"));
    starts_->setToolTip(tr("Formulas over the columns x and y for the values at which parameters begin"));
    connect(starts_, &QLineEdit::editingFinished, this, [this] {
        const ModelNode* now = node();
        const std::string typed = starts_->text().toStdString();
        if (!now || now->kind != "equation" || typed == now->settings.text("starts")) return;
        card_.change(tr("Change start rules"), [typed, part = open_](Analysis& a) {
            analyses::partOf(a.model, part).settings.set("starts", Value(typed));
        });
    });
    layout.addWidget(starts_);
    auto* row = new QHBoxLayout(keepRow_);
    row->setContentsMargins(0, 0, 0, 0);
    keepName_->setObjectName("keepName");
    keepName_->setPlaceholderText(tr("its name"));
    keepName_->setAccessibleName(tr("Name of the equation"));
    connect(keepName_, &QLineEdit::returnPressed, this, &ModelSection::keep);
    row->addWidget(keepName_, 1);
    row->addWidget(button(&card_, tr("Keep"), "", tr("In the project, and as a file in your own library"),
                          [this] { keep(); }));
    keepRow_->hide();
    layout.addWidget(keepRow_);
}

const ModelNode* ModelSection::node() const {
    const auto a = card_.analysis();
    return a ? &analyses::partOf(a->model, open_) : nullptr;
}

void ModelSection::openPicker(bool further) {
    const ModelNode* now = node();
    if (!now) return;
    const bool whole = !isComposed(*now) || further;
    auto* picker =
        new ModelPicker(card_.document(), card_.input(), further || !whole ? "" : now->kind, &card_);
    connect(picker, &ModelPicker::chosen, this, [this, picker, further](const QString& key) {
        choose(key, picker->keptModel(key.toStdString()), further);
    });
    picker->openAt(model_->mapToGlobal(QPoint(model_->width(), model_->height() + 2)));
}

void ModelSection::choose(const QString& chosen, const std::optional<UserModel>& kept, bool further) {
    const std::string key = chosen.toStdString();
    const ModelNode* now = node();
    if (!now) return;
    ModelNode next{.kind = key};
    if (kept)
        next = nodeOf(*kept);
    else if (now->kind == key && !further)
        return;
    else if (key == "equation" && !further) {
        // Going to an own equation keeps the formula of the model as a beginning.
        const auto old = analyses::modelOf(*now);
        next.settings.set("equation", Value(old ? (*old)->formula() : std::string("a*x + b")));
    }
    const models::ModelKind* kind = models::catalogue().find(next.kind);
    const std::string name = kept ? kept->name : key == "equation" || !kind ? "Equation" : kind->info.name;
    if (further) {
        card_.change(tr("Add part"), [next](Analysis& a) {
            analyses::addPart(a, next);
            a.name.clear();
        });
        const auto a = card_.analysis();
        if (a && !a->model.children.empty()) openPart(a->model.children.back().component);
        return;
    }
    card_.change(tr("Choose model"), [next, name, part = open_](Analysis& a) {
        const bool whole = &analyses::partOf(a.model, part) == &a.model;
        analyses::replacePart(a, part, next);
        a.name = whole ? name : std::string();
    });
}

// A slider for models that grow step by step.
void ModelSection::showSeries(const std::string& key) {
    const models::Series* series = models::seriesOf(key);
    seriesRow_->setVisible(series);
    if (!series) return;
    const auto place = static_cast<int>(std::ranges::find(series->keys, key) - series->keys.begin());
    const QSignalBlocker quiet(series_);
    series_->setRange(0, static_cast<int>(series->keys.size()) - 1);
    series_->setValue(place);
    series_->setAccessibleName(text(series->label));
    seriesWords_->setText(QString("%1 %2").arg(text(series->label)).arg(series->first + place));
}

void ModelSection::stepTo(int place) {
    const ModelNode* now = node();
    const models::Series* series = now ? models::seriesOf(now->kind) : nullptr;
    if (!series || place < 0 || place >= std::ssize(series->keys)) return;
    const std::string key = series->keys[static_cast<std::size_t>(place)];
    if (key == now->kind) return;
    const std::string name = models::catalogue().find(key)->info.name;
    card_.change(
        tr("Change %1").arg(text(series->label).toLower()),
        [key, name, part = open_](Analysis& a) {
            const ModelNode& old = analyses::partOf(a.model, part);
            const bool whole = &old == &a.model;
            analyses::replacePart(a, part, {.kind = key, .settings = old.settings});
            if (whole) a.name = name;
        },
        "series");
}

void ModelSection::openPart(int component) {
    open_ = component;
    partsShown_.clear();
    sync();
}

// A row for each part of a composed model, and how they go together.
void ModelSection::buildParts(const Analysis& fit) {
    const std::string shape = shapeOf(fit.model, open_);
    if (shape == partsShown_) return;
    partsShown_ = shape;
    clearLayout(partRows_);
    parts_->setVisible(isComposed(fit.model));
    if (!isComposed(fit.model)) return;
    for (const ModelNode& child : fit.model.children) {
        auto* row = new QHBoxLayout;
        row->setSpacing(4);
        const int number = child.component;
        auto* open =
            button(&card_, QString("%1  %2").arg(number).arg(text(analyses::modelName(child))), "part",
                   tr("Shows the settings of this part; its parameters end in _%1").arg(number),
                   [this, number] { openPart(open_ == number ? 0 : number); });
        open->setCheckable(true);
        open->setChecked(open_ == number);
        row->addWidget(open, 1);
        row->addWidget(button(&card_, "×", "link", tr("Takes this part away"), [this, number] {
            card_.change(tr("Remove part"), [number](Analysis& a) { analyses::removePart(a, number); });
            openPart(0);
        }));
        partRows_->addLayout(row);
    }
    auto* how = new QComboBox;
    how->setObjectName("combiner");
    how->setAccessibleName(tr("How the parts go together"));
    for (const models::CombinerKind& kind : models::combiners())
        how->addItem(kind.info.key == "sum" ? tr("the parts are added") : tr("the parts are multiplied"),
                     text(kind.info.key));
    how->setCurrentIndex(how->findData(text(fit.model.kind)));
    connect(how, &QComboBox::activated, this, [this, how] {
        const std::string key = how->currentData().toString().toStdString();
        card_.change(tr("Combine parts"), [key](Analysis& a) {
            if (isComposed(a.model)) a.model.kind = key;
        });
    });
    partRows_->addWidget(how);
}

void ModelSection::sync() {
    const auto a = card_.analysis();
    if (!a) return;
    if (&analyses::partOf(a->model, open_) == &a->model) open_ = 0;
    const ModelNode& now = analyses::partOf(a->model, open_);
    model_->showModel(now.kind, text(analyses::modelName(now)));
    buildParts(*a);
    showSeries(now.kind);
    const bool own = now.kind == "equation";
    for (QWidget* w : {static_cast<QWidget*>(equation_), static_cast<QWidget*>(starts_)}) w->setVisible(own);
    keep_->setVisible(own);
    if (!own) keepRow_->hide();
    help_->setVisible(models::catalogue().find(now.kind));
    ingredients_->sync(*a);
    if (own) {
        equation_->showText(text(now.settings.text("equation")));
        if (!starts_->hasFocus()) starts_->setText(text(now.settings.text("starts")));
    }
    const models::ModelKind* kind = models::catalogue().find(now.kind);
    settings_->setVisible(kind && !own && !kind->info.settings.empty());
    if (kind && settings_->kindShown() == kind->info.key)
        settings_->sync(now.settings);
    else if (kind)
        settings_->show(kind->info, now.settings);
    if (formulaShown_ == a->model) return;
    formulaShown_ = a->model;
    if (own && open_ == 0)
        formula_->showFormula(now.settings.text("equation"));
    else if (const auto model = analyses::modelOf(a->model))
        formula_->showFormula((*model)->formula());
}

void ModelSection::showError(const Issue* issue) {
    error_->setVisible(issue != nullptr);
    const bool placed = issue && issue->code == "formula";
    equation_->mark(placed ? issue->place.line : 0, placed ? issue->place.sign : 0);
    if (!issue) return;
    const bool line = placed && issue->place.line > 0;
    error_->setText(line ? tr("Line %1: %2").arg(issue->place.line).arg(text(issue->text))
                         : text(issue->text));
}

// In the project, so that it goes with it, and as a file for others.
void ModelSection::keep() {
    const ModelNode* now = node();
    const std::string name = keepName_->text().trimmed().toStdString();
    if (!now || now->kind != "equation" || name.empty()) return keepName_->setFocus();
    const UserModel model{
        .name = name, .equation = now->settings.text("equation"), .starts = now->settings.text("starts")};
    const auto file = keepIn(model, personalModels());
    card_.document().apply(edits::keepModel(model));
    card_.document().say(file
                             ? tr("Kept “%1” in the project and as %2.").arg(text(name), text(file->string()))
                             : text(file.error().text));
    keepRow_->hide();
    card_.change(tr("Name fit"), [name](Analysis& a) { a.name = name; });
}

void ModelSection::showHelp() {
    const ModelNode* now = node();
    const auto a = card_.analysis();
    if (!now || !a) return;
    auto* popup = new QFrame(&card_, Qt::Popup);
    popup->setObjectName("picker");
    popup->setAttribute(Qt::WA_DeleteOnClose);
    auto* layout = new QVBoxLayout(popup);
    layout->setContentsMargins(14, 12, 14, 12);
    auto* words = new QLabel(modelHelp(now->kind, now->settings));
    words->setObjectName("modelHelp");
    words->setWordWrap(true);
    words->setTextInteractionFlags(Qt::TextSelectableByMouse);
    words->setFixedWidth(400);
    auto* scroll = new QScrollArea;
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidget(words);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setObjectName("strip"); // on the ground of a panel
    layout->addWidget(scroll);
    const QPoint corner = help_->mapToGlobal(QPoint(help_->width(), help_->height() + 4));
    // Long ones are scrolled: no word is below the screen.
    words->adjustSize();
    const int room = card_.screen()->availableGeometry().bottom() - corner.y() - 40;
    scroll->setFixedSize(words->width() + 14, std::clamp(words->height(), 60, std::max(60, room)));
    popup->adjustSize();
    popup->move(corner.x() - popup->width(), corner.y());
    popup->show();
}

} // namespace jointer::app
