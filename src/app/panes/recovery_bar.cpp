// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/recovery_bar.h"

#include "app/widgets.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

namespace jointer::app {

RecoveryBar::RecoveryBar(const QString& projectTitle, QWidget* parent) : QFrame(parent) {
    setObjectName("recovery");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 4, 12, 4);
    row->addWidget(
        new QLabel(tr("“%1” was open when Jointer last ended unexpectedly, with changes that were not saved.")
                       .arg(projectTitle)),
        1);
    row->addWidget(button(this, tr("Discard"), "", tr("Delete what was kept of it"),
                          [this] { Q_EMIT discardWanted(); }));
    row->addWidget(button(this, tr("Recover"), "primary", tr("Open its latest state"),
                          [this] { Q_EMIT recoverWanted(); }));
}

} // namespace jointer::app
