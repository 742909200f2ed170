// SPDX-License-Identifier: GPL-3.0-or-later
// Points of the datasets that are no plain curves: surfaces and grids have a second predictor, groups count
// their groups along x, samples of ions and compositions their rows.
#include "base/text.h"
#include "evaluate/cells.h"
#include "evaluate/ions.h"
#include "evaluate/mapping.h"
#include "evaluate/measured_curve.h"

#include <algorithm>
#include <cmath>

namespace jointer::evaluate {

namespace {

struct Point {
    double x, more, y;
    std::uint32_t row;
};

// In order of x; only where everything is a number.
void take(std::vector<Point> points, Curve& c) {
    std::erase_if(points, [](const Point& p) {
        return !std::isfinite(p.x) || !std::isfinite(p.more) || !std::isfinite(p.y);
    });
    std::ranges::stable_sort(points, {}, &Point::x);
    c.more.resize(1);
    for (const Point& p : points) {
        c.x.push_back(p.x);
        c.more[0].push_back(p.more);
        c.y.push_back(p.y);
        c.rowIds.push_back(p.row);
    }
}

Curve surface(const Table& table, const std::vector<RoleBinding>& roles) {
    Curve c;
    const auto x = columnsOf(table, roles, Role::X), y = columnsOf(table, roles, Role::Y),
               z = columnsOf(table, roles, Role::Z);
    if (x.empty() || y.empty() || z.empty()) return c;
    std::vector<Point> points;
    for (std::size_t row = 0; row < table.rowCount(); ++row)
        points.push_back({cellAt(x[0], row), cellAt(y[0], row), cellAt(z[0], row), table.rows->id(row)});
    take(std::move(points), c);
    c.xMeaning = meaningOf(*x[0]);
    c.yMeaning = meaningOf(*z[0]);
    return c;
}

Curve grid(const Table& table, const std::vector<RoleBinding>& roles) {
    Curve c;
    const auto y = columnsOf(table, roles, Role::Y), z = columnsOf(table, roles, Role::Z);
    const bool named =
        std::ranges::all_of(z, [](const Column* k) { return parseNumber(k->name).has_value(); });
    std::vector<Point> points;
    for (std::size_t k = 0; k < z.size(); ++k)
        for (std::size_t row = 0; row < table.rowCount(); ++row)
            points.push_back({named ? *parseNumber(z[k]->name) : static_cast<double>(k + 1),
                              y.empty() ? static_cast<double>(row + 1) : cellAt(y[0], row), cellAt(z[k], row),
                              table.rows->id(row)});
    take(std::move(points), c);
    c.xMeaning.name = named ? "x" : "column";
    c.yMeaning.name = "z";
    return c;
}

Curve groups(const Table& table, const std::vector<RoleBinding>& roles) {
    Curve c;
    const auto lists = columnsOf(table, roles, Role::Y);
    const auto at = std::ranges::find(roles, Role::Class, &RoleBinding::role);
    const Column* by = at == roles.end() ? nullptr : table.find(at->column);
    std::vector<std::string> names;
    std::vector<Point> points;
    for (std::size_t k = 0; k < lists.size(); ++k)
        for (std::size_t row = 0; row < table.rowCount(); ++row) {
            std::size_t group = k;
            if (by) {
                const std::string name = cellText(*by, row);
                group = static_cast<std::size_t>(std::ranges::find(names, name) - names.begin());
                if (group == names.size()) names.push_back(name);
            }
            points.push_back({static_cast<double>(group + 1), 0, cellAt(lists[k], row), table.rows->id(row)});
        }
    take(std::move(points), c);
    c.more.clear();
    c.xMeaning.name = by ? by->name : "group";
    if (!lists.empty()) c.yMeaning = {by ? lists[0]->name : "value", lists[0]->unit, false};
    return c;
}

// The balance of charges of each sample.
Curve ions(const Table& table, const std::vector<RoleBinding>& roles) {
    Curve c;
    c.xMeaning.name = "sample";
    c.yMeaning = {"charge balance", "%", false};
    const auto samples = chargesOf(table, roles).samples;
    for (std::size_t row = 0; row < samples.size(); ++row) {
        const double balance = chargeBalance(samples[row].cations, samples[row].anions);
        if (!std::isfinite(balance)) continue;
        c.x.push_back(static_cast<double>(row + 1));
        c.y.push_back(balance);
        c.rowIds.push_back(table.rows->id(row));
    }
    return c;
}

// The share of the first part in each sample.
Curve composition(const Table& table, const std::vector<RoleBinding>& roles) {
    Curve c;
    const auto parts = columnsOf(table, roles, Role::Component);
    c.xMeaning.name = "sample";
    if (parts.empty()) return c;
    c.yMeaning = {parts[0]->name, "%", false};
    for (std::size_t row = 0; row < table.rowCount(); ++row) {
        double sum = 0;
        for (const Column* p : parts) sum += cellAt(p, row);
        if (!std::isfinite(sum) || sum <= 0) continue;
        c.x.push_back(static_cast<double>(row + 1));
        c.y.push_back(100 * cellAt(parts[0], row) / sum);
        c.rowIds.push_back(table.rows->id(row));
    }
    return c;
}

} // namespace

Curve curveFromMapping(const Table& table, const Dataset& d, std::vector<Issue>& issues) {
    const auto& [kind, roles] = std::tie(d.source.kind, d.source.roles);
    Curve c;
    if (kind == "surface") c = surface(table, roles);
    if (kind == "grid") c = grid(table, roles);
    if (kind == "groups") c = groups(table, roles);
    if (kind == "ions") c = ions(table, roles);
    if (kind == "composition") c = composition(table, roles);
    if (const MappingKind* known = findMapping(kind)) {
        auto check = checkedRoles(*known, table, roles);
        std::ranges::move(check.issues, std::back_inserter(issues));
    } else
        issues.push_back({"unknown-kind",
                          "The dataset “" + d.name + "” is of the kind “" + kind +
                              "”, which this version of Jointer does not know.",
                          {}});
    return c;
}

} // namespace jointer::evaluate
