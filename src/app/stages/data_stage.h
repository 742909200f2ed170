// SPDX-License-Identifier: GPL-3.0-or-later
// Data: the grid of a table with the settings of the selected column and dataset; in the same place the
// preview of files that wait to be imported, and the choice of which column is what.
#pragma once

#include "app/background.h"
#include "app/document.h"
#include "app/stages/import_view.h"
#include "app/stages/mapping_view.h"

#include <QWidget>

class QLabel;
class QPushButton;
class QStackedWidget;
class QTableView;
class QVBoxLayout;

namespace jointer::app {

class ColumnHeader;
class ColumnPane;
class DatasetPane;
class TableActions;
class TableFinder;
class TableModel;

class DataStage final : public QWidget {
    Q_OBJECT
public:
    explicit DataStage(Document& document, QWidget* parent = nullptr);
    ImportView* import() { return import_; }
    MappingView* mapping() { return mapping_; }
    bool isCurrent() const;
    void offer(const std::vector<Waiting>& sources);
    void paste();
    void findInTable();
    void chooseColumns();             // of the selected dataset
    void showColumn(ColumnId column); // of the table in view
    void newTable();                  // an empty one, to type in
    void readAgain();                 // the file of the table

Q_SIGNALS:
    void importWanted();
    void demoWanted();

private:
    QWidget* buildWelcome();
    QWidget* buildTableView();
    QWidget* buildGrid();
    void buildSide(QVBoxLayout& side);
    void refresh();
    void show(Outcome<Table> filled);
    void showMade(const Dataset& dataset);
    void showOrigin(const Table& table);
    void refreshColumn();
    void fitColumns();
    int currentColumn() const;
    void addColumn();
    void addTyped();
    void selectShown();
    void offerRoles(int section, QPoint below);

    Document& document_;
    LatestJob tableJob_;
    std::vector<Issue> formulaIssues_; // of the table shown
    ColumnId toShow_;                  // a column to be selected once it is there
    bool toBegin_ = false;             // the grid waits to be typed in
    bool editShown_ = false;           // its formula waits to be typed
    QStackedWidget *pages_, *middle_;
    ImportView* import_;
    MappingView* mapping_;
    QTableView* grid_;
    ColumnHeader* header_ = nullptr;
    TableModel* model_;
    TableActions* actions_ = nullptr;
    TableFinder* finder_ = nullptr;
    PlotCanvas* plot_; // of a dataset that is no table
    QWidget *welcome_, *gridPage_;
    QPushButton *typeColumn_, *addColumn_, *makeDataset_, *readAgain_;
    QLabel *columnCaption_, *heading_, *origin_;
    ColumnPane* column_;
    DatasetPane* dataset_;
};

} // namespace jointer::app
