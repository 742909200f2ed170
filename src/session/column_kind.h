// SPDX-License-Identifier: GPL-3.0-or-later
// A column read anew as another kind. Nothing is lost: cells that the new kind cannot hold become unreadable
// and keep their text, so that the way back gives them again.
#pragma once

#include "project/edit.h"

#include <optional>

namespace jointer {

// The column with its cells as `kind`. Numbers become times as seconds since 1970-01-01, and times numbers
// the same way; texts are read as by the import, with the evidence of the whole column for the order of day
// and month. Issues: "unparsed-cells" with how many cells do not fit and the first of them. Cost: linear.
Outcome<Column> columnAsKind(const Column& column, ColumnKind kind);

// How many cells of the column could not be read, and the first of them: "unparsed-cells".
std::optional<Issue> unreadableCells(const Column& column);

// Errors: "computed" for a column with a formula (whose kind only says how its numbers are shown) turned to
// words, "column-gone".
Edit changeKind(TableId table, ColumnId column, ColumnKind kind);

} // namespace jointer
