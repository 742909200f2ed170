// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/table_actions.h"

#include "app/models/table_model.h"
#include "app/widgets.h"
#include "session/typed_cell.h"

#include <QAction>
#include <QApplication>
#include <QClipboard>
#include <QLineEdit>
#include <QMenu>
#include <QStyledItemDelegate>
#include <QTableView>
#include <cmath>
#include <set>

namespace jointer::app {

namespace {

// Tables are computed while one types: what stands in an open editor already is not replaced by what comes.
class CellDelegate final : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void setEditorData(QWidget* editor, const QModelIndex& index) const override {
        const auto* line = qobject_cast<const QLineEdit*>(editor);
        if (!line || !line->isModified()) QStyledItemDelegate::setEditorData(editor, index);
    }
};

} // namespace

TableActions::TableActions(Document& document, QTableView* grid, TableModel* model)
    : QObject(grid), document_(document), grid_(grid), model_(model) {
    grid_->setContextMenuPolicy(Qt::CustomContextMenu); // the toolkit's own would wait in a loop of its own
    connect(grid_, &QWidget::customContextMenuRequested, this, [this](QPoint at) {
        QMenu* menu = newMenu(grid_);
        menu->addActions(grid_->actions());
        menu->popup(grid_->viewport()->mapToGlobal(at));
    });
    grid_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    grid_->setItemDelegate(new CellDelegate(grid_));
    connect(grid_->itemDelegate(), &QAbstractItemDelegate::closeEditor, this,
            [this](QWidget*, QAbstractItemDelegate::EndEditHint hint) {
                if (hint == QAbstractItemDelegate::SubmitModelCache) goDown(); // Return
            });
    auto separator = [this] {
        auto* line = new QAction(grid_);
        line->setSeparator(true);
        grid_->addAction(line);
    };
    add(tr("Copy"), "Ctrl+C", tr("The selected cells as text, with all digits"), [this] { copy(); });
    add(tr("Paste"), {}, tr("A block from the clipboard, from this cell on (Ctrl+V)"),
        [this] { paste(QApplication::clipboard()->text()); });
    add(tr("Clear"), "Del", tr("The selected cells become missing"), [this] { clear(); });
    add(tr("Fill down"), "Ctrl+D", tr("The first selected cell of each column into those below it"),
        [this] { fillDown(); });
    add(tr("Continue series"), {}, tr("By the step between the first two selected cells of each column"),
        [this] { continueSeries(); });
    separator();
    add(tr("Insert rows above"), "Ins", tr("As many as are selected"), [this] { insertRows(false); });
    add(tr("Insert rows below"), "Shift+Ins", tr("As many as are selected"), [this] { insertRows(true); });
    add(tr("Delete rows"), "Ctrl+Del", tr("The rows of the selected cells"),
        [this] {
            if (const auto rows = selectedRows(); !rows.empty())
                document_.apply(edits::deleteRows(model_->table().id, rows));
        });
    separator();
    for (const auto& [label, kind] : {std::pair(tr("Rows are standards"), RowKind::Standard),
                                      std::pair(tr("Rows are blanks"), RowKind::Blank),
                                      std::pair(tr("Rows are controls"), RowKind::Control),
                                      std::pair(tr("Rows are unknowns"), RowKind::Unknown),
                                      std::pair(tr("Rows are plain measurements"), RowKind::Plain)})
        add(label, {}, tr("What the selected rows are in a measurement against standards"),
            [this, kind = kind] { markRows(kind); });
    separator();
    add(tr("Sort rows, rising"), {}, tr("Whole rows by the cells of this column"), [this] { sort(true); });
    add(tr("Sort rows, falling"), {}, tr("Whole rows by the cells of this column"), [this] { sort(false); });
    separator();
    add(tr("Add column"), {}, tr("An empty column for numbers of your own"), [this] {
        const std::size_t n = model_->table().columns.size() + 1;
        document_.apply(edits::addColumn(model_->table().id, "column " + std::to_string(n)));
    });
    add(tr("Move column to the left"), "Alt+Left", {}, [this] { moveColumn(-1); });
    add(tr("Move column to the right"), "Alt+Right", {}, [this] { moveColumn(1); });
    add(tr("Remove columns"), {}, tr("The columns of the selected cells; datasets lose these roles"),
        [this] { document_.apply(edits::removeColumns(model_->table().id, selectedColumns())); });
}

void TableActions::add(const QString& label, const QString& shortcut, const QString& tip,
                       std::function<void()> act) {
    auto* action = new QAction(label, grid_);
    if (!shortcut.isEmpty()) action->setShortcut(QKeySequence(shortcut));
    action->setShortcutContext(Qt::WidgetWithChildrenShortcut);
    action->setToolTip(tip);
    connect(action, &QAction::triggered, this, [this, act = std::move(act)] {
        if (grid_->currentIndex().isValid()) act();
    });
    grid_->addAction(action);
}

std::vector<std::size_t> TableActions::selectedRows() const {
    std::set<std::size_t> rows = {static_cast<std::size_t>(grid_->currentIndex().row())};
    for (const QModelIndex& i : grid_->selectionModel()->selectedIndexes())
        rows.insert(static_cast<std::size_t>(i.row()));
    rows.erase(rows.lower_bound(model_->table().rowCount()), rows.end()); // those that wait to be typed in
    return {rows.begin(), rows.end()};
}

std::set<int> TableActions::selectedPlaces() const {
    std::set<int> places = {grid_->currentIndex().column()};
    for (const QModelIndex& i : grid_->selectionModel()->selectedIndexes()) places.insert(i.column());
    return places;
}

std::vector<ColumnId> TableActions::selectedColumns() const {
    std::vector<ColumnId> columns;
    for (int place : selectedPlaces())
        columns.push_back(model_->table().columns[static_cast<std::size_t>(place)].id);
    return columns;
}

// To the cell below, where the next value is typed.
void TableActions::goDown() {
    const QModelIndex at = grid_->currentIndex();
    if (at.row() + 1 < model_->rowCount()) grid_->setCurrentIndex(at.siblingAtRow(at.row() + 1));
}

void TableActions::copy() {
    std::vector<std::size_t> columns;
    for (int place : selectedPlaces()) columns.push_back(static_cast<std::size_t>(place));
    QApplication::clipboard()->setText(text(copiedCells(model_->table(), selectedRows(), columns)));
}

void TableActions::paste(const QString& block) {
    const QModelIndex at = grid_->currentIndex();
    const auto pasted = pastedCells(model_->table(), static_cast<std::size_t>(at.row()),
                                    static_cast<std::size_t>(at.column()), block.toStdString());
    if (!pasted.value.changes.empty() || !pasted.value.added.empty())
        document_.apply(
            edits::changeCells(model_->table().id, pasted.value.changes, "Paste cells", pasted.value.added));
    QStringList said;
    for (const Issue& issue : pasted.issues) said << text(issue.text);
    if (!said.isEmpty()) document_.say(said.join("  "), true);
}

void TableActions::clear() {
    std::vector<CellChange> changes;
    for (const QModelIndex& i : grid_->selectionModel()->selectedIndexes()) {
        const Column& c = model_->table().columns[static_cast<std::size_t>(i.column())];
        const bool there = static_cast<std::size_t>(i.row()) < model_->table().rowCount();
        if (c.formula.empty() && there) changes.push_back({.column = c.id, .row = static_cast<std::size_t>(i.row())});
    }
    if (!changes.empty())
        document_.apply(edits::changeCells(model_->table().id, std::move(changes), "Clear cells"));
}

void TableActions::fillDown() {
    const auto rows = selectedRows();
    if (rows.size() < 2)
        return document_.say(tr("Select the cell to be repeated and the cells below it."), true);
    std::vector<CellChange> changes;
    for (ColumnId id : selectedColumns()) {
        const Column& c = *model_->table().find(id);
        if (!c.formula.empty() || rows[0] >= c.cells->size()) continue;
        for (std::size_t k = 1; k < rows.size(); ++k)
            changes.push_back({.column = id,
                               .row = rows[k],
                               .number = c.isNumeric() ? c.numbers()[rows[0]] : std::nan(""),
                               .text = c.isNumeric() ? "" : c.cells->texts[rows[0]]});
    }
    if (!changes.empty())
        document_.apply(edits::changeCells(model_->table().id, std::move(changes), "Fill down"));
}

void TableActions::continueSeries() {
    const auto rows = selectedRows();
    std::vector<CellChange> changes;
    for (ColumnId id : selectedColumns()) {
        const Column& c = *model_->table().find(id);
        if (!c.formula.empty() || !c.isNumeric() || rows.size() < 3 || rows[1] >= c.numbers().size())
            continue;
        const double first = c.numbers()[rows[0]], step = c.numbers()[rows[1]] - first;
        if (!std::isfinite(step)) continue;
        for (std::size_t k = 2; k < rows.size(); ++k)
            changes.push_back(
                {.column = id, .row = rows[k], .number = first + step * static_cast<double>(k)});
    }
    if (changes.empty())
        return document_.say(tr("Select two cells with numbers and the cells below them."), true);
    document_.apply(edits::changeCells(model_->table().id, std::move(changes), "Continue series"));
}

void TableActions::insertRows(bool below) {
    const auto rows = selectedRows();
    if (rows.empty()) return document_.say(tr("Type in the empty row to add one at the end."), true);
    document_.apply(
        edits::insertRows(model_->table().id, below ? rows.back() + 1 : rows.front(), rows.size()));
}

void TableActions::markRows(RowKind kind) {
    std::vector<std::uint32_t> ids;
    for (std::size_t row : selectedRows()) ids.push_back(model_->table().rows->id(row));
    if (ids.empty()) return;
    document_.apply(edits::setRowKind(model_->table().id, std::move(ids), kind));
}

void TableActions::sort(bool ascending) {
    const Column& by = *model_->table().find(selectedColumns().front());
    document_.apply(edits::sortRows(model_->table().id, by.id, ascending, by.cells));
}

void TableActions::moveColumn(int by) {
    const QModelIndex at = grid_->currentIndex();
    if (document_.apply(edits::moveColumn(
            model_->table().id, model_->table().columns[static_cast<std::size_t>(at.column())].id, by)))
        grid_->setCurrentIndex(
            model_->index(at.row(), std::clamp(at.column() + by, 0, model_->columnCount() - 1)));
}

} // namespace jointer::app
