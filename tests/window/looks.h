// SPDX-License-Identifier: GPL-3.0-or-later
// Finds what a person would see as cut off, squeezed or nameless in a window: by the sizes that widgets ask
// for.
#pragma once

#include <QAbstractButton>
#include <QAbstractScrollArea>
#include <QAbstractSpinBox>
#include <QComboBox>
#include <QLabel>
#include <QLayout>
#include <QLineEdit>
#include <QScrollArea>
#include <QStringList>
#include <QWidget>
#include <algorithm>
#include <set>

namespace jointer::test {

inline QString told(const QWidget* w) {
    QString name = w->objectName().isEmpty() ? w->accessibleName() : w->objectName();
    if (const auto* b = qobject_cast<const QAbstractButton*>(w)) name += " “" + b->text() + "”";
    if (const auto* l = qobject_cast<const QLabel*>(w)) name += " “" + l->text().left(40) + "”";
    QString parents;
    for (const QWidget* p = w->parentWidget(); p && !p->isWindow(); p = p->parentWidget())
        if (!p->objectName().isEmpty() && !p->objectName().startsWith("qt_"))
            parents += " in " + p->objectName();
    return QString("%1 %2%3 (%4 × %5, asks for %6 × %7)")
        .arg(w->metaObject()->className(), name, parents)
        .arg(w->width())
        .arg(w->height())
        .arg(w->minimumSizeHint().width())
        .arg(w->minimumSizeHint().height());
}

inline bool isControl(const QWidget* w) {
    return qobject_cast<const QAbstractButton*>(w) || qobject_cast<const QLineEdit*>(w) ||
           qobject_cast<const QComboBox*>(w) || qobject_cast<const QAbstractSpinBox*>(w);
}

// Whether it scrolls within one above it, so that it may lie outside of what is shown.
inline bool isScrolled(const QWidget* w) {
    const QWidget* above = w->parentWidget();
    const auto* scroll = above ? qobject_cast<const QScrollArea*>(above->parentWidget()) : nullptr;
    return scroll && scroll->widget() == w;
}

// What asks for more width than its pane has, the innermost first: all in it is laid out for the wrong width.
inline QStringList tooWide(const QWidget* root) {
    QStringList found;
    for (const QScrollArea* scroll : root->findChildren<QScrollArea*>()) {
        const QWidget* content = scroll->widget();
        if (!content || !content->isVisible() || !content->layout() ||
            content->layout()->minimumSize().width() <= content->width())
            continue;
        for (const QWidget* w : content->findChildren<QWidget*>()) {
            const int wanted =
                w->layout() ? w->layout()->minimumSize().width() : w->minimumSizeHint().width();
            if (w->minimumSize() == w->maximumSize()) continue; // a swatch, a picture
            const bool shrinks =
                w->minimumWidth() == 0 && w->sizePolicy().horizontalPolicy() == QSizePolicy::Ignored;
            if (w->isVisible() && !shrinks && std::max(wanted, w->minimumWidth()) > w->width() + 1)
                found << "too wide: " + told(w);
        }
        found << QString("pane %1 wants %2 of %3")
                     .arg(scroll->accessibleName())
                     .arg(content->layout()->minimumSize().width())
                     .arg(content->width());
    }
    return found;
}

// What is lower than its line of text, or reaches out of what holds it.
inline QStringList squeezed(const QWidget* root) {
    QStringList found;
    for (const QWidget* w : root->findChildren<QWidget*>()) {
        const bool shows = isControl(w) || qobject_cast<const QLabel*>(w);
        if (!shows || !w->isVisible() || w->isWindow()) continue;
        const bool inside = qobject_cast<const QAbstractSpinBox*>(w->parentWidget()) ||
                            qobject_cast<const QComboBox*>(w->parentWidget()); // the toolkit's own parts
        if (inside) continue;
        const bool picture = qobject_cast<const QAbstractButton*>(w) && w->minimumSize() == w->maximumSize();
        if (!picture && w->height() + 1 < w->minimumSizeHint().height()) found << "squeezed: " + told(w);
        const auto* label = qobject_cast<const QLabel*>(w);
        const bool text = (label && !label->wordWrap() && !label->text().isEmpty()) ||
                          (qobject_cast<const QAbstractButton*>(w) &&
                           !qobject_cast<const QAbstractButton*>(w)->text().isEmpty());
        if (text && w->width() + 1 < w->minimumSizeHint().width()) found << "cut: " + told(w);
        if (label && label->wordWrap() && label->height() + 1 < label->heightForWidth(label->width()))
            found << "lines cut: " + told(w);
        const QWidget* holder = w->parentWidget();
        if (!isScrolled(w) && !holder->rect().adjusted(-1, -1, 1, 1).contains(w->geometry()))
            found << "reaches out: " + told(w);
    }
    return found;
}

// Controls that neither show nor tell what they are.
inline QStringList nameless(const QWidget* root) {
    QStringList found;
    std::set<const QWidget*> named;
    for (const QLabel* label : root->window()->findChildren<QLabel*>()) named.insert(label->buddy());
    for (const QWidget* w : root->findChildren<QWidget*>()) {
        if (!isControl(w) || !w->isVisible() || w->focusPolicy() == Qt::NoFocus) continue;
        if (qobject_cast<const QAbstractSpinBox*>(w->parentWidget()) ||
            qobject_cast<const QComboBox*>(w->parentWidget()))
            continue;
        const auto* b = qobject_cast<const QAbstractButton*>(w);
        if (named.contains(w)) continue;
        if (w->accessibleName().isEmpty() && (!b || b->text().isEmpty() || b->text().size() < 2))
            found << "nameless: " + told(w);
    }
    return found;
}

} // namespace jointer::test
