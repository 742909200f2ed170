// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/figure_text_data.h"

#include "base/text.h"
#include "evaluate/mapping.h"
#include "figure/kinds.h"
#include "project/json_reader.h"

#include <fmt/format.h>

namespace jointer {

std::unexpected<Issue> wrongFigure(const std::string& file, std::string text) {
    return failure("figure-file", std::move(text), {.file = file});
}

namespace {

std::vector<std::string> texts(const Json* j) {
    std::vector<std::string> out;
    if (j && j->is_string()) out.push_back(j->get<std::string>());
    if (j && j->is_array())
        for (const Json& each : *j)
            if (each.is_string()) out.push_back(each.get<std::string>());
    return out;
}

// "as": "ions", "places": { "Ca": "Calcium" }, "settings": { … }
void takePlaces(JsonReader& r, ColumnChoice& into) {
    into.kind = r.text("as");
    if (const Json* places = r.take("places"); places && places->is_object())
        for (const auto& [label, column] : places->items())
            for (const std::string& each : texts(&column)) into.places.emplace_back(label, each);
    into.settings = r.settings("settings");
}

// "columns": { "Belt": ["dune", …], "Ca": { "unit": "mg/L", "values": [61.8, …] } }
Result<FigureData> inlineColumns(const std::string& name, const Json& json, const std::string& file) {
    JsonReader r(json);
    FigureData out{.name = name};
    out.table.name = name;
    takePlaces(r, out.columns);
    const Json* columns = r.take("columns");
    if (!columns || !columns->is_object())
        return wrongFigure(file, fmt::format("The data “{}” need “columns”, each a list, or a “file”.", name));
    for (const auto& [heading, column] : columns->items()) {
        const Json& list = column.is_object() && column.contains("values") ? column["values"] : column;
        if (!list.is_array())
            return wrongFigure(file,
                         fmt::format("The column “{}” of the data “{}” is no list.", heading, name));
        const bool words = std::ranges::any_of(list, [](const Json& v) { return v.is_string(); });
        if (words) {
            out.table.columns.push_back(textColumn(heading, texts(&list)));
        } else {
            std::vector<double> numbers;
            for (const Json& v : list) numbers.push_back(JsonReader::numberOf(v, NAN));
            out.table.columns.push_back(numberColumn(
                heading, column.is_object() ? JsonReader(column).text("unit") : "", std::move(numbers)));
        }
        if (out.table.columns.back().cells->size() != out.table.columns.front().cells->size())
            return wrongFigure(file, fmt::format("The lists of the data “{}” are not of one length.", name));
    }
    return out;
}

// The datasets that an element and those above it draw, the nearest first.
std::shared_ptr<const Table> tableBehind(const Project& project, const Element& e, const std::string& above) {
    std::string source = e.source.empty() ? above : e.source;
    for (const auto& d : project.datasets)
        if (d->id.text() == source || d->name == source) return project.tables.find(d->source.table);
    return nullptr;
}

void nameIn(const Project& project, Element& e, const std::string& above) {
    const KindInfo* kind = figure::elementKinds().find(e.kind);
    const auto table = tableBehind(project, e, above);
    for (const Setting& s : kind ? kind->settings : std::vector<Setting>{}) {
        const std::string text = e.settings.text(s.key);
        if (s.kind != SettingKind::Reference || text.empty()) continue;
        const Column* column = s.of.ends_with("column") && table ? table->findByName(text) : nullptr;
        e.settings.set(s.key, Value(Reference{column ? column->id.text() : text}));
    }
    std::string inGroup = above;
    if (const auto datasets = e.settings.references("datasets"); !datasets.empty()) inGroup = datasets.front();
    for (Element& child : e.children) nameIn(project, child, inGroup);
}

} // namespace

ColumnChoice columnsOfFile(const Json& json) {
    JsonReader r(json);
    ColumnChoice columns;
    if (json.contains("as"))
        takePlaces(r, columns);
    else
        columns = {{r.text("x")}, texts(r.take("y")), r.text("sigma")};
    return columns;
}

Result<FigureData> inlineData(const std::string& name, const Json& json, const std::string& file) {
    if (json.is_object() && json.contains("as")) return inlineColumns(name, json, file);
    JsonReader r(json);
    FigureData out{.name = name};
    out.table.name = name;
    std::size_t rows = 0;
    const auto add = [&](const Json* values, const char* fallback, const char* nameKey,
                         const char* unitKey) {
        const std::string column = r.text(nameKey);
        std::vector<double> numbers;
        for (const Json& v : *values) numbers.push_back(JsonReader::numberOf(v, NAN));
        rows = std::max(rows, numbers.size());
        out.table.columns.push_back(
            numberColumn(column.empty() ? fallback : column, r.text(unitKey), std::move(numbers)));
        return fmt::format("#{}", out.table.columns.size());
    };
    const Json *x = r.take("x"), *y = r.take("y"), *sigma = r.take("sigma");
    if (!x || !x->is_array() || !y || !y->is_array())
        return wrongFigure(
            file, fmt::format("The data “{}” need “x” and “y” as lists of numbers, or a “file”.", name));
    out.columns.x = {add(x, "x", "x-name", "x-unit")};
    if (!y->empty() && y->front().is_array())
        for (const Json& replicate : *y)
            out.columns.y.push_back(add(&replicate, "y", "y-name", "y-unit"));
    else
        out.columns.y = {add(y, "y", "y-name", "y-unit")};
    if (sigma && sigma->is_array()) out.columns.sigma = add(sigma, "σ", "sigma-name", "y-unit");
    for (const Column& c : out.table.columns)
        if (c.cells->size() != rows)
            return wrongFigure(file, fmt::format("The lists of the data “{}” are not of one length.", name));
    return out;
}

void takeAlike(const Project& project, const Dataset& before, ColumnChoice& into) {
    const evaluate::MappingKind* kind = evaluate::mappingCatalogue().find(before.source.kind);
    const auto table = project.tables.find(before.source.table);
    if (!kind || !table) return;
    into.kind = before.source.kind;
    into.settings = before.source.settings;
    for (const RoleBinding& b : before.source.roles) {
        const auto slot = std::ranges::find_if(
            kind->slots, [&](const evaluate::Slot& s) { return s.role == b.role && s.of == b.of; });
        const Column* c = table->find(b.column);
        if (slot != kind->slots.end() && c) into.places.emplace_back(slot->label, c->name);
    }
}

void nameReferences(const Project& project, Figure& figure) {
    for (Element& e : figure.elements) nameIn(project, e, {});
}

} // namespace jointer
