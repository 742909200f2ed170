// SPDX-License-Identifier: GPL-3.0-or-later
// Tables that are typed by hand.
#pragma once

#include "project/edit.h"

namespace jointer {

// An empty table with the columns x and y, and a dataset over them; called "Table 1", "Table 2"…
Edit newTypedTable(const Project& project);

// What is typed into a cell; rows beyond the end are added. A column that holds nothing yet takes the kind of the
// first cell: numbers, times, dates, yes or no, words. Errors: as `typedCell`, and "computed".
Result<Edit> typeCell(const Table& table, ColumnId column, std::size_t row, const std::string& typed);

} // namespace jointer
