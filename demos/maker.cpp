// SPDX-License-Identifier: GPL-3.0-or-later
#include "maker.h"

#include "figure/look.h"
#include "io/reader.h"
#include "session/import.h"

namespace jointer::demo {

Maker::Maker(const std::string& title) : p_(newProject(title)) {}

bool Maker::addTable(const std::string& file, const std::string& text) {
    const auto reading = io::read(text, file, {});
    if (!reading) return false;
    const std::size_t before = p_.datasets.size();
    apply(importEdit(*reading, {}, nameFromPath(file)));
    while (p_.datasets.size() > before) apply(edits::removeDataset(lastDataset()));
    return true;
}

DatasetId Maker::addColumns(const std::string& name, std::size_t first, std::size_t count,
                            std::vector<Attribute> attributes) {
    const Table& table = lastTable();
    Dataset d{.name = name, .source = {.table = table.id}, .attributes = std::move(attributes)};
    d.colour = figure::palette()[p_.datasets.size() % figure::palette().size()];
    d.source.roles.push_back({Role::X, table.columns[0].id});
    for (std::size_t k = 0; k < count; ++k) d.source.roles.push_back({Role::Y, table.columns[first + k].id});
    apply(edits::addDataset(std::move(d)));
    return lastDataset();
}

} // namespace jointer::demo
