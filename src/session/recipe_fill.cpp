// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/recipe_fill.h"

#include "base/text.h"
#include "figure/look.h"
#include "project/references.h"
#include "project/renumber.h"
#include "session/import.h"
#include "session/name_pattern.h"
#include "steps/step.h"

#include <algorithm>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace jointer {

namespace {

using Columns = std::vector<const Column*>; // of the file, for those of the recipe; nullptr: none

const RecipeInput* inputCalled(const Recipe& recipe, const std::string& name) {
    const auto at = std::ranges::find(recipe.inputs, name, &RecipeInput::name);
    return at == recipe.inputs.end() ? nullptr : &*at;
}

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
std::vector<Attribute> attributesOf(const Recipe& recipe, const Table& table, const std::string& name) {
    std::vector<Attribute> out;
    const auto set = [&](const std::string& key, const std::string& value) {
        std::erase_if(out, [&](const Attribute& a) { return a.name == key; });
        out.push_back({key, value, {}});
    };
    for (const auto& [key, value] : table.origin.metadata) set(key, value);
    const std::string pattern = recipeSettings().text(recipe.settings, "pattern");
    if (pattern.empty()) return out;
    if (const auto found = matchPattern(pattern, name); found && *found)
        for (const auto& [key, value] : **found) set(key, value);
    return out;
}

FilledRecipe madeOf(const Recipe& recipe, const RecipeInput& input, const Table& wanted, const Columns& found,
                    const io::ReadTable& read, const std::string& file) {
    FilledRecipe out{.project = *recipe.parts, .dataset = input.dataset, .issues = {}};
    out.project.nextId = highestId(out.project) + 1;
    Table table = merged(wanted, found, read.table, out.project.nextId, out.issues, file);
    table.name = nameFromPath(file);
    table.origin.file = file;
    table.origin.reading = wanted.origin.reading.empty() ? "{}" : wanted.origin.reading;
    Dataset d = *out.project.datasets.find(input.dataset);
    d.name = table.name;
    d.attributes = attributesOf(recipe, table, table.name);
    std::erase_if(d.source.roles, [&](const RoleBinding& b) { return !table.find(b.column); });
    out.project.tables = out.project.tables.with(std::move(table));
    out.project.datasets = out.project.datasets.with(std::move(d));
    return out;
}

// Of a recipe that leaves the columns open: each curve that the file is seen to hold.
std::vector<FilledRecipe> asFound(const Recipe& recipe, const RecipeInput& input, const Table& wanted,
                                  const io::ReadResult& reading, const std::string& file) {
    std::vector<FilledRecipe> out;
    for (const io::ReadTable& read : reading.tables) {
        Table table = read.table;
        table.id = wanted.id;
        std::uint64_t next = highestId(*recipe.parts) + 1;
        for (Column& c : table.columns) c.id = ColumnId{next++};
        const std::string stem = nameFromPath(file);
        table.name = stem;
        table.origin.file = file;
        table.origin.reading = wanted.origin.reading.empty() ? "{}" : wanted.origin.reading;
        for (const Dataset& seen : datasetsFromTable(table, stem, 0)) {
            FilledRecipe made{.project = *recipe.parts, .dataset = input.dataset, .issues = {}};
            made.project.nextId = next;
            Dataset d = *made.project.datasets.find(input.dataset);
            d.name = seen.name;
            d.source.kind = seen.source.kind;
            d.source.roles = seen.source.roles;
            d.attributes = attributesOf(recipe, table, stem);
            made.project.tables = made.project.tables.with(table);
            made.project.datasets = made.project.datasets.with(std::move(d));
            out.push_back(std::move(made));
        }
    }
    return out;
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
    const RecipeInput& input = recipe.inputs.front();
    const auto d = recipe.parts->datasets.find(input.dataset);
    const auto wanted = recipe.parts->tables.find(d->source.table);
    if (wanted && isOpen(*wanted)) {
        auto all = asFound(recipe, input, *wanted, reading, file);
        if (all.empty())
            return failure("no-columns", "No curve is seen in this file: it has no two columns of numbers.",
                           {.file = file});
        return all;
    }
    auto one = filled(recipe, input.name, reading, file);
    if (!one) return std::unexpected(one.error());
    std::vector<FilledRecipe> all;
    all.push_back(std::move(*one));
    return all;
}

Result<FilledRecipe> filled(const Recipe& recipe, const std::string& name, const io::ReadResult& reading,
                            const std::string& file) {
    const RecipeInput* input = inputCalled(recipe, name);
    const auto d = input ? recipe.parts->datasets.find(input->dataset) : nullptr;
    const auto wanted = d ? recipe.parts->tables.find(d->source.table) : nullptr;
    if (!wanted)
        return failure("takes-no-file",
                       fmt::format("“{}” of this recipe is no file: run it on datasets of a project.", name));
    if (isOpen(*wanted)) {
        auto all = asFound(recipe, *input, *wanted, reading, file);
        if (all.empty())
            return failure("no-columns", "No curve is seen in this file: it has no two columns of numbers.",
                           {.file = file});
        return std::move(all.front());
    }
    for (const auto& match : {byName, byPlace})
        for (const io::ReadTable& read : reading.tables) {
            const Columns found = match(*wanted, read.table);
            if (suffices(*wanted, found, *d, *recipe.parts))
                return madeOf(recipe, *input, *wanted, found, read, file);
        }
    return std::unexpected(missing(*wanted, reading, file));
}

InputDatasets inputsByName(const Recipe& recipe, const Project& project) {
    InputDatasets out;
    for (std::size_t i = 1; i < recipe.inputs.size(); ++i)
        for (const auto& d : project.datasets)
            if (d->name == recipe.inputs[i].name) out[recipe.inputs[i].name] = d->id;
    return out;
}

namespace {

// The analyses of a dataset of the project that stand for those of the recipe's input, by kind and order.
void matchAnalyses(const Project& parts, DatasetId input, const Project& project, DatasetId dataset,
                   std::map<std::string, std::string>& elsewhere) {
    std::vector<std::shared_ptr<const Analysis>> open = analysesOf(project, dataset);
    for (const auto& a : analysesOf(parts, input)) {
        const auto at = std::ranges::find_if(open, [&](const auto& other) {
            return other->kind == a->kind && other->model.kind == a->model.kind && other->inputs.size() == 1;
        });
        if (at == open.end()) continue;
        elsewhere[a->id.text()] = (*at)->id.text();
        open.erase(at);
    }
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
        matchAnalyses(parts, in.dataset, project, at->second, elsewhere);
        const auto d = parts.datasets.find(in.dataset);
        const bool shared = std::ranges::any_of(parts.datasets, [&](const auto& other) {
            return other->id != in.dataset && other->source.table == d->source.table;
        });
        if (!shared) parts.tables = parts.tables.without(d->source.table);
        parts.datasets = parts.datasets.without(in.dataset);
    }
    for (const auto& [mine, theirs] : elsewhere)
        if (const AnalysisId id = AnalysisId::fromText(mine)) parts.analyses = parts.analyses.without(id);
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
                parts->figures = {};
                parts->styles = {};
                parts->models = {};
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
                parts->figures = {};
                parts->styles = {};
                parts->models = {};
                Dataset d = *target;
                std::erase_if(d.protocol, [](const Step& s) {
                    const steps::StepKind* kind = steps::catalogue().find(s.kind);
                    return !kind || std::ranges::none_of(kind->info.settings, [&](const Setting& setting) {
                        return setting.ofRows && s.settings.has(setting.key);
                    });
                });
                Project after = before;
                elsewhere[data.text()] = dataset.text();
                Renumbered made = renumbered(*parts, after.nextId, elsewhere);
                const auto way = made.parts.datasets.find(DatasetId::fromText(made.ids.at(data.text())));
                for (const Step& s : way->protocol) d.protocol.push_back(s);
                d.recipe = recipe.id;
                after.datasets = after.datasets.with(std::move(d));
                for (const auto& other : made.parts.datasets) // functions, that steps or models name
                    if (other->id != way->id) after.datasets = after.datasets.with(*other);
                std::vector<std::shared_ptr<const Analysis>> old = analysesOf(before, dataset);
                std::map<std::string, std::string> replaced;
                for (const auto& a : made.parts.analyses) {
                    Analysis mine = *a;
                    const auto at = std::ranges::find_if(old, [&](const auto& o) {
                        return o->kind == mine.kind && o->model.kind == mine.model.kind &&
                               o->inputs.size() == 1;
                    });
                    if (at != old.end()) {
                        replaced[mine.id.text()] = (*at)->id.text();
                        mine.id = (*at)->id;
                        old.erase(at);
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
