// SPDX-License-Identifier: GPL-3.0-or-later
// The steps of a protocol as rows: opened, looked at, levelled over several datasets, copied, dragged.
#include "app/forms/settings_form.h"
#include "app/panes/protocol_pane.h"
#include "app/panes/sentence_row.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "project/several.h"
#include "steps/step.h"

#include <QClipboard>
#include <QDropEvent>
#include <QGuiApplication>
#include <QKeyEvent>
#include <QMenu>
#include <QMimeData>
#include <QScrollBar>
#include <QVBoxLayout>

namespace jointer::app {

namespace {

// What a step may name: the other datasets.
std::vector<std::pair<std::string, std::string>> otherDatasets(const Document& document) {
    std::vector<std::pair<std::string, std::string>> all;
    for (const auto& d : document.project().datasets)
        if (d->id != document.dataset()) all.emplace_back(d->id.text(), d->name);
    return all;
}
std::vector<std::pair<std::string, std::string>> columnsOfCurrent(const Document& document) {
    std::vector<std::pair<std::string, std::string>> all;
    const auto d = document.currentDataset();
    const auto table = d ? document.project().tables.find(d->source.table) : nullptr;
    if (table)
        for (const Column& c : table->columns)
            if (c.isNumeric()) all.emplace_back(c.id.text(), c.name);
    return all;
}

} // namespace

// How the further selected datasets stand to the steps of this one.
std::string ProtocolPane::agreementText(const std::shared_ptr<const Dataset>& d) const {
    std::string out;
    for (DatasetId id : document_.selection()) {
        const auto other = !d || id == d->id ? nullptr : document_.project().datasets.find(id);
        if (!other) continue;
        for (const Step& s : d->protocol)
            out += std::to_string(static_cast<int>(agreement(*d, s.id, *other)));
    }
    return out;
}

void ProtocolPane::addSteps(const Dataset& d) {
    std::vector<Dataset> others; // the further selected ones
    for (DatasetId id : document_.selection())
        if (const auto other = id == d.id ? nullptr : document_.project().datasets.find(id))
            others.push_back(*other);
    int number = 0;
    for (const Step& s : d.protocol) addStep(s, ++number, others);
    if (d.protocol.empty()) {
        addHint(tr("Nothing has been done to this dataset yet. Leave out points with the "
                   "Leave out tool, or add a step."));
    }
    addLink(tr("+ Add a step"), &ProtocolPane::offerSteps);
}

void ProtocolPane::addStep(const Step& step, int number, const std::vector<Dataset>& others) {
    const bool open = step.id == document_.step();
    auto* row = new SentenceRow(QString::number(number), step.on, open);
    row->setDragText(QByteArray::fromStdString(document_.copySteps({step.id})));
    row->setProperty("step", QVariant::fromValue<qulonglong>(step.id.value));
    connect(row, &SentenceRow::clicked, this,
            [this, id = step.id, open] { document_.openStep(open ? StepId{} : id); });
    connect(row, &SentenceRow::switched, this, [this, id = step.id, on = step.on] {
        document_.onEachStep(id,
                             [=](DatasetId in, StepId theirs) { return edits::switchStep(in, theirs, !on); });
    });
    connect(row, &SentenceRow::moved, this, [this, id = step.id](int by) {
        document_.onEachStep(id,
                             [=](DatasetId in, StepId theirs) { return edits::moveStep(in, theirs, by); });
    });
    connect(row, &SentenceRow::removed, this,
            [this, id = step.id] { document_.onEachStep(id, edits::removeStep); });
    if (step.on) addLookAt(*row, step.id);
    addAgreement(*row, step, others);
    if (open) addForm(*row, step);
    rows_->addWidget(row);
    if (!open) rows_->addWidget(hairline());
    steps_.emplace_back(step.id, row);
}

void ProtocolPane::addForm(SentenceRow& row, const Step& step) {
    if (const steps::StepKind* kind = steps::catalogue().find(step.kind)) {
        auto* form = new SettingsForm;
        form->setNarrowest(214); // a card within the pane
        form->setObjectName("stepForm");
        form->offer("dataset", otherDatasets(document_));
        form->offer("column", columnsOfCurrent(document_));
        form->setTimes(document_.xIsTime());
        form->show(kind->info, step.settings);
        connect(form, &SettingsForm::changed, this,
                [this, id = step.id](const QString& key, const Value& value) {
                    document_.onEachStep(id, [&](DatasetId in, StepId theirs) {
                        return edits::setStep(in, theirs, key.toStdString(), value);
                    });
                });
        connect(form, &SettingsForm::dragBegan, &document_, &Document::beginDrag);
        connect(form, &SettingsForm::dragEnded, &document_, &Document::endDrag);
        row.addBody(form);
    }
    row.addTools(true);
}

// A click shows the curve after the step, then before it, then what is natural again.
void ProtocolPane::addLookAt(SentenceRow& row, StepId step) {
    using enum Document::Seen;
    const bool here = document_.seenStep() == step;
    const bool after = here && document_.seen() == After, before = here && document_.seen() == Before;
    row.addLook(after    ? tr("after")
                : before ? tr("before")
                         : QString(),
                after    ? tr("Shows the curve after this step; click for before it")
                : before ? tr("Shows the curve before this step; click to go back")
                         : tr("Show the curve after this step"),
                after || before);
    connect(&row, &SentenceRow::looked, this, [this, step, after, before] {
        document_.see(after ? Before : before ? Natural : After, before ? StepId{} : step);
    });
}

// Where the further selected datasets do not agree, this is told, and can be levelled.
void ProtocolPane::addAgreement(SentenceRow& row, const Step& step, const std::vector<Dataset>& others) {
    const auto current = document_.currentDataset();
    std::vector<DatasetId> differing, missing;
    for (const Dataset& other : others) {
        const Agreement how = agreement(*current, step.id, other);
        if (how == Agreement::Differs) differing.push_back(other.id);
        if (how == Agreement::Missing) missing.push_back(other.id);
    }
    if (!missing.empty())
        row.addLink(tr("Not in %1 of %2 · add it there").arg(missing.size()).arg(others.size() + 1),
                    [this, id = step.id, missing] {
                        document_.pasteSteps(document_.copySteps({id}), missing, false);
                    });
    if (!differing.empty())
        row.addLink(tr("Differs in %1 of %2 · make alike").arg(differing.size()).arg(others.size() + 1),
                    [this, step] { document_.levelStep(step.id); });
}

// The steps of a protocol as a whole: copied, pasted onto the selected datasets, taken away.
void ProtocolPane::offerProtocol(QWidget* under) {
    QMenu* menu = newMenu(this);
    const auto add = [&](const QString& words, const QString& shortcut, auto act) {
        QAction* action = menu->addAction(words);
        if (!shortcut.isEmpty()) action->setShortcut(QKeySequence(shortcut));
        connect(action, &QAction::triggered, this, act);
    };
    const auto d = document_.currentDataset();
    if (document_.step()) add(tr("Copy this step"), "Ctrl+C", [this] { copySteps(false); });
    if (d && !d->protocol.empty()) add(tr("Copy protocol"), {}, [this] { copySteps(true); });
    add(tr("Paste steps"), "Ctrl+V", [this] { pasteSteps(); });
    if (document_.selection().size() > 1 && d && !d->protocol.empty())
        add(tr("Give this protocol to the other selected datasets"), {}, [this] {
            std::vector<DatasetId> others = document_.selection();
            std::erase(others, document_.dataset());
            document_.pasteSteps(document_.copySteps({}), others, true);
        });
    for (DatasetId id : document_.selection()) {
        const auto other = document_.project().datasets.find(id);
        if (!d || !other || id == d->id || other->protocol.empty() || menu->actions().size() > 8) continue;
        add(tr("Take the protocol of “%1”").arg(text(other->name)), {},
            [this, id] { document_.pasteSteps(document_.copySteps({}, id), {document_.dataset()}, true); });
    }
    if (d && !d->protocol.empty())
        add(tr("Remove all steps"), {},
            [this] { document_.onEach([](DatasetId id) { return edits::clearProtocol(id); }); });
    menu->popup(below(under));
}

void ProtocolPane::copySteps(bool all) {
    const auto d = document_.currentDataset();
    if (!d || d->protocol.empty()) return document_.say(tr("There are no steps to copy."));
    const StepId open = document_.step();
    auto* data = new QMimeData;
    const std::string words = document_.copySteps(all || !open ? std::vector<StepId>() : std::vector{open});
    data->setData(kStepsMime, QByteArray::fromStdString(words));
    data->setText(text(words));
    QGuiApplication::clipboard()->setMimeData(data);
    document_.say(all || !open ? tr("Copied the protocol; paste it onto other datasets.")
                               : tr("Copied the step; paste it onto other datasets."));
}

void ProtocolPane::pasteSteps() {
    const QMimeData* data = QGuiApplication::clipboard()->mimeData();
    const std::string words = data && data->hasFormat(kStepsMime) ? data->data(kStepsMime).toStdString()
                              : data                              ? data->text().toStdString()
                                                                  : std::string();
    document_.pasteSteps(words, document_.selection(), false);
}

void ProtocolPane::keyPressEvent(QKeyEvent* e) {
    if (focus_ == ProtocolFocus::Steps && e->matches(QKeySequence::Copy)) return copySteps(false);
    QScrollArea::keyPressEvent(e);
}

int ProtocolPane::placeAt(QPoint inView) const {
    const int y = widget()->mapFrom(viewport(), inView).y();
    int place = 0;
    for (const auto& [id, row] : steps_)
        if (y > row->geometry().center().y()) ++place;
    return place;
}

// The step of this protocol that is being dragged; none: it comes from elsewhere.
std::optional<StepId> ProtocolPane::draggedStep(const QMimeData* data) const {
    for (const auto& [id, row] : steps_)
        if (data->data(kStepsMime) == QByteArray::fromStdString(document_.copySteps({id}))) return id;
    return std::nullopt;
}

void ProtocolPane::dragEnterEvent(QDragEnterEvent* e) {
    if (focus_ == ProtocolFocus::Steps && e->mimeData()->hasFormat(kStepsMime)) e->acceptProposedAction();
}

void ProtocolPane::dragMoveEvent(QDragMoveEvent* e) {
    e->acceptProposedAction();
    const bool ours = draggedStep(e->mimeData()).has_value();
    showDropPlace(ours ? placeAt(e->position().toPoint()) : static_cast<int>(steps_.size()));
}

void ProtocolPane::dragLeaveEvent(QDragLeaveEvent*) {
    showDropPlace(-1);
}

void ProtocolPane::showDropPlace(int place) {
    if (!dropLine_) {
        dropLine_ = new QFrame(widget());
        dropLine_->setObjectName("dropLine");
        dropLine_->setAttribute(Qt::WA_TransparentForMouseEvents);
    }
    dropLine_->setStyleSheet("background: " + theme().accent.name() + ";");
    const bool shown = place >= 0 && !steps_.empty();
    dropLine_->setVisible(shown);
    if (!shown) return;
    const auto at = static_cast<std::size_t>(place);
    const QRect row = steps_[std::min(at, steps_.size() - 1)].second->geometry();
    const int y = at < steps_.size() ? row.top() - 2 : row.bottom() + 1;
    dropLine_->setGeometry(row.left(), y, row.width(), 3);
    dropLine_->raise();
}

void ProtocolPane::dropEvent(QDropEvent* e) {
    showDropPlace(-1);
    const auto step = draggedStep(e->mimeData());
    if (!step) {
        document_.pasteSteps(e->mimeData()->data(kStepsMime).toStdString(), document_.selection(), false);
        return e->acceptProposedAction();
    }
    const auto at = std::ranges::find(steps_, *step, &std::pair<StepId, SentenceRow*>::first);
    const int from = static_cast<int>(at - steps_.begin());
    int to = placeAt(e->position().toPoint());
    if (to > from) --to;
    if (to != from)
        document_.onEachStep(
            *step, [=](DatasetId in, StepId theirs) { return edits::moveStep(in, theirs, to - from); });
    e->acceptProposedAction();
}

} // namespace jointer::app
