// SPDX-License-Identifier: GPL-3.0-or-later
// The left side, the same in all stages: datasets with swatch, state and tiny curve; below them the tables.
#pragma once

#include "app/background.h"
#include "app/document.h"

#include <QWidget>

class QListWidget;
class QListWidgetItem;
class QPushButton;

namespace jointer::app {

class DatasetList final : public QWidget {
    Q_OBJECT
public:
    explicit DatasetList(Document& document, QWidget* parent = nullptr);
    QListWidget* list() { return datasets_; }

Q_SIGNALS:
    void tableChosen();
    void tableWanted();               // an empty one
    void addWanted(const char* kind); // "function" or "join"

protected:
    bool eventFilter(QObject* watched, QEvent* event) override; // takes steps that are dropped on a dataset

private:
    void refresh();
    void refreshPictures();
    void takeSelection();
    void syncSelection();
    void offerOrders();
    void offerNew();
    QListWidgetItem* itemOf(DatasetId id) const;
    Document& document_;
    LatestJob job_;
    QListWidget *datasets_, *tables_;
    QPushButton *order_, *add_;
    std::string orderShown_;
};

} // namespace jointer::app
