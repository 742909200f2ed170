// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of the rows and cells of tables. Row ids stay with their rows and are never given twice, so that
// exclusions survive inserting, deleting and sorting.
#pragma once

#include "project/edit.h"

#include <limits>

namespace jointer {

// What a cell becomes: a number (NaN: missing) or, in columns of words, a text.
struct CellChange {
    ColumnId column;
    std::size_t row = 0; // rows beyond the end are added
    double number = std::numeric_limits<double>::quiet_NaN();
    std::string text{};
};

namespace edits {

// Errors: "computed" for a cell of a computed column, "target-gone", "column-gone".
Edit changeCells(TableId table, std::vector<CellChange> changes, std::string name,
                 std::vector<Column> added = {}); // columns behind the last one, without ids

// An empty column of numbers after the others.
Edit addColumn(TableId table, std::string name);

Edit insertRows(TableId table, std::size_t before, std::size_t count);
Edit deleteRows(TableId table, std::vector<std::size_t> rows);

// Whole rows by the cells of a column; equal ones keep their order, missing ones go to the end. For a
// computed column its filled cells are handed over, for others they are those of the table.
Edit sortRows(TableId table, ColumnId column, bool ascending, std::shared_ptr<const Cells> filled = nullptr);

// Whether rows are standards, blanks or unknowns.
Edit setRowKind(TableId table, std::vector<std::uint32_t> rowIds, RowKind kind);

Edit moveColumn(TableId table, ColumnId column, int by);
Edit removeColumns(TableId table, std::vector<ColumnId> columns); // datasets lose these roles

} // namespace edits

} // namespace jointer
