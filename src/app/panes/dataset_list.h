// SPDX-License-Identifier: GPL-3.0-or-later
// The left side, the same in all stages: datasets with swatch, state and tiny curve; below them the tables.
#pragma once

#include "app/document.h"
#include "app/latest_job.h"

#include <QWidget>

class QListWidget;

namespace jointer::app {

class DatasetList final : public QWidget {
    Q_OBJECT
public:
    explicit DatasetList(Document& document, QWidget* parent = nullptr);
    QListWidget* list() { return datasets_; }

Q_SIGNALS:
    void tableChosen();

private:
    void refresh();
    void refreshPictures();
    void syncSelection();
    Document& document_;
    LatestJob job_;
    QListWidget *datasets_, *tables_;
};

} // namespace jointer::app
