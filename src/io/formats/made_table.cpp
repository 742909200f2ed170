// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/formats/made_table.h"

#include "base/text.h"
#include "io/column_meaning.h"

#include <algorithm>
#include <limits>
#include <map>

namespace jointer::io {

ReadTable madeTable(std::string name, std::vector<Column> columns, std::vector<Issue>& issues) {
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

void giveScatteringRoles(Table& table) {
    static const std::map<std::string_view, Role> known = {{"Q", Role::X},
                                                           {"I", Role::Y},
                                                           {"Idev", Role::YError},
                                                           {"Qdev", Role::Resolution},
                                                           {"dQw", Role::Resolution},
                                                           {"dQl", Role::Resolution},
                                                           {"Qmean", Role::None},
                                                           {"Shadowfactor", Role::None},
                                                           {"ShadowFactor", Role::None}};
    for (Column& c : table.columns)
        if (const auto role = known.find(c.name); role != known.end()) c.role = role->second;
}

std::string safeText(std::string_view bytes) {
    if (isUtf8(bytes)) return std::string(bytes);
    std::string out;
    for (char c : bytes) appendUtf8(out, static_cast<unsigned char>(c));
    return out;
}

} // namespace jointer::io
