// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/table_finder.h"

#include "app/models/table_model.h"
#include "app/widgets.h"
#include "session/table_search.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QTableView>

namespace jointer::app {

TableFinder::TableFinder(QTableView* grid, TableModel* model, QWidget* parent)
    : QWidget(parent), grid_(grid), model_(model), job_(this), wanted_(new QLineEdit), said_(muted({})) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 4);
    wanted_->setObjectName("tableFind");
    wanted_->setPlaceholderText(tr("Find in the table: text, > 100, missing"));
    wanted_->setToolTip(tr("A part of what cells show, a comparison such as > 100, or missing. Enter: next; "
                           "Shift+Enter: the one before; Esc: back to the table"));
    wanted_->setAccessibleName(tr("Find in the table"));
    row->addWidget(wanted_, 1);
    row->addWidget(button(this, "↑", "", tr("The cell before (Shift+Enter)"), [this] { go(false, false); }));
    row->addWidget(button(this, "↓", "", tr("The next cell (Enter)"), [this] { go(true, false); }));
    said_->setObjectName("tableFound");
    said_->setMinimumWidth(90);
    row->addWidget(said_);
    row->addWidget(button(this, "✕", "", tr("Close (Esc)"), [this] { hide(), grid_->setFocus(); }));
    connect(wanted_, &QLineEdit::textEdited, this, [this] { go(true, true); });
    hide();
}

void TableFinder::begin() {
    show();
    wanted_->setFocus();
    wanted_->selectAll();
}

void TableFinder::keyPressEvent(QKeyEvent* e) {
    if (e->key() == Qt::Key_Escape) {
        hide();
        grid_->setFocus();
    } else if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter)
        go(!(e->modifiers() & Qt::ShiftModifier), false);
    else
        QWidget::keyPressEvent(e);
}

// Looks on from the current cell, or begins with it while the words are still typed.
void TableFinder::go(bool forward, bool fromHere) {
    const std::string wanted = wanted_->text().toStdString();
    if (wanted_->text().trimmed().isEmpty()) return said_->clear();
    const QModelIndex now = grid_->currentIndex();
    const std::size_t columns = model_->table().columns.size(), rows = model_->table().rowCount();
    if (columns == 0 || rows == 0) return;
    CellPlace from{static_cast<std::size_t>(std::max(0, now.row())),
                   static_cast<std::size_t>(std::max(0, now.column()))};
    if (fromHere) { // the cell before this one
        const std::size_t at = (from.row * columns + from.column + rows * columns - 1) % (rows * columns);
        from = {at / columns, at % columns};
    }
    job_.request([this, table = model_->table(), wanted, from,
                  forward](const Cancellation& stop) -> std::function<void()> {
        const auto found = findCell(table, wanted, from, forward, stop);
        return [this, found] {
            said_->setText(found ? tr("row %1").arg(found->row + 1) : tr("not found"));
            if (!found) return;
            const QModelIndex at =
                model_->index(static_cast<int>(found->row), static_cast<int>(found->column));
            grid_->setCurrentIndex(at);
            grid_->scrollTo(at, QAbstractItemView::PositionAtCenter);
        };
    });
}

} // namespace jointer::app
