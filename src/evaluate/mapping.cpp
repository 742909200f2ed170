// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/mapping.h"

#include "base/text.h"
#include "evaluate/cells.h"
#include "evaluate/mappings/kinds.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace jointer::evaluate {

const Catalogue<MappingKind>& mappingCatalogue() {
    static const Catalogue<MappingKind> all({curveMapping(), surfaceMapping(), gridMapping(), groupsMapping(),
                                             samplesMapping(), ionsMapping(), compositionMapping(),
                                             vectorsMapping()});
    return all;
}

std::vector<Role> offeredRoles() {
    std::set<Role> read;
    for (const MappingKind& kind : mappingCatalogue())
        for (const Slot& slot : kind.slots)
            if (slot.role != Role::Component) read.insert(slot.role); // which part is chosen in the mapping
    return {read.begin(), read.end()};
}

std::vector<RoleBinding> guessedRoles(const MappingKind& kind, const Table& table) {
    std::vector<RoleBinding> out;
    for (const Slot& slot : kind.slots) kind.guess(slot, table, out);
    return out;
}

Check checkedSource(const MappingKind& kind, const Table& table, const DatasetSource& source) {
    const Roles& roles = source.roles;
    Check check;
    std::vector<std::string> open;
    for (const Slot& slot : kind.slots) {
        const bool filled = std::ranges::any_of(
            roles, [&](const RoleBinding& b) {
                return b.role == slot.role && b.of == slot.of && table.find(b.column);
            });
        if (slot.needed && !filled) open.push_back(slot.label);
    }
    if (!open.empty() && kind.maySlotsBeEmpty)
        addFact(check, "without " + joined(open, ", "));
    else if (!open.empty())
        problem(check, "Choose a column for " + joined(open, ", ") + ".");
    for (const RoleBinding& b : roles) {
        const Column* c = table.find(b.column);
        const auto slot = std::ranges::find(kind.slots, b.role, &Slot::role);
        const bool words = slot != kind.slots.end() && slot->maybeWords;
        if (c && !words && !c->isNumeric())
            problem(check, fmt::format("“{}” holds words; numbers are needed.", c->name));
    }
    kind.check(table, source, check);
    return check;
}

namespace {

template <class Key, class Cell, class Name>
Categories counted(std::size_t rows, const Cell& cell, const Name& name) {
    Categories out;
    out.places.reserve(rows);
    std::unordered_map<Key, double> known;
    for (std::size_t row = 0; row < rows; ++row) {
        const std::optional<Key> key = cell(row);
        if (!key) {
            out.places.push_back(std::nan(""));
            continue;
        }
        const auto [at, isNew] = known.try_emplace(*key, static_cast<double>(out.names.size() + 1));
        if (isNew) out.names.push_back(name(row));
        out.places.push_back(at->second);
    }
    return out;
}

} // namespace

Categories categoriesOf(const Column& column, std::size_t rows) {
    const Cells& cells = *column.cells;
    if (column.isNumeric())
        return counted<double>(
            rows,
            [&](std::size_t row) {
                const double v = cellAt(&column, row);
                return std::isfinite(v) ? std::optional(v) : std::nullopt;
            },
            [&](std::size_t row) { return cellText(column, row); });
    return counted<std::string_view>(
        rows,
        [&](std::size_t row) {
            return row < cells.texts.size() && !cells.texts[row].empty()
                       ? std::optional<std::string_view>(cells.texts[row])
                       : std::nullopt;
        },
        [&](std::size_t row) { return cells.texts[row]; });
}

// In order of x; only where everything is a number.
void takePoints(std::vector<Point> points, Curve& c) {
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

std::vector<const Column*> columnsOf(const Table& table, const std::vector<RoleBinding>& roles, Role role) {
    std::vector<const Column*> out;
    for (const RoleBinding& b : roles)
        if (const Column* c = b.role == role ? table.find(b.column) : nullptr; c && c->isNumeric())
            out.push_back(c);
    return out;
}

} // namespace jointer::evaluate
