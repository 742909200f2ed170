// SPDX-License-Identifier: GPL-3.0-or-later
// The row above a grid in which one looks for cells: Enter goes to the next, Shift+Enter to the one before.
#pragma once

#include "app/background.h"

#include <QWidget>

class QLabel;
class QLineEdit;
class QTableView;

namespace jointer::app {

class TableModel;

class TableFinder final : public QWidget {
    Q_OBJECT
public:
    TableFinder(QTableView* grid, TableModel* model, QWidget* parent = nullptr);
    void begin();
    bool isCurrent() const { return !job_.isBusy(); }

protected:
    void keyPressEvent(QKeyEvent*) override;

private:
    void go(bool forward, bool fromHere);

    QTableView* grid_;
    TableModel* model_;
    LatestJob job_;
    QLineEdit* wanted_;
    QLabel* said_;
};

} // namespace jointer::app
