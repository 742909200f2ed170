// SPDX-License-Identifier: GPL-3.0-or-later
// A table of the project as an item model. Cells are formatted when they are shown, so that size does not
// matter.
#pragma once

#include "app/document.h"

#include <QAbstractTableModel>

namespace jointer::app {

class TableModel final : public QAbstractTableModel {
    Q_OBJECT
public:
    explicit TableModel(Document* document, QObject* parent = nullptr)
        : QAbstractTableModel(parent), document_(document) {}

    // Already computed. Views keep their place, selection and open editor while its columns stay.
    void show(Table table);
    const Table& table() const { return table_; }

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    bool setData(const QModelIndex& index, const QVariant& value, int role) override;

private:
    void take(Table table);
    void takeAwayFirstRow(const Table& after);
    bool has(const QModelIndex& index) const; // views also ask for what is gone
    int rowsOf(const Table& table) const;      // with the empty ones in which more can be typed
    QVariant rowHeading(int section, int role) const;
    Document* document_; // none: read-only preview
    Table table_;
    std::vector<int> decimals_; // of each column, as its numbers are shown
    int gone_ = 0;      // rows that are just being taken away
    int typedRows_ = 0; // that there must be for what was typed, until the table with it is shown
};

} // namespace jointer::app
