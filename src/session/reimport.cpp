// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/reimport.h"

#include "base/bits.h"
#include "base/text.h"
#include "evaluate/cells.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <nlohmann/json.hpp>
#include <set>
#include <unordered_map>

namespace jointer {

namespace {

using evaluate::cellAt;

constexpr std::size_t kNone = static_cast<std::size_t>(-1);

std::string times(std::size_t n, const char* one, const char* many = "") {
    return counted(static_cast<long long>(n), one, many);
}

bool isRead(const Column& c) {
    return c.formula.empty() && !c.byHand;
}

// For each column of the new reading the place of the old one, by name, else by place.
std::vector<std::size_t> matchedColumns(const Table& old, const Table& fresh) {
    std::vector<std::size_t> read;
    for (std::size_t i = 0; i < old.columns.size(); ++i)
        if (isRead(old.columns[i])) read.push_back(i);
    std::vector<std::size_t> match(fresh.columns.size(), kNone);
    std::set<std::size_t> taken;
    for (std::size_t k = 0; k < match.size(); ++k)
        for (std::size_t i : read)
            if (!taken.contains(i) && old.columns[i].name == fresh.columns[k].name && match[k] == kNone) {
                match[k] = i;
                taken.insert(i);
            }
    for (std::size_t k = 0; k < std::min(match.size(), read.size()); ++k)
        if (match[k] == kNone && !taken.contains(read[k])) {
            match[k] = read[k];
            taken.insert(read[k]);
        }
    return match;
}

// The column that places are told by: the usual x, else the first of numbers.
const Column* placeColumn(const Table& t) {
    const Column* first = nullptr;
    for (const Column& c : t.columns) {
        if (!isRead(c) || !c.isNumeric()) continue;
        if (c.role == Role::X) return &c;
        if (!first) first = &c;
    }
    return first;
}

// For each new row the place of the old one.
std::vector<std::size_t> matchedRows(const Table& old, const Table& fresh, const Column* oldX,
                                     const Column* newX) {
    std::vector<std::size_t> match(fresh.rowCount(), kNone);
    std::vector<bool> taken(old.rowCount(), false);
    std::unordered_map<std::uint32_t, std::size_t> byLine;
    for (std::size_t row = 0; row < old.rowCount(); ++row)
        if (const auto line = old.rows->line(row)) byLine.emplace(line, row);
    for (std::size_t row = 0; row < match.size(); ++row) {
        const auto at = byLine.find(fresh.rows->line(row));
        const std::size_t candidate = at != byLine.end() ? at->second : byLine.empty() ? row : kNone;
        if (candidate >= old.rowCount() || taken[candidate]) continue;
        if (oldX && newX && !sameBits(cellAt(oldX, candidate), cellAt(newX, row))) continue;
        match[row] = candidate;
        taken[candidate] = true;
    }
    if (!oldX || !newX) return match;
    std::multimap<double, std::size_t> byX;
    for (std::size_t row = 0; row < old.rowCount(); ++row)
        if (const double x = cellAt(oldX, row); !taken[row] && !std::isnan(x)) byX.emplace(x, row);
    for (std::size_t row = 0; row < match.size(); ++row) {
        if (match[row] != kNone) continue;
        const auto at = byX.find(cellAt(newX, row));
        if (std::isnan(cellAt(newX, row)) || at == byX.end()) continue;
        match[row] = at->second;
        byX.erase(at);
    }
    return match;
}

struct Match {
    std::vector<std::size_t> columns, rows; // places in the old table
};

Table madeTable(const Table& old, const Table& fresh, const Match& match, const Settings& told) {
    Table made = fresh;
    made.id = old.id;
    made.name = old.name;
    made.origin.reading = toJson(told).dump();
    for (std::size_t k = 0; k < made.columns.size(); ++k) {
        Column& c = made.columns[k];
        if (match.columns[k] == kNone) continue;
        const Column& before = old.columns[match.columns[k]];
        c.id = before.id;
        c.name = before.name;
        c.role = before.role;
        c.format = before.format;
        c.timePattern = c.isTime() ? before.timePattern : std::string();
        c.comment = before.comment;
        if (c.unit.empty()) c.unit = before.unit;
    }
    for (const Column& c : old.columns) {
        if (isRead(c)) continue;
        made.columns.push_back(c);
        if (c.formula.empty()) // new rows are beyond the end
            made.columns.back().cells =
                std::make_shared<Cells>(arranged(*c.cells, c.isNumeric(), match.rows));
    }
    Rows rows;
    rows.lastId = old.rows->lastId;
    for (std::size_t row = 0; row < old.rowCount(); ++row)
        rows.lastId = std::max(rows.lastId, old.rows->id(row));
    for (std::size_t row = 0; row < match.rows.size(); ++row) {
        rows.ids.push_back(match.rows[row] == kNone ? ++rows.lastId : old.rows->id(match.rows[row]));
        rows.lines.push_back(fresh.rows->line(row));
    }
    made.rows = std::make_shared<Rows>(std::move(rows));
    std::set<std::uint32_t> ids(made.rows->ids.begin(), made.rows->ids.end());
    for (const auto& [id, kind] : old.rowKinds)
        if (ids.contains(id)) made.rowKinds[id] = kind;
    return made;
}

bool sameCell(const Column& a, std::size_t i, const Column& b, std::size_t k) {
    if (a.kind != b.kind) return true; // said of the whole column
    if (a.isNumeric()) return sameBits(cellAt(&a, i), cellAt(&b, k)) || cellAt(&a, i) == cellAt(&b, k);
    auto words = [](const Column& c, std::size_t row) {
        return row < c.cells->texts.size() ? c.cells->texts[row] : std::string();
    };
    return words(a, i) == words(b, k);
}

void sayCells(const Table& old, const Reimport& plan, const Match& match, std::vector<std::string>& changes) {
    std::size_t changed = 0;
    std::string first;
    for (std::size_t k = 0; k < match.columns.size(); ++k) {
        if (match.columns[k] == kNone) continue;
        const Column &before = old.columns[match.columns[k]], &after = plan.table.columns[k];
        if (before.kind != after.kind)
            changes.push_back(fmt::format("“{}” is now of the kind {}, not {}.", after.name,
                                          kindKey(after.kind), kindKey(before.kind)));
        for (std::size_t row = 0; row < match.rows.size(); ++row) {
            if (match.rows[row] == kNone || sameCell(before, match.rows[row], after, row)) continue;
            if (changed++ == 0)
                first = fmt::format("{} in row {}: {} becomes {}", after.name, row + 1,
                                    cellText(before, match.rows[row]), cellText(after, row));
        }
    }
    if (changed > 0)
        changes.push_back(times(changed, "cell changes its value", "cells change their values") +
                          "; the first is " + first + ".");
}

void sayRows(const Table& old, const Match& match, std::vector<std::string>& changes) {
    const auto fresh = static_cast<std::size_t>(std::ranges::count(match.rows, kNone));
    const std::size_t gone = old.rowCount() - (match.rows.size() - fresh);
    if (fresh > 0) changes.push_back(times(fresh, "row is new.", "rows are new."));
    if (gone > 0) changes.push_back(times(gone, "row is no longer there.", "rows are no longer there."));
    std::vector<std::size_t> kept;
    std::ranges::copy_if(match.rows, std::back_inserter(kept), [](std::size_t r) { return r != kNone; });
    if (!std::ranges::is_sorted(kept)) changes.push_back("The rows come in the order of the file again.");
}

void sayColumns(const Project& p, const Table& old, const Match& match, Reimport& plan) {
    for (std::size_t k = 0; k < match.columns.size(); ++k)
        if (match.columns[k] == kNone)
            plan.changes.push_back(fmt::format("The column “{}” is new.", plan.table.columns[k].name));
    for (std::size_t i = 0; i < old.columns.size(); ++i) {
        const Column& c = old.columns[i];
        if (!isRead(c) || std::ranges::find(match.columns, i) != match.columns.end()) continue;
        plan.changes.push_back(fmt::format("The column “{}” is no longer there.", c.name));
        for (const auto& d : p.datasets)
            if (std::ranges::find(d->source.roles, c.id, &RoleBinding::column) != d->source.roles.end())
                plan.losses.push_back(fmt::format("“{}” loses its column “{}”.", d->name, c.name));
        for (const Column& computed : old.columns)
            if (computed.formula.find("'" + c.id.text() + "'") != std::string::npos)
                plan.losses.push_back(
                    fmt::format("“{}” is computed from the column “{}”.", computed.name, c.name));
    }
}

// Points left out by hand and rows marked as standards whose rows are gone.
void sayExclusions(const Project& p, const Table& old, Reimport& plan) {
    const std::set<double> kept(plan.table.rows->ids.begin(), plan.table.rows->ids.end());
    for (const auto& d : p.datasets) {
        if (d->source.table != old.id) continue;
        std::size_t gone = 0;
        for (const Step& step : d->protocol)
            if (step.kind == "exclude")
                for (double id : step.settings.numbers("rows")) gone += !kept.contains(id);
        if (gone > 0)
            plan.losses.push_back(fmt::format("{} of “{}” left out by hand {} gone.", times(gone, "point"),
                                              d->name, gone == 1 ? "is" : "are"));
    }
    const std::size_t marks = old.rowKinds.size() - plan.table.rowKinds.size();
    if (marks > 0)
        plan.losses.push_back(times(marks, "row marked as standard, blank or unknown is gone.",
                                    "rows marked as standards, blanks or unknowns are gone."));
}

} // namespace

Result<Reimport> plannedReimport(const Project& p, TableId id, const Table& fresh, const Settings& told) {
    const auto old = p.tables.find(id);
    if (!old) return failure("table-gone", "The table is no longer there.");
    Match match;
    match.columns = matchedColumns(*old, fresh);
    const Column* oldX = placeColumn(*old);
    const Column* newX = nullptr;
    for (std::size_t k = 0; k < match.columns.size(); ++k)
        if (match.columns[k] != kNone && &old->columns[match.columns[k]] == oldX &&
            fresh.columns[k].isNumeric())
            newX = &fresh.columns[k];
    match.rows = matchedRows(*old, fresh, oldX, newX);
    Reimport plan{madeTable(*old, fresh, match, told), {}, {}};
    sayRows(*old, match, plan.changes);
    sayCells(*old, plan, match, plan.changes);
    sayColumns(p, *old, match, plan);
    sayExclusions(p, *old, plan);
    return plan;
}

Edit reimportEdit(const Reimport& plan) {
    return {"Read “" + plan.table.name + "” again",
            {},
            [made = plan.table](const Project& before) -> Result<Project> {
                if (!before.tables.find(made.id))
                    return failure("table-gone", "The table is no longer there.");
                Project after = before;
                Table table = made;
                for (Column& c : table.columns)
                    if (!c.id) c.id = after.newId<ColumnId>();
                std::set<ColumnId> there;
                for (const Column& c : table.columns) there.insert(c.id);
                for (const auto& d : before.datasets) {
                    if (d->source.table != table.id) continue;
                    Dataset changed = *d;
                    if (std::erase_if(changed.source.roles,
                                      [&](const RoleBinding& r) { return !there.contains(r.column); }) > 0)
                        after.datasets = after.datasets.with(std::move(changed));
                }
                after.tables = after.tables.with(std::move(table));
                return after;
            }};
}

} // namespace jointer
