// SPDX-License-Identifier: GPL-3.0-or-later
// What can be done to the rows and cells of the table in the grid: copy, paste, clear, fill, insert, delete,
// sort. As a menu at the place of the click and as shortcuts while the grid has the focus.
#pragma once

#include "app/document.h"

#include <QObject>
#include <functional>
#include <set>

class QTableView;
class QMenu;

namespace jointer::app {

class TableModel;

class TableActions final : public QObject {
    Q_OBJECT
public:
    TableActions(Document& document, QTableView* grid, TableModel* model);
    void paste(const QString& block); // at the current cell

private:
    void add(const QString& label, const QString& shortcut, const QString& tip, std::function<void()> act);
    std::vector<std::size_t> selectedRows() const;
    std::set<int> selectedPlaces() const;
    std::vector<ColumnId> selectedColumns() const;
    void goDown();
    void copy();
    void clear();
    void fillDown();
    void continueSeries();
    void insertRows(bool below);
    void markRows(RowKind kind);
    void sort(bool ascending);
    void moveColumn(int by);

    Document& document_;
    QTableView* grid_;
    TableModel* model_;
};

} // namespace jointer::app
