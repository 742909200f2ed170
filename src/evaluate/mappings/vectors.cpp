// SPDX-License-Identifier: GPL-3.0-or-later
// Vectors u, v at places x, y.
#include "evaluate/mappings/kinds.h"

namespace jointer::evaluate {

namespace {

struct Columns {
    const Column *x = nullptr, *y = nullptr, *u = nullptr, *v = nullptr;

    Columns(const Table& table, const Roles& roles) {
        for (const RoleBinding& b : roles) {
            const Column* c = table.find(b.column);
            if (!c || !c->isNumeric()) continue;
            if (b.role == Role::X) x = c;
            if (b.role == Role::Y) y = c;
            if (b.role == Role::Component && b.of == "u") u = c;
            if (b.role == Role::Component && b.of == "v") v = c;
        }
    }
    bool isWhole() const { return x && y && u && v; }
};

// In order of x: y, u and v beside, as y the length of the vector.
Curve curve(const Table& table, const Dataset& d, std::vector<Issue>&) {
    Curve c;
    const Columns from(table, d.source.roles);
    if (!from.isWhole()) return c;
    c.more.resize(3);
    for (std::size_t row = 0; row < table.rowCount(); ++row) {
        const double x = cellAt(from.x, row), y = cellAt(from.y, row), u = cellAt(from.u, row),
                     v = cellAt(from.v, row);
        if (!std::isfinite(x + y + u + v)) continue;
        c.x.push_back(x);
        c.y.push_back(std::hypot(u, v));
        c.more[0].push_back(y);
        c.more[1].push_back(u);
        c.more[2].push_back(v);
        c.rowIds.push_back(table.rows->id(row));
    }
    sortByX(c);
    c.xMeaning = meaningOf(*from.x);
    c.yMeaning = {.name = "length of the vectors", .unit = from.u->unit};
    c.moreMeanings = {meaningOf(*from.y), meaningOf(*from.u), meaningOf(*from.v)};
    return c;
}

void check(const Table& table, const DatasetSource& source, Check& check) {
    const Columns from(table, source.roles);
    if (!from.isWhole()) return;
    long long whole = 0;
    for (std::size_t row = 0; row < table.rowCount(); ++row)
        whole += std::isfinite(cellAt(from.x, row) + cellAt(from.y, row) + cellAt(from.u, row) +
                               cellAt(from.v, row));
    addFact(check, counted(whole, "vector"));
    if (whole == 0) problem(check, "No row has a number for x, y, u and v.");
    if (from.u->unit != from.v->unit)
        problem(check, fmt::format("“{}” and “{}” have different units.", from.u->name, from.v->name));
}

void guess(const Slot& slot, const Table& table, Roles& out) {
    const auto named = [&](const Column& c) { return lowerAscii(c.name) == slot.label; };
    const std::size_t before = out.size();
    takeFirst(slot, table, out, [&](const Column& c) { return c.isNumeric() && named(c); });
    if (out.size() == before) takeFirst(slot, table, out, [](const Column& c) { return c.isNumeric(); });
}

} // namespace

MappingKind vectorsMapping() {
    return {.info = {.key = "vectors",
                     .name = "Vectors",
                     .purpose = "Vectors u, v at places x and y, a row for each"},
            .slots = {{.role = Role::X, .label = "x", .needed = true},
                      {.role = Role::Y, .label = "y", .needed = true},
                      {.role = Role::Component, .of = "u", .label = "u", .help = "Along x.", .needed = true},
                      {.role = Role::Component, .of = "v", .label = "v", .help = "Along y.", .needed = true}},
            .guess = guess,
            .check = check,
            .curve = curve};
}

} // namespace jointer::evaluate
