// SPDX-License-Identifier: GPL-3.0-or-later
// What is wrong with a mapping, or deserves a look, in plain sentences.
#include "base/text.h"
#include "evaluate/cells.h"
#include "evaluate/ions.h"
#include "evaluate/mapping.h"
#include "stats/summary.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <set>

namespace jointer::evaluate {

namespace {

using Check = Outcome<std::vector<std::string>>;

void problem(Check& check, std::string text) {
    check.issues.push_back({"mapping", std::move(text), {}});
}

void addFact(Check& check, std::string text) {
    check.value.push_back(std::move(text));
}

long long finiteCells(const Column& c) {
    return std::ranges::count_if(c.numbers(), [](double v) { return std::isfinite(v); });
}

// ---- curves ----------------------------------------------------------------------------------------------

void checkCurve(const Table& table, const std::vector<RoleBinding>& roles, Check& check) {
    const auto ys = columnsOf(table, roles, Role::Y), xs = columnsOf(table, roles, Role::X);
    if (ys.empty()) return;
    std::size_t points = 0;
    std::multiset<double> seen;
    for (std::size_t row = 0; row < table.rowCount(); ++row) {
        const double x = xs.empty() ? static_cast<double>(row + 1) : cellAt(xs[0], row);
        const bool there =
            std::ranges::any_of(ys, [&](const Column* y) { return std::isfinite(cellAt(y, row)); });
        if (!there || !std::isfinite(x)) continue;
        ++points;
        seen.insert(x);
    }
    addFact(check, counted(static_cast<long long>(points), "point") +
                       (ys.size() > 1 ? " of " + std::to_string(ys.size()) + " replicates" : ""));
    std::size_t repeated = 0;
    for (auto at = seen.begin(); at != seen.end(); at = seen.upper_bound(*at))
        repeated += seen.count(*at) > 1;
    if (repeated > 0)
        addFact(check, counted(static_cast<long long>(repeated), "value") + " of x with several points");
    if (points == 0) problem(check, "No row has a number for both x and y.");
    for (const Column* y : ys)
        if (y->unit != ys[0]->unit)
            problem(check,
                    fmt::format("The replicates “{}” and “{}” have different units.", ys[0]->name, y->name));
    for (const Column* error : columnsOf(table, roles, Role::YError))
        if (std::ranges::any_of(error->numbers(), [](double v) { return v <= 0; }))
            problem(check, fmt::format("“{}” holds uncertainties that are not above zero.", error->name));
}

// ---- surfaces and grids ----------------------------------------------------------------------------------

void checkSurface(const Table& table, const std::vector<RoleBinding>& roles, Check& check) {
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

void checkGrid(const Table& table, const std::vector<RoleBinding>& roles, Check& check) {
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

// ---- groups ----------------------------------------------------------------------------------------------

void checkGroups(const Table& table, const std::vector<RoleBinding>& roles, Check& check) {
    const auto lists = columnsOf(table, roles, Role::Y);
    const auto at = std::ranges::find(roles, Role::Class, &RoleBinding::role);
    const Column* by = at == roles.end() ? nullptr : table.find(at->column);
    std::vector<std::pair<std::string, long long>> sizes;
    for (const Column* list : lists) {
        if (!by) {
            sizes.emplace_back(list->name, finiteCells(*list));
            continue;
        }
        for (std::size_t row = 0; row < table.rowCount(); ++row) {
            if (!std::isfinite(cellAt(list, row))) continue;
            const std::string group = cellText(*by, row);
            auto known = std::ranges::find(sizes, group, [](const auto& s) { return s.first; });
            if (known == sizes.end()) known = sizes.insert(sizes.end(), {group, 0});
            ++known->second;
        }
    }
    std::vector<std::string> words;
    for (const auto& [name, n] : sizes)
        if (words.size() < 12) words.push_back(fmt::format("{} ({})", name.empty() ? "–" : name, n));
    if (!sizes.empty())
        addFact(check, fmt::format("{}: {}{}", counted(static_cast<long long>(sizes.size()), "group"),
                                   joined(words, ", "), sizes.size() > words.size() ? ", …" : ""));
    for (const auto& [name, n] : sizes)
        if (n < 2) problem(check, fmt::format("The group “{}” has {}.", name, counted(n, "value")));
    if (by && lists.size() > 1) problem(check, "With a column of groups, one column of values is enough.");
}

// ---- compositions and ions -------------------------------------------------------------------------------

void checkComposition(const Table& table, const std::vector<RoleBinding>& roles, Check& check) {
    const auto parts = columnsOf(table, roles, Role::Component);
    if (parts.size() != 3) return problem(check, "A composition of three parts needs three columns.");
    std::vector<double> sums;
    long long negative = 0;
    for (std::size_t row = 0; row < table.rowCount(); ++row) {
        double sum = 0;
        for (const Column* p : parts) {
            sum += cellAt(p, row);
            negative += cellAt(p, row) < 0;
        }
        if (std::isfinite(sum)) sums.push_back(sum);
    }
    if (sums.empty()) return problem(check, "No row has all three parts.");
    const auto [low, high] = std::ranges::minmax(sums);
    addFact(check,
            fmt::format("{} with sums from {} to {}", counted(static_cast<long long>(sums.size()), "sample"),
                        readableNumber(low, 4), readableNumber(high, 4)));
    if (high - low > 0.02 * high)
        addFact(check, "the sums differ; each sample is taken as shares of its sum");
    if (negative > 0) problem(check, counted(negative, "part") + " below zero.");
}

void checkIons(const Table& table, const std::vector<RoleBinding>& roles, Check& check) {
    const IonCharges charges = chargesOf(table, roles);
    for (const Column* c : charges.unknownUnits)
        problem(check,
                c->unit.empty()
                    ? fmt::format("“{}” has no unit and is taken as mg/L.", c->name)
                    : fmt::format("The unit {} of “{}” is not known for ions; give mg/L, mmol/L or meq/L.",
                                  c->unit, c->name));
    if (!charges.cations || !charges.anions)
        return problem(check, "At least one cation and one anion are needed.");
    std::vector<double> errors;
    long long beyond = 0;
    for (const Charges& s : charges.samples) {
        const double e = chargeBalance(s.cations, s.anions);
        if (!std::isfinite(e)) continue;
        errors.push_back(std::abs(e));
        beyond += std::abs(e) > 5;
    }
    if (errors.empty()) return problem(check, "No row has amounts of ions.");
    std::ranges::sort(errors);
    addFact(check,
            fmt::format("{}, charge balance within ±{} %, median {} %",
                        counted(static_cast<long long>(errors.size()), "sample"),
                        readableNumber(errors.back(), 2), readableNumber(stats::quantile(errors, 0.5), 2)));
    if (beyond > 0)
        problem(check,
                fmt::format("In {} the charges do not balance within ±5 %.", counted(beyond, "sample")));
}

} // namespace

Check checkedRoles(const MappingKind& kind, const Table& table, const std::vector<RoleBinding>& roles) {
    Check check;
    std::vector<std::string> open;
    for (const Slot& slot : kind.slots) {
        const bool filled = std::ranges::any_of(
            roles, [&](const RoleBinding& b) { return b.role == slot.role && b.of == slot.of; });
        if (slot.needed && !filled) open.push_back(slot.label);
    }
    if (!open.empty() && kind.key == "ions")
        addFact(check, "without " + joined(open, ", "));
    else if (!open.empty())
        problem(check, "Choose a column for " + joined(open, ", ") + ".");
    for (const RoleBinding& b : roles) {
        const Column* c = table.find(b.column);
        const bool words = b.role == Role::Label || b.role == Role::Class;
        if (c && !words && !c->isNumeric())
            problem(check, fmt::format("“{}” holds words; numbers are needed.", c->name));
    }
    if (kind.key == "columns") checkCurve(table, roles, check);
    if (kind.key == "surface") checkSurface(table, roles, check);
    if (kind.key == "grid") checkGrid(table, roles, check);
    if (kind.key == "groups") checkGroups(table, roles, check);
    if (kind.key == "ions") checkIons(table, roles, check);
    if (kind.key == "composition" && open.empty()) checkComposition(table, roles, check);
    return check;
}

} // namespace jointer::evaluate
