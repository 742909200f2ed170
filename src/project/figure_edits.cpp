// SPDX-License-Identifier: GPL-3.0-or-later
#include "project/figure_edits.h"

#include "project/references.h"

#include <map>
#include <set>

namespace jointer {

namespace {

std::unexpected<Issue> gone(const char* what) {
    return failure("target-gone", std::string("The ") + what + " is no longer there.");
}

void put(Settings& settings, const std::string& key, const Value& value) {
    if (std::holds_alternative<std::monostate>(value))
        settings.remove(key);
    else
        settings.set(key, value);
}

// The list in which an element stands, and its place in it.
std::pair<std::vector<Element>*, std::size_t> standing(std::vector<Element>& elements, ElementId id) {
    for (std::size_t k = 0; k < elements.size(); ++k) {
        if (elements[k].id == id) return {&elements, k};
        if (const auto found = standing(elements[k].children, id); found.first) return found;
    }
    return {nullptr, 0};
}

void renew(Project& p, Element& e, NewIds& ids) {
    const std::string old = e.id.text();
    e.id = p.newId<ElementId>();
    if (!old.empty()) ids[old] = e.id.text();
    for (Element& child : e.children) renew(p, child, ids);
}

void swap(Element& e, const NewIds& ids) {
    if (const auto at = ids.find(e.source); at != ids.end()) e.source = at->second;
    follow(e, ids);
    for (Element& child : e.children) swap(child, ids);
}

} // namespace

void giveIds(Project& project, Element& element) {
    if (!element.id) element.id = project.newId<ElementId>();
    for (Element& child : element.children) giveIds(project, child);
}

void follow(Element& e, const NewIds& ids) {
    e.settings.eachReference([&](Reference& r) {
        if (const auto at = ids.find(r.to); at != ids.end()) r.to = at->second;
    });
    for (Element& child : e.children) follow(child, ids);
}

namespace {

void addDrawn(const Project& project, const Element& e, std::vector<DatasetId>& into) {
    const auto add = [&](DatasetId id) {
        if (project.datasets.find(id) && std::ranges::find(into, id) == into.end()) into.push_back(id);
    };
    add(DatasetId::fromText(e.source));
    if (const auto analysis = project.analyses.find(AnalysisId::fromText(e.source)))
        for (const AnalysisInput& input : analysis->inputs) add(input.dataset);
    for (const std::string& id : e.settings.references("datasets")) add(DatasetId::fromText(id));
    for (const Element& child : e.children) addDrawn(project, child, into);
}

} // namespace

std::vector<DatasetId> drawnDatasets(const Project& project, const Figure& figure) {
    std::vector<DatasetId> all;
    for (const Element& e : figure.elements) addDrawn(project, e, all);
    return all;
}

const Element* findElement(const Project& project, const Figure& first, ElementId id) {
    const Element* found = id ? first.find(id) : nullptr;
    for (const auto& f : project.figures)
        if (id && !found) found = f->find(id);
    return found;
}

Element* findElement(std::vector<Element>& elements, ElementId id) {
    const auto [list, place] = standing(elements, id);
    return list && id ? &(*list)[place] : nullptr;
}

std::vector<const Element*> chainTo(const std::vector<Element>& elements, ElementId id) {
    for (const Element& e : elements) {
        if (e.id == id) return {&e};
        if (auto below = chainTo(e.children, id); !below.empty()) {
            below.insert(below.begin(), &e);
            return below;
        }
    }
    return {};
}

namespace edits {

Edit arrange(FigureId figure, std::string name, std::function<Result<void>(Project&, Figure&)> change,
             std::string mergeKey) {
    return {std::move(name), std::move(mergeKey), [=](const Project& before) -> Result<Project> {
                const auto held = before.figures.find(figure);
                if (!held) return gone("figure");
                Project after = before;
                Figure f = *held;
                if (auto done = change(after, f); !done) return std::unexpected(done.error());
                for (Element& e : f.elements) giveIds(after, e);
                after.figures = after.figures.with(std::move(f));
                return after;
            }};
}

Edit addFigure(Figure figure) {
    return {"Add figure", {}, [=](const Project& before) -> Result<Project> {
                Project after = before;
                Figure made = figure;
                if (!made.id) made.id = after.newId<FigureId>();
                for (Element& e : made.elements) giveIds(after, e);
                after.figures = after.figures.with(std::move(made));
                return after;
            }};
}

Edit removeFigure(FigureId id) {
    return {"Remove figure", {}, [=](const Project& before) -> Result<Project> {
                if (!before.figures.find(id)) return gone("figure");
                return without(before, {id.text()});
            }};
}

Edit changeFigure(FigureId id, std::string name, std::function<void(Figure&)> change, std::string mergeKey) {
    return arrange(
        id, std::move(name),
        [=](Project&, Figure& f) -> Result<void> {
            change(f);
            return {};
        },
        std::move(mergeKey));
}

Edit setElement(FigureId figure, ElementId element, std::string key, Value value) {
    Edit edit =
        setElements(figure, element ? std::vector{element} : std::vector<ElementId>(), key, std::move(value));
    edit.mergeKey = "look " + element.text() + " " + key;
    return edit;
}

Edit setElements(FigureId figure, std::vector<ElementId> elements, std::string key, Value value) {
    std::string merge = "looks " + key;
    for (ElementId id : elements) merge += " " + id.text();
    return arrange(
        figure, "Change look",
        [=](Project&, Figure& f) -> Result<void> {
            if (elements.empty()) put(f.settings, key, value);
            for (ElementId id : elements) {
                Element* e = findElement(f.elements, id);
                if (!e) return gone("element");
                put(e->settings, key, value);
            }
            return {};
        },
        std::move(merge));
}

Edit addElement(FigureId figure, ElementId parent, Element element) {
    return arrange(figure, "Add to figure", [=](Project&, Figure& f) -> Result<void> {
        Element* under = findElement(f.elements, parent);
        if (parent && !under) return gone("element");
        (under ? under->children : f.elements).push_back(element);
        return {};
    });
}

Edit removeElement(FigureId figure, ElementId element) {
    return removeElements(figure, {element});
}

Edit removeElements(FigureId figure, std::vector<ElementId> elements) {
    return {"Remove from figure", {}, [=](const Project& before) -> Result<Project> {
                const auto f = before.figures.find(figure);
                if (!f) return gone("figure");
                std::set<std::string> ids;
                for (ElementId id : elements) {
                    if (!f->find(id)) return gone("element");
                    ids.insert(id.text());
                }
                return without(before, std::move(ids));
            }};
}

Edit moveElement(FigureId figure, ElementId element, int by) {
    return arrange(figure, by > 0 ? "Bring forward" : "Send back", [=](Project&, Figure& f) -> Result<void> {
        const auto [list, place] = standing(f.elements, element);
        if (!list) return gone("element");
        const auto to = std::clamp(static_cast<long>(place) + by, 0L, static_cast<long>(list->size()) - 1);
        Element moved = std::move((*list)[place]);
        list->erase(list->begin() + static_cast<std::ptrdiff_t>(place));
        list->insert(list->begin() + to, std::move(moved));
        return {};
    });
}

Edit duplicateFigure(FigureId figure, std::string name) {
    return {"Duplicate figure", {}, [=](const Project& before) -> Result<Project> {
                const auto held = before.figures.find(figure);
                if (!held) return gone("figure");
                Project after = before;
                Figure copy = *held;
                copy.id = after.newId<FigureId>();
                copy.name = name;
                NewIds ids;
                for (Element& e : copy.elements) renew(after, e, ids);
                for (Element& e : copy.elements) follow(e, ids);
                const FigureId made = copy.id;
                after.figures = after.figures.with(std::move(copy));
                const auto last = static_cast<int>(after.figures.size()) - 1;
                int place = 0;
                while (after.figures[static_cast<std::size_t>(place)].id != figure) ++place;
                return moveFigure(made, place + 1 - last).apply(after);
            }};
}

Edit duplicateElement(FigureId figure, ElementId element) {
    return arrange(figure, "Duplicate", [=](Project& p, Figure& f) -> Result<void> {
        const auto [list, place] = standing(f.elements, element);
        if (!list) return gone("element");
        Element copy = (*list)[place];
        NewIds ids;
        renew(p, copy, ids);
        follow(copy, ids);
        // In the grid it takes the next cell that is free.
        for (const char* key : {"row", "column"}) copy.settings.remove(key);
        list->insert(list->begin() + static_cast<std::ptrdiff_t>(place) + 1, std::move(copy));
        return {};
    });
}

Edit moveFigure(FigureId figure, int by) {
    return {"Move figure", {}, [=](const Project& before) -> Result<Project> {
                std::vector<Parts<Figure>::Pointer> order(before.figures.begin(), before.figures.end());
                const auto at = std::ranges::find(order, figure, [](const auto& f) { return f->id; });
                if (at == order.end()) return gone("figure");
                const auto place = at - order.begin();
                const auto to = std::clamp<std::ptrdiff_t>(place + by, 0, std::ssize(order) - 1);
                const auto moved = *at;
                order.erase(at);
                order.insert(order.begin() + to, moved);
                Project after = before;
                for (const auto& f : order) after.figures = after.figures.without(f->id).with(*f);
                return after;
            }};
}

Edit swapDatasets(FigureId figure, DatasetPairs pairs) {
    return arrange(figure, "Show other datasets", [=](Project& p, Figure& f) -> Result<void> {
        NewIds ids;
        for (const auto& [from, to] : pairs) {
            if (!p.datasets.find(to)) return gone("dataset");
            ids[from.text()] = to.text();
            // Its fits become those of the other one, where it has a fit of that name or any.
            for (const auto& a : p.analyses) {
                if (!a->takes(from) || a->takes(to)) continue;
                for (const auto& other : analysesOf(p, to))
                    if (!ids.contains(a->id.text()) || other->name == a->name)
                        ids[a->id.text()] = other->id.text();
            }
        }
        for (Element& e : f.elements) swap(e, ids);
        return {};
    });
}

Edit copyWithDatasets(FigureId figure, std::string name, DatasetPairs pairs) {
    return {"Show other datasets", {}, [=](const Project& before) -> Result<Project> {
                const auto copied = duplicateFigure(figure, name).apply(before);
                if (!copied) return copied;
                const auto isNew = [&](const auto& f) { return !before.figures.find(f->id); };
                const auto made = std::ranges::find_if(copied->figures, isNew);
                return swapDatasets((*made)->id, pairs).apply(*copied);
            }};
}

} // namespace edits

} // namespace jointer
