// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/formats/made_table.h"

#include <algorithm>

#include "base/text.h"

namespace jointer::io {

bool ArrayTables::join(std::vector<Column>& columns, const std::string& name) {
    if (columns.size() != 1 || columns[0].cells->size() < 2) return false;
    if (!together_.empty() && together_[0].cells->size() != columns[0].cells->size()) return false;
    together_.push_back(std::move(columns[0]));
    together_.back().name = name;
    return true;
}

std::vector<ReadTable> ArrayTables::finish(std::vector<Issue>& issues) {
    std::vector<ReadTable> tables;
    if (!together_.empty())
        tables.push_back(madeTable(apart_.empty() ? "" : "columns", std::move(together_), issues));
    std::ranges::move(apart_, std::back_inserter(tables));
    return tables;
}

std::string safeText(std::string_view bytes) {
    if (isUtf8(bytes)) return std::string(bytes);
    std::string out;
    for (char c : bytes) appendUtf8(out, static_cast<unsigned char>(c));
    return out;
}

} // namespace jointer::io
