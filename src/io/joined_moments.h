// SPDX-License-Identifier: GPL-3.0-or-later
// A column of dates and one of times of day are one moment: joined as told, or where it is plain that they
// are.
#pragma once

#include "io/reader.h"

namespace jointer::io {

inline constexpr const char* kApart = "-"; // told of columns that shall not be joined

// Joins the columns named "Date,Time" in place of the first. Error: "join".
Result<void> joinColumns(Table& table, const std::string& wanted);

// "date,time" where a table holds one column of dates that come again, one of times of day, no moments, and
// both together run in one direction; else empty.
std::string columnsToJoin(const Table& table);

// Joins them in each table, unless `told` says which, or that they stay apart; says so as an issue.
void joinMoments(ReadResult& reading, const Settings& told);

} // namespace jointer::io
