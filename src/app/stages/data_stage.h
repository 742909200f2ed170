// SPDX-License-Identifier: GPL-3.0-or-later
// Data: the grid of a table with the settings of the selected column and dataset; while files wait to be
// imported, their preview in the same place.
#pragma once

#include "app/document.h"
#include "app/latest_job.h"
#include "app/stages/import_view.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPlainTextEdit;
class QPushButton;
class QStackedWidget;
class QTableView;
class QVBoxLayout;

namespace jointer::app {

class SettingsForm;
class TableActions;
class TableModel;

class DataStage final : public QWidget {
    Q_OBJECT
public:
    explicit DataStage(Document& document, QWidget* parent = nullptr);
    ImportView* import() { return import_; }
    bool isCurrent() const { return !tableJob_.isBusy() && !summaryJob_.isBusy() && import_->isCurrent(); }
    void offer(const std::vector<Waiting>& sources);
    void paste();

Q_SIGNALS:
    void importWanted();
    void demoWanted();

private:
    QWidget* buildWelcome();
    QWidget* buildTableView();
    void refresh();
    void show(Outcome<Table> filled);
    void refreshColumn();
    int currentColumn() const;
    void changeColumn(const QString& name, const std::function<void(Column&)>& how);
    void makeDataset();
    void buildDatasetForm(QVBoxLayout& side);
    void refreshDataset();
    void addColumn();

    Document& document_;
    LatestJob tableJob_, summaryJob_;
    std::vector<Issue> formulaIssues_; // of the table shown
    ColumnId toEdit_;                  // a new computed column, whose formula waits to be typed
    QStackedWidget* pages_;
    ImportView* import_;
    QTableView* grid_;
    TableModel* model_;
    TableActions* actions_ = nullptr;
    QWidget* welcome_;
    QPushButton *addColumn_, *makeDataset_;
    QLabel *columnCaption_, *heading_, *formulaNote_, *origin_, *summary_;
    QLineEdit *name_, *unit_, *formula_;
    QComboBox* role_;
    QWidget *columnForm_, *datasetForm_;
    QLineEdit *datasetName_, *amount_;
    QComboBox* uncertainty_;
};

} // namespace jointer::app
