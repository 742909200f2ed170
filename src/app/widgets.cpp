// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets.h"

#include <QApplication>
#include <QFormLayout>
#include <QFrame>
#include <QHeaderView>
#include <QKeySequence>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QStyle>
#include <QTableView>
#include <QVBoxLayout>

namespace jointer::app {

namespace {

constexpr int kSideWidth = 296;

QLabel* label(const QString& words, const char* look) {
    auto* made = new QLabel(words);
    made->setObjectName(look);
    return made;
}

QLabel* hiddenLabel(const char* look) {
    auto* made = label({}, look);
    made->setWordWrap(true);
    made->hide();
    return made;
}

QWidget* ground(const char* look) {
    auto* made = new QWidget;
    made->setObjectName(look);
    made->setAttribute(Qt::WA_StyledBackground);
    return made;
}

} // namespace

QString text(std::string_view utf8) {
    return QString::fromUtf8(utf8.data(), static_cast<qsizetype>(utf8.size()));
}

QLabel* muted(const QString& words) {
    return label(words, "muted");
}

void addLabelled(QFormLayout& form, const QString& words, QWidget* field) {
    QLabel* name = muted(words);
    name->setBuddy(field);
    form.addRow(name, field);
}

void preparePaneScroll(QScrollArea& scroll, QWidget* content, const QString& name) {
    scroll.setFrameShape(QFrame::NoFrame);
    scroll.setWidgetResizable(true);
    scroll.setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll.setAccessibleName(name);
    scroll.setWidget(content);
}

QScrollArea* paneScroll(QWidget* content, const QString& name) {
    auto* scroll = new QScrollArea;
    preparePaneScroll(*scroll, content, name);
    return scroll;
}

QLabel* caption(const QString& words) {
    return label(words, "caption");
}

QLabel* title(const QString& words) {
    return label(words, "title");
}

QLabel* warningLabel() {
    return hiddenLabel("warning");
}

QLabel* errorLabel() {
    return hiddenLabel("bad");
}

QFrame* hairline() {
    auto* line = new QFrame;
    line->setObjectName("hairline");
    line->setFixedHeight(1);
    return line;
}

void say(QLabel* shown, const QString& words) {
    shown->setText(words);
    shown->setVisible(!words.isEmpty());
}

QPushButton* button(QWidget* owner, const QString& words, const char* look, const QString& tip,
                    std::function<void()> act) {
    auto* made = new QPushButton(words);
    made->setObjectName(look);
    made->setToolTip(tip);
    QObject::connect(made, &QPushButton::clicked, owner, std::move(act));
    return made;
}

void relabel(QPushButton* button, const QString& label) {
    const QKeySequence shortcut = button->shortcut();
    button->setText(label);
    button->setShortcut(shortcut);
}

StageParts layOutStage(QWidget* page) {
    auto* row = new QHBoxLayout(page);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    QWidget* middle = ground("middle");
    QWidget* side = ground("side");
    side->setFixedWidth(kSideWidth);
    row->addWidget(middle, 1);
    row->addWidget(side);
    StageParts parts{new QVBoxLayout(middle), new QVBoxLayout(side)};
    parts.middle->setContentsMargins(14, 8, 14, 12);
    parts.side->setContentsMargins(15, 12, 15, 12);
    return parts;
}

QWidget* toolStrip(QHBoxLayout*& row) {
    QWidget* strip = ground("toolStrip");
    strip->setFixedHeight(36);
    row = new QHBoxLayout(strip);
    row->setContentsMargins(10, 3, 12, 3);
    row->setSpacing(4);
    return strip;
}

void prepareGrid(QTableView* grid) {
    grid->verticalHeader()->setDefaultSectionSize(24);
    grid->horizontalHeader()->setHighlightSections(false);
    grid->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    grid->setWordWrap(false);
    grid->setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
}

void refreshLook(QWidget* widget) {
    widget->style()->unpolish(widget);
    widget->style()->polish(widget);
}

void discard(QWidget* widget) {
    widget->blockSignals(true);
    for (QWidget* inner : widget->findChildren<QWidget*>()) inner->blockSignals(true);
    widget->hide();
    widget->deleteLater();
}

void clearLayout(QLayout* layout) {
    while (QLayoutItem* item = layout->takeAt(0)) {
        if (QWidget* widget = item->widget()) discard(widget);
        if (QLayout* inner = item->layout()) clearLayout(inner);
        delete item;
    }
}

void finishTyping() {
    if (auto* field = qobject_cast<QLineEdit*>(QApplication::focusWidget()); field && field->isModified())
        field->clearFocus();
}

QMenu* newMenu(QWidget* owner) {
    auto* menu = new QMenu(owner);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setToolTipsVisible(true);
    return menu;
}

QPoint below(const QWidget* widget) {
    return widget->mapToGlobal(QPoint(0, widget->height()));
}

} // namespace jointer::app
