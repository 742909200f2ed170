// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/results_desk.h"

#include "app/widgets.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace jointer::app {

ResultsDesk::ResultsDesk(Document& document, QWidget* parent)
    : QWidget(parent), numbers_(new ResultsStage(document)), runs_(new RunsView(document)),
      pages_(new QStackedWidget), choice_(new QButtonGroup(this)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    QHBoxLayout* row = nullptr;
    QWidget* strip = toolStrip(row);
    const std::pair<QString, QString> pages[] = {
        {tr("Numbers"), tr("Every number of the project, and where it comes from")},
        {tr("Recipes and runs"), tr("The same way for many files; the doubtful first")}};
    for (int i = 0; const auto& [name, tip] : pages) {
        QPushButton* page = button(this, name, "tool", tip, [] {});
        page->setCheckable(true);
        page->setChecked(i == 0);
        choice_->addButton(page, i++);
        row->addWidget(page);
    }
    row->addStretch(1);
    column->addWidget(strip);
    pages_->addWidget(numbers_);
    pages_->addWidget(runs_);
    column->addWidget(pages_, 1);
    connect(choice_, &QButtonGroup::idClicked, this, [this](int id) { pages_->setCurrentIndex(id); });
}

bool ResultsDesk::showsRuns() const {
    return pages_->currentIndex() == 1;
}

void ResultsDesk::showRuns(bool runs) {
    choice_->button(runs ? 1 : 0)->setChecked(true);
    pages_->setCurrentIndex(runs ? 1 : 0);
}

bool ResultsDesk::isCurrent() const {
    return showsRuns() ? runs_->isCurrent() : numbers_->isCurrent();
}

} // namespace jointer::app
