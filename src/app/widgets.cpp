// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets.h"

#include "app/elided.h"
#include "io/reader.h"
#include "io/writer.h"

#include <QAbstractSpinBox>
#include <QApplication>
#include <QComboBox>
#include <QEvent>
#include <QFormLayout>
#include <QFrame>
#include <QHeaderView>
#include <QKeySequence>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMouseEvent>
#include <QPushButton>
#include <QScrollArea>
#include <QSlider>
#include <QSplitter>
#include <QStyle>
#include <QTableView>
#include <QVBoxLayout>

namespace jointer::app {

namespace {

constexpr int kSideWidth = 280, kMostSideWidth = 520;

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

namespace {

// Keeps what scrolls as wide as its pane: it never reaches beyond.
class FitWidth final : public QObject {
public:
    FitWidth(QScrollArea& scroll, QWidget* content) : QObject(&scroll), content_(content) {
        scroll.viewport()->installEventFilter(this);
    }
    bool eventFilter(QObject* viewport, QEvent* event) override {
        if (event->type() == QEvent::Resize)
            content_->setMaximumWidth(static_cast<QWidget*>(viewport)->width());
        return false;
    }

private:
    QWidget* content_;
};

} // namespace

namespace {

// In a pane the wheel scrolls: it never changes a box or a number that happens to lie under the pointer.
class WheelScrolls final : public QObject {
public:
    using QObject::QObject;

protected:
    bool eventFilter(QObject* watched, QEvent* event) override {
        if (event->type() != QEvent::Wheel) return false;
        auto* widget = qobject_cast<QWidget*>(watched);
        const bool takes = qobject_cast<QComboBox*>(widget) || qobject_cast<QAbstractSpinBox*>(widget) ||
                           qobject_cast<QSlider*>(widget);
        if (!takes || !isInPane(widget)) return false;
        event->ignore(); // goes on to what holds it
        return true;
    }

private:
    static bool isInPane(const QWidget* widget) {
        for (const QWidget* w = widget->parentWidget(); w && !w->isWindow(); w = w->parentWidget())
            if (w->inherits("QScrollArea")) return true;
        return false;
    }
};

} // namespace

void preparePaneScroll(QScrollArea& scroll, QWidget* content, const QString& name) {
    scroll.setFrameShape(QFrame::NoFrame);
    scroll.setWidgetResizable(true);
    scroll.setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll.setAccessibleName(name);
    scroll.setWidget(content);
    new FitWidth(scroll, content); // belongs to the scroll area
    static const bool once = [] {
        qApp->installEventFilter(new WheelScrolls(qApp));
        return true;
    }();
    (void)once;
}

QScrollArea* stripScroll(QWidget* content, const QString& name) {
    auto* scroll = new QScrollArea;
    scroll->setObjectName("strip");
    scroll->setWidget(content);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setAccessibleName(name);
    return scroll;
}

QScrollArea* paneScroll(QWidget* content, const QString& name) {
    auto* scroll = new QScrollArea;
    preparePaneScroll(*scroll, content, name);
    return scroll;
}

QString endingFilter(const KindInfo& format) {
    return QString("%1 (*.%2)").arg(text(format.name), text(format.key));
}

QString tableFilter() {
    QStringList filters;
    for (const io::WriterKind& w : io::writerCatalogue()) filters << endingFilter(w.info);
    return filters.join(";;");
}

QString readerFilter() {
    QStringList all, kinds;
    for (const io::ReaderKind& r : io::readerCatalogue()) {
        QStringList own;
        for (const std::string& ending : r.endings) own << "*." + text(ending);
        all << own;
        kinds << QString("%1 (%2)").arg(text(r.info.name).replace('(', "– ").remove(')'), own.join(' '));
    }
    for (const char* packed : {"*.gz", "*.bz2", "*.xz", "*.zst", "*.zip"}) all << packed;
    return QStringList({QApplication::translate("Files", "Data (%1)").arg(all.join(' ')),
                        QApplication::translate("Files", "All files (*)")})
               .join(";;") +
           ";;" + kinds.join(";;");
}

QLabel* caption(const QString& words) {
    return label(words, "caption");
}

QLabel* nameCaption(const QString& words) {
    auto* made = new Elided<QLabel>(words);
    made->setObjectName("caption");
    return made;
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

namespace {

QPushButton* prepared(QPushButton* made, QWidget* owner, const char* look, const QString& tip,
                      std::function<void()> act) {
    made->setObjectName(look);
    made->setToolTip(tip);
    QObject::connect(made, &QPushButton::clicked, owner, std::move(act));
    return made;
}

} // namespace

QPushButton* button(QWidget* owner, const QString& words, const char* look, const QString& tip,
                    std::function<void()> act) {
    return prepared(new QPushButton(words), owner, look, tip, std::move(act));
}

QPushButton* nameButton(QWidget* owner, const QString& name, const char* look, const QString& tip,
                        std::function<void()> act) {
    return prepared(new Elided<QPushButton>(name), owner, look, tip, std::move(act));
}

void relabel(QPushButton* button, const QString& label) {
    const QKeySequence shortcut = button->shortcut();
    button->setText(label);
    button->setShortcut(shortcut);
}

StageParts layOutStage(QWidget* page) {
    auto* row = new QHBoxLayout(page);
    row->setContentsMargins(0, 0, 0, 0);
    auto* split = new QSplitter;
    split->setObjectName("stageSplit");
    split->setChildrenCollapsible(false);
    split->setHandleWidth(3);
    QWidget* middle = ground("middle");
    QWidget* side = ground("side");
    side->setMinimumWidth(kSideWidth);
    side->setMaximumWidth(kMostSideWidth);
    split->addWidget(middle);
    split->addWidget(side);
    split->setStretchFactor(0, 1);
    split->setStretchFactor(1, 0);
    split->handle(1)->setToolTip(QApplication::translate("Stage", "Draw to make the pane wider"));
    row->addWidget(split);
    StageParts parts{new QVBoxLayout(middle), new QVBoxLayout(side)};
    parts.middle->setContentsMargins(14, 8, 14, 12);
    parts.side->setContentsMargins(15, 12, 15, 12);
    return parts;
}

void setSideWidth(QWidget* window, int width) {
    width = std::clamp(width, kSideWidth, kMostSideWidth);
    for (auto* split : window->findChildren<QSplitter*>("stageSplit")) {
        const int all = split->width() > 0 ? split->width() : window->width();
        split->setSizes({std::max(1, all - width), width});
    }
}

void onSideWidth(QWidget* window, std::function<void(int)> act) {
    for (auto* split : window->findChildren<QSplitter*>("stageSplit"))
        QObject::connect(split, &QSplitter::splitterMoved, window,
                         [split, act] { act(split->sizes().value(1)); });
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
    // Else hiding would hand the focus to whatever comes next in the window.
    if (QWidget* focused = QApplication::focusWidget();
        focused && (focused == widget || widget->isAncestorOf(focused)))
        focused->clearFocus();
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

namespace {

// A click on what can be checked does not close it.
class StayingMenu final : public QMenu {
public:
    using QMenu::QMenu;

protected:
    void mouseReleaseEvent(QMouseEvent* e) override {
        QAction* under = actionAt(e->position().toPoint());
        if (!under || !under->isCheckable() || !under->isEnabled()) return QMenu::mouseReleaseEvent(e);
        under->trigger();
        Q_EMIT triggered(under);
    }
};

} // namespace

QMenu* newStayingMenu(QWidget* owner) {
    auto* menu = new StayingMenu(owner);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setToolTipsVisible(true);
    return menu;
}

QPoint below(const QWidget* widget) {
    return widget->mapToGlobal(QPoint(0, widget->height()));
}

} // namespace jointer::app
