// SPDX-License-Identifier: GPL-3.0-or-later
// What readers of structured formats share: tables out of named vectors, texts made safe, numbers in lines.
#pragma once

#include "io/column_meaning.h"
#include "io/reader.h"

#include <algorithm>
#include <limits>

namespace jointer::io {

// A table of these columns with unique names and suggested roles. Shorter columns are filled with missing
// cells.
inline ReadTable madeTable(std::string name, std::vector<Column> columns, std::vector<Issue>& issues) {
    std::size_t rows = 0;
    for (const Column& c : columns) rows = std::max(rows, c.cells->size());
    std::vector<std::string> names;
    for (const Column& c : columns) names.push_back(c.name);
    makeNamesUnique(names, issues);
    for (std::size_t i = 0; i < columns.size(); ++i) {
        columns[i].name = names[i];
        if (columns[i].cells->size() == rows) continue;
        Cells cells = *columns[i].cells;
        if (columns[i].isNumeric())
            cells.numbers.resize(rows, std::numeric_limits<double>::quiet_NaN());
        else
            cells.texts.resize(rows);
        if (!cells.states.empty()) cells.states.resize(rows, CellState::Missing);
        columns[i].cells = std::make_shared<Cells>(std::move(cells));
    }
    ReadTable t;
    t.table.name = std::move(name);
    t.table.columns = std::move(columns);
    suggestRoles(t.table);
    return t;
}

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

// UTF-8 as it is; anything else as Latin-1.
std::string safeText(std::string_view bytes);

} // namespace jointer::io
