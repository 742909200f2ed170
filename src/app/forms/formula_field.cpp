// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/forms/formula_field.h"

#include "app/theme/theme.h"
#include "app/widgets.h"
#include "formula/column_functions.h"

#include <QAbstractItemView>
#include <QCompleter>
#include <QCoreApplication>
#include <QInputMethodEvent>
#include <QKeyEvent>
#include <QStandardItemModel>
#include <QTextCharFormat>
#include <QTextLayout>

namespace jointer::app {

namespace {

enum Roles { SpellingRole = Qt::UserRole + 1, FunctionRole };

} // namespace

FormulaField::FormulaField(QWidget* parent)
    : QLineEdit(parent), completer_(new QCompleter(this)), words_(new QStandardItemModel(this)) {
    completer_->setModel(words_);
    completer_->setCompletionRole(SpellingRole);
    completer_->setCaseSensitivity(Qt::CaseInsensitive);
    completer_->setFilterMode(Qt::MatchContains);
    completer_->setWidget(this);
    completer_->setMaxVisibleItems(8);
    connect(completer_, qOverload<const QModelIndex&>(&QCompleter::activated), this, &FormulaField::take);
    connect(this, &QLineEdit::textEdited, this, &FormulaField::offer);
}

void FormulaField::setWords(const std::vector<Word>& all) {
    words_->clear();
    for (const Word& w : all) {
        auto* item = new QStandardItem(w.meaning.isEmpty() ? w.spelling : w.spelling + "   " + w.meaning);
        item->setData(w.spelling, SpellingRole);
        item->setData(w.isFunction, FunctionRole);
        words_->appendRow(item);
    }
}

// Where the word at the cursor begins; inside quotes that is the quote.
int FormulaField::wordStart() const {
    const QString before = text().left(cursorPosition());
    if (before.count('\'') % 2 == 1) return static_cast<int>(before.lastIndexOf('\''));
    int start = static_cast<int>(before.size());
    auto belongs = [](QChar c) { return c.isLetterOrNumber() || c == '_' || c.unicode() > 0x7f; };
    while (start > 0 && belongs(before[start - 1])) --start;
    return start;
}

void FormulaField::offer() {
    const int start = wordStart();
    QString word = text().mid(start, cursorPosition() - start);
    if (word.startsWith('\'')) word.remove(0, 1);
    const bool number = !word.isEmpty() && word[0].isDigit();
    completer_->setCompletionPrefix(word);
    const bool done = completer_->completionCount() == 1 &&
                      completer_->currentIndex().data(SpellingRole).toString() == word;
    if (word.isEmpty() || number || completer_->completionCount() == 0 || done)
        return completer_->popup()->hide();
    completer_->popup()->setMinimumWidth(260);
    completer_->complete();
}

void FormulaField::take(const QModelIndex& chosen) {
    const bool function = chosen.data(FunctionRole).toBool();
    QString spelling = chosen.data(SpellingRole).toString();
    const int start = wordStart();
    const bool quoted = text().mid(start, 1) == "'";
    if (quoted && !spelling.startsWith('\'')) spelling = "'" + spelling + "'";
    const bool called = text().mid(cursorPosition(), 1) == "(";
    if (function && !called) spelling += "()";
    setSelection(start, cursorPosition() - start);
    insert(spelling);
    if (function && !called) cursorBackward(false);
    Q_EMIT textEdited(text());
    completer_->popup()->hide();
}

void FormulaField::keyPressEvent(QKeyEvent* e) {
    const bool open = completer_->popup()->isVisible();
    const bool takes = e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter || e->key() == Qt::Key_Tab;
    if (open && takes && completer_->popup()->currentIndex().isValid())
        return take(completer_->popup()->currentIndex());
    if (open && e->key() == Qt::Key_Escape) return completer_->popup()->hide();
    if (takes) completer_->popup()->hide();
    QLineEdit::keyPressEvent(e);
}

void FormulaField::focusOutEvent(QFocusEvent* e) {
    if (e->reason() != Qt::PopupFocusReason) QLineEdit::focusOutEvent(e);
}

void FormulaField::mark(long sign) {
    QList<QInputMethodEvent::Attribute> attributes;
    if (sign > 0 && !text().isEmpty()) {
        QTextCharFormat format;
        format.setUnderlineStyle(QTextCharFormat::WaveUnderline);
        format.setUnderlineColor(theme().error);
        format.setForeground(theme().error);
        const int at = std::clamp(static_cast<int>(sign) - 1, 0, static_cast<int>(text().size()) - 1);
        attributes.append(QInputMethodEvent::Attribute(QInputMethodEvent::TextFormat, at - cursorPosition(),
                                                       static_cast<int>(text().size()) - at, format));
    }
    QInputMethodEvent event({}, attributes);
    QCoreApplication::sendEvent(this, &event);
}

std::vector<FormulaField::Word> functionWords() {
    std::vector<FormulaField::Word> all;
    for (const auto& f : formula::functions()) all.push_back({text(f.name), text(f.meaning), true});
    for (const auto& f : formula::columnFunctions()) all.push_back({text(f.name), text(f.meaning), true});
    std::ranges::sort(all, {}, &FormulaField::Word::spelling);
    return all;
}

} // namespace jointer::app
