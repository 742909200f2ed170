// SPDX-License-Identifier: GPL-3.0-or-later
// The results for the grid of the Results stage: long, a row for each number, or wide, a row for each dataset
// with a column for each quantity. Cells are made when they are looked at; sorting moves places only.
#pragma once

#include "session/result_grid.h"

#include <QAbstractTableModel>
#include <memory>

namespace jointer::app {

// What the model shows, made in the background.
struct ResultsContent {
    Project project;
    std::vector<evaluate::ResultRow> rows;
    std::vector<std::size_t> shown;  // long: which, in their order
    std::vector<DatasetId> datasets; // wide: which
    bool wide = false;
    WideGrid grid; // wide
    std::vector<std::size_t> quiet; // its attributes that tell nothing
};

class ResultsModel final : public QAbstractTableModel {
    Q_OBJECT
public:
    using QAbstractTableModel::QAbstractTableModel;
    void show(std::shared_ptr<const ResultsContent> content);
    const ResultsContent* content() const { return content_.get(); }
    const evaluate::ResultRow* rowAt(const QModelIndex& index) const; // nullptr: no number stands there
    std::vector<evaluate::ResultRow> shownRows() const;               // in the order shown
    std::vector<DatasetId> shownDatasets() const;                     // wide, in the order shown

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    void sort(int column, Qt::SortOrder order) override;

private:
    QVariant rowHeading(int row, int role) const;
    QVariant longData(std::size_t place, int column, int role) const;
    QVariant wideData(std::size_t place, int column, int role) const;
    std::vector<double> keysOf(int column) const; // by which rows are put in order

    std::shared_ptr<const ResultsContent> content_;
    std::vector<std::size_t> order_;
    int sortedBy_ = -1;
    Qt::SortOrder direction_ = Qt::AscendingOrder;
};

} // namespace jointer::app
