// SPDX-License-Identifier: GPL-3.0-or-later
// The left side, the same in all stages: datasets with swatch, state and tiny curve; below them the tables.
#pragma once

#include "app/background.h"
#include "app/document.h"

#include <QWidget>

class QLayout;
class QListWidget;
class QListWidgetItem;
class QMenu;
class QDropEvent;
class QPushButton;

namespace jointer::app {

class DatasetList final : public QWidget {
    Q_OBJECT
public:
    explicit DatasetList(Document& document, QWidget* parent = nullptr);
    QListWidget* list() { return datasets_; }

    // What a click with the right button on a row opens.
    void offer(QMenu* forDatasets, QMenu* forTables);
    void renameDataset(DatasetId id); // its name is typed in its row
    void renameTable(TableId id);
    void removeSelected(); // datasets, with their fits
    void removeTable(TableId id);

Q_SIGNALS:
    void tableChosen();
    void tableWanted();               // an empty one
    void addWanted(const char* kind); // of kMadeDatasets

protected:
    bool eventFilter(QObject* watched, QEvent* event) override; // steps dropped on a dataset, Delete

private:
    QLayout* buildHead();
    void prepareLists();
    void refresh();
    void refreshTables();
    void refreshPictures();
    void takeSelection();
    void syncSelection();
    void offerOrders();
    void offerNew();
    bool takeDrop(QDropEvent* drop, bool dropped);
    void takeName(QListWidgetItem* typed);
    void openMenu(QListWidget* list, QMenu* menu, QPoint at);
    QListWidgetItem* itemOf(DatasetId id) const;
    Document& document_;
    LatestJob job_;
    QListWidget *datasets_, *tables_;
    QPushButton *order_, *add_;
    std::string orderShown_;
    QMenu *datasetMenu_ = nullptr, *tableMenu_ = nullptr;
};

} // namespace jointer::app
