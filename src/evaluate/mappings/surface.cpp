// SPDX-License-Identifier: GPL-3.0-or-later
// z at places x and y.
#include "evaluate/fields.h"
#include "evaluate/mappings/kinds.h"

#include <set>

namespace jointer::evaluate {

namespace {

Curve curve(const Table& table, const Dataset& d, std::vector<Issue>&) {
    Curve c;
    const Roles& roles = d.source.roles;
    const auto x = columnsOf(table, roles, Role::X), y = columnsOf(table, roles, Role::Y),
               z = columnsOf(table, roles, Role::Z);
    if (x.empty() || y.empty() || z.empty()) return c;
    std::vector<Point> points;
    for (std::size_t row = 0; row < table.rowCount(); ++row)
        points.push_back({cellAt(x[0], row), cellAt(y[0], row), cellAt(z[0], row), table.rows->id(row)});
    takePoints(std::move(points), c);
    c.xMeaning = meaningOf(*x[0]);
    c.yMeaning = meaningOf(*z[0]);
    c.moreMeanings = {meaningOf(*y[0])};
    return c;
}

void check(const Table& table, const DatasetSource& source, Check& check) {
    const Roles& roles = source.roles;
    const auto x = columnsOf(table, roles, Role::X), y = columnsOf(table, roles, Role::Y),
               z = columnsOf(table, roles, Role::Z);
    if (x.empty() || y.empty() || z.empty()) return;
    std::set<double> xs, ys;
    std::set<std::pair<double, double>> places;
    long long points = 0, repeated = 0;
    for (std::size_t row = 0; row < table.rowCount(); ++row) {
        const double a = cellAt(x[0], row), b = cellAt(y[0], row);
        if (!std::isfinite(a) || !std::isfinite(b) || !std::isfinite(cellAt(z[0], row))) continue;
        ++points;
        xs.insert(a);
        ys.insert(b);
        repeated += !places.emplace(a, b).second;
    }
    addFact(check, counted(points, "point"));
    const bool grid = places.size() == xs.size() * ys.size() && xs.size() > 1 && ys.size() > 1;
    if (grid)
        addFact(check, fmt::format("a complete grid of {} × {}", xs.size(), ys.size()));
    else if (points > 0)
        addFact(check, "scattered: the points form no complete grid");
    if (points == 0) problem(check, "No row has a number for x, y and z.");
    if (repeated > 0) problem(check, counted(repeated, "place") + " of x and y with more than one z.");
}

void guess(const Slot& slot, const Table& table, Roles& out) {
    takeFirst(slot, table, out, [](const Column& c) {
        return c.isNumeric() && c.role != Role::Class && c.role != Role::Label;
    });
}

} // namespace

MappingKind surfaceMapping() {
    return {.info = {.key = "surface",
                     .name = "Surface",
                     .purpose = "Heights z at places x and y, a row for each",
                     .settings = surfaceSettings()},
            .slots = {{.role = Role::X, .label = "x", .needed = true},
                      {.role = Role::Y, .label = "y", .needed = true},
                      {.role = Role::Z, .label = "z", .needed = true}},
            .guess = guess,
            .check = check,
            .curve = curve};
}

} // namespace jointer::evaluate
