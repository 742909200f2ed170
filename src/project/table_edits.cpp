// SPDX-License-Identifier: GPL-3.0-or-later
#include "project/table_edits.h"

#include "base/text.h"
#include "project/references.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace jointer::edits {

namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();
constexpr std::size_t kNew = static_cast<std::size_t>(-1); // a row that was not there before

// Puts the rows in the order of their former places; kNew stands for new rows, which get new ids.
void arrange(Table& t, const std::vector<std::size_t>& order) {
    const std::size_t before = t.rowCount();
    Rows rows;
    rows.lastId = t.rows->lastId;
    for (std::size_t i = 0; i < before; ++i) rows.lastId = std::max(rows.lastId, t.rows->id(i));
    const bool hasLines = t.rows->firstLine > 0 || !t.rows->lines.empty();
    for (std::size_t from : order) {
        rows.ids.push_back(from == kNew ? ++rows.lastId : t.rows->id(from));
        if (hasLines) rows.lines.push_back(from == kNew ? 0 : t.rows->line(from));
    }
    t.rows = std::make_shared<Rows>(std::move(rows));
    for (Column& c : t.columns)
        if (c.formula.empty()) c.cells = std::make_shared<Cells>(arranged(*c.cells, c.isNumeric(), order));
}

std::vector<std::size_t> places(std::size_t count) {
    std::vector<std::size_t> all(count);
    std::iota(all.begin(), all.end(), std::size_t{0});
    return all;
}

void setCell(Cells& cells, bool numeric, std::size_t row, const CellChange& change) {
    if (numeric) {
        cells.numbers.resize(std::max(cells.numbers.size(), row + 1), kNaN);
        cells.numbers[row] = change.number;
    } else {
        cells.texts.resize(std::max(cells.texts.size(), row + 1));
        cells.texts[row] = change.text;
    }
    if (!cells.states.empty()) {
        cells.states.resize(cells.size(), CellState::Missing);
        const bool missing = numeric ? std::isnan(change.number) : change.text.empty();
        cells.states[row] = missing ? CellState::Missing : CellState::Fine;
    }
    cells.originals.erase(static_cast<std::uint32_t>(row));
}

} // namespace

Edit changeCells(TableId table, std::vector<CellChange> changes, std::string name,
                 std::vector<Column> added) {
    return onTable(table, std::move(name), [=](Project& p, Table& t) -> Result<void> {
        std::size_t rows = t.rowCount();
        for (const CellChange& c : changes) rows = std::max(rows, c.row + 1);
        for (const Column& c : added) rows = std::max(rows, c.cells->size());
        if (rows > t.rowCount()) {
            auto order = places(t.rowCount());
            order.resize(rows, kNew);
            arrange(t, order);
        }
        std::map<ColumnId, std::shared_ptr<Cells>> open;
        for (const CellChange& change : changes) {
            const auto at = std::ranges::find(t.columns, change.column, &Column::id);
            if (at == t.columns.end()) return failure("column-gone", "The column is no longer there.");
            if (!at->formula.empty())
                return failure("computed",
                               "This column is computed by a formula; change the formula instead.");
            auto& cells = open[change.column];
            if (!cells) at->cells = cells = std::make_shared<Cells>(*at->cells);
            setCell(*cells, at->isNumeric(), change.row, change);
        }
        for (Column c : added) {
            c.id = p.newId<ColumnId>();
            t.columns.push_back(std::move(c));
        }
        return {};
    });
}

Edit addColumn(TableId table, std::string name) {
    return onTable(table, "Add column", [=](Project& p, Table& t) -> Result<void> {
        Column c = numberColumn(name, "", std::vector<double>(t.rowCount(), kNaN));
        c.id = p.newId<ColumnId>();
        c.byHand = true;
        t.columns.push_back(std::move(c));
        return {};
    });
}

Edit insertRows(TableId table, std::size_t before, std::size_t count) {
    return onTable(table, "Insert " + counted(static_cast<long long>(count), "row"),
                   [=](Project&, Table& t) -> Result<void> {
                       auto order = places(t.rowCount());
                       order.insert(order.begin() +
                                        static_cast<std::ptrdiff_t>(std::min(before, order.size())),
                                    count, kNew);
                       arrange(t, order);
                       return {};
                   });
}

Edit deleteRows(TableId table, std::vector<std::size_t> rows) {
    std::ranges::sort(rows);
    return onTable(table, "Delete " + counted(static_cast<long long>(rows.size()), "row"),
                   [rows](Project&, Table& t) -> Result<void> {
                       std::vector<std::size_t> order;
                       for (std::size_t i = 0; i < t.rowCount(); ++i)
                           if (!std::ranges::binary_search(rows, i)) order.push_back(i);
                       arrange(t, order);
                       return {};
                   });
}

Edit sortRows(TableId table, ColumnId column, bool ascending, std::shared_ptr<const Cells> filled) {
    return onTable(table, "Sort rows", [=](Project&, Table& t) -> Result<void> {
        const Column* by = t.find(column);
        if (!by) return failure("column-gone", "The column is no longer there.");
        if (!by->formula.empty() && !filled)
            return failure("computed", "The cells of a computed column are not there to sort by.");
        const Cells& cells = by->formula.empty() ? *by->cells : *filled;
        auto order = places(t.rowCount());
        auto missing = [&](std::size_t i) { return i >= cells.size() || cells.state(i) != CellState::Fine; };
        std::ranges::stable_sort(order, [&](std::size_t a, std::size_t b) {
            if (missing(a) || missing(b)) return !missing(a) && missing(b);
            if (!by->isNumeric())
                return ascending ? cells.texts[a] < cells.texts[b] : cells.texts[b] < cells.texts[a];
            return ascending ? cells.numbers[a] < cells.numbers[b] : cells.numbers[b] < cells.numbers[a];
        });
        arrange(t, order);
        return {};
    });
}

Edit setRowKind(TableId table, std::vector<std::uint32_t> rowIds, RowKind kind) {
    const auto count = static_cast<long long>(rowIds.size());
    const std::string name = kind == RowKind::Plain
                                 ? "Unmark " + counted(count, "row")
                                 : "Mark " + counted(count, "row") + " as " + std::string(rowKindKey(kind)) +
                                       (count == 1 ? "" : "s");
    return onTable(table, name, [=](Project&, Table& t) -> Result<void> {
        for (std::uint32_t id : rowIds)
            if (kind == RowKind::Plain)
                t.rowKinds.erase(id);
            else
                t.rowKinds[id] = kind;
        return {};
    });
}

Edit moveColumn(TableId table, ColumnId column, int by) {
    return onTable(table, "Move column", [=](Project&, Table& t) -> Result<void> {
        const auto at = std::ranges::find(t.columns, column, &Column::id);
        if (at == t.columns.end()) return failure("column-gone", "The column is no longer there.");
        const auto from = at - t.columns.begin();
        const auto to = std::clamp<std::ptrdiff_t>(from + by, 0, std::ssize(t.columns) - 1);
        Column moved = std::move(*at);
        t.columns.erase(at);
        t.columns.insert(t.columns.begin() + to, std::move(moved));
        return {};
    });
}

Edit removeColumns(TableId table, std::vector<ColumnId> columns) {
    const std::string name = columns.size() == 1 ? "Remove column" : "Remove columns";
    return {name, {}, [=](const Project& before) -> Result<Project> {
                if (!before.tables.find(table))
                    return failure("target-gone", "The table is no longer there.");
                std::set<std::string> ids;
                for (ColumnId id : columns) ids.insert(id.text());
                return without(before, std::move(ids));
            }};
}

} // namespace jointer::edits
