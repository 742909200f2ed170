// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/sheet_view.h"

#include "app/stages/line_menu.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "io/spreadsheet.h"

#include <QAbstractTableModel>
#include <QHeaderView>
#include <QMenu>
#include <QMouseEvent>

namespace jointer::app {

class SheetModel final : public QAbstractTableModel {
public:
    using QAbstractTableModel::QAbstractTableModel;

    void show(io::SheetPreview sheet, std::optional<io::SheetRegion> region) {
        beginResetModel();
        sheet_ = std::move(sheet);
        region_ = region;
        columns_ = 0;
        for (const auto& row : sheet_.rows) columns_ = std::max(columns_, static_cast<int>(row.size()));
        endResetModel();
    }
    int rowCount(const QModelIndex& parent = {}) const override {
        return parent.isValid() ? 0 : static_cast<int>(sheet_.rows.size());
    }
    int columnCount(const QModelIndex& parent = {}) const override { return parent.isValid() ? 0 : columns_; }

    QVariant data(const QModelIndex& at, int role) const override {
        const auto row = static_cast<std::size_t>(at.row()), column = static_cast<std::size_t>(at.column());
        if (role == Qt::DisplayRole) {
            const auto& cells = sheet_.rows[row];
            return column < cells.size() ? text(cells[column]).simplified() : QString();
        }
        const bool inside = !region_ || (row >= region_->firstRow && row <= region_->lastRow &&
                                         column >= region_->firstColumn && column <= region_->lastColumn);
        if (role == Qt::ForegroundRole) return inside ? theme().ink : theme().muted;
        if (role == Qt::BackgroundRole) {
            if (!inside) return theme().ground;
            const bool known = region_ && row < region_->lineKinds.size();
            const auto [colour, name] = lineTint(known ? region_->lineKinds[row] : io::LineKind::Data);
            return colour.isValid() ? QVariant(colour) : QVariant();
        }
        return {};
    }
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override {
        if (role != Qt::DisplayRole) return {};
        if (orientation == Qt::Vertical) return section + 1;
        return text(io::columnLetters(static_cast<std::size_t>(section)));
    }

private:
    io::SheetPreview sheet_;
    std::optional<io::SheetRegion> region_;
    int columns_ = 0;
};

SheetView::SheetView(QWidget* parent) : QTableView(parent), cells_(new SheetModel(this)) {
    setModel(cells_);
    setObjectName("sheetView");
    setAccessibleName(tr("Cells of the sheet"));
    setToolTip(tr("Drag over the cells to be read; click the number of a row to say what it is"));
    setEditTriggers(QAbstractItemView::NoEditTriggers);
    prepareGrid(this);
    verticalHeader()->setDefaultSectionSize(20);
    horizontalHeader()->setDefaultSectionSize(74);
    horizontalHeader()->setDefaultAlignment(Qt::AlignCenter);
    setSelectionMode(QAbstractItemView::ContiguousSelection);
    setContextMenuPolicy(Qt::ActionsContextMenu);
    auto* whole = new QAction(tr("Read the whole sheet"), this);
    connect(whole, &QAction::triggered, this, [this] { Q_EMIT rangeTold({}); });
    addAction(whole);
    connect(verticalHeader(), &QHeaderView::sectionClicked, this, [this](int row) {
        const QPoint at(0, verticalHeader()->sectionViewportPosition(row) + 20);
        askAboutLine(this, row + 1, verticalHeader()->viewport()->mapToGlobal(at),
                     [this](const QString& key, int value) { Q_EMIT told(key, value); });
    });
}

void SheetView::show(const io::SheetPreview& sheet, const std::optional<io::SheetRegion>& region) {
    cells_->show(sheet, region);
}

void SheetView::goTo(long row) {
    if (row < 1 || row > cells_->rowCount()) return;
    selectRow(static_cast<int>(row) - 1);
    scrollTo(cells_->index(static_cast<int>(row) - 1, 0), QAbstractItemView::PositionAtCenter);
}

// A rectangle that goes down to the last row shown means all rows below it too.
void SheetView::mouseReleaseEvent(QMouseEvent* e) {
    QTableView::mouseReleaseEvent(e);
    const auto chosen = selectionModel()->selection();
    if (e->button() != Qt::LeftButton || chosen.size() != 1) return;
    const QItemSelectionRange r = chosen.first();
    if (r.height() * r.width() < 2) return;
    const auto letters = [](int column) { return text(io::columnLetters(static_cast<std::size_t>(column))); };
    const bool toEnd = r.bottom() == cells_->rowCount() - 1;
    Q_EMIT rangeTold(letters(r.left()) + QString::number(r.top() + 1) + ":" + letters(r.right()) +
                     (toEnd ? QString() : QString::number(r.bottom() + 1)));
}

} // namespace jointer::app
