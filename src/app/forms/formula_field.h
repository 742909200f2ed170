// SPDX-License-Identifier: GPL-3.0-or-later
// A field for a formula: completes names and functions while they are typed, and underlines where the formula
// cannot be read.
#pragma once

#include <QLineEdit>

class QCompleter;
class QStandardItemModel;

namespace jointer::app {

class FormulaField final : public QLineEdit {
    Q_OBJECT
public:
    explicit FormulaField(QWidget* parent = nullptr);

    // What can be written at a place: its spelling and a few words about it.
    struct Word {
        QString spelling, meaning;
        bool isFunction = false;
    };
    void setWords(const std::vector<Word>& words);

    void mark(long sign); // counted from 1; 0: nothing is wrong

protected:
    void keyPressEvent(QKeyEvent*) override;
    void focusOutEvent(QFocusEvent*) override;

private:
    void offer();
    void take(const QModelIndex& chosen);
    int wordStart() const;

    QCompleter* completer_;
    QStandardItemModel* words_;
};

// All functions that computed columns know.
std::vector<FormulaField::Word> functionWords();

} // namespace jointer::app
