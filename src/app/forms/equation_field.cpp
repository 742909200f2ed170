// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/forms/equation_field.h"

#include "app/theme/theme.h"

#include <QAbstractTextDocumentLayout>
#include <QKeyEvent>
#include <QTextBlock>
#include <QTextLayout>
#include <algorithm>

namespace jointer::app {

namespace {

constexpr int kMostLines = 8; // shown without scrolling
constexpr int kPadding = 8;   // of the frame, as the style sheet has it

} // namespace

EquationField::EquationField(QWidget* parent) : QPlainTextEdit(parent) {
    setObjectName("equation");
    setAccessibleName(tr("Equation"));
    setToolTip(
        tr("Plain mathematics in x (x1, x2… where the dataset has several columns x); every other name "
           "becomes a parameter. Lines before the last name intermediate values, as in “k = a/x”. "
           "Return takes it, Shift+Return begins a new line."));
    setTabChangesFocus(true);
    connect(document()->documentLayout(), &QAbstractTextDocumentLayout::documentSizeChanged, this,
            &EquationField::fitHeight);
    fitHeight();
}

void EquationField::showText(const QString& text) {
    last_ = text;
    if (!hasFocus() && toPlainText() != text) setPlainText(text);
}

void EquationField::fitHeight() {
    int all = 0; // lines, wrapped ones too
    for (QTextBlock block = document()->begin(); block.isValid(); block = block.next())
        all += std::max(1, block.layout()->lineCount());
    const int around = 2 * static_cast<int>(document()->documentMargin()) + 2 * frameWidth() + kPadding;
    setVerticalScrollBarPolicy(all > kMostLines ? Qt::ScrollBarAsNeeded : Qt::ScrollBarAlwaysOff);
    setFixedHeight(std::clamp(all, 1, kMostLines) * fontMetrics().lineSpacing() + around);
}

void EquationField::mark(long line, long sign) {
    QList<QTextEdit::ExtraSelection> marks;
    const QTextBlock block = document()->findBlockByNumber(static_cast<int>(std::max(line, 1L)) - 1);
    if ((line > 0 || sign > 0) && block.isValid()) {
        QTextEdit::ExtraSelection wrong;
        wrong.format.setUnderlineStyle(QTextCharFormat::WaveUnderline);
        wrong.format.setUnderlineColor(theme().error);
        wrong.format.setForeground(theme().error);
        wrong.cursor = QTextCursor(block);
        const int length = static_cast<int>(block.text().size());
        // At the end of a line there is nothing to underline: its last sign is.
        const int from = std::clamp(static_cast<int>(sign) - 1, 0, std::max(0, length - 1));
        wrong.cursor.setPosition(block.position() + from);
        wrong.cursor.movePosition(QTextCursor::EndOfBlock, QTextCursor::KeepAnchor);
        marks.append(wrong);
    }
    setExtraSelections(marks);
}

void EquationField::take() {
    const QString now = toPlainText();
    if (now == last_) return;
    last_ = now;
    Q_EMIT taken(now);
}

void EquationField::resizeEvent(QResizeEvent* e) {
    QPlainTextEdit::resizeEvent(e);
    if (e->size().width() != e->oldSize().width()) fitHeight();
}

void EquationField::keyPressEvent(QKeyEvent* e) {
    const bool enter = e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter;
    if (enter && !e->modifiers().testFlag(Qt::ShiftModifier)) return take();
    if (enter) return insertPlainText("\n");
    if (e->key() == Qt::Key_Escape && toPlainText() != last_) return setPlainText(last_);
    QPlainTextEdit::keyPressEvent(e);
}

void EquationField::focusOutEvent(QFocusEvent* e) {
    QPlainTextEdit::focusOutEvent(e);
    take();
}

} // namespace jointer::app
