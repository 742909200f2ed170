// SPDX-License-Identifier: GPL-3.0-or-later
// A table: columns as they were read or typed, and where they came from. A plain value; cells are shared.
#pragma once

#include "data/column.h"

#include <cstdint>
#include <map>
#include <memory>
#include <string>
#include <utility>
#include <vector>

namespace jointer {

// Which rows of a table come from where, so that numbers can be traced and exclusions survive sorting.
// Row ids are unique in the table and stay with their row.
struct Rows {
    std::vector<std::uint32_t> ids;   // empty: 1, 2, 3…
    std::vector<std::uint32_t> lines; // line in the source file; empty: firstLine, firstLine + 1…
    std::uint32_t firstLine = 0;      // 0: not from a file
    std::uint32_t lastId = 0;         // the highest id ever given where rows were inserted or deleted

    std::uint32_t id(std::size_t row) const {
        return row < ids.size() ? ids[row] : static_cast<std::uint32_t>(row + 1);
    }
    std::uint32_t line(std::size_t row) const;
    bool operator==(const Rows&) const = default;
};

// What a row is in a measurement against standards.
enum class RowKind : std::uint8_t { Plain, Standard, Blank, Unknown, Control };
std::string_view rowKindKey(RowKind kind);
RowKind rowKindFromKey(std::string_view key);

// The file a table was read from and how: the reader's key and everything that decides the reading, so that
// importing again gives the same table. `reading` is in the reader's own keys (JSON text of its settings).
struct Origin {
    std::string file;
    std::string reader;
    std::string reading;
    std::string encoding;
    std::vector<std::pair<std::string, std::string>> metadata;
    std::string extra{}; // members of newer versions, kept as JSON; so in tables and columns
    bool operator==(const Origin&) const = default;
};

struct Table {
    TableId id;
    std::string name;
    std::vector<Column> columns;
    std::shared_ptr<const Rows> rows = std::make_shared<Rows>();
    Origin origin;
    std::map<std::uint32_t, RowKind> rowKinds; // by row id; plain ones are not held
    std::string extra{};

    std::size_t rowCount() const;
    RowKind rowKind(std::size_t row) const;
    const Column* find(ColumnId column) const;
    // By heading, by `#3` for the third column. Errors: no such column, with the names there are.
    const Column* findByName(std::string_view nameOrNumber) const;
    bool operator==(const Table& other) const;
};

// "Headings are: a, b, c" for messages about a column that is not there.
std::string columnNames(const Table& table);

} // namespace jointer
