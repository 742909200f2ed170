// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/header.h"

#include "app/controls.h"
#include "app/panes/find_field.h"
#include "app/theme/theme.h"
#include "app/widgets.h"

#include <QButtonGroup>
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

namespace jointer::app {

Header::Header(FindField* find, QWidget* parent)
    : QWidget(parent), title_(title({})), state_(muted({})), track_(new QButtonGroup(this)) {
    setObjectName("header");
    setAttribute(Qt::WA_StyledBackground);
    setFixedHeight(50);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(4, 4, 12, 4);
    auto* nameBox = new QWidget;
    nameBox->setFixedWidth(186);
    auto* names = new QVBoxLayout(nameBox);
    names->setContentsMargins(9, 1, 0, 1);
    names->setSpacing(0);
    names->addWidget(title_);
    names->addWidget(state_);
    row->addWidget(nameBox);
    row->addStretch(1);
    for (std::size_t i = 0; i < kStageNames.size(); ++i) {
        const int number = static_cast<int>(i) + 1;
        stages_[i] = new StageButton(number, tr(kStageNames[i]));
        track_->addButton(stages_[i], static_cast<int>(i));
        if (i > 0) {
            QFrame* joint = hairline();
            joint->setFixedSize(18, 2);
            row->addWidget(joint);
        }
        row->addWidget(stages_[i]);
    }
    connect(track_, &QButtonGroup::idClicked, this, &Header::stageChosen);
    row->addStretch(1);
    row->addWidget(find);
    auto arrow = [&](const char* picture, const QString& name, auto wanted) {
        QPushButton* made = button(this, {}, "flat", name, [this, wanted] { Q_EMIT(this->*wanted)(); });
        made->setIcon(icon(picture));
        made->setAccessibleName(name);
        row->addWidget(made);
        return made;
    };
    undo_ = arrow("undo-2", tr("Undo"), &Header::undoWanted);
    redo_ = arrow("redo-2", tr("Redo"), &Header::redoWanted);
}

void Header::showProject(const QString& name, const QString& state) {
    title_->setText(name);
    state_->setText(state);
}

void Header::showStages(int current, const std::array<QString, kStageNames.size()>& counts) {
    for (std::size_t i = 0; i < kStageNames.size(); ++i) {
        stages_[i]->setChecked(static_cast<int>(i) == current);
        stages_[i]->setCount(counts[i]);
    }
}

void Header::showHistory(const QString& undoName, const QString& redoName) {
    undo_->setEnabled(!undoName.isEmpty());
    redo_->setEnabled(!redoName.isEmpty());
    undo_->setToolTip(undoName.isEmpty() ? tr("Nothing to undo.") : tr("Undo: %1 (Ctrl+Z)").arg(undoName));
    redo_->setToolTip(redoName.isEmpty() ? tr("Nothing to redo.")
                                         : tr("Redo: %1 (Ctrl+Shift+Z)").arg(redoName));
}

} // namespace jointer::app
