// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/writer.h"

#include "base/text.h"

namespace jointer::io {

namespace {

std::string quotedIfNeeded(const std::string& text) {
    if (text.find_first_of(",\"\r\n") == std::string::npos && text == trimmed(text)) return text;
    std::string out = "\"";
    for (char c : text) {
        out += c;
        if (c == '"') out += '"';
    }
    return out + "\"";
}

} // namespace

std::string fileText(const Column& column, std::size_t row) {
    const Cells& cells = *column.cells;
    if (row >= cells.size()) return {};
    const CellState state = cells.state(row);
    if (state == CellState::Below || state == CellState::Above)
        return cells.originals.at(static_cast<std::uint32_t>(row));
    if (state != CellState::Fine) return {};
    if (column.kind == ColumnKind::Number || column.kind == ColumnKind::WholeNumber ||
        column.kind == ColumnKind::Duration)
        return shortestNumber(cells.numbers[row]);
    return cellText(column, row);
}

std::string toCsv(const Table& table) {
    std::string out;
    for (std::size_t c = 0; c < table.columns.size(); ++c) {
        const Column& column = table.columns[c];
        out += (c ? "," : "") +
               quotedIfNeeded(column.unit.empty() ? column.name : column.name + " [" + column.unit + "]");
    }
    out += "\r\n";
    for (std::size_t row = 0; row < table.rowCount(); ++row) {
        for (std::size_t c = 0; c < table.columns.size(); ++c) {
            if (c) out += ',';
            out += quotedIfNeeded(fileText(table.columns[c], row));
        }
        out += "\r\n";
    }
    return out;
}

} // namespace jointer::io
