// SPDX-License-Identifier: GPL-3.0-or-later
#include "data/table.h"

#include "base/text.h"

#include <algorithm>
#include <array>

namespace jointer {

namespace {

constexpr std::array<std::string_view, 5> kRowKinds = {"plain", "standard", "blank", "unknown", "control"};

} // namespace

std::string_view rowKindKey(RowKind kind) {
    return kRowKinds[static_cast<std::size_t>(kind)];
}

RowKind rowKindFromKey(std::string_view key) {
    const auto at = std::ranges::find(kRowKinds, key);
    return at == kRowKinds.end() ? RowKind::Plain : static_cast<RowKind>(at - kRowKinds.begin());
}

std::uint32_t Rows::line(std::size_t row) const {
    if (row < lines.size()) return lines[row];
    return firstLine == 0 ? 0 : firstLine + static_cast<std::uint32_t>(row);
}

std::size_t Table::rowCount() const {
    std::size_t rows_ = 0;
    for (const Column& c : columns) rows_ = std::max(rows_, c.cells->size());
    return rows_;
}

RowKind Table::rowKind(std::size_t row) const {
    const auto at = rowKinds.find(rows->id(row));
    return at == rowKinds.end() ? RowKind::Plain : at->second;
}

const Column* Table::find(ColumnId column) const {
    // Ids mostly ascend: of thousands of columns the place is found at once where they do.
    std::size_t low = 0, high = columns.size();
    while (low < high) {
        const std::size_t middle = (low + high) / 2;
        if (columns[middle].id < column)
            low = middle + 1;
        else
            high = middle;
    }
    if (low < columns.size() && columns[low].id == column) return &columns[low];
    const auto at = std::ranges::find(columns, column, &Column::id);
    return at == columns.end() ? nullptr : &*at;
}

const Column* Table::findByName(std::string_view name) const {
    const auto at = std::ranges::find(columns, name, &Column::name);
    if (at != columns.end()) return &*at;
    if (!name.starts_with('#')) return nullptr;
    const auto number = parseNumber(name.substr(1));
    const bool there = number && *number >= 1 && *number <= static_cast<double>(columns.size());
    return there ? &columns[static_cast<std::size_t>(*number) - 1] : nullptr;
}

bool Table::operator==(const Table& o) const {
    return id == o.id && name == o.name && columns == o.columns && origin == o.origin &&
           rowKinds == o.rowKinds && extra == o.extra && (rows == o.rows || *rows == *o.rows);
}

std::string columnNames(const Table& table) {
    std::vector<std::string> names;
    for (const Column& c : table.columns) names.push_back("“" + c.name + "”");
    return joined(names, ", ");
}

} // namespace jointer
