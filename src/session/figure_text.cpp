// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/figure_text.h"

#include "base/text.h"
#include "evaluate/sources.h"
#include "figure/kinds.h"
#include "io/reader.h"
#include "models/catalogue.h"
#include "project/asset_json.h"
#include "project/figure_edits.h"
#include "project/json_reader.h"
#include "project/json_text.h"
#include "project/references.h"
#include "project/renumber.h"
#include "session/artwork.h"
#include "session/figure_text_data.h"
#include "session/import.h"
#include "session/validation.h"

#include <filesystem>
#include <fmt/format.h>
#include <functional>

namespace jointer {

namespace {

std::unexpected<Issue> wrong(const std::string& file, std::string text) {
    return wrongFigure(file, std::move(text));
}

std::string quotedNames(const auto& parts) {
    std::vector<std::string> names;
    for (const auto& part : parts) names.push_back("“" + part->name + "”");
    return names.empty() ? "none" : joined(names, ", ");
}

std::shared_ptr<const Cells> cellsFrom(const Json& column, bool numeric,
                                       std::map<std::uint32_t, std::string> originals) {
    Cells cells;
    cells.originals = std::move(originals);
    JsonReader r(column);
    if (const Json* values = r.take("values"); values && values->is_array())
        for (const Json& v : *values) {
            if (numeric)
                cells.numbers.push_back(JsonReader::numberOf(v, NAN));
            else
                cells.texts.push_back(v.is_string() ? v.get<std::string>() : std::string());
        }
    if (const Json* states = r.take("states"); states && states->is_array()) {
        cells.states.assign(cells.size(), CellState::Fine);
        for (const Json& pair : *states)
            if (pair.is_array() && pair.size() == 2 && pair[0].is_number_unsigned() &&
                pair[1].is_number_integer() && pair[0].get<std::size_t>() < cells.states.size())
                cells.states[pair[0].get<std::size_t>()] =
                    static_cast<CellState>(std::clamp(pair[1].get<int>(), 0, 4));
    }
    return std::make_shared<const Cells>(std::move(cells));
}

Table tableFrom(const Json& json) {
    std::map<ColumnId, std::map<std::uint32_t, std::string>> originals;
    Json bare = json; // without what the table itself would keep as unknown
    if (bare.is_object() && bare.contains("columns") && bare["columns"].is_array())
        for (Json& column : bare["columns"])
            if (column.is_object())
                for (const char* key : {"values", "states"}) column.erase(key);
    Table t = tableFromJson(bare, originals);
    const Json none = Json::array();
    const Json& columns = json.is_object() && json.contains("columns") ? json["columns"] : none;
    for (std::size_t k = 0; k < t.columns.size() && k < columns.size(); ++k)
        t.columns[k].cells =
            cellsFrom(columns[k], t.columns[k].isNumeric(), std::move(originals[t.columns[k].id]));
    return t;
}

class Reading {
public:
    Reading(const std::string& file, std::vector<FigureData> data) : file_(file), data_(std::move(data)) {}

    Result<FigureOfText> run(const Json& json) {
        JsonReader r(json);
        r.text("format");
        r.number("version", kFigureVersion);
        if (auto good = takeParts(r); !good) return std::unexpected(good.error());
        if (auto good = takeArtwork(r.take("artwork")); !good) return std::unexpected(good.error());
        if (auto good = takeData(r.take("data")); !good) return std::unexpected(good.error());
        if (auto good = takeFits(r.take("fits")); !good) return std::unexpected(good.error());
        for (FigureData& one : data_)
            if (auto good = put(std::move(one)); !good) return std::unexpected(good.error());
        if (auto good = takeFigure(r, json); !good) return std::unexpected(good.error());
        if (auto good = resolve(); !good) return std::unexpected(good.error());
        FigureOfText out{.project = std::move(p_), .figure = figure_, .issues = {}};
        out.issues = dropUnfitSettings(out.project);
        return out;
    }

private:
    Result<void> takeParts(JsonReader& r) {
        Json rest = Json::object();
        for (const char* key : {"datasets", "analyses", "styles", "models"})
            if (const Json* list = r.take(key)) rest[key] = *list;
        if (const Json* others = r.take("figures")) rest["figures"] = *others;
        p_ = projectFromJson(rest);
        p_.title = r.text("project");
        for (Table& t : r.list<Table>("tables", tableFrom))
            if (t.id) p_.tables = p_.tables.with(std::move(t));
        std::string twice;
        known_ = idsOf(p_, twice);
        if (!twice.empty()) return wrong(file_, fmt::format("The id “{}” is borne by two parts.", twice));
        p_.nextId = highestId(p_) + 1;
        return {};
    }

    // Written by Jointer as a list with ids; by hand "scheme": { "file": "scheme.svg" }.
    Result<void> takeArtwork(const Json* all) {
        if (!all) return {};
        for (const auto& [name, json] : all->items()) {
            Asset a = assetWithBytes(json);
            if (json.is_object() && json.contains("file")) {
                const auto path =
                    besideOf(JsonReader(json).text("file"), fmt::format("The artwork “{}” names", name));
                if (!path) return std::unexpected(path.error());
                auto taken = artworkFromFile(*path);
                if (!taken) return std::unexpected(taken.error());
                a = std::move(*taken);
                artwork_[name] = {};
            }
            if (!a.bytes)
                return wrong(file_, fmt::format("The artwork “{}” has no “file” and no bytes.", name));
            if (!a.id) a.id = p_.newId<AssetId>();
            if (artwork_.contains(name)) artwork_[name] = a.id;
            if (!known_.insert(a.id.text()).second)
                return wrong(file_, fmt::format("The id “{}” is borne by two parts.", a.id.text()));
            p_.assets = p_.assets.with(std::move(a));
        }
        p_.nextId = std::max(p_.nextId, highestId(p_) + 1);
        return {};
    }

    // The path of a file in the figure's folder or below.
    Result<std::string> besideOf(const std::string& name, const std::string& who,
                                 const std::string& remedy = {}) const {
        const std::filesystem::path asked = name;
        if (asked.is_absolute() || std::ranges::any_of(asked, [](const auto& part) { return part == ".."; }))
            return wrong(file_, fmt::format("{} the file “{}”, which is not in the figure's folder{}.", who,
                                            asked.string(), remedy));
        return (std::filesystem::path(file_).parent_path() / asked).string();
    }

    // "shell": { "x": […], "y": […] } or { "file": "shell.csv", "x": "Shift", "y": "Counts" }
    Result<void> takeData(const Json* all) {
        if (!all) return {};
        if (!all->is_object()) return wrong(file_, "“data” must be an object with a name for each dataset.");
        for (const auto& [name, json] : all->items()) {
            if (const auto* made = madeKind(json)) {
                if (auto good = takeMade(name, json, *made); !good) return good;
                continue;
            }
            auto one =
                json.is_object() && json.contains("file") ? fromFile(name, json) : inlineData(name, json, file_);
            if (!one) return std::unexpected(one.error());
            if (auto good = put(std::move(*one)); !good) return good;
        }
        return {};
    }

    static const evaluate::SourceKind* madeKind(const Json& json) {
        return json.is_object() && json.contains("as") && json["as"].is_string()
                   ? evaluate::sourceCatalogue().find(json["as"].get<std::string>())
                   : nullptr;
    }

    // "speed": { "as": "plane", "settings": { "expression": "x*y" } }; of data above by "of": ["north",
    // "south"].
    Result<void> takeMade(const std::string& name, const Json& json, const evaluate::SourceKind& kind) {
        JsonReader r(json);
        r.text("as");
        std::vector<DatasetId> inputs;
        if (const Json* of = r.take("of"))
            for (const Json& each : of->is_array() ? *of : Json::array({*of})) {
                const std::string wanted = each.is_string() ? each.get<std::string>() : std::string();
                const auto d =
                    std::ranges::find_if(p_.datasets, [&](const auto& one) { return one->name == wanted; });
                if (d == p_.datasets.end())
                    return wrong(file_,
                                 fmt::format("The data “{}” are made of “{}”, which must stand before them; "
                                             "there are {}.",
                                             name, wanted, quotedNames(p_.datasets)));
                inputs.push_back((*d)->id);
            }
        if (inputs.size() < kind.inputs)
            return wrong(file_, fmt::format("The data “{}” are made of other data: name {} in “of”.", name,
                                            kind.inputs == 1 ? "them" : "both"));
        Dataset made = madeDataset(p_, kind.info.key, std::move(inputs));
        made.name = name;
        made.source.settings = r.settings("settings");
        for (const Setting& s : kind.info.settings)
            if (const std::string to = made.source.settings.text(s.key);
                s.kind == SettingKind::Reference && !to.empty())
                made.source.settings.set(s.key, Value(Reference{to}));
        auto next = edits::addDataset(std::move(made)).apply(p_);
        if (!next) return std::unexpected(next.error());
        p_ = std::move(*next);
        return {};
    }

    Result<FigureData> fromFile(const std::string& name, const Json& json) {
        JsonReader r(json);
        const auto beside = besideOf(r.text("file"), fmt::format("The data “{}” name", name),
                                     fmt::format("; give it by hand instead: --data {}=FILE:X:Y", name));
        if (!beside) return std::unexpected(beside.error());
        const std::string& path = *beside;
        auto reading = io::readFileAs(path, {});
        if (!reading) return std::unexpected(reading.error());
        if (reading->tables.empty()) return wrong(file_, "There is no table in " + path + ".");
        FigureData out{name, reading->tables[0].table, columnsOfFile(json)};
        out.table.origin.file = path;
        return out;
    }
    // Takes the place of data of this name; else it is there under it.
    Result<void> put(FigureData one) {
        std::shared_ptr<const Dataset> before;
        for (const auto& d : p_.datasets)
            if (d->name == one.name) before = d;
        const bool alike = one.columns.y.empty() && one.columns.kind.empty() && before;
        if (alike) takeAlike(p_, *before, one.columns); // the columns of these names
        auto made = withDataset(p_, std::move(one.table), one.columns, one.name);
        if (!made) return std::unexpected(made.error());
        p_ = std::move(*made);
        const auto fresh = p_.datasets[p_.datasets.size() - 1].id;
        if (!before) {
            Dataset coloured = *p_.datasets.find(fresh);
            const auto& colours = figure::palette();
            coloured.colour = colours[(p_.datasets.size() - 1) % colours.size()];
            p_.datasets = p_.datasets.with(std::move(coloured));
            return {};
        }
        Dataset changed = *before;
        changed.source = p_.datasets.find(fresh)->source;
        p_.datasets = p_.datasets.without(fresh).with(std::move(changed));
        return {};
    }

    // { "name": …, "data": …, "model": "line" } or { …, "equation": "a*x+b" }; "span": [low, high]
    Result<void> takeFits(const Json* all) {
        if (!all || !all->is_array()) return {};
        for (const Json& json : *all) {
            JsonReader r(json);
            const std::string data = r.text("data"), model = r.text("model"), equation = r.text("equation");
            const auto d =
                std::ranges::find_if(p_.datasets, [&](const auto& each) { return each->name == data; });
            if (d == p_.datasets.end())
                return wrong(file_, fmt::format("A fit names the data “{}”; there are {}.", data,
                                                quotedNames(p_.datasets)));
            if (equation.empty() && !models::catalogue().find(model))
                return wrong(
                    file_,
                    fmt::format(
                        "A fit names the model “{}”, which is not in the library (jointer-cli models).",
                        model));
            Analysis fit{.name = r.text("name"), .inputs = {{.dataset = (*d)->id}}};
            fit.model.kind = equation.empty() ? model : "equation";
            fit.model.settings = r.settings("settings");
            if (!equation.empty()) fit.model.settings.set("equation", Value(equation));
            if (const Json* span = r.take("span"); span && span->is_array() && span->size() == 2)
                fit.inputs[0].span = Span(JsonReader::numberOf((*span)[0], -INFINITY),
                                          JsonReader::numberOf((*span)[1], INFINITY));
            auto made = edits::addAnalysis(std::move(fit)).apply(p_);
            if (!made) return std::unexpected(made.error());
            p_ = std::move(*made);
        }
        return {};
    }

    Result<void> takeFigure(JsonReader& r, const Json& json) {
        Json one = Json::object();
        for (const char* key : {"name", "settings", "elements"})
            if (const Json* part = r.take(key)) one[key] = *part;
        one["id"] = FigureId{p_.nextId}.text();
        if (!one.contains("elements")) return wrong(file_, "The figure has no “elements”.");
        const Project read = projectFromJson({{"figures", Json::array({one})}});
        if (read.figures.empty()) return wrong(file_, "The figure cannot be read.");
        Figure f = read.figures[0];
        p_.nextId = std::max(p_.nextId, highestId(read)) + 1;
        figure_ = f.id;
        const std::function<Result<void>(Element&)> complete = [&](Element& e) -> Result<void> {
            if (!figure::elementKinds().find(e.kind) || e.kind == "figure")
                return wrong(file_, fmt::format("An element is of the kind “{}”; there are {}.", e.kind,
                                                joined(figure::elementKinds().keys(), ", ")));
            if (e.id && !known_.insert(e.id.text()).second)
                return wrong(file_, fmt::format("The id “{}” is borne by two parts.", e.id.text()));
            if (!e.id) e.id = p_.newId<ElementId>();
            known_.insert(e.id.text());
            for (Element& child : e.children)
                if (auto good = complete(child); !good) return good;
            return {};
        };
        for (Element& e : f.elements)
            if (auto good = complete(e); !good) return good;
        if (auto good = chooseStyle(f, json); !good) return good;
        nameReferences(p_, f);
        p_.figures = p_.figures.with(std::move(f));
        return {};
    }

    // By its name or id among those of the text, else a shipped one; an object is one of its own.
    Result<void> chooseStyle(Figure& f, const Json& json) {
        const Json* wanted = json.contains("style") ? &json["style"] : nullptr;
        const std::string name = wanted && wanted->is_string() ? wanted->get<std::string>() : std::string();
        for (const auto& s : p_.styles)
            if (s->name == name || s->id.text() == name) return f.style = s->id, Result<void>{};
        for (HouseStyle s : figure::shippedStyles())
            if (s.name == name || name.empty()) {
                s.id = p_.newId<StyleId>();
                f.style = s.id;
                p_.styles = p_.styles.with(std::move(s));
                return {};
            }
        std::vector<std::string> names;
        for (const HouseStyle& s : figure::shippedStyles()) names.push_back("“" + s.name + "”");
        return wrong(file_,
                     fmt::format("There is no house style “{}”; there are {}.", name, joined(names, ", ")));
    }

    // What is named by a name gets the id.
    Result<void> resolve() {
        std::string twice;
        const std::set<std::string> ids = idsOf(p_, twice);
        std::string lost;
        p_ = withReferences(p_, [&](const Link& link) -> std::string {
            if (ids.contains(link.to)) return link.to;
            for (const auto& d : p_.datasets)
                if (d->name == link.to) return d->id.text();
            for (const auto& a : p_.analyses)
                if (a->name == link.to && !a->name.empty()) return a->id.text();
            if (const auto art = artwork_.find(link.to); art != artwork_.end()) return art->second.text();
            if (lost.empty()) lost = link.to;
            return {};
        });
        if (lost.empty()) return {};
        return wrong(file_, fmt::format("The figure draws “{}”, which it does not hold; there are the data "
                                        "{}. Others are given by --data {}=FILE:X:Y.",
                                        lost, quotedNames(p_.datasets), lost));
    }

    const std::string& file_;
    std::vector<FigureData> data_;
    Project p_;
    FigureId figure_;
    std::set<std::string> known_;
    std::map<std::string, AssetId> artwork_; // by the names that are given by hand
};

} // namespace

Result<FigureOfText> figureFromText(std::string_view text, const std::string& file,
                                    std::vector<FigureData> data) {
    const auto json = parsedDocument(
        text, {.code = "figure-file", .what = "a figure", .file = file, .largest = std::size_t{256} << 20});
    if (!json) return std::unexpected(json.error());
    JsonReader r(*json);
    if (!json->is_object() || r.text("format") != kFigureFormat)
        return wrong(file, "This is no figure of Jointer: “format” is not “jointer-figure”.");
    if (r.number("version", kFigureVersion) > kFigureVersion)
        return wrong(file, "This figure was written by a newer version of Jointer.");
    return Reading(file, std::move(data)).run(*json);
}

namespace edits {

Edit joinFigure(FigureOfText figure) {
    const auto name = figure.project.figures.find(figure.figure)->name;
    return {"Add figure " + name, {}, [figure = std::move(figure)](const Project& before) -> Result<Project> {
                Project after = before;
                Project parts = figure.project;
                std::map<std::string, std::string> elsewhere;
                for (const auto& style : figure.project.styles)
                    for (const auto& own : before.styles)
                        if (own->name == style->name) {
                            elsewhere[style->id.text()] = own->id.text();
                            parts.styles = parts.styles.without(style->id);
                            break;
                        }
                const Renumbered made = renumbered(parts, after.nextId, elsewhere);
                for (const auto& t : made.parts.tables) after.tables = after.tables.with(*t);
                for (const auto& d : made.parts.datasets) after.datasets = after.datasets.with(*d);
                for (const auto& a : made.parts.analyses) after.analyses = after.analyses.with(*a);
                for (const auto& s : made.parts.styles) after.styles = after.styles.with(*s);
                for (const auto& a : made.parts.assets) after.assets = after.assets.with(*a);
                for (const auto& f : made.parts.figures) after.figures = after.figures.with(*f);
                return after;
            }};
}

} // namespace edits

} // namespace jointer
