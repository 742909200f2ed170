// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/command_project.h"

#include "project/edit.h"

#include <fmt/format.h>

namespace jointer {

namespace {

// Binds columns to a role. Errors: the first that cannot be bound.
Result<void> bind(DatasetSource& source, const Table& table, Role role,
                  const std::vector<std::string>& names) {
    for (const std::string& name : names) {
        const Column* c = table.findByName(name);
        const Place place{.file = table.origin.file};
        if (!c)
            return failure("no-column",
                           fmt::format("There is no column “{}”; there are {}.", name, columnNames(table)),
                           place);
        if (!c->isNumeric())
            return failure("not-numbers", fmt::format("The column “{}” holds texts, not numbers.", name),
                           place);
        source.roles.push_back({role, c->id});
    }
    return {};
}

} // namespace

Result<Project> withDataset(const Project& project, Table given, const ColumnChoice& columns,
                            std::string name) {
    const auto made = edits::addTable(std::move(given)).apply(project);
    if (!made) return made;
    const Table& table = made->tables[made->tables.size() - 1];
    Dataset dataset{.name = name.empty() ? table.name : std::move(name), .source = {.table = table.id}};
    auto oneOrNone = [](const std::string& column) {
        return column.empty() ? std::vector<std::string>() : std::vector{column};
    };
    const std::string& errors = columns.weights.empty() ? columns.sigma : columns.weights;
    if (!columns.weights.empty()) dataset.source.settings.set("uncertainty", "weight");
    for (const auto& [role, names] : {std::pair(Role::X, columns.x),
                                      {Role::Y, columns.y},
                                      {Role::YError, oneOrNone(errors)},
                                      {Role::XError, oneOrNone(columns.sigmaX)}})
        if (auto good = bind(dataset.source, table, role, names); !good) return std::unexpected(good.error());
    return edits::addDataset(std::move(dataset)).apply(*made);
}

} // namespace jointer
