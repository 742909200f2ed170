// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/typed_table.h"

#include "base/text.h"
#include "io/column_meaning.h"
#include "io/unit_text.h"
#include "project/change_each.h"
#include "session/column_kind.h"
#include "session/import.h"
#include "session/typed_cell.h"

#include <algorithm>
#include <functional>
#include <tuple>

namespace jointer {

namespace {

std::string freeName(const Project& project) {
    auto taken = [&](const std::string& name) {
        return std::ranges::any_of(project.tables, [&](const auto& t) { return t->name == name; });
    };
    for (int k = 1;; ++k)
        if (std::string name = "Table " + std::to_string(k); !taken(name)) return name;
}

Column emptyColumn(const std::string& name, Role role) {
    Column c = numberColumn(name, "", {});
    c.role = role;
    c.byHand = true;
    return c;
}

bool holdsNothing(const Column& column) {
    for (std::size_t row = 0; row < column.cells->size(); ++row)
        if (column.cells->state(row) == CellState::Fine) return false;
    return true;
}

ColumnKind kindOf(const std::string& typed) {
    Column c = textColumn({}, {typed});
    std::vector<Issue> unused;
    io::interpretTexts(c, {}, unused);
    return c.kind;
}

bool hasFirst(const Column& c) {
    return c.cells->size() > 0 && c.cells->state(0) == CellState::Fine;
}

// What a column of words has in the first row, and nothing below it. Empty: it is not so.
std::string onlyFirst(const Column& c) {
    if (c.isNumeric() || !c.formula.empty()) return {};
    for (std::size_t row = 1; row < c.cells->size(); ++row)
        if (c.cells->state(row) == CellState::Fine) return {};
    return hasFirst(c) ? c.cells->texts[0] : std::string();
}

void changeDatasetsOver(Project& p, TableId table, const std::function<void(Dataset&)>& change) {
    p.datasets = changedEach(p.datasets, [&](Dataset& d) {
        if (d.source.table == table) change(d);
    });
}

// People type headings into the first row. That they are shows when the first number comes below one of them,
// while the whole row holds words.
bool isUnderHeading(const Table& table, const Column& c, std::size_t row, const std::string& typed) {
    if (row != 1 || !table.origin.file.empty() || onlyFirst(c).empty()) return false;
    const ColumnKind kind = kindOf(typed);
    if (kind == ColumnKind::Text || kind == ColumnKind::Boolean) return false;
    return std::ranges::all_of(table.columns, [](const Column& other) {
        return !hasFirst(other) || (!other.isNumeric() && other.formula.empty());
    });
}

// The words of the first row as names and units; columns that hold nothing else are y again where they had
// become labels.
Edit firstRowNames(TableId table) {
    return edits::onTable(table, "Take headings", [=](Project& p, Table& t) -> Result<void> {
        std::vector<ColumnId> again;
        for (Column& c : t.columns) {
            if (!hasFirst(c) || c.isNumeric()) continue;
            std::tie(c.name, c.unit) = io::nameAndUnit(c.cells->texts[0]);
            if (onlyFirst(c).empty() || c.role != Role::Label) continue;
            c.role = Role::Y;
            again.push_back(c.id);
        }
        changeDatasetsOver(p, table, [&](Dataset& d) {
            for (RoleBinding& b : d.source.roles)
                if (b.role == Role::Label && std::ranges::find(again, b.column) != again.end())
                    b.role = Role::Y;
        });
        return {};
    });
}

// The number stands in the first row then.
Result<Edit> typeUnderHeading(const Table& table, const Column& column, const std::string& typed,
                              const char* name) {
    std::vector<Edit> all = {firstRowNames(table.id), edits::deleteRows(table.id, {0})};
    for (const Column& c : table.columns)
        if (c.id != column.id && !onlyFirst(c).empty())
            all.push_back(changeKind(table.id, c.id, ColumnKind::Number));
    Column as = column;
    as.kind = kindOf(typed);
    const auto change = typedCell(as, 0, typed);
    if (!change) return std::unexpected(change.error());
    all.push_back(changeKind(table.id, column.id, as.kind));
    all.push_back(edits::changeCells(table.id, {*change}, name));
    return edits::together(name, std::move(all));
}

// Words may be the categories of x, but are no y: they label points.
Edit labelsPoints(TableId table, ColumnId column) {
    return edits::onTable(table, "Change role", [=](Project& p, Table& t) -> Result<void> {
        Column& words = *std::ranges::find(t.columns, column, &Column::id);
        if (words.role == Role::X) return {};
        words.role = Role::Label;
        changeDatasetsOver(p, table, [&](Dataset& d) {
            auto isIt = [&](const RoleBinding& b) { return b.column == column; };
            if (std::erase_if(d.source.roles, isIt) > 0) d.source.roles.push_back({Role::Label, column});
        });
        return {};
    });
}

} // namespace

Edit newTypedTable(const Project& project) {
    const std::string name = freeName(project);
    return {"New table", {}, [name](const Project& before) -> Result<Project> {
                Project after = before;
                Table t;
                t.name = name;
                t.id = after.newId<TableId>();
                t.columns = {emptyColumn("x", Role::X), emptyColumn("y", Role::Y)};
                for (Column& c : t.columns) c.id = after.newId<ColumnId>();
                for (Dataset& d : datasetsFromTable(t, name, after.datasets.size())) {
                    d.id = after.newId<DatasetId>();
                    after.datasets = after.datasets.with(std::move(d));
                }
                after.tables = after.tables.with(std::move(t));
                return after;
            }};
}

Result<Edit> typeCell(const Table& table, ColumnId column, std::size_t row, const std::string& typed) {
    const Column* c = table.find(column);
    if (!c) return failure("column-gone", "The column is no longer there.");
    const char* const name = "Type a value";
    if (isUnderHeading(table, *c, row, typed)) return typeUnderHeading(table, *c, typed, name);
    auto change = typedCell(*c, row, typed);
    if (change || !c->formula.empty() || !holdsNothing(*c)) {
        if (!change) return std::unexpected(change.error());
        return edits::changeCells(table.id, {*change}, name);
    }
    Column as = *c; // empty: it takes the kind of what comes first
    as.kind = kindOf(typed);
    change = typedCell(as, row, typed);
    if (!change) return std::unexpected(change.error());
    std::vector<Edit> all = {changeKind(table.id, column, as.kind)};
    if (!as.isNumeric()) all.push_back(labelsPoints(table.id, column));
    all.push_back(edits::changeCells(table.id, {*change}, name));
    return edits::together(name, std::move(all));
}

} // namespace jointer
