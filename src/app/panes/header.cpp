// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/header.h"

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
    names->setSpacing(0);
    names->addWidget(title_);
    names->addWidget(state_);
    row->addWidget(nameBox);
    row->addStretch(1);
    for (std::size_t i = 0; i < kStageNames.size(); ++i) {
        const QString name = tr(kStageNames[i]);
        auto* stage = new QPushButton;
        stage->setCheckable(true);
        stage->setCursor(Qt::PointingHandCursor);
        stage->setAccessibleName(name);
        stage->setToolTip(tr("%1 (Ctrl+%2)").arg(name).arg(i + 1));
        stage->setObjectName("stage");
        track_->addButton(stage, static_cast<int>(i));
        if (i > 0) {
            QFrame* joint = hairline();
            joint->setFixedSize(26, 2);
            row->addWidget(joint);
        }
        row->addWidget(stage);
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

// The present stage is filled and carries its count.
void Header::showStages(int current, const std::array<QString, kStageNames.size()>& counts) {
    const Theme& t = theme();
    const QString now =
        QString("QPushButton { background: %1; color: %2; border: none; border-radius: 13px; padding: "
                "5px 15px; font-weight: 600; } QPushButton:focus { border: 2px solid %3; }")
            .arg(t.accent.name(), t.dark ? "#10201E" : "#FFFFFF", t.copper.name());
    const QString other =
        QString("QPushButton { background: transparent; color: %1; border: none; padding: 5px 6px; "
                "} QPushButton:hover { color: %2; } QPushButton:focus { color: %2; "
                "text-decoration: underline; }")
            .arg(t.muted.name(), t.ink.name());
    for (std::size_t i = 0; i < kStageNames.size(); ++i) {
        auto* stage = track_->button(static_cast<int>(i));
        const bool isNow = static_cast<int>(i) == current;
        stage->setChecked(isNow);
        stage->setText(QString("%1   %2%3")
                           .arg(i + 1)
                           .arg(tr(kStageNames[i]), isNow && !counts[i].isEmpty() ? "  " + counts[i] : ""));
        stage->setStyleSheet(isNow ? now : other);
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
