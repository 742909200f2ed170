// SPDX-License-Identifier: GPL-3.0-or-later
// Lists of numbers to be compared.
#include "evaluate/mappings/kinds.h"

namespace jointer::evaluate {

namespace {

Curve curve(const Table& table, const Dataset& d, std::vector<Issue>&) {
    Curve c;
    const Roles& roles = d.source.roles;
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
    takePoints(std::move(points), c);
    c.more.clear();
    c.xMeaning.name = by ? by->name : "group";
    if (!by)
        for (const Column* list : lists) names.push_back(list->name);
    c.xMeaning.categories = std::move(names);
    if (!lists.empty()) c.yMeaning = {by ? lists[0]->name : "value", lists[0]->unit, false};
    return c;
}

void check(const Table& table, const Roles& roles, Check& check) {
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

void guess(const Slot& slot, const Table& table, Roles& out) {
    if (slot.role == Role::Class)
        return takeFirst(slot, table, out, [](const Column& c) { return !c.isNumeric(); });
    const bool words = std::ranges::any_of(table.columns, [](const Column& c) { return !c.isNumeric(); });
    if (words)
        takeFirst(slot, table, out, [](const Column& c) { return c.isNumeric() && c.role == Role::Y; });
    else
        takeAll(slot, table, out, [](const Column& c) { return c.isNumeric(); });
}

} // namespace

MappingKind groupsMapping() {
    return {
        .info = {.key = "groups",
                 .name = "Groups",
                 .purpose =
                     "Lists of numbers to be compared: a column for each, or one with a column of groups"},
        .slots = {{.role = Role::Y,
                   .label = "values",
                   .help = "Several: each column is a group.",
                   .needed = true,
                   .several = true},
                  {.role = Role::Class, .label = "group", .help = "Which group a row belongs to."}},
        .guess = guess,
        .check = check,
        .curve = curve};
}

} // namespace jointer::evaluate
