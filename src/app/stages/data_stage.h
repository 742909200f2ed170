// SPDX-License-Identifier: GPL-3.0-or-later
// Data: the grid of a table with the settings of a column, and, while files wait to be imported, their
// preview in the same place: raw text, parsed grid, curve, settings.
#pragma once

#include "app/canvas/plot_canvas.h"
#include "app/document.h"
#include "io/reader.h"

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
class TableModel;

// One source that waits to be imported.
struct Waiting {
    QString name; // file name, or "pasted block"
    std::string path;
    std::string bytes; // of a pasted block
};

class ImportView final : public QWidget {
    Q_OBJECT
public:
    explicit ImportView(Document& document, QWidget* parent = nullptr);
    void add(const std::vector<Waiting>& sources);
    bool hasWaiting() const { return !waiting_.empty(); }
    bool isCurrent() const { return !job_.isBusy() && plot_->isCurrent(); }

Q_SIGNALS:
    void finished(); // nothing waits any more

public Q_SLOTS:
    void importAll();
    void leaveOut();

protected:
    void keyPressEvent(QKeyEvent*) override;

private:
    void read();
    void showReading(Result<io::ReadResult> reading, const QStringList& lines);
    Document& document_;
    LatestJob job_;
    std::vector<Waiting> waiting_;
    Settings told_;
    std::optional<io::ReadResult> reading_;
    QLabel *title_, *error_, *warnings_;
    QPushButton *import_, *leave_;
    QListWidget* raw_;
    QTableView* grid_;
    TableModel* model_;
    PlotCanvas* plot_;
    SettingsForm* form_;
};

class DataStage final : public QWidget {
    Q_OBJECT
public:
    explicit DataStage(Document& document, QWidget* parent = nullptr);
    ImportView* import() { return import_; }
    void offer(const std::vector<Waiting>& sources);
    void paste();

private:
    QWidget* buildTableView();
    void refresh();
    void refreshColumn();
    int currentColumn() const;
    void changeColumn(const QString& name, const std::function<void(Column&)>& how);
    void makeDataset();
    void buildDatasetForm(QVBoxLayout& side);
    void refreshDataset();
    void addColumn();

    Document& document_;
    QStackedWidget* pages_;
    ImportView* import_;
    QTableView* grid_;
    TableModel* model_;
    QLabel *heading_, *formulaNote_, *origin_, *summary_;
    QLineEdit *name_, *unit_, *formula_;
    QComboBox* role_;
    QWidget *columnForm_, *datasetForm_;
    QLineEdit *datasetName_, *amount_;
    QComboBox* uncertainty_;
};

} // namespace jointer::app
