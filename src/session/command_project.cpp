// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/command_project.h"

#include "base/text.h"
#include "evaluate/mapping.h"
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

// Of another kind than a curve.
Result<void> bindPlaces(DatasetSource& source, const Table& table, const ColumnChoice& columns) {
    const evaluate::MappingKind* kind = evaluate::mappingCatalogue().find(columns.kind);
    if (!kind) {
        std::vector<std::string> known;
        for (const evaluate::MappingKind& k : evaluate::mappingCatalogue()) known.push_back(k.info.key);
        return failure("no-kind", fmt::format("There is no kind of data “{}”; there are {}.", columns.kind,
                                              joined(known, ", ")));
    }
    source.kind = columns.kind;
    source.settings = columns.settings;
    if (columns.places.empty()) source.roles = evaluate::guessedRoles(*kind, table);
    for (const auto& [label, name] : columns.places) {
        const auto slot = std::ranges::find(kind->slots, label, &evaluate::Slot::label);
        if (slot == kind->slots.end()) {
            std::vector<std::string> known;
            for (const evaluate::Slot& s : kind->slots) known.push_back(s.label);
            return failure("no-place", fmt::format("Data of the kind “{}” have no place “{}”; there are {}.",
                                                   columns.kind, label, joined(known, ", ")));
        }
        const Column* c = table.findByName(name);
        if (!c)
            return failure("no-column",
                           fmt::format("There is no column “{}”; there are {}.", name, columnNames(table)),
                           Place{.file = table.origin.file});
        source.roles.push_back({slot->role, c->id, slot->of});
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
    if (!columns.kind.empty()) {
        if (auto good = bindPlaces(dataset.source, table, columns); !good)
            return std::unexpected(good.error());
        return edits::addDataset(std::move(dataset)).apply(*made);
    }
    auto oneOrNone = [](const std::string& column) {
        return column.empty() ? std::vector<std::string>() : std::vector{column};
    };
    const std::string& errors = columns.weights.empty() ? columns.sigma : columns.weights;
    if (!columns.weights.empty()) dataset.source.settings.set("uncertainty", "weight");
    for (const auto& [role, names] : {std::pair(Role::X, columns.x),
                                      {Role::Y, columns.y},
                                      {Role::YError, oneOrNone(errors)},
                                      {Role::XError, oneOrNone(columns.sigmaX)},
                                      {Role::Resolution, oneOrNone(columns.resolution)}})
        if (auto good = bind(dataset.source, table, role, names); !good) return std::unexpected(good.error());
    return edits::addDataset(std::move(dataset)).apply(*made);
}

} // namespace jointer
