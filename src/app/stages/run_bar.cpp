// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/run_bar.h"

#include "app/stages/runs_view.h"
#include "app/widgets.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

namespace jointer::app {

RunBar::RunBar(Document& document, RunsView& runs, QWidget* parent)
    : QFrame(parent), document_(document), runs_(runs), words_(new QLabel) {
    setObjectName("recovery");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 4, 12, 4);
    words_->setWordWrap(true);
    row->addWidget(words_, 1);
    row->addWidget(button(this, tr("Back to the run"), "", tr("All curves of the run"),
                          [this] { Q_EMIT backWanted(); }));
    good_ = button(this, tr("It is good"), "", tr("Looked at: it counts as doubtful no longer"),
                   [this] { next(true); });
    next_ = button(this, tr("Next doubtful"), "primary",
                   tr("Go on with the next curve that is in doubt (F8)"), [this] { next(false); });
    next_->setShortcut(Qt::Key_F8);
    row->addWidget(good_);
    row->addWidget(next_);
    connect(&document_, &Document::changed, this, &RunBar::refresh);
    connect(&document_, &Document::selectionChanged, this, &RunBar::refresh);
    connect(&runs_, &RunsView::doubtsChanged, this, &RunBar::refresh);
    refresh();
}

void RunBar::setInPlace(bool inPlace) {
    inPlace_ = inPlace;
    refresh();
}

void RunBar::refresh() {
    const auto d = document_.currentDataset();
    const auto recipe = d && d->recipe ? document_.project().recipes.find(d->recipe) : nullptr;
    setVisible(inPlace_ && recipe);
    if (!recipe) return;
    const QString reason = runs_.reasonOf(d->id).section('\n', 0, 1).replace('\n', "  ");
    words_->setText(
        tr("“%1” of the run of “%2”: %3")
            .arg(text(d->name), text(recipe->name), reason.isEmpty() ? tr("nothing in doubt.") : reason));
    good_->setEnabled(!reason.isEmpty());
    next_->setEnabled(static_cast<bool>(runs_.nextDoubtful(d->id)));
}

void RunBar::next(bool looked) {
    const DatasetId here = document_.dataset(), next = runs_.nextDoubtful(here);
    if (looked) runs_.markLookedAt(here);
    if (next)
        runs_.open(next);
    else
        Q_EMIT backWanted();
    refresh();
}

} // namespace jointer::app
