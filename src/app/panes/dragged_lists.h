// SPDX-License-Identifier: GPL-3.0-or-later
// Lists at the left whose rows can be dragged: tables onto a plot, datasets onto a figure.
#pragma once

#include "app/canvas/page_view.h"
#include "app/panes/following.h"

#include <QListWidget>
#include <QMimeData>

namespace jointer::app {

inline constexpr int kIdRole = Qt::UserRole; // under which a row holds the number of its id

// Its rows can be dragged onto a plot: a column of the table is then predicted through the fit.
class TableList final : public QListWidget {
public:
    TableList() {
        setDragEnabled(true);
        setDragDropMode(QAbstractItemView::DragOnly);
    }

protected:
    QMimeData* mimeData(const QList<QListWidgetItem*>& items) const override {
        if (items.isEmpty()) return nullptr;
        auto* data = new QMimeData;
        const TableId id{items.front()->data(kIdRole).toULongLong()};
        data->setData(kTableMime, QByteArray::fromStdString(id.text()));
        return data;
    }
};

// Its rows can be dragged onto a figure.
class DraggedDatasets final : public QListWidget {
public:
    DraggedDatasets() {
        setDragEnabled(true);
        setDragDropMode(QAbstractItemView::DragOnly);
    }

protected:
    QMimeData* mimeData(const QList<QListWidgetItem*>& items) const override {
        QByteArray ids;
        for (const QListWidgetItem* item : items)
            if (const DatasetId id{item->data(kIdRole).toULongLong()})
                ids += QByteArray::fromStdString(id.text()) + " ";
        if (ids.isEmpty()) return nullptr;
        auto* data = new QMimeData;
        data->setData(kDatasetMime, ids.trimmed());
        return data;
    }
};

} // namespace jointer::app
