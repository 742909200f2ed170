// SPDX-License-Identifier: GPL-3.0-or-later
// A table as JSON: its columns with name, unit, kind, role and values; the reader takes it back whole.
#include "base/text.h"
#include "io/writer.h"

#include <nlohmann/json.hpp>

namespace jointer::io {

namespace {

using Json = nlohmann::ordered_json;

Json cell(const Column& c, std::size_t row) {
    if (row >= c.cells->size()) return {};
    const CellState state = c.cells->state(row);
    if (state == CellState::Below || state == CellState::Above || state == CellState::Unreadable) {
        const auto original = c.cells->originals.find(static_cast<std::uint32_t>(row));
        return original == c.cells->originals.end() ? Json() : Json(original->second);
    }
    if (state != CellState::Fine) return {};
    switch (c.kind) {
    case ColumnKind::Number:
    case ColumnKind::WholeNumber:
    case ColumnKind::Duration:
        return c.numbers()[row];
    case ColumnKind::Boolean:
        return c.numbers()[row] != 0;
    default:
        return fileText(c, row);
    }
}

Result<std::string> bytes(const Table& table) {
    Json metadata = Json::object(), columns = Json::array();
    for (const auto& [key, value] : table.origin.metadata) metadata[key] = value;
    for (const Column& c : table.columns) {
        Json values = Json::array();
        for (std::size_t i = 0; i < table.rowCount(); ++i) values.push_back(cell(c, i));
        columns.push_back({{"name", c.name},
                           {"unit", c.unit},
                           {"kind", kindKey(c.kind)},
                           {"role", roleKey(c.role)},
                           {"comment", c.comment},
                           {"values", std::move(values)}});
    }
    const Json document = {
        {"name", table.name}, {"metadata", std::move(metadata)}, {"columns", std::move(columns)}};
    return document.dump(1, ' ', false, Json::error_handler_t::replace) + "\n";
}

} // namespace

WriterKind jsonWriter() {
    return {.info = {.key = "json", .name = "JSON", .purpose = "Columns with their kinds and states"},
            .limits = "Display formats and row numbers.",
            .bytes = bytes};
}

} // namespace jointer::io
