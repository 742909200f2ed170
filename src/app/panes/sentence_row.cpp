// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/sentence_row.h"

#include "app/theme/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMouseEvent>
#include <QPushButton>
#include <QVBoxLayout>

namespace jointer::app {

SentenceRow::SentenceRow(const QString& number, bool on, bool open, QWidget* parent)
    : QFrame(parent), number_(new QPushButton(number)), sentence_(new QLabel), detail_(new QLabel),
      warnings_(new QLabel), body_(new QVBoxLayout), open_(open) {
    setObjectName(open ? "openCard" : "plainRow");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(open ? 10 : 0, open ? 9 : 6, open ? 10 : 0, open ? 9 : 6);
    row->setSpacing(9);
    number_->setFixedSize(21, 21);
    const QString fill = on ? theme().accent.name() : "transparent",
                  ink = on ? theme().panel.name() : theme().muted.name(),
                  edge = on ? theme().accent.name() : theme().line.name();
    number_->setStyleSheet(
        QString("QPushButton { background: %1; color: %2; border: 1px solid %3; border-radius: 10px; "
                "padding: 0; font-size: 9pt; font-weight: 600; } QPushButton:focus { border: 2px solid %4; }")
            .arg(fill, ink, edge, theme().copper.name()));
    number_->setToolTip(on ? tr("Switch off") : tr("Switch on"));
    number_->setAccessibleName(tr("Switch %1").arg(number));
    connect(number_, &QPushButton::clicked, this, &SentenceRow::switched);
    row->addWidget(number_, 0, Qt::AlignTop);
    body_->setSpacing(3);
    sentence_->setWordWrap(true);
    detail_->setWordWrap(true);
    detail_->setObjectName("muted");
    warnings_->setWordWrap(true);
    warnings_->setObjectName("warning");
    warnings_->hide();
    body_->addWidget(sentence_);
    body_->addWidget(detail_);
    row->addLayout(body_, 1);
    body_->addWidget(warnings_);
    setCursor(open ? Qt::ArrowCursor : Qt::PointingHandCursor);
}

void SentenceRow::setSentence(const QString& sentence, const QString& detail) {
    sentence_->setText(sentence);
    detail_->setText(detail);
    detail_->setVisible(!detail.isEmpty());
}

void SentenceRow::setWarnings(const QStringList& warnings) {
    warnings_->setText(warnings.join("\n"));
    warnings_->setVisible(!warnings.isEmpty());
}

void SentenceRow::addBody(QWidget* body) {
    body_->insertWidget(body_->count() - 1, body);
}

void SentenceRow::addTools(bool canMove) {
    auto* tools = new QWidget;
    auto* row = new QHBoxLayout(tools);
    row->setContentsMargins(0, 2, 0, 0);
    row->setSpacing(2);
    row->addStretch(1);
    auto add = [&](const QString& picture, const QString& tip, auto signal) {
        auto* button = new QPushButton;
        button->setObjectName("flat");
        button->setIcon(icon(picture));
        button->setToolTip(tip);
        button->setAccessibleName(tip);
        connect(button, &QPushButton::clicked, this, signal);
        row->addWidget(button);
    };
    if (canMove) {
        add("arrow-up", tr("Move up"), [this] { Q_EMIT moved(-1); });
        add("arrow-down", tr("Move down"), [this] { Q_EMIT moved(1); });
    }
    add("trash-2", tr("Remove"), [this] { Q_EMIT removed(); });
    body_->addWidget(tools);
}

void SentenceRow::mouseReleaseEvent(QMouseEvent* e) {
    if (rect().contains(e->position().toPoint()) &&
        (!open_ || sentence_->geometry().contains(e->position().toPoint())))
        Q_EMIT clicked();
}

} // namespace jointer::app
