// SPDX-License-Identifier: GPL-3.0-or-later
// What the columns of a table that was read mean: numbers, times, yes/no, names, roles. For readers of every
// format. The kind of a column is decided by all of its cells.
#pragma once

#include "base/issue.h"
#include "data/table.h"
#include "io/moment_text.h"

#include <functional>
#include <optional>

namespace jointer::io {

struct CellRules {
    char decimal = '.';
    std::vector<std::string> missing;   // markers beside the usual ones
    std::optional<DateOrder> dateOrder; // told; else by the evidence of the column
    std::function<long(std::size_t row)> lineOf = [](std::size_t) { return 0L; };
    std::function<void(DateOrder other)> onOpenOrder{}; // told of an order that goes as well
};

// A text column whose cells are numbers in whatever spelling, moments, durations or yes/no becomes one of
// that kind; the few cells that do not fit become unreadable, keep their text and are reported. Identifiers
// with leading zeros stay texts.
void interpretTexts(Column& column, const CellRules& rules, std::vector<Issue>& issues);

// A column of numbers such as 20310502 that is called a date becomes one.
void interpretCompactDates(Column& column);

// A column of dates and one of times of day as one of moments.
Result<Column> joinedMoments(const Column& date, const Column& time);

// Columns without a name get one, repeated names a number; says so.
void makeNamesUnique(std::vector<std::string>& names, std::vector<Issue>& issues);

// The usual role of each column: the first of numbers (or of times) is x, columns named like uncertainties
// are ±, those behind a y that are called a fit, a background or the like its companions, words are labels.
void suggestRoles(Table& table);

} // namespace jointer::io
