// SPDX-License-Identifier: GPL-3.0-or-later
// Values to be compared by groups: a column for each group, or one with a column that says which; perhaps
// with a second factor and the subjects that were measured.
#include "evaluate/mappings/kinds.h"

namespace jointer::evaluate {

namespace {

// What a dataset of groups takes of its table.
struct Parts {
    std::vector<const Column*> lists;
    const Column *by = nullptr, *second = nullptr, *subject = nullptr;
    std::size_t rows;

    Parts(const Table& table, const Roles& roles) : rows(table.rowCount()) {
        for (const RoleBinding& b : roles) {
            const Column* c = table.find(b.column);
            if (!c) continue;
            if (b.role == Role::Y) lists.push_back(c);
            if (b.role == Role::Class) (by ? second : by) = c;
            if (b.role == Role::Label) subject = c;
        }
    }
};

// The values of a column; words are outcomes 1, 2, 3….
std::vector<double> valuesOf(const Column& c, std::size_t rows, AxisMeaning& meaning) {
    if (!c.isNumeric() || c.kind == ColumnKind::Boolean) {
        Categories outcomes = categoriesOf(c, rows);
        if (c.kind == ColumnKind::Boolean)
            for (std::string& name : outcomes.names) name = name == "0" ? "no" : name == "1" ? "yes" : name;
        meaning.categories = std::move(outcomes.names);
        return std::move(outcomes.places);
    }
    std::vector<double> out(rows);
    for (std::size_t row = 0; row < rows; ++row) out[row] = cellAt(&c, row);
    return out;
}

bool hasLimits(const Column* c) {
    return std::ranges::any_of(
        c->cells->originals, [&](const auto& odd) { return c->cells->state(odd.first) == CellState::Below; });
}

Curve curve(const Table& table, const Dataset& d, std::vector<Issue>&) {
    Curve c;
    const Parts parts(table, d.source.roles);
    if (parts.lists.empty()) return c;
    c.yMeaning = meaningOf(*parts.lists[0]);
    if (!parts.by) c.yMeaning.name = "value";
    Categories groups, second, subjects;
    if (parts.by) groups = categoriesOf(*parts.by, parts.rows);
    if (parts.second) second = categoriesOf(*parts.second, parts.rows);
    if (parts.subject) subjects = categoriesOf(*parts.subject, parts.rows);
    const bool limited = std::ranges::any_of(parts.lists, hasLimits);
    const bool further = parts.second || parts.subject || limited;
    if (further) {
        c.more.resize(2 + limited);
        c.moreMeanings = {{parts.second ? parts.second->name : "", "", false, false, second.names},
                          {parts.subject ? parts.subject->name : "", "", false, false, subjects.names}};
        if (limited) c.moreMeanings.push_back({"limit", c.yMeaning.unit});
    }
    std::vector<std::pair<double, std::size_t>> order; // group and place in the lists
    std::vector<std::vector<double>> values;
    for (std::size_t k = 0; k < parts.lists.size(); ++k) {
        values.push_back(valuesOf(*parts.lists[k], parts.rows, c.yMeaning));
        for (std::size_t row = 0; row < parts.rows; ++row) {
            const double group = parts.by ? groups.places[row] : static_cast<double>(k + 1);
            if (std::isfinite(group)) order.emplace_back(group, k * parts.rows + row);
        }
    }
    std::ranges::stable_sort(order, {}, &std::pair<double, std::size_t>::first);
    for (const auto& [group, place] : order) {
        const std::size_t row = place % parts.rows;
        c.x.push_back(group);
        c.y.push_back(values[place / parts.rows][row]);
        c.rowIds.push_back(table.rows->id(row));
        if (!further) continue;
        c.more[0].push_back(parts.second ? second.places[row] : std::nan(""));
        c.more[1].push_back(parts.subject ? subjects.places[row] : std::nan(""));
        if (limited) c.more[2].push_back(limitAt(*parts.lists[place / parts.rows], row));
    }
    c.xMeaning.name = parts.by ? parts.by->name : "group";
    if (!parts.by)
        for (const Column* list : parts.lists) groups.names.push_back(list->name);
    c.xMeaning.categories = std::move(groups.names);
    return c;
}

void check(const Table& table, const DatasetSource& source, Check& check) {
    const Roles& roles = source.roles;
    const Parts parts(table, roles);
    std::vector<std::pair<std::string, long long>> sizes;
    if (parts.by && !parts.lists.empty()) {
        const Categories groups = categoriesOf(*parts.by, parts.rows);
        for (const std::string& name : groups.names) sizes.emplace_back(name, 0);
        AxisMeaning meaning;
        long long without = 0;
        const auto values = valuesOf(*parts.lists[0], parts.rows, meaning);
        for (std::size_t row = 0; row < parts.rows; ++row) {
            if (!std::isfinite(values[row])) continue;
            if (std::isfinite(groups.places[row]))
                ++sizes[static_cast<std::size_t>(groups.places[row]) - 1].second;
            else
                ++without;
        }
        if (without > 0) problem(check, counted(without, "value") + " without a group.");
    }
    if (!parts.by)
        for (const Column* list : parts.lists) sizes.emplace_back(list->name, finiteCells(*list));
    std::vector<std::string> words;
    for (const auto& [name, n] : sizes)
        if (words.size() < 12) words.push_back(fmt::format("{} ({})", name.empty() ? "–" : name, n));
    if (!sizes.empty())
        addFact(check, fmt::format("{}: {}{}", counted(static_cast<long long>(sizes.size()), "group"),
                                   joined(words, ", "), sizes.size() > words.size() ? ", …" : ""));
    for (const auto& [name, n] : sizes)
        if (n < 2) problem(check, fmt::format("The group “{}” has {}.", name, counted(n, "value")));
    if (parts.by && !parts.lists.empty() && sizes.empty()) problem(check, "No row has a group.");
    if (parts.by && parts.lists.size() > 1)
        problem(check, "With a column of groups, one column of values is enough.");
    if (!parts.by && !parts.lists.empty() && !parts.lists[0]->isNumeric())
        problem(check, "Outcomes that are words need a column of groups.");
}

void guess(const Slot& slot, const Table& table, Roles& out) {
    if (slot.role == Role::Label) return; // who was measured is for the user to say
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
                   .help = "Several: each column is a group. Words: outcomes, which are counted.",
                   .needed = true,
                   .several = true,
                   .maybeWords = true},
                  {.role = Role::Class,
                   .label = "group",
                   .help = "Which group a row belongs to. A second column is a second factor.",
                   .several = true,
                   .maybeWords = true},
                  {.role = Role::Label,
                   .label = "subject",
                   .help = "What was measured. In several groups: pairs. Several times in a group: averaged.",
                   .maybeWords = true}},
        .guess = guess,
        .check = check,
        .curve = curve};
}

} // namespace jointer::evaluate
