// SPDX-License-Identifier: GPL-3.0-or-later
#include "project/recipe_json.h"

#include "base/text.h"
#include "project/asset_json.h"
#include "project/json_reader.h"
#include "project/json_text.h"
#include "project/references.h"

#include <fmt/format.h>

namespace jointer {

namespace {

constexpr const char* kFormat = "jointer-recipe";
constexpr int kVersion = 1;
constexpr std::size_t kLargest = std::size_t{256} << 20; // with artwork

// A table as a recipe needs it: how it is read, and its columns.
Json tableJson(const Table& t) {
    Json columns = Json::array();
    for (const Column& c : t.columns) {
        Json column = {{"id", c.id.text()}, {"name", c.name}, {"unit", c.unit}, {"kind", kindKey(c.kind)}};
        if (c.role != Role::None) column["role"] = roleKey(c.role);
        column["formula"] = c.formula;
        columns.push_back(withExtra(std::move(column), c.extra));
    }
    Json reading = Json::parse(t.origin.reading, nullptr, false);
    if (!reading.is_object()) reading = Json::object();
    return withExtra({{"id", t.id.text()}, {"name", t.name}, {"reading", reading}, {"columns", columns}},
                     t.extra);
}

Table tableFrom(const Json& j) {
    JsonReader r(j);
    Table t;
    t.id = TableId::fromText(r.text("id"));
    t.name = r.text("name");
    if (const Json* reading = r.take("reading"); reading && reading->is_object() && !reading->empty())
        t.origin.reading = reading->dump(-1, ' ', false, Json::error_handler_t::replace);
    t.columns = r.list<Column>("columns", [](const Json& json) {
        JsonReader c(json);
        Column column;
        column.id = ColumnId::fromText(c.text("id"));
        column.name = c.text("name");
        column.unit = c.text("unit");
        column.kind = kindFromKey(c.text("kind"));
        column.role = roleFromKey(c.text("role"));
        column.formula = c.text("formula");
        column.extra = c.extra();
        return column;
    });
    t.extra = r.extra();
    return t;
}

} // namespace

Json toJson(const Recipe& recipe) {
    const Project none;
    const Project& parts = recipe.parts ? *recipe.parts : none;
    Json inputs = Json::array(), tables = Json::array();
    for (const RecipeInput& in : recipe.inputs)
        inputs.push_back(withExtra({{"name", in.name}, {"dataset", in.dataset.text()}}, in.extra));
    for (const auto& t : parts.tables) tables.push_back(tableJson(*t));
    Json all = toJson(parts);
    Json out = {{"format", kFormat},
                {"version", kVersion},
                {"id", recipe.id.text()},
                {"name", recipe.name},
                {"purpose", recipe.purpose},
                {"inputs", inputs},
                {"settings", toJson(recipe.settings)},
                {"tables", tables}};
    for (const char* key : {"datasets", "analyses", "figures", "styles", "models"})
        out[key] = std::move(all[key]);
    for (const auto& a : parts.assets) out["artwork"].push_back(jsonWithBytes(*a));
    prune(out);
    return withExtra(std::move(out), recipe.extra);
}

Recipe recipeFromJson(const Json& json) {
    JsonReader r(json);
    Recipe recipe;
    r.text("format");
    r.number("version", kVersion);
    recipe.id = RecipeId::fromText(r.text("id"));
    recipe.name = r.text("name");
    recipe.purpose = r.text("purpose");
    recipe.inputs = r.list<RecipeInput>("inputs", [](const Json& j) {
        JsonReader in(j);
        RecipeInput made{in.text("name"), DatasetId::fromText(in.text("dataset"))};
        made.extra = in.extra();
        return made;
    });
    recipe.settings = r.settings("settings");
    Json rest = Json::object();
    for (const char* key : {"datasets", "analyses", "figures", "styles", "models"})
        if (const Json* list = r.take(key)) rest[key] = *list;
    Project parts = projectFromJson(rest);
    for (Table& t : r.list<Table>("tables", tableFrom))
        if (t.id) parts.tables = parts.tables.with(std::move(t));
    for (Asset& a : r.list<Asset>("artwork", assetWithBytes))
        if (a.id && a.bytes) parts.assets = parts.assets.with(std::move(a));
    parts.nextId = highestId(parts) + 1;
    recipe.parts = std::make_shared<const Project>(std::move(parts));
    recipe.extra = r.extra();
    return recipe;
}

std::string recipeText(const Recipe& recipe) {
    Recipe alone = recipe;
    alone.id = {};
    alone.settings.remove("watch"); // a place on the machine of who made it
    return toJson(alone).dump(2, ' ', false, Json::error_handler_t::replace) + "\n";
}

namespace {

std::unexpected<Issue> wrong(const std::string& file, std::string text, long line = 0) {
    return failure("recipe-file", std::move(text), {.file = file, .line = line});
}

} // namespace

Result<void> checkRecipe(const Recipe& recipe, const std::string& file) {
    const Project& parts = *recipe.parts;
    if (recipe.inputs.empty() || !recipe.inputs.front().dataset)
        return wrong(file, "The recipe takes no data: “inputs” must name a dataset of “datasets”.");
    std::set<std::string> names;
    for (const RecipeInput& in : recipe.inputs) {
        if (!parts.datasets.find(in.dataset))
            return wrong(file,
                         fmt::format("The input “{}” names the dataset “{}”, which is not among “datasets”.",
                                     in.name, in.dataset.text()));
        if (in.name.empty() || !names.insert(in.name).second)
            return wrong(file,
                         fmt::format("Two inputs are called “{}”: each needs a name of its own.", in.name));
    }
    std::string twice;
    const std::set<std::string> ids = idsOf(parts, twice);
    if (!twice.empty()) return wrong(file, fmt::format("The id “{}” is borne by two parts.", twice));
    std::string lost;
    eachReference(parts, [&](const Link& link) {
        if (!ids.contains(link.to) && lost.empty()) lost = fmt::format("“{}” names “{}”", link.from, link.to);
    });
    if (!lost.empty()) return wrong(file, lost + ", which the recipe does not hold.");
    return {};
}

Result<Recipe> recipeFromText(std::string_view text, const std::string& file) {
    const auto json =
        parsedDocument(text, {.code = "recipe-file", .what = "a recipe", .file = file, .largest = kLargest});
    if (!json) return std::unexpected(json.error());
    JsonReader r(*json);
    if (!json->is_object() || r.text("format") != kFormat)
        return wrong(file, "This is no recipe of Jointer: “format” is not “jointer-recipe”.");
    if (r.number("version", kVersion) > kVersion)
        return wrong(file, "This recipe was written by a newer version of Jointer.");
    Recipe recipe = recipeFromJson(*json);
    recipe.id = {};
    recipe.settings.remove("watch");
    if (auto good = checkRecipe(recipe, file); !good) return std::unexpected(good.error());
    return recipe;
}

} // namespace jointer
