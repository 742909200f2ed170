// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/import.h"

#include "figure/kinds.h"

#include <filesystem>
#include <nlohmann/json.hpp>

namespace jointer {

std::string nameFromPath(const std::string& path) {
    return std::filesystem::path(path).stem().string();
}

Dataset datasetFromTable(const Table& table, const std::string& name, std::size_t colourIndex) {
    Dataset d;
    d.name = name;
    d.colour = figure::palette()[colourIndex % figure::palette().size()];
    d.source.table = table.id;
    for (const Column& c : table.columns)
        if (c.role != Role::None) d.source.roles.push_back({c.role, c.id});
    for (const auto& [key, value] : table.origin.metadata) d.attributes.push_back({key, value, {}});
    return d;
}

Edit importEdit(const io::ReadResult& reading, const Settings& told, const std::string& name) {
    Table table = reading.tables.empty() ? Table{} : reading.tables.front().table;
    table.name = name;
    table.origin.reading = toJson(told).dump();
    return {"Import " + name, {}, [table](const Project& before) -> Result<Project> {
                Project after = before;
                Table made = table;
                made.id = after.newId<TableId>();
                for (Column& c : made.columns) c.id = after.newId<ColumnId>();
                auto has = [&](Role role) {
                    return std::ranges::any_of(
                        made.columns, [&](const Column& c) { return c.role == role && c.isNumeric(); });
                };
                if (has(Role::X) && has(Role::Y)) {
                    Dataset d = datasetFromTable(made, made.name, before.datasets.size());
                    d.id = after.newId<DatasetId>();
                    after.datasets = after.datasets.with(std::move(d));
                }
                after.tables = after.tables.with(std::move(made));
                return after;
            }};
}

Project newProject(std::string title) {
    Project p;
    p.title = std::move(title);
    for (HouseStyle style : figure::shippedStyles()) {
        style.id = p.newId<StyleId>();
        p.styles = p.styles.with(std::move(style));
    }
    return p;
}

} // namespace jointer
