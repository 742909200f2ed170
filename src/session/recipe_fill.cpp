// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/recipe_fill.h"

#include "base/text.h"
#include "figure/look.h"
#include "project/references.h"
#include "project/renumber.h"
#include "session/copied_steps.h"
#include "session/import.h"
#include "session/name_pattern.h"

#include <algorithm>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace jointer {

void takeFromName(const Recipe& recipe, const std::string& name, std::vector<Attribute>& into) {
    const std::string pattern = recipeSettings().text(recipe.settings, "pattern");
    if (pattern.empty()) return;
    if (const auto found = matchPattern(pattern, name); found && *found)
        for (const auto& [key, value] : **found) setAttribute(into, {key, value, {}});
}

namespace {

using Columns = std::vector<const Column*>; // of the file, for those of the recipe; nullptr: none

bool isOpen(const Table& t) {
    return std::ranges::all_of(t.columns,
                               [](const Column& c) { return c.name.empty() || !c.formula.empty(); });
}

// Where the column stood in the table that the recipe was made of, from 1, and how many there were.
std::pair<std::size_t, std::size_t> placeOf(const Column& c) {
    const auto json = nlohmann::ordered_json::parse(c.extra, nullptr, false);
    const auto number = [&](const char* key) {
        return json.is_object() && json.contains(key) && json[key].is_number_unsigned()
                   ? json[key].get<std::size_t>()
                   : 0;
    };
    return {number("place"), number("of")};
}

Columns byName(const Table& wanted, const Table& there) {
    Columns out;
    for (const Column& c : wanted.columns) {
        const Column* found = nullptr;
        for (const bool exactly : {true, false})
            for (const Column& other : there.columns)
                if (!found && (exactly ? other.name == c.name
                                       : lowerAscii(trimmed(other.name)) == lowerAscii(trimmed(c.name))))
                    found = &other;
        out.push_back(c.formula.empty() ? found : nullptr);
    }
    return out;
}

Columns byPlace(const Table& wanted, const Table& there) {
    Columns out;
    for (const Column& c : wanted.columns) {
        const auto [place, of] = placeOf(c);
        const bool fits = place > 0 && place <= there.columns.size() && of == there.columns.size() &&
                          there.columns[place - 1].isNumeric() == c.isNumeric();
        out.push_back(c.formula.empty() && fits ? &there.columns[place - 1] : nullptr);
    }
    return out;
}

// Whether nothing is missed without which the dataset has no points.
bool suffices(const Table& wanted, const Columns& found, const Dataset& d, const Project& parts) {
    std::set<std::string> formulas; // what computed columns need
    eachReference(parts, [&](const Link& link) {
        if (const Column* c = wanted.find(ColumnId::fromText(link.from)); c && !c->formula.empty())
            formulas.insert(link.to);
    });
    bool y = false, anyY = false;
    for (std::size_t i = 0; i < wanted.columns.size(); ++i) {
        const Column& c = wanted.columns[i];
        const auto role = std::ranges::find(d.source.roles, c.id, &RoleBinding::column);
        const bool isY = role != d.source.roles.end() && role->role == Role::Y;
        const bool isX = role != d.source.roles.end() && role->role == Role::X;
        const bool there = found[i] || !c.formula.empty();
        if (!there && (isX || formulas.contains(c.id.text()))) return false;
        if (found[i] && (isX || isY) && !found[i]->isNumeric()) return false;
        anyY = anyY || isY;
        y = y || (isY && there);
    }
    return y || !anyY;
}

// The file's table in the place of the recipe's; columns that the recipe does not know get ids of their own.
Table merged(const Table& wanted, const Columns& found, const Table& there, std::uint64_t& nextId,
             std::vector<Issue>& issues, const std::string& file) {
    Table made = there;
    made.id = wanted.id;
    std::set<std::string> placed;
    for (std::size_t i = 0; i < wanted.columns.size(); ++i) {
        const Column& c = wanted.columns[i];
        if (!c.formula.empty()) {
            made.columns.push_back(c);
            placed.insert(c.id.text());
            continue;
        }
        if (!found[i]) {
            issues.push_back({"no-column",
                              fmt::format("There is no column “{}”; it is done without.", c.name),
                              {.file = file}});
            continue;
        }
        Column& mine = made.columns[static_cast<std::size_t>(found[i] - there.columns.data())];
        if (!mine.unit.empty() && !c.unit.empty() && mine.unit != c.unit)
            issues.push_back({"unit-differs",
                              fmt::format("The column “{}” is in {}; the recipe was made for {}.", mine.name,
                                          mine.unit, c.unit),
                              {.file = file}});
        mine.id = c.id;
        mine.role = c.role;
        if (mine.unit.empty()) mine.unit = c.unit;
        placed.insert(c.id.text());
    }
    for (Column& c : made.columns)
        if (!placed.contains(c.id.text())) c.id = ColumnId{nextId++};
    return made;
}

Issue missing(const Table& wanted, const io::ReadResult& reading, const std::string& file) {
    std::vector<std::string> names;
    for (const Column& c : wanted.columns)
        if (c.formula.empty()) names.push_back("“" + c.name + "”");
    const std::string there = reading.tables.empty() ? "no table" : columnNames(reading.tables.front().table);
    return {"no-columns",
            fmt::format("The recipe takes the columns {}; the file has {}.", joined(names, ", "), there),
            {.file = file}};
}

// Attributes from the header of the file and from its name.
std::vector<Attribute> attributesOf(const Recipe& recipe, const Table& table) {
    std::vector<Attribute> out;
    for (const auto& [key, value] : table.origin.metadata) setAttribute(out, {key, value, {}});
    takeFromName(recipe, table.name, out);
    return out;
}

// The recipe's parts with a table of the file and the dataset over it.
FilledRecipe placed(const Recipe& recipe, Table table, const Dataset& dataset, std::vector<Issue> issues,
                    std::uint64_t nextId) {
    FilledRecipe out{.project = *recipe.parts, .dataset = dataset.id, .issues = std::move(issues)};
    Dataset d = dataset;
    d.attributes = attributesOf(recipe, table);
    out.project.nextId = nextId;
    out.project.tables = out.project.tables.with(std::move(table));
    out.project.datasets = out.project.datasets.with(std::move(d));
    return out;
}

// As an import says of its table where it comes from.
void giveOrigin(Table& table, const Table& wanted, const std::string& file) {
    table.name = nameFromPath(file);
    table.origin.file = file;
    table.origin.reading = wanted.origin.reading.empty() ? "{}" : wanted.origin.reading;
}

FilledRecipe madeOf(const Recipe& recipe, Dataset d, const Table& wanted, const Columns& found,
                    const io::ReadTable& read, const std::string& file) {
    std::uint64_t next = highestId(*recipe.parts) + 1;
    std::vector<Issue> issues;
    Table table = merged(wanted, found, read.table, next, issues, file);
    giveOrigin(table, wanted, file);
    d.name = table.name;
    std::erase_if(d.source.roles, [&](const RoleBinding& b) { return !table.find(b.column); });
    return placed(recipe, std::move(table), d, std::move(issues), next);
}

// Of a recipe that leaves the columns open: each curve that the file is seen to hold.
std::vector<FilledRecipe> asFound(const Recipe& recipe, Dataset d, const Table& wanted,
                                  const io::ReadResult& reading, const std::string& file) {
    std::vector<FilledRecipe> out;
    for (const io::ReadTable& read : reading.tables) {
        Table table = read.table;
        table.id = wanted.id;
        std::uint64_t next = highestId(*recipe.parts) + 1;
        for (Column& c : table.columns) c.id = ColumnId{next++};
        giveOrigin(table, wanted, file);
        for (const Dataset& seen : datasetsFromTable(table, table.name, 0)) {
            d.name = seen.name;
            d.source.kind = seen.source.kind;
            d.source.roles = seen.source.roles;
            out.push_back(placed(recipe, table, d, {}, next));
        }
    }
    return out;
}

// One for each curve of the file where the recipe leaves the columns open, else one.
Result<std::vector<FilledRecipe>> allFilled(const Recipe& recipe, const RecipeInput& input,
                                            const io::ReadResult& reading, const std::string& file) {
    const auto d = recipe.parts->datasets.find(input.dataset);
    const auto wanted = d ? recipe.parts->tables.find(d->source.table) : nullptr;
    if (!wanted)
        return failure(
            "takes-no-file",
            fmt::format("“{}” of this recipe is no file: run it on datasets of a project.", input.name));
    std::vector<FilledRecipe> all;
    if (isOpen(*wanted)) {
        all = asFound(recipe, *d, *wanted, reading, file);
        if (!all.empty()) return all;
        return failure("no-columns", "No curve is seen in this file: it has no two columns of numbers.",
                       {.file = file});
    }
    for (const auto& match : {byName, byPlace})
        for (const io::ReadTable& read : reading.tables) {
            const Columns found = match(*wanted, read.table);
            if (!suffices(*wanted, found, *d, *recipe.parts)) continue;
            all.push_back(madeOf(recipe, *d, *wanted, found, read, file));
            return all;
        }
    return std::unexpected(missing(*wanted, reading, file));
}

} // namespace

Settings readingOf(const Recipe& recipe, DatasetId input) {
    const auto d = recipe.parts->datasets.find(input);
    const auto t = d ? recipe.parts->tables.find(d->source.table) : nullptr;
    const auto json =
        t ? nlohmann::ordered_json::parse(t->origin.reading, nullptr, false) : nlohmann::ordered_json();
    return json.is_object() ? settingsFromJson(json) : Settings();
}

Result<std::vector<FilledRecipe>> filledWithData(const Recipe& recipe, const io::ReadResult& reading,
                                                 const std::string& file) {
    return allFilled(recipe, recipe.inputs.front(), reading, file);
}

Result<FilledRecipe> filled(const Recipe& recipe, const std::string& name, const io::ReadResult& reading,
                            const std::string& file) {
    const auto input = std::ranges::find(recipe.inputs, name, &RecipeInput::name);
    if (input == recipe.inputs.end()) return failure("input", fmt::format("The recipe takes no “{}”.", name));
    auto all = allFilled(recipe, *input, reading, file);
    if (!all) return std::unexpected(all.error());
    return std::move(all->front());
}

InputDatasets inputsByName(const Recipe& recipe, const Project& project) {
    InputDatasets out;
    for (std::size_t i = 1; i < recipe.inputs.size(); ++i)
        for (const auto& d : project.datasets)
            if (d->name == recipe.inputs[i].name) out[recipe.inputs[i].name] = d->id;
    return out;
}

namespace {

using Analyses = std::vector<std::shared_ptr<const Analysis>>;

// The first of the same kind and model that takes one dataset, out of those that are left.
std::shared_ptr<const Analysis> takeLike(Analyses& left, const Analysis& wanted) {
    const auto at = std::ranges::find_if(left, [&](const auto& other) {
        return other->kind == wanted.kind && other->model.kind == wanted.model.kind &&
               other->inputs.size() == 1;
    });
    if (at == left.end()) return nullptr;
    auto taken = *at;
    left.erase(at);
    return taken;
}

// The parts without those that stand elsewhere; names of these, for the references.
Result<Project> bound(const Recipe& recipe, Project parts, const Project& project,
                      const InputDatasets& inputs, std::map<std::string, std::string>& elsewhere) {
    for (std::size_t i = 1; i < recipe.inputs.size(); ++i) {
        const RecipeInput& in = recipe.inputs[i];
        const auto at = inputs.find(in.name);
        if (at == inputs.end() || !project.datasets.find(at->second))
            return failure("input", fmt::format("The recipe takes “{}”: choose a dataset for it.", in.name));
        elsewhere[in.dataset.text()] = at->second.text();
        Analyses left = analysesOf(project, at->second);
        for (const auto& a : analysesOf(parts, in.dataset))
            if (const auto like = takeLike(left, *a)) elsewhere[a->id.text()] = like->id.text();
        const auto d = parts.datasets.find(in.dataset);
        const bool shared = std::ranges::any_of(parts.datasets, [&](const auto& other) {
            return other->id != in.dataset && other->source.table == d->source.table;
        });
        if (!shared) parts.tables = parts.tables.without(d->source.table);
        parts.datasets = parts.datasets.without(in.dataset);
    }
    for (const auto& [mine, theirs] : elsewhere)
        if (const AnalysisId id = AnalysisId::fromText(mine)) parts.analyses = parts.analyses.without(id);
    parts.figures = {}; // a project has its own
    parts.assets = {};
    parts.styles = {};
    parts.models = {};
    return parts;
}

} // namespace

namespace edits {

Edit joinFilled(const Recipe& recipe, FilledRecipe filled, const InputDatasets& inputs) {
    const auto d = filled.project.datasets.find(filled.dataset);
    return {"Run " + recipe.name + " on " + d->name,
            {},
            [recipe, filled = std::move(filled), inputs](const Project& before) -> Result<Project> {
                std::map<std::string, std::string> elsewhere;
                auto parts = bound(recipe, filled.project, before, inputs, elsewhere);
                if (!parts) return parts;
                Project after = before;
                Renumbered made = renumbered(*parts, after.nextId, elsewhere);
                for (const auto& t : made.parts.tables) after.tables = after.tables.with(*t);
                const auto& colours = figure::palette();
                for (const auto& part : made.parts.datasets) {
                    Dataset joining = *part;
                    joining.colour = colours[after.datasets.size() % colours.size()];
                    if (joining.id.text() == made.ids.at(filled.dataset.text())) joining.recipe = recipe.id;
                    after.datasets = after.datasets.with(std::move(joining));
                }
                for (const auto& a : made.parts.analyses) after.analyses = after.analyses.with(*a);
                return after;
            }};
}

Edit applyRecipe(const Recipe& recipe, DatasetId dataset, const InputDatasets& inputs) {
    return {"Run " + recipe.name, {}, [recipe, dataset, inputs](const Project& before) -> Result<Project> {
                const auto target = before.datasets.find(dataset);
                if (!target) return failure("target-gone", "The dataset is no longer there.");
                std::map<std::string, std::string> elsewhere;
                const DatasetId data = recipe.inputs.front().dataset;
                auto parts = bound(recipe, *recipe.parts, before, inputs, elsewhere);
                if (!parts) return parts;
                Dataset d = *target;
                std::erase_if(d.protocol, [](Step s) { return takeOffPoints(s) == 0; });
                Project after = before;
                elsewhere[data.text()] = dataset.text();
                Renumbered made = renumbered(*parts, after.nextId, elsewhere);
                const auto way = made.parts.datasets.find(DatasetId::fromText(made.ids.at(data.text())));
                for (const Step& s : way->protocol) d.protocol.push_back(s);
                d.recipe = recipe.id;
                takeFromName(recipe, d.name, d.attributes);
                after.datasets = after.datasets.with(std::move(d));
                for (const auto& other : made.parts.datasets) // functions, that steps or models name
                    if (other->id != way->id) after.datasets = after.datasets.with(*other);
                Analyses left = analysesOf(before, dataset);
                std::map<std::string, std::string> replaced;
                for (const auto& a : made.parts.analyses) {
                    Analysis mine = *a;
                    if (const auto like = takeLike(left, mine)) {
                        replaced[mine.id.text()] = like->id.text();
                        mine.id = like->id;
                    }
                    after.analyses = after.analyses.with(std::move(mine));
                }
                return withReferences(after, [&](const Link& link) {
                    const auto at = replaced.find(link.to);
                    return at == replaced.end() ? link.to : at->second;
                });
            }};
}

} // namespace edits

} // namespace jointer
