// SPDX-License-Identifier: GPL-3.0-or-later
// z in a block: a column for each x.
#include "describe/setting_makers.h"
#include "evaluate/fields.h"
#include "evaluate/mappings/kinds.h"

namespace jointer::evaluate {

namespace {

constexpr std::size_t kMany = 400000; // cells, of which only some stand for the dataset as a curve

Curve curve(const Table& table, const Dataset& d, std::vector<Issue>& issues) {
    if (columnsOf(table, d.source.roles, Role::Z).size() * table.rowCount() > kMany)
        return curveOf(gridOf(table, d.source, issues), issues);
    Curve c;
    const Roles& roles = d.source.roles;
    const auto y = columnsOf(table, roles, Role::Y), z = columnsOf(table, roles, Role::Z);
    const bool named =
        std::ranges::all_of(z, [](const Column* k) { return parseNumber(k->name).has_value(); });
    std::vector<Point> points;
    for (std::size_t k = 0; k < z.size(); ++k)
        for (std::size_t row = 0; row < table.rowCount(); ++row)
            points.push_back({named ? *parseNumber(z[k]->name) : static_cast<double>(k + 1),
                              y.empty() ? static_cast<double>(row + 1) : cellAt(y[0], row), cellAt(z[k], row),
                              table.rows->id(row)});
    takePoints(std::move(points), c);
    c.xMeaning.name = named ? "x" : "column";
    c.yMeaning.name = "z";
    return c;
}

void check(const Table& table, const DatasetSource& source, Check& check) {
    const Roles& roles = source.roles;
    const auto zs = columnsOf(table, roles, Role::Z);
    if (zs.empty()) return;
    long long filled = 0, unnamed = 0;
    for (const Column* z : zs) {
        filled += finiteCells(*z);
        unnamed += !parseNumber(z->name).has_value();
    }
    const auto cells = static_cast<long long>(zs.size() * table.rowCount());
    addFact(check, fmt::format("{} × {} cells, {}", table.rowCount(), zs.size(),
                               filled == cells ? "complete" : fmt::format("{} empty", cells - filled)));
    if (unnamed > 0)
        problem(check, fmt::format("{} no number as heading, so the other axis counts the columns.",
                                   counted(unnamed, "column has", "columns have")));
    for (const Column* y : columnsOf(table, roles, Role::Y))
        if (finiteCells(*y) < static_cast<long long>(table.rowCount()))
            problem(check, fmt::format("“{}” has rows without a number.", y->name));
}

void guess(const Slot& slot, const Table& table, Roles& out) {
    if (slot.role == Role::Z)
        takeAll(slot, table, out, [](const Column& c) { return c.isNumeric(); });
    else
        takeFirst(slot, table, out, [](const Column& c) { return c.isNumeric() && !parseNumber(c.name); });
}

std::vector<Setting> settings() {
    using namespace describe;
    return {word("x-name", "Name of x", "What the headings of the columns are.", {.whenEmpty = "x"}),
            word("x-unit", "Unit of x", "Their unit."),
            word("z-name", "Name of z", "What the cells hold.", {.whenEmpty = "z"}),
            word("z-unit", "Unit of z", "Their unit.", {.whenEmpty = "that of the columns"})};
}

} // namespace

MappingKind gridMapping() {
    return {
        .info = {.key = "grid",
                 .name = "Grid",
                 .purpose = "Heights z in a block: rows along y, a column for each x, its heading the number",
                 .settings = settings()},
        .slots = {{.role = Role::Y,
                   .label = "y",
                   .help = "The column with the other axis; none: row numbers."},
                  {.role = Role::Z,
                   .label = "z",
                   .help = "The columns of the block.",
                   .needed = true,
                   .several = true}},
        .guess = guess,
        .check = check,
        .curve = curve};
}

} // namespace jointer::evaluate
