// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/models/table_model.h"

#include "app/models/column_header.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"
#include "draw/markup.h"
#include "session/typed_table.h"

#include <cmath>

namespace jointer::app {

namespace {

constexpr int kRowsToType = 16; // of a typed table, at least

bool haveSameColumns(const Table& a, const Table& b) {
    return a.id == b.id && std::ranges::equal(a.columns, b.columns, {}, &Column::id, &Column::id);
}

} // namespace

void TableModel::show(Table table) {
    if (haveSameColumns(table_, table) && rowCount() > 0 && columnCount() > 0) {
        const int before = rowCount();
        if (static_cast<int>(table.rowCount()) + 1 >= typedRows_) typedRows_ = 0;
        const int after = rowsOf(table);
        if (after > before)
            beginInsertRows({}, before, after - 1);
        else if (after < before)
            beginRemoveRows({}, after, before - 1);
        take(std::move(table));
        if (after > before)
            endInsertRows();
        else if (after < before)
            endRemoveRows();
        if (after == 0) return;
        Q_EMIT dataChanged(index(0, 0), index(rowCount() - 1, columnCount() - 1));
        Q_EMIT headerDataChanged(Qt::Horizontal, 0, columnCount() - 1);
        Q_EMIT headerDataChanged(Qt::Vertical, 0, rowCount() - 1);
        return;
    }
    beginResetModel();
    typedRows_ = 0;
    take(std::move(table));
    endResetModel();
}

void TableModel::take(Table table) {
    table_ = std::move(table);
    decimals_.clear();
    for (const Column& c : table_.columns) decimals_.push_back(commonDecimals(c));
}

int TableModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : rowsOf(table_) - gone_;
}

int TableModel::rowsOf(const Table& table) const {
    const int rows = static_cast<int>(std::min<std::size_t>(table.rowCount(), 2000000000));
    if (!document_ || table.columns.empty()) return rows;
    return std::max({rows + 1, typedRows_, table.origin.file.empty() ? kRowsToType : 0});
}

int TableModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(table_.columns.size());
}

bool TableModel::has(const QModelIndex& index) const {
    return index.isValid() && index.row() < rowCount() && index.column() < columnCount();
}

QVariant TableModel::data(const QModelIndex& index, int role) const {
    if (!has(index)) return {};
    const Column& c = table_.columns[static_cast<std::size_t>(index.column())];
    const auto row = static_cast<std::size_t>(index.row());
    const bool inside = row < c.cells->size();
    // Of a computed cell: that it lies beyond what it rests on.
    const bool remark = !c.formula.empty() && c.cells->originals.contains(static_cast<std::uint32_t>(row));
    switch (role) {
    case Qt::DisplayRole:
        if (row >= table_.rowCount()) return {};
        return QString::fromStdString(cellText(c, row, decimals_[static_cast<std::size_t>(index.column())]));
    case Qt::EditRole:
        return inside && (c.kind == ColumnKind::Number || c.kind == ColumnKind::WholeNumber)
                   ? QString::fromStdString(
                         c.cells->state(row) == CellState::Fine ? shortestNumber(c.numbers()[row]) : "")
                   : data(index, Qt::DisplayRole);
    case Qt::TextAlignmentRole:
        return QVariant((c.isNumeric() ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    case Qt::ForegroundRole:
        return remark                                             ? QVariant(theme().warning)
               : !c.formula.empty()                               ? QVariant(theme().accent)
               : inside && c.cells->state(row) == CellState::Fine ? QVariant(theme().ink)
                                                                  : QVariant(theme().muted);
    case Qt::ToolTipRole:
        if (inside && c.cells->state(row) == CellState::Unreadable)
            return tr("Line %1: “%2” could not be read; taken as missing.")
                .arg(table_.rows->line(row))
                .arg(QString::fromStdString(c.cells->originals.at(static_cast<std::uint32_t>(row))));
        return remark ? QVariant(text(c.cells->originals.at(static_cast<std::uint32_t>(row)))) : QVariant();
    default:
        return {};
    }
}

QVariant TableModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (section < 0 || section >= (orientation == Qt::Vertical ? rowCount() : columnCount())) return {};
    if (orientation == Qt::Vertical) return rowHeading(section, role);
    const Column& c = table_.columns[static_cast<std::size_t>(section)];
    if (role == Qt::DisplayRole) return QString::fromStdString(c.name);
    if (role == UnitRole) return QString::fromStdString(draw::unitPlain(c.unit));
    if (role == ChipRole) return text(roleLabel(c.role));
    if (role == Qt::ToolTipRole)
        return c.formula.empty() ? text(kindKey(c.kind)) : tr("computed by a formula");
    return {};
}

// The number of the row, with what it is where it is marked.
QVariant TableModel::rowHeading(int section, int role) const {
    if (const auto row = static_cast<std::size_t>(section); row >= table_.rowCount()) {
        if (role == Qt::ToolTipRole) return tr("Type here to add a row");
        return role == Qt::DisplayRole ? QVariant(row == table_.rowCount() ? "+" : "") : QVariant();
    }
    const RowKind kind = table_.rowKind(static_cast<std::size_t>(section));
    if (kind == RowKind::Plain) return role == Qt::DisplayRole ? QVariant(section + 1) : QVariant();
    const QString words = text(rowKindKey(kind));
    if (role == Qt::DisplayRole) return QString("%1  %2").arg(section + 1).arg(words);
    if (role == Qt::ToolTipRole)
        return kind == RowKind::Standard ? tr("A standard: its x is known") : tr("Not a point of the curve");
    return {};
}

Qt::ItemFlags TableModel::flags(const QModelIndex& index) const {
    if (!has(index)) return Qt::NoItemFlags;
    const Column& c = table_.columns[static_cast<std::size_t>(index.column())];
    const bool editable = document_ && c.formula.empty();
    return QAbstractTableModel::flags(index) | (editable ? Qt::ItemIsEditable : Qt::NoItemFlags);
}

void TableModel::takeAwayFirstRow(const Table& after) {
    beginRemoveRows({}, 0, 0);
    take(after);
    gone_ = 1;
    endRemoveRows();
    beginInsertRows({}, rowCount(), rowCount()); // one more to type in at the end
    gone_ = 0;
    endInsertRows();
    Q_EMIT headerDataChanged(Qt::Horizontal, 0, columnCount() - 1);
}

bool TableModel::setData(const QModelIndex& index, const QVariant& value, int role) {
    if (role != Qt::EditRole || !document_ || !has(index)) return false;
    const QString typed = value.toString();
    if (typed == data(index, Qt::EditRole).toString()) return true; // left as it was
    const Column& c = table_.columns[static_cast<std::size_t>(index.column())];
    const auto edit = typeCell(table_, c.id, static_cast<std::size_t>(index.row()), typed.toStdString());
    if (!edit) {
        document_->say(text(edit.error().text), true);
        return false;
    }
    if (!document_->apply(*edit)) return false;
    // Headings that were typed as a row have become names: what is current moves up with its row.
    const auto after = document_->project().tables.find(table_.id);
    if (after && after->rowCount() <= static_cast<std::size_t>(index.row()) && !typed.isEmpty()) {
        takeAwayFirstRow(*after);
        return true;
    }
    if (index.row() + 1 == rowCount()) { // one can go on below before the table is computed
        beginInsertRows({}, rowCount(), rowCount());
        typedRows_ = index.row() + 2;
        endInsertRows();
    }
    return true;
}

} // namespace jointer::app
