// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/writer.h"

#include "base/text.h"

namespace jointer::io {

namespace {

std::string quotedIfNeeded(const std::string& text, char separator) {
    const char special[] = {separator, '"', '\r', '\n', 0};
    if (text.find_first_of(special) == std::string::npos && text == trimmed(text)) return text;
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
    return plainCellText(column, row);
}

std::string headingOf(const Column& column) {
    return column.unit.empty() ? column.name : column.name + " [" + column.unit + "]";
}

const Catalogue<WriterKind>& writerCatalogue() {
    static const Catalogue<WriterKind> all(
        {{.info = {.key = "csv", .name = "CSV", .purpose = "Plain text with commas, as RFC 4180 has it"},
          .limits =
              "Roles and remarks of columns; durations come back as numbers of seconds, texts that look "
              "like numbers come back as numbers.",
          .bytes = [](const Table& table) -> Result<std::string> { return toCsv(table); }},
         xlsxWriter(),
         jsonWriter(),
         hdf5Writer(),
         cansasWriter(),
         nxcansasWriter()});
    return all;
}

Result<std::string> tableBytes(const Table& table, const std::string& ending) {
    if (const WriterKind* writer = writerCatalogue().find(ending)) return writer->bytes(table);
    return failure("format", "A table cannot be written as “." + ending + "”; choose one of: ." +
                                 joined(writerCatalogue().keys(), ", .") + ".");
}

namespace {

std::string delimited(const Table& table, char separator, const char* lineEnd) {
    std::string out;
    for (std::size_t c = 0; c < table.columns.size(); ++c) {
        if (c) out += separator;
        out += quotedIfNeeded(headingOf(table.columns[c]), separator);
    }
    out += lineEnd;
    for (std::size_t row = 0; row < table.rowCount(); ++row) {
        for (std::size_t c = 0; c < table.columns.size(); ++c) {
            if (c) out += separator;
            out += quotedIfNeeded(fileText(table.columns[c], row), separator);
        }
        out += lineEnd;
    }
    return out;
}

} // namespace

std::string toCsv(const Table& table) {
    return delimited(table, ',', "\r\n");
}

std::string toTabs(const Table& table) {
    return delimited(table, '\t', "\n");
}

} // namespace jointer::io
