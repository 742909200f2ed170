// SPDX-License-Identifier: GPL-3.0-or-later
// The settings of the selected column: name, unit, kind, role, how its cells are shown, its formula with a
// live first value; below them its summary with a small histogram.
#pragma once

#include "app/background.h"
#include "app/document.h"

#include <QWidget>

class QComboBox;
class QFormLayout;
class QGridLayout;
class QLabel;
class QLineEdit;
class QSpinBox;

namespace jointer::app {

class FormulaField;
class HistogramStrip;

class ColumnPane final : public QWidget {
    Q_OBJECT
public:
    explicit ColumnPane(Document& document, QWidget* parent = nullptr);

    // Shows a column of a table whose computed columns are filled; -1: none. `issues` are of its formulas.
    void show(const Table& table, int column, const std::vector<Issue>& issues);
    void beginName();    // the name can be typed
    void beginFormula(); // the formula waits to be typed
    bool isCurrent() const { return !summaryJob_.isBusy() && !trialJob_.isBusy(); }

private:
    void buildFields();
    void change(const QString& name, const std::function<void(Column&)>& how);
    void changeFormat();
    void showFormat(const Column& column);
    void showWords();
    void tryFormula();
    void takeFormula();
    void showNote(const Column& column, const std::vector<Issue>& issues);
    void summarise(const Column& column);
    const Column* column() const;

    Document& document_;
    LatestJob summaryJob_, trialJob_;
    Table table_;
    ColumnId column_;
    QFormLayout* form_;
    QLineEdit *name_, *unit_;
    QComboBox *kind_, *role_, *style_, *pattern_;
    QSpinBox* digits_;
    FormulaField* formula_;
    QLabel *note_, *summary_;
    HistogramStrip* histogram_;
};

} // namespace jointer::app
