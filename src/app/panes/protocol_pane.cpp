// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/protocol_pane.h"

#include "app/forms/settings_form.h"
#include "app/panes/analysis_card.h"
#include "app/panes/sentence_row.h"
#include "app/widgets.h"
#include "base/text.h"
#include "models/catalogue.h"
#include "session/recipe_fill.h"
#include "session/shipped_recipes.h"
#include "steps/step.h"

#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>

namespace jointer::app {

namespace {

// Until it is computed.
std::string sentenceOf(const Analysis& a) {
    return analyses::nameOf(a) + ".";
}

} // namespace

Analysis newFit(DatasetId dataset, const std::string& model) {
    Analysis a;
    const models::ModelKind* kind = models::catalogue().find(model);
    a.name = kind && model != "equation" ? kind->info.name : "Equation";
    a.inputs = {{.dataset = dataset}};
    a.model.kind = model;
    if (model == "equation") a.model.settings.set("equation", "a*exp(-b*x) + c");
    return a;
}

Analysis newAnalysis(DatasetId dataset, const std::string& kind) {
    Analysis a{.kind = kind};
    a.inputs = {{.dataset = dataset}};
    return a;
}

ProtocolPane::ProtocolPane(Document& document, ProtocolFocus focus, QWidget* parent)
    : QScrollArea(parent), document_(document), focus_(focus), job_(this) {
    auto* inner = new QWidget;
    rows_ = new QVBoxLayout(inner);
    rows_->setContentsMargins(14, 10, 14, 14);
    rows_->setSpacing(3);
    preparePaneScroll(*this, inner, tr("Protocol and fits"));
    setAcceptDrops(focus == ProtocolFocus::Steps);
    connect(&document_, &Document::changed, this, &ProtocolPane::refresh);
    connect(&document_, &Document::selectionChanged, this, &ProtocolPane::refresh);
    refresh();
}

// The rows are built again only when their list changes; else their texts are brought up to date.
void ProtocolPane::refresh() {
    const auto d = document_.currentDataset();
    std::string wanted = d ? d->id.text() + d->name : "none";
    if (d) {
        for (const Step& s : d->protocol) wanted += " " + s.id.text() + (s.on ? "+" : "-") + s.kind;
        for (const auto& a : analysesOf(document_.project(), d->id))
            wanted += " " + a->id.text() + a->kind; // a card stays while its model changes
    }
    wanted += "|" + document_.step().text() + "|" + document_.analysis().text() + "|" +
              std::to_string(document_.selection().size()) + "|" +
              std::to_string(static_cast<int>(document_.seen())) + document_.seenStep().text() +
              agreementText(d);
    if (wanted != built_) {
        built_ = wanted;
        rebuild();
    }
    fill();
}

void ProtocolPane::rebuild() {
    steps_.clear();
    analyses_.clear();
    card_ = nullptr;
    clearLayout(rows_);
    const auto d = document_.currentDataset();
    auto* head = new QHBoxLayout;
    head->addWidget(nameCaption(d ? tr("Protocol of %1").arg(text(d->name)) : tr("Protocol")), 1);
    if (d && focus_ == ProtocolFocus::Steps) {
        QPushButton* more = button(this, "⋯", "link", tr("Copy, paste, take away"), [] {});
        more->setAccessibleName(tr("Protocol menu"));
        more->setObjectName("link");
        connect(more, &QPushButton::clicked, this, [this, more] { offerProtocol(more); });
        head->addWidget(more, 0, Qt::AlignBottom);
    }
    rows_->addLayout(head);
    if (const auto more = static_cast<qlonglong>(document_.selection().size()) - 1; more > 0)
        addHint(tr("Changes hold for %1 too, where they agree.")
                    .arg(text(counted(more, "further selected dataset"))));
    if (!d) {
        addHint(tr("Import a file first: drop it anywhere in the window."));
    } else {
        if (focus_ == ProtocolFocus::Steps)
            addSteps(*d);
        else
            addAnalyses();
    }
    rows_->addStretch(1);
}

void ProtocolPane::addHint(const QString& words) {
    QLabel* hint = muted(words);
    hint->setWordWrap(true);
    rows_->addWidget(hint);
}

void ProtocolPane::addLink(const QString& words, void (ProtocolPane::*offer)(QWidget*)) {
    auto* link = new QPushButton(words);
    link->setObjectName("link");
    link->setCursor(Qt::PointingHandCursor);
    connect(link, &QPushButton::clicked, this, [this, link, offer] { (this->*offer)(link); });
    rows_->addWidget(link, 0, Qt::AlignLeft);
}

void ProtocolPane::focusSetting(StepId step, const std::string& key) {
    document_.openStep(step);
    refresh();
    for (const auto& [id, row] : steps_)
        if (auto* form = row->findChild<SettingsForm*>("stepForm"); form && id == step) form->focusOn(key);
}

void ProtocolPane::offerSteps(QWidget* under) {
    QMenu* menu = newMenu(this);
    const std::string* group = nullptr;
    for (const steps::StepKind& kind : steps::catalogue()) {
        if (group && *group != kind.info.group) menu->addSeparator();
        group = &kind.info.group;
        QAction* action = menu->addAction(text(kind.info.name));
        action->setToolTip(text(kind.info.purpose));
        connect(action, &QAction::triggered, this, [this, key = kind.info.key, name = kind.info.name] {
            if (!document_.onEach(
                    [&](DatasetId d) { return edits::addStep(d, key, {}, "Add step: " + name); }))
                return;
            document_.openStep(document_.currentDataset()->protocol.back().id);
        });
    }
    menu->popup(below(under));
}

void ProtocolPane::addAnalyses() {
    const auto d = document_.currentDataset();
    if (!d->protocol.empty()) {
        auto* cleaned = new SentenceRow("…", false, false);
        cleaned->setSentence(tr("%n step(s) of cleaning", nullptr, static_cast<int>(d->protocol.size()))
                                 .replace("(s)", d->protocol.size() == 1 ? "" : "s"),
                             {});
        rows_->addWidget(cleaned);
        rows_->addWidget(hairline());
    }
    int number = static_cast<int>(d->protocol.size());
    const auto analyses = analysesOf(document_.project(), d->id);
    for (const auto& a : analyses) {
        const bool open = a->id == document_.analysis();
        auto* row = new SentenceRow(QString::number(++number), true, open);
        row->setSentence(text(sentenceOf(*a)), {});
        connect(row, &SentenceRow::clicked, this,
                [this, id = a->id, open] { document_.openAnalysis(open ? AnalysisId{} : id); });
        connect(row, &SentenceRow::removed, this,
                [this, id = a->id] { document_.onEachAnalysis(id, edits::removeAnalysis); });
        if (open) {
            card_ = newAnalysisCard(document_, *a);
            row->addBody(card_);
            row->addTools(false);
        }
        rows_->addWidget(row);
        if (!open) rows_->addWidget(hairline());
        analyses_.emplace_back(a->id, row);
    }
    if (analyses.empty()) {
        addHint(tr("No analysis yet. Add a fit: a library model or your own equation."));
        addBeginnings(d->id);
    }
    addLink(tr("+ Add an analysis"), &ProtocolPane::offerAnalyses);
    if (!analyses.empty()) addLink(tr("Keep as a recipe"), &ProtocolPane::wantRecipe);
}

// Arrangements for what the dataset looks to be, of ordinary steps and analyses.
void ProtocolPane::addBeginnings(DatasetId of) {
    const auto measured = document_.session().evaluator().measured(document_.project(), of).value;
    const auto all =
        recipesFor(measured->xMeaning, measured->yMeaning, document_.xIsTime(), measured->size());
    if (all.empty()) return;
    addHint(tr("It looks like one of these. Begin with the usual steps, and change them:"));
    for (const ShippedRecipe* recipe : all) {
        QPushButton* begin =
            button(this, text(recipe->recipe.name), "link", text(recipe->recipe.purpose), [this, recipe] {
                if (document_.onEach([&](DatasetId d) { return edits::applyRecipe(recipe->recipe, d, {}); }))
                    if (const auto made = analysesOf(document_.project(), document_.dataset()); !made.empty())
                        document_.openAnalysis(made.front()->id);
            });
        rows_->addWidget(begin, 0, Qt::AlignLeft);
    }
}

void ProtocolPane::wantRecipe(QWidget*) {
    Q_EMIT recipeWanted(document_.dataset());
}

void ProtocolPane::offerAnalyses(QWidget* under) {
    QMenu* menu = newMenu(this);
    std::map<std::string, QMenu*> groups;
    for (const models::ModelKind& kind : models::catalogue()) {
        QMenu*& group = groups[kind.info.group];
        if (!group) group = menu->addMenu(text(kind.info.group));
        QAction* action = group->addAction(text(kind.info.name));
        action->setToolTip(text(kind.info.purpose));
        connect(action, &QAction::triggered, this,
                [this, key = kind.info.key] {
                    document_.addAnalysis([&](DatasetId d) { return newFit(d, key); });
                });
    }
    menu->addSeparator();
    for (const analyses::AnalysisKind& kind : analyses::catalogue()) {
        if (kind.info.key == "fit") continue; // by its models, above
        QAction* action = menu->addAction(text(kind.info.name));
        action->setToolTip(text(kind.info.purpose));
        connect(action, &QAction::triggered, this,
                [this, key = kind.info.key] {
                    document_.addAnalysis([&](DatasetId d) { return newAnalysis(d, key); });
                });
    }
    menu->popup(below(under));
}

void ProtocolPane::openPicker() {
    if (document_.analysis() && card_) return card_->openPicker();
    document_.say(tr("Open a fit first, or add one."), true);
}

namespace {

// Layouts whose height depends on their width keep what they once measured when something deep within them
// shows or hides: from the inside out all is measured again.
void measureAgain(QWidget& card) {
    const auto again = [](QWidget& w) {
        if (w.layout()) w.layout()->invalidate();
        w.updateGeometry();
    };
    for (QWidget* inner : card.findChildren<QWidget*>())
        if (inner->layout()) again(*inner);
    for (QWidget* w = &card; w; w = w->parentWidget()) {
        again(*w);
        if (qobject_cast<SentenceRow*>(w)) break;
    }
}

} // namespace

void ProtocolPane::fillNow() {
    const auto d = document_.currentDataset();
    if (!d) return;
    for (const auto& [id, row] : steps_) {
        const Step* at = d->find(id);
        if (auto* form = row->findChild<SettingsForm*>("stepForm"); form && at) form->sync(at->settings);
    }
    job_.request([this, project = document_.project(), evaluator = document_.session().sharedEvaluator(),
                  id = d->id,
                  effort = document_.effort()](const Cancellation& stop) -> std::function<void()> {
        auto result =
            std::make_shared<evaluate::ProtocolResult>(evaluator->protocol(project, id, {.stop = stop}));
        auto results = std::make_shared<std::map<AnalysisId, evaluate::AnalysisOutcome>>();
        if (focus_ == ProtocolFocus::Analyses)
            for (const auto& a : analysesOf(project, id))
                (*results)[a->id] = evaluator->analysis(project, *a, {.effort = effort, .stop = stop});
        return [this, result, results] {
            showStages(*result);
            showAnalyses(*results);
            if (card_) measureAgain(*card_);
        };
    });
}

void ProtocolPane::showStages(const evaluate::ProtocolResult& result) {
    const auto dataset = document_.currentDataset();
    for (const auto& [step, row] : steps_) {
        const auto at = std::ranges::find(result.stages, step, &evaluate::StepResult::step);
        const Step* spec = dataset ? dataset->find(step) : nullptr;
        if (at == result.stages.end() || !spec) continue;
        const steps::StepKind* kind = steps::catalogue().find(spec->kind);
        QStringList warnings;
        if (at->on)
            for (const Issue& issue : at->issues) warnings << text(issue.text);
        if (at->on)
            row->setSentence(text(at->output->sentence), text(at->output->detail));
        else
            row->setSentence(kind ? text(kind->info.name) : QString(), tr("switched off"));
        row->setWarnings(warnings);
        const bool draft = at->on && at->output->draft && step == document_.step();
        row->setProposal(draft ? tr("Proposed · take it as anchors") : QString(),
                         [this, step, taken = draft ? *at->output->draft : Settings()] {
                             document_.changeSettings(step, taken, "Take as anchors");
                         });
    }
}

void ProtocolPane::showAnalyses(const std::map<AnalysisId, evaluate::AnalysisOutcome>& results) {
    for (const auto& [analysis, row] : analyses_) {
        const auto at = results.find(analysis);
        const auto spec = document_.project().analyses.find(analysis);
        if (at == results.end() || !spec) continue;
        const bool open = analysis == document_.analysis();
        QString detail;
        const analyses::Quantity* n = at->second.exists() ? at->second->find("n") : nullptr;
        if (at->second.exists() && spec->settings.flag("hold"))
            detail = tr("start values, not fitted");
        else if (n)
            detail = tr("%1 · %2 points").arg(text(at->second->state)).arg(n->value);
        row->setSentence(text(at->second.exists() ? at->second->sentence : sentenceOf(*spec)),
                         open ? QString() : detail);
        if (open && card_) card_->showOutcome(at->second);
    }
}

} // namespace jointer::app
