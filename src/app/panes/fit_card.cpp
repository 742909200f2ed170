// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/fit_card.h"

#include "analyses/fit_analysis.h"
#include "analyses/fit_edits.h"
#include "app/panes/fit_further.h"
#include "app/panes/following.h"
#include "app/panes/input_rows.h"
#include "app/panes/model_section.h"
#include "app/panes/parameter_details.h"
#include "app/panes/parameter_grid.h"
#include "app/panes/quality_text.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

namespace jointer::app {

FitCard::FitCard(Document& document, AnalysisId id, QWidget* parent)
    : AnalysisCard(document, id, parent), job_(this) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 4, 0, 0);
    layout->setSpacing(6);
    model_ = new ModelSection(*this, *layout);
    buildInputRows(*layout);
    buildParameters(*layout);
    buildButtons(*layout);
    quality_ = new QLabel;
    quality_->setTextFormat(Qt::RichText);
    layout->addWidget(quality_);
    warnings_ = warningLabel();
    layout->addWidget(warnings_);
    connect(&document_, &Document::changed, this, &FitCard::syncFields);
    syncFields();
}

void FitCard::changeParameter(const std::string& parameter, const QString& name,
                              const std::function<void(ParameterChoice&)>& how, const std::string& mergeKey) {
    change(
        name,
        [=](Analysis& a) {
            how(analyses::choiceOf(a, parameter));
            std::erase(a.parameters, ParameterChoice{.name = parameter}); // nothing is said any more
        },
        mergeKey);
}

void FitCard::openPicker() {
    model_->openPicker();
}

void FitCard::buildInputRows(QVBoxLayout& layout) {
    auto* form = new QFormLayout;
    form->setHorizontalSpacing(12);
    form->setVerticalSpacing(6);
    members_ = button(this, QString(), "tool", tr("The datasets that are fitted together"),
                      [this] { offerMembers(); });
    members_->setObjectName("members");
    addLabelled(*form, tr("Datasets"), members_);
    inputs_ = new InputRows(*this, *form);
    layout.addLayout(form);
}

// Which datasets share this fit: each other one can be added and taken out, one after the other.
void FitCard::offerMembers() {
    const auto a = analysis();
    if (!a) return;
    QMenu* menu = newStayingMenu(this);
    menu->setObjectName("membersMenu");
    const auto take = [this](const std::vector<DatasetId>& ids, bool taken) {
        document_.apply(edits::changeAnalysis(id_, taken ? "Fit together" : "Fit without",
                                              [=](Analysis& x) { analyses::takeDatasets(x, ids, taken); }));
    };
    if (document_.selection().size() > 1) {
        connect(menu->addAction(tr("The %1 selected together").arg(document_.selection().size())),
                &QAction::triggered, this, [=, this] { take(document_.selection(), true); });
        menu->addSeparator();
    }
    std::vector<std::pair<QAction*, DatasetId>> entries;
    for (const auto& d : document_.project().datasets) {
        QAction* action = menu->addAction(text(d->name));
        action->setCheckable(true);
        action->setChecked(a->takes(d->id));
        connect(action, &QAction::triggered, this, [=, this](bool taken) { take({d->id}, taken); });
        entries.emplace_back(action, d->id);
    }
    // The last one stays.
    const auto enable = [this, entries] {
        const auto now = analysis();
        for (const auto& [action, id] : entries)
            action->setEnabled(now && !(now->inputs.size() == 1 && now->takes(id)));
    };
    enable();
    connect(menu, &QMenu::triggered, this, enable, Qt::QueuedConnection);
    menu->popup(below(members_));
}

void FitCard::buildParameters(QVBoxLayout& layout) {
    parameters_ = new ParameterGrid;
    parameters_->setObjectName("parameters");
    parameters_->setAccessibleName(tr("Parameters"));
    parameters_->setToolTip(tr("Click a parameter to fix, limit or tie it, or to give its start value."));
    connect(parameters_, &QTableWidget::cellClicked, this, [this](int row, int) { openParameter(row); });
    layout.addWidget(parameters_);
    details_ = new QVBoxLayout;
    layout.addLayout(details_);
}

void FitCard::buildButtons(QVBoxLayout& layout) {
    auto* row = new QHBoxLayout;
    row->setSpacing(5);
    fit_ = button(this, tr("Fit"), "primary", tr("Fit from the start values shown (F5)"), [this] {
        if (running_) return stop();
        fitNow();
    });
    row->addWidget(fit_);
    row->addWidget(button(this, tr("start values"), "link", tr("Show the automatic start values, not fitted"),
                          [this] { startValues(); }));
    row->addStretch(1);
    more_ = button(this, tr("details"), "link", tr("Intervals, losses, iterations, a single step"),
                   [this] { further_->setVisible(!further_->isVisible()); });
    row->addWidget(more_);
    connect(&document_, &Document::busyChanged, this, &FitCard::showRunning);
    layout.addLayout(row);
    buildFurther(layout);
}

// What is seldom changed: folded away.
void FitCard::buildFurther(QVBoxLayout& layout) {
    further_ = new FitFurther;
    connect(further_, &FitFurther::changed, this,
            [this](const QString& key, const Value& value) { changeSetting(tr("Change fit"), key, value); });
    connect(further_, &FitFurther::stepWanted, this, &FitCard::oneIteration);
    connect(further_, &FitFurther::columnWanted, this,
            [this](QPoint at) { offerFollowing(this, document_, id_, {}, at); });
    further_->hide();
    layout.addWidget(further_);
}

// One button begins and, while it runs, stops.
void FitCard::showRunning(bool running) {
    running_ = running;
    relabel(fit_, running ? tr("Stop") : tr("Fit"));
    fit_->setToolTip(running ? tr("Stop; the values reached become start values")
                             : tr("Fit from the start values shown (F5)"));
}

void FitCard::stop() {
    job_.stopRunning();
    document_.session().evaluator().stopRunning();
}

void FitCard::fitNow() {
    document_.session().evaluator().forgetStopped();
    const bool record = further_->isRecording();
    change(tr("Fit"), [record, told = shown_](Analysis& a) {
        a.settings.remove("hold");
        if (record) analyses::recordStep(a, told);
    });
}

void FitCard::startValues() {
    change(tr("Start values"), analyses::holdAtRule);
}

// One iteration runs in the background; the values reached become the start values, which are then shown.
void FitCard::oneIteration() {
    const auto a = analysis();
    if (!a) return;
    showRunning(true);
    job_.request(
        [this, spec = *a, project = document_.project(), evaluator = document_.session().sharedEvaluator()](
            const Cancellation& stop) -> std::function<void()> {
            Analysis once = spec;
            once.settings.remove("hold");
            const auto result = std::make_shared<evaluate::AnalysisOutcome>(
                evaluator->analysis(project, once, {.effort = evaluate::Effort::OneIteration, .stop = stop}));
            return [this, result] {
                showRunning(false);
                if (result->exists()) keepReached(**result);
            };
        });
}

// Stopping, or iterating once, writes the values reached as start values: an edit like any other.
void FitCard::keepReached(const analyses::AnalysisResult& result) {
    document_.apply(
        edits::changeAnalysis(id_, "Keep the values reached", [reached = result.quantities](Analysis& x) {
            analyses::holdAtValues(x, reached);
        }));
}

void FitCard::syncFields() {
    const auto a = analysis();
    if (!a || a->inputs.empty()) return;
    model_->sync();
    closeStaleParameter(*a);
    inputs_->sync();
    relabel(members_, a->inputs.size() == 1 ? tr("this one  ▾") : tr("%1 together  ▾").arg(a->inputs.size()));
    further_->sync(a->settings);
}

// What is open of a parameter goes with its model, and follows what changed elsewhere.
void FitCard::closeStaleParameter(const Analysis& fit) {
    if (openParameter_.empty()) return;
    const auto at = std::ranges::find(fit.parameters, openParameter_, &ParameterChoice::name);
    const ParameterChoice now = at == fit.parameters.end() ? ParameterChoice{.name = openParameter_} : *at;
    const bool sameModel = openedModel_.kind == fit.model.kind && openedModel_.children == fit.model.children;
    auto* details = findChild<ParameterDetails*>();
    if (sameModel && details) return details->sync(now, fit.inputs.size() > 1);
    clearLayout(details_);
    openParameter_.clear();
}

void FitCard::showOutcome(const evaluate::AnalysisOutcome& outcome) {
    const auto a = analysis();
    if (!a) return;
    model_->showError(outcome.exists() ? nullptr : &outcome.result.error());
    const analyses::FitDetail* detail = outcome.exists() ? analyses::fitDetail(*outcome) : nullptr;
    if (!detail) {
        quality_->clear();
        warnings_->hide();
        parameters_->showLines({});
        return;
    }
    const fit::FitReport& r = detail->report;
    shown_ = outcome->quantities;
    further_->showOutcome(outcome, document_.dataset());
    const bool held = a->settings.flag("hold");
    if (r.state == fit::FitState::Stopped && !held && !r.provisional) keepReached(*outcome);
    parameters_->showLines(quantityLines(*outcome, document_.dataset()));
    if (held) {
        quality_->setText(tr("Start values, not fitted yet."));
        warnings_->hide();
        return;
    }
    if (r.provisional) {
        quality_->setText(tr("Provisional while you drag; computed fully when you let go."));
        return;
    }
    const std::string since = detail->taken->time ? "; x in " + words(*detail->taken->time) : "";
    quality_->setText(qualityText(r, detail->taken->weightsNote + since, outcome->notShown));
    quality_->setWordWrap(true);
    sayIssues(warnings_, outcome.issues);
}

// The start curve follows the slider; nothing is fitted until Fit is pressed.
void FitCard::slideStart(const std::string& parameter, double value) {
    change(
        tr("Start value of %1").arg(text(parameter)),
        [=, told = shown_, dataset = document_.dataset()](Analysis& a) {
            analyses::holdAt(a, parameter, value, told, dataset);
        },
        "slide " + parameter);
}

std::optional<double> FitCard::valueShown(const std::string& parameter) const {
    const auto at = std::ranges::find_if(shown_, [&](const analyses::Quantity& q) {
        return q.label == parameter && (!q.member || q.member == document_.dataset());
    });
    return at == shown_.end() ? std::nullopt : std::optional(at->value);
}

void FitCard::openParameter(int row) {
    clearLayout(details_);
    const auto a = analysis();
    const std::string name = parameters_->nameAt(row);
    const bool isParameter = std::ranges::any_of(
        shown_, [&](const analyses::Quantity& q) { return q.label == name && analyses::isParameter(q); });
    if (!a || !isParameter || name == openParameter_) {
        openParameter_.clear();
        return;
    }
    openParameter_ = name;
    openedModel_ = a->model;
    const auto at = std::ranges::find(a->parameters, name, &ParameterChoice::name);
    auto* details = new ParameterDetails(at == a->parameters.end() ? ParameterChoice{.name = name} : *at,
                                         valueShown(name), a->inputs.size() > 1);
    connect(details, &ParameterDetails::changed, this,
            [this, name](const QString& said, const std::function<void(ParameterChoice&)>& how) {
                changeParameter(name, said, how);
            });
    connect(details, &ParameterDetails::slid, this, [this, name](double value) { slideStart(name, value); });
    connect(details, &ParameterDetails::dragBegan, &document_, &Document::beginDrag);
    connect(details, &ParameterDetails::dragEnded, &document_, &Document::endDrag);
    details_->addWidget(details);
}

} // namespace jointer::app
