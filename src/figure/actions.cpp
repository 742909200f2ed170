// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/actions.h"

#include "figure/first_figure.h"

#include "base/text.h"
#include "data/companion_names.h"
#include "evaluate/fields.h"
#include "figure/kinds.h"
#include "figure/marks/mark.h"
#include "figure/on_panels.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace jointer::figure {

namespace {

// Of a group the marks in it stand on an axis.
void standOn(std::vector<Element>& marks, const Element& axis) {
    for (Element& m : marks) {
        if (m.kind == "group")
            standOn(m.children, axis);
        else
            m.settings.set("y-axis", refersTo(axis));
    }
}

Result<void> joinLane(Project& p, Element& panel, std::vector<Element> marks) {
    int top = highestLane(panel);
    if (top == 0) { // what is there becomes the lowest lane
        for (Element& e : panel.children)
            if (isVertical(e)) e.settings.set("lane", 1);
        top = 1;
    }
    Element made = newAxis(p, top % 2 == 1 ? "right" : "left"); // sides alternate
    made.settings.set("lane", top + 1);
    standOn(marks, made);
    insertAxis(panel, std::move(made));
    for (Element& m : marks) insert(panel, std::move(m));
    return {};
}

Result<void> joinRight(Project& p, Element& panel, std::vector<Element> marks) {
    Element made = newAxis(p, "right");
    made.settings.set("as-curve", Value(true));
    made.settings.set("opposite", "none");
    if (Element* left = firstVertical(panel)) {
        left->settings.set("opposite", "none");
        left->settings.set("as-curve", Value(true));
    }
    standOn(marks, made);
    insertAxis(panel, std::move(made));
    for (Element& m : marks) insert(panel, std::move(m));
    return {};
}

} // namespace

ElementId panelOf(const Figure& figure, ElementId element) {
    ElementId last;
    for (const Element* e : chainTo(figure.elements, element))
        if (e->kind == "panel") last = e->id;
    if (last) return last;
    const auto first = std::ranges::find(figure.elements, "panel", &Element::kind);
    return first == figure.elements.end() ? ElementId{} : first->id;
}

// Samples of waters and of three parts stand as points of their diagrams, beside marks of their own.
static bool areSamples(const Dataset& dataset) {
    return dataset.source.kind == "ions" || dataset.source.kind == "composition";
}

bool suits(const MarkKind& kind, const Dataset& dataset) {
    const auto isOf = [&](const MarkKind& k) {
        return std::ranges::find(k.of, dataset.source.kind) != k.of.end();
    };
    if (kind.info.key == "relief-points" &&
        std::ranges::count(dataset.source.roles, Role::X, &RoleBinding::role) > 1)
        return true; // a curve over two predictors is y over a plane
    if (!kind.of.empty())
        return isOf(kind) && (dataset.source.kind != "composition" || evaluate::hasField(dataset.source));
    return areSamples(dataset) || std::ranges::none_of(markCatalogue(), isOf);
}

static int likelihood(const MarkKind& kind, const Dataset& dataset, const Curve& curve) {
    if (!suits(kind, dataset)) return 0;
    if (areSamples(dataset) && kind.info.key == "points") return 9;
    return !kind.of.empty() ? 8 : kind.likely ? kind.likely(curve) : 0;
}

std::vector<std::string> likelyMarks(const Project& project, DatasetId id, evaluate::Evaluator& evaluator) {
    const auto dataset = project.datasets.find(id);
    if (!dataset) return {};
    const auto curve = evaluator.measured(project, dataset->id).value;
    std::vector<std::pair<int, std::string>> scored;
    for (const MarkKind& kind : markCatalogue())
        if (const int score = likelihood(kind, *dataset, *curve); score > 0)
            scored.emplace_back(-score, kind.info.key);
    std::ranges::stable_sort(scored, {}, [](const auto& s) { return s.first; });
    std::vector<std::string> out;
    for (auto& [score, key] : scored) out.push_back(std::move(key));
    return out;
}

// Samples that have classes show them; symbols beside colours, for print in grey.
static void tellApart(const Dataset& dataset, Element& mark) {
    if (!areSamples(dataset)) return;
    const bool points = mark.kind == "points";
    if (points) mark.settings.set("fill", "filled");
    for (const RoleBinding& b : dataset.source.roles) {
        if (b.role != Role::Class) continue;
        mark.settings.set("colour-by", Value(Reference{b.column.text()}));
        if (points) mark.settings.set("symbol-by", Value(Reference{b.column.text()}));
    }
}

Element markFor(const Project& project, DatasetId id, const std::string& kind,
                evaluate::Evaluator& evaluator) {
    Element e = newMark(kind, id.text());
    const auto dataset = project.datasets.find(id);
    const std::size_t n = dataset ? evaluator.measured(project, dataset->id).value->size() : 0;
    if (dataset && (kind == "points" || kind == "ion-patterns")) tellApart(*dataset, e);
    if (n <= 120 || (kind != "points" && kind != "points-line")) return e;
    // Dense curves need small symbols, and error bars would hide them.
    e.settings.set("size", Value(kind == "points" ? 2.0 : 1.4));
    e.settings.set("errors", Value(false));
    return e;
}

std::vector<Element> companionMarks(const Project& project, DatasetId id) {
    std::vector<Element> out;
    const auto dataset = project.datasets.find(id);
    if (!dataset || dataset->source.kind != "columns") return out; // components of waters are no companions
    for (const RoleBinding& b : dataset->source.roles) {
        if (b.role != Role::Companion && b.role != Role::Component) continue;
        const bool part = companionKind(b.of).value_or(CompanionKind::Part) == CompanionKind::Part;
        out.push_back(newMark(part ? "area" : "line", id.text()));
        out.back().settings.set("companion", Value(b.of));
    }
    return out;
}

// An empty panel takes the coordinates of what is drawn first.
static void takeCoordinates(const Project& p, Element& panel, const std::vector<Element>& marks) {
    const bool empty = std::ranges::none_of(
        panel.children, [](const Element& e) { return isMark(e.kind) || e.kind == "group"; });
    if (!empty || panel.settings.has("coordinates") || marks.empty()) return;
    if (const std::string own = coordinatesFor(p, marks.front()); !own.empty()) giveCoordinates(panel, own);
}

Edit addMarks(FigureId figure, ElementId panel, std::vector<Element> marks, Drop where) {
    if (where == Drop::NewPanel) return addPanel(figure, marks);
    return edits::arrange(figure, "Draw", [=](Project& p, Figure& f) -> Result<void> {
        auto panels = panelsOf(f, panel);
        if (panels.empty()) return noPanel();
        if (where == Drop::RightAxis) return joinRight(p, *panels.front(), marks);
        if (where == Drop::TopLane) return joinLane(p, *panels.front(), marks);
        takeCoordinates(p, *panels.front(), marks);
        for (const Element& m : marks) insert(*panels.front(), m);
        return {};
    });
}

Edit drawGroup(FigureId figure, ElementId panel, std::vector<DatasetId> datasets,
               std::vector<Element> marks) {
    return edits::arrange(figure, "Draw as a group", [=](Project&, Figure& f) -> Result<void> {
        auto panels = panelsOf(f, panel);
        if (panels.empty()) return noPanel();
        Element made = groupOf(datasets, marks);
        const auto same = std::ranges::find_if(panels.front()->children, [&](const Element& e) {
            return e.kind == "group" &&
                   e.settings.references("datasets") == made.settings.references("datasets");
        });
        if (same != panels.front()->children.end())
            std::ranges::move(made.children, std::back_inserter(same->children));
        else
            insert(*panels.front(), std::move(made));
        return {};
    });
}

Edit frame(FigureId figure, ElementId panel, bool full) {
    return onPanels(figure, panel, full ? "Full frame" : "Open frame",
                    [full](Project&, Element& e) -> Result<void> {
                        eachOf(e, "axis", [full](Element& a) {
                            if (full)
                                a.settings.remove("opposite");
                            else
                                a.settings.set("opposite", "none");
                            if (!full && !a.settings.has("ticks")) a.settings.set("ticks", "out");
                            if (full && a.settings.text("ticks") == "out") a.settings.remove("ticks");
                        });
                        return {};
                    });
}

Edit tidyNumbers(FigureId figure, ElementId panel) {
    return onPanels(figure, panel, "Tidy numbers", [](Project&, Element& e) -> Result<void> {
        eachOf(e, "axis", [](Element& a) {
            for (const char* key : {"decimals", "every", "count", "format"}) a.settings.remove(key);
            a.settings.set("factor", 99);
        });
        return {};
    });
}

Edit shareAxes(FigureId figure) {
    return edits::arrange(figure, "Share axes", [](Project&, Figure& f) -> Result<void> {
        const bool rows = f.settings.integer("rows", 1) > 1, columns = f.settings.integer("columns", 1) > 1;
        const bool now = f.settings.flag("share-x") || f.settings.flag("share-y");
        for (const auto& [key, wanted] : {std::pair("share-x", rows), std::pair("share-y", columns)}) {
            if (now || !wanted)
                f.settings.remove(key);
            else
                f.settings.set(key, Value(true));
        }
        if (!rows && !columns)
            return failure("one-panel", "Axes are shared by several panels; the figure has one.");
        return {};
    });
}

Edit matchSizes(FigureId figure) {
    return edits::arrange(figure, "Match sizes", [](Project&, Figure& f) -> Result<void> {
        for (const char* key : {"column-shares", "row-shares"}) f.settings.remove(key);
        int panels = 0;
        for (Element& e : f.elements) {
            if (!isPanel(e.kind)) continue;
            ++panels;
            for (const char* key : {"place", "row", "column", "row-span", "column-span"})
                e.settings.remove(key);
        }
        const int columns =
            std::max(1, std::max(f.settings.integer("columns", 1),
                                 panels > 1 && f.settings.integer("rows", 1) == 1 ? std::min(panels, 2) : 1));
        f.settings.set("columns", columns);
        f.settings.set("rows", std::max(1, (panels + columns - 1) / columns));
        return {};
    });
}

Edit addPanel(FigureId figure, const std::vector<Element>& marks) {
    return edits::arrange(figure, "Add panel", [=](Project&, Figure& f) -> Result<void> {
        f.elements.push_back(newPanel(marks));
        growGrid(f);
        return {};
    });
}

Edit addLinkedPanel(FigureId figure, ElementId sourceId) {
    return edits::arrange(figure, "Show a panel again", [=](Project& p, Figure& f) -> Result<void> {
        const Element* source = findElement(p, f, sourceId);
        if (!source || source->kind != "panel") return noPanel();
        Element panel{.kind = "panel", .settings = source->settings};
        for (const char* key : {"row", "column", "place", "left", "top", "letter"})
            panel.settings.remove(key);
        panel.settings.set("linked-to", Value(Reference{sourceId.text()}));
        for (const Element& c : source->children)
            if (c.kind == "axis" || c.kind == "legend" || c.kind == "colour-bar")
                panel.children.push_back({.kind = c.kind, .settings = c.settings});
        f.elements.push_back(std::move(panel));
        growGrid(f);
        return {};
    });
}

Edit addInset(FigureId figure, ElementId panel, std::pair<double, double> x, std::pair<double, double> y) {
    return edits::arrange(figure, "Add inset", [=](Project&, Figure& f) -> Result<void> {
        auto panels = panelsOf(f, panel);
        if (panels.empty()) return noPanel();
        Element inset = newPanel({});
        std::erase_if(inset.children, [](const Element& e) { return e.kind == "legend"; });
        inset.settings.set("place", "inset");
        inset.settings.set("shows", "parent");
        for (Element& a : inset.children) {
            const auto& range = a.settings.text("side") == "left" ? y : x;
            a.settings.set("range", Value(Numbers{range.first, range.second}));
            a.settings.set("name", "-");
            a.settings.set("text-size", Value(6.0));
            a.settings.set("count", 3);
        }
        panels.front()->children.push_back(std::move(inset));
        return {};
    });
}

Edit showOriginals(FigureId figure, ElementId axisId) {
    return edits::arrange(figure, "Show original values", [=](Project&, Figure& f) -> Result<void> {
        Element* axis = findElement(f.elements, axisId);
        if (!axis || axis->kind != "axis")
            return failure("no-axis", "No axis here shows logarithms: transform the data first.");
        axis->settings.set("scale", "log");
        axis->settings.set("applied", Value(true));
        return {};
    });
}

Edit addSecondAxis(FigureId figure, ElementId axisId) {
    return edits::arrange(figure, "Second axis", [=](Project& p, Figure& f) -> Result<void> {
        const auto chain = chainTo(f.elements, axisId);
        if (chain.size() < 2 || chain.back()->kind != "axis")
            return failure("no-axis", "Select an axis first.");
        Element* panel = findElement(f.elements, chain[chain.size() - 2]->id);
        Element* first = findElement(f.elements, axisId);
        const std::string side = first->settings.text("side", "bottom");
        Element made = newAxis(p, side == "bottom" ? "top"
                               : side == "top"  ? "bottom"
                               : side == "left" ? "right"
                                                : "left");
        made.settings.set("linked-to", Value(Reference{axisId.text()}));
        made.settings.set("formula", "x");
        first->settings.set("opposite", "none");
        insertAxis(*panel, std::move(made));
        return {};
    });
}

} // namespace jointer::figure
