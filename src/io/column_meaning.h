// SPDX-License-Identifier: GPL-3.0-or-later
// What the columns of a table that was read mean: times, names, roles. For readers of every format.
#pragma once

#include "base/issue.h"
#include "data/table.h"

namespace jointer::io {

// A text column whose cells are moments becomes a time column.
void interpretMoments(Column& column, const std::vector<std::string>& missing);

// Columns without a name get one, repeated names a number; says so.
void makeNamesUnique(std::vector<std::string>& names, std::vector<Issue>& issues);

// The usual role of each column: the first of numbers (or of times) is x, columns named like uncertainties
// are ±, words are labels.
void suggestRoles(Table& table);

} // namespace jointer::io
