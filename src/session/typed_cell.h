// SPDX-License-Identifier: GPL-3.0-or-later
// Cells as people type and paste them, by the kind of their column.
#pragma once

#include "project/table_edits.h"

namespace jointer {

// A number, a time or date in ISO or day-month order, yes or no, or a text; empty and NA are missing.
// Errors: "cell" with what is expected.
Result<CellChange> typedCell(const Column& column, std::size_t row, std::string_view text);

struct PastedBlock {
    std::vector<CellChange> changes;
    std::vector<Column> added; // for cells beyond the last column
};

// A block of lines with tabs (or semicolons, where there are no tabs) between the cells, from this cell on;
// the table grows downwards and to the right. A first line of headings is not taken as cells, but names new
// columns. Cells that do not fit are left out and counted in the issues.
Outcome<PastedBlock> pastedCells(const Table& table, std::size_t row, std::size_t column,
                                 std::string_view block);

// The cells where these rows and columns meet as text that spreadsheets take: tabs between cells, all digits.
std::string copiedCells(const Table& table, const std::vector<std::size_t>& rows,
                        const std::vector<std::size_t>& columns);

} // namespace jointer
