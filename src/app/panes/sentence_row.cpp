// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/sentence_row.h"

#include "app/theme/theme.h"

#include <QApplication>
#include <QDrag>
#include <QHBoxLayout>
#include <QLabel>
#include <QMimeData>
#include <QMouseEvent>
#include <QPushButton>
#include <QVBoxLayout>

namespace jointer::app {

SentenceRow::SentenceRow(const QString& number, bool on, bool open, QWidget* parent)
    : QFrame(parent), number_(new QPushButton(number)), sentence_(new QLabel), detail_(new QLabel),
      warnings_(new QLabel), body_(new QVBoxLayout), left_(new QVBoxLayout), open_(open) {
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
    left_->setSpacing(4);
    left_->addWidget(number_);
    left_->addStretch(1);
    row->addLayout(left_);
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

void SentenceRow::setNumberTip(const QString& tip) {
    number_->setToolTip(tip);
    number_->setAccessibleName(tip.isEmpty() ? tr("Station %1").arg(number_->text()) : tip);
    number_->setEnabled(!tip.isEmpty());
}

void SentenceRow::setSentence(const QString& sentence, const QString& detail) {
    // A number is not broken at its thin spaces.
    const auto whole = [](QString words) { return words.replace(QChar(0x2009), QChar(0x202F)); };
    sentence_->setText(whole(sentence));
    detail_->setText(whole(detail));
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

void SentenceRow::addLook(const QString& mark, const QString& tip, bool looking) {
    auto* look = new QPushButton(mark);
    look->setObjectName("look");
    look->setCheckable(true);
    look->setChecked(looking);
    if (mark.isEmpty()) look->setIcon(icon("eye"));
    look->setFixedSize(mark.isEmpty() ? 21 : 38, 17);
    look->setToolTip(tip);
    look->setAccessibleName(tip);
    connect(look, &QPushButton::clicked, this, &SentenceRow::looked);
    left_->insertWidget(1, look, 0, Qt::AlignHCenter);
}

void SentenceRow::addLink(const QString& words, std::function<void()> act) {
    auto* link = new QPushButton(words);
    link->setObjectName("link");
    link->setCursor(Qt::PointingHandCursor);
    connect(link, &QPushButton::clicked, this, std::move(act));
    body_->insertWidget(2, link, 0, Qt::AlignLeft);
}

void SentenceRow::setProposal(const QString& words, std::function<void()> take) {
    take_ = std::move(take);
    if (!proposal_ && !words.isEmpty()) {
        proposal_ = new QPushButton;
        proposal_->setObjectName("proposal");
        proposal_->setCursor(Qt::PointingHandCursor);
        proposal_->setToolTip(
            tr("Take what is proposed as if you had placed it; or drag what is wrong on the plot"));
        connect(proposal_, &QPushButton::clicked, this, [this] { take_(); });
        body_->insertWidget(2, proposal_, 0, Qt::AlignLeft);
    }
    if (!proposal_) return;
    proposal_->setText(words);
    proposal_->setVisible(!words.isEmpty());
}

void SentenceRow::mousePressEvent(QMouseEvent* e) {
    pressed_ = e->position().toPoint();
}

void SentenceRow::mouseMoveEvent(QMouseEvent* e) {
    const bool far =
        (e->position().toPoint() - pressed_).manhattanLength() > QApplication::startDragDistance();
    if (dragText_.isEmpty() || !e->buttons().testFlag(Qt::LeftButton) || !far) return;
    auto* data = new QMimeData;
    data->setData(kStepsMime, dragText_);
    QDrag drag(this);
    drag.setMimeData(data);
    drag.setPixmap(sentence_->grab());
    drag.setHotSpot({-14, -6}); // beside the pointer: what lies below it stays to be seen
    drag.exec(Qt::CopyAction | Qt::MoveAction, Qt::MoveAction);
}

void SentenceRow::mouseReleaseEvent(QMouseEvent* e) {
    if (rect().contains(e->position().toPoint()) &&
        (!open_ || sentence_->geometry().contains(e->position().toPoint())))
        Q_EMIT clicked();
}

} // namespace jointer::app
