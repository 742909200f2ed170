// SPDX-License-Identifier: GPL-3.0-or-later
// A figure to text: what it needs of its project, in an order that stays.
#include "figure/kinds.h"
#include "project/asset_json.h"
#include "project/json_reader.h"
#include "project/json_text.h"
#include "project/references.h"
#include "project/renumber.h"
#include "session/figure_text.h"

#include <cmath>
#include <functional>

namespace jointer {

namespace {

// What a figure needs of its project: by the references from part to part.
class Needed {
public:
    Needed(const Project& project, const Figure& figure) : project_(project) {
        eachReference(project, [&](const Link& link) { links_[link.from].push_back(link.to); });
        const std::function<void(const Element&)> walk = [&](const Element& e) {
            show(e);
            for (const Element& child : e.children) walk(child);
        };
        for (const Element& e : figure.elements) walk(e);
        close();
        // Marks of a dataset show what its analyses have found.
        for (std::size_t before = 0; before != ids_.size();) {
            before = ids_.size();
            for (const auto& a : project.analyses)
                if (!a->inputs.empty() && std::ranges::all_of(a->inputs, [&](const AnalysisInput& in) {
                        return ids_.contains(in.dataset.text());
                    }))
                    open_.push_back(a->id.text());
            close();
        }
    }

    Project parts(const Figure& figure) const {
        Project out;
        out.title = project_.title;
        for (const auto& t : project_.tables)
            if (has(*t)) out.tables = out.tables.with(shortened(*t));
        for (const auto& d : project_.datasets)
            if (has(*d)) {
                Dataset copy = *d;
                copy.recipe = {};
                out.datasets = out.datasets.with(std::move(copy));
            }
        for (const auto& a : project_.analyses)
            if (has(*a)) out.analyses = out.analyses.with(*a);
        for (const auto& f : project_.figures) // that are shown, whole or a panel of them
            if (f->id != figure.id &&
                std::ranges::any_of(f->elements, [&](const Element& e) { return has(e); }))
                out.figures = out.figures.with(*f);
        out.figures = out.figures.with(figure);
        for (const auto& a : project_.assets)
            if (has(*a)) out.assets = out.assets.with(*a);
        if (const auto style = project_.styles.find(figure.style)) out.styles = out.styles.with(*style);
        return out;
    }

private:
    template <class Part> bool has(const Part& part) const { return ids_.contains(part.id.text()); }

    void show(const Element& e) {
        open_.push_back(e.id.text());
        if (!e.source.empty()) open_.push_back(e.source);
        // Of a table all columns, where none is chosen.
        const auto table = project_.tables.find(TableId::fromText(e.source));
        if (table && e.settings.references("columns").empty())
            for (const Column& c : table->columns) open_.push_back(c.id.text());
    }
    void show(const std::vector<Element>& elements) {
        for (const Element& e : elements) show(e);
    }

    void close() {
        while (!open_.empty()) {
            const std::string id = std::move(open_.back());
            open_.pop_back();
            if (ids_.insert(id).second) follow(id);
        }
    }
    void follow(const std::string& id) {
        if (const auto at = links_.find(id); at != links_.end())
            std::ranges::copy(at->second, std::back_inserter(open_));
        if (const auto d = project_.datasets.find(DatasetId::fromText(id)))
            for (const Step& s : d->protocol) open_.push_back(s.id.text());
        if (const auto f = project_.figures.find(FigureId::fromText(id))) show(f->elements);
        for (const auto& f : project_.figures) // another figure's panel, with all that is in it
            if (const Element* e = f->find(ElementId::fromText(id))) show(e->children);
    }

    // The columns that something names; all of a table of which none is.
    Table shortened(const Table& t) const {
        Table out = t;
        std::erase_if(out.columns, [&](const Column& c) { return !has(c); });
        return out.columns.empty() ? t : out;
    }

    const Project& project_;
    std::map<std::string, std::vector<std::string>> links_;
    std::set<std::string> ids_;
    std::vector<std::string> open_;
};

Json numberJson(double v) {
    if (std::isfinite(v)) return v;
    return std::isnan(v) ? Json() : Json(v > 0 ? "inf" : "-inf");
}

Json cellsJson(const Column& c, Json column) {
    if (!c.formula.empty()) return column; // computed again
    Json values = Json::array(), states = Json::array();
    for (const double v : c.cells->numbers) values.push_back(numberJson(v));
    for (const std::string& text : c.cells->texts) values.push_back(text);
    for (std::size_t row = 0; row < c.cells->states.size(); ++row)
        if (c.cells->states[row] != CellState::Fine)
            states.push_back({row, static_cast<int>(c.cells->states[row])});
    column["values"] = std::move(values);
    if (!c.cells->states.empty()) column["states"] = std::move(states);
    return column;
}

Json tableJson(const Table& t) {
    Json out = toJson(t);
    for (std::size_t k = 0; k < t.columns.size(); ++k) {
        Json& column = out["columns"][k];
        for (const char* same : {"byHand", "utc"})
            if (column[same] == false) column.erase(same);
        if (t.columns[k].format == NumberFormat{}) column.erase("format");
        column = cellsJson(t.columns[k], std::move(column));
    }
    return out;
}

// Lists of numbers and texts on one line each.
std::string withShortLists(const std::string& json) {
    std::string out;
    for (std::size_t k = 0; k < json.size();) {
        std::size_t end = k + 1;
        if (json[k] == '"') {
            while (end < json.size() && json[end] != '"') end += json[end] == '\\' ? 2 : 1;
            out.append(json, k, end + 1 - k);
            k = end + 1;
            continue;
        }
        if (json[k] == '[') {
            bool inText = false;
            std::string line = "[";
            for (; end < json.size(); ++end) {
                const char c = json[end];
                if (inText && c == '\\') line += json[end++];
                if (c == '"' && json[end - 1] != '\\') inText = !inText;
                if (!inText && (c == '[' || c == '{' || c == ']')) break;
                if (inText || (c != '\n' && c != ' ')) line += json[end];
                if (!inText && c == ',') line += ' ';
            }
            if (end < json.size() && json[end] == ']') {
                out += line + "]";
                k = end + 1;
                continue;
            }
        }
        out += json[k++];
    }
    return out;
}

bool isShipped(const HouseStyle& style) {
    return std::ranges::any_of(figure::shippedStyles(), [&](const HouseStyle& s) {
        return s.name == style.name && s.looks == style.looks;
    });
}

} // namespace

std::string figureText(const Project& project, const Figure& figure) {
    std::uint64_t next = 1;
    const Renumbered made = renumbered(Needed(project, figure).parts(figure), next);
    const Project& p = made.parts;
    Json all = toJson(p), tables = Json::array(), figures = all["figures"];
    for (const auto& t : p.tables) tables.push_back(tableJson(*t));
    Json own = figures.back(); // the last one
    figures.erase(figures.size() - 1);
    const auto style = p.styles.empty() ? nullptr : p.styles.begin()->operator->();
    Json out = {
        {"format", kFigureFormat}, {"version", kFigureVersion}, {"name", own["name"]}, {"project", p.title}};
    if (style) out["style"] = style->name;
    out["settings"] = own["settings"];
    out["elements"] = own["elements"];
    out["analyses"] = all["analyses"];
    out["datasets"] = all["datasets"];
    if (style && !isShipped(*style)) out["styles"] = all["styles"];
    out["figures"] = figures;
    out["tables"] = tables;
    for (const auto& a : p.assets) out["artwork"].push_back(jsonWithBytes(*a));
    prune(out);
    if (!out.contains("elements")) out["elements"] = Json::array();
    return withShortLists(out.dump(1, ' ', false, Json::error_handler_t::replace)) + "\n";
}

} // namespace jointer
