// SPDX-License-Identifier: GPL-3.0-or-later
// What readers of structured formats share: tables out of named vectors, texts made safe, numbers in lines.
#pragma once

#include "io/reader.h"

namespace jointer::io {

// A table of these columns with unique names and suggested roles. Shorter columns are filled with missing
// cells.
ReadTable madeTable(std::string name, std::vector<Column> columns, std::vector<Issue>& issues);

// Named arrays of one file: vectors of one length are the columns of one table, which comes first; all else
// makes a table of its own.
class ArrayTables {
public:
    // Takes a single column of several rows, under this name, if it is as long as those before it.
    bool join(std::vector<Column>& columns, const std::string& name);
    void add(ReadTable table) { apart_.push_back(std::move(table)); }
    std::vector<ReadTable> finish(std::vector<Issue>& issues);

private:
    std::vector<Column> together_;
    std::vector<ReadTable> apart_;
};

// Roles of the columns of the canSAS formats, by their names.
void giveScatteringRoles(Table& table);

// UTF-8 as it is; anything else as Latin-1.
std::string safeText(std::string_view bytes);

} // namespace jointer::io
