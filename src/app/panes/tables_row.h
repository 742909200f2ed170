// SPDX-License-Identifier: GPL-3.0-or-later
// The tables of the open analysis: samples, standards computed back, groups, models. They can be copied.
#pragma once

#include "app/background.h"
#include "app/document.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QTableWidget;

namespace jointer::app {

class TablesRow final : public QWidget {
    Q_OBJECT
public:
    explicit TablesRow(Document& document, QWidget* parent = nullptr);
    void refresh();
    bool isCurrent() const { return !waiting_; }

Q_SIGNALS:
    void rowChosen(const QString& name); // by the first column, where a row is selected

private:
    void fill();
    void copy() const;

    Document& document_;
    LatestJob job_;
    QComboBox* which_;
    QTableWidget* grid_;
    QLabel* nothing_;
    analyses::ResultPtr shown_;
    bool waiting_ = false;
};

} // namespace jointer::app
