// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/import.h"

#include "figure/kinds.h"
#include "session/name_pattern.h"

#include <algorithm>
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

namespace {

// A table as it is added, and the attributes that its name gives.
struct Incoming {
    Table table;
    NamedTexts found;
};

void add(Project& project, const Incoming& incoming) {
    Table made = incoming.table;
    made.id = project.newId<TableId>();
    for (Column& c : made.columns) c.id = project.newId<ColumnId>();
    auto has = [&](Role role) {
        return std::ranges::any_of(made.columns,
                                   [&](const Column& c) { return c.role == role && c.isNumeric(); });
    };
    if (has(Role::X) && has(Role::Y)) {
        Dataset d = datasetFromTable(made, made.name, project.datasets.size());
        d.id = project.newId<DatasetId>();
        for (const auto& [name, value] : incoming.found) {
            std::erase_if(d.attributes, [&](const Attribute& a) { return a.name == name; });
            d.attributes.push_back({name, value, {}});
        }
        project.datasets = project.datasets.with(std::move(d));
    }
    project.tables = project.tables.with(std::move(made));
}

} // namespace

Edit importEdit(const io::ReadResult& reading, const Settings& told, const std::string& name,
                const ImportPlan& plan) {
    NamedTexts found;
    if (!plan.pattern.empty())
        if (const auto matched = matchPattern(plan.pattern, name); matched && *matched) found = **matched;
    const std::string called = plan.called.empty() ? name : filledTemplate(plan.called, found);
    std::vector<Incoming> all;
    for (std::size_t i = 0; i < reading.tables.size(); ++i) {
        if (!plan.tables.empty() && std::ranges::find(plan.tables, i) == plan.tables.end()) continue;
        Incoming incoming{reading.tables[i].table, found};
        const bool several = reading.tables.size() > 1;
        incoming.table.name = several ? called + " · " + incoming.table.name : called;
        incoming.table.origin.reading = toJson(told).dump();
        all.push_back(std::move(incoming));
    }
    return {"Import " + called, {}, [all](const Project& before) -> Result<Project> {
                Project after = before;
                for (const Incoming& incoming : all) add(after, incoming);
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
