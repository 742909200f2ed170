// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/compose.h"

#include "figure/anchors.h"
#include "figure/kinds.h"
#include "figure/moves.h"

#include <algorithm>
#include <cmath>

namespace jointer::figure {

using namespace draw;

namespace {

constexpr const char* kTogether = "together";
constexpr double kNothing = 1e-6; // mm

struct Placed {
    ElementId id;
    Rect bounds;
    Point by{};
};

double middleX(const Rect& r) {
    return r.x + r.width / 2;
}
double middleY(const Rect& r) {
    return r.y + r.height / 2;
}

// Those that have a place, without what lies within others of them and moves along.
std::vector<Placed> placedOf(const Figure& figure, const Layout& layout,
                             const std::vector<ElementId>& elements) {
    std::vector<Placed> out;
    for (const ElementId id : elements) {
        const auto chain = chainTo(figure.elements, id);
        if (chain.empty() || !canBePlaced(chain.back()->kind)) continue;
        const bool within = std::ranges::any_of(chain, [&](const Element* e) {
            return e->id != id && std::ranges::find(elements, e->id) != elements.end();
        });
        const auto bounds = boundsOf(layout, {id, {}});
        if (!within && bounds) out.push_back({id, *bounds});
    }
    return out;
}

void align(std::vector<Placed>& all, const std::string& how) {
    double left = INFINITY, top = INFINITY, right = -INFINITY, bottom = -INFINITY;
    for (const Placed& p : all) {
        left = std::min(left, p.bounds.x);
        top = std::min(top, p.bounds.y);
        right = std::max(right, p.bounds.right());
        bottom = std::max(bottom, p.bounds.bottom());
    }
    for (Placed& p : all) {
        const Rect& r = p.bounds;
        if (how == "left") p.by.x = left - r.x;
        if (how == "centre") p.by.x = (left + right) / 2 - middleX(r);
        if (how == "right") p.by.x = right - r.right();
        if (how == "top") p.by.y = top - r.y;
        if (how == "middle") p.by.y = (top + bottom) / 2 - middleY(r);
        if (how == "bottom") p.by.y = bottom - r.bottom();
    }
}

void distribute(std::vector<Placed>& all, bool across) {
    const auto begin = [across](const Placed& p) { return across ? p.bounds.x : p.bounds.y; };
    const auto length = [across](const Placed& p) { return across ? p.bounds.width : p.bounds.height; };
    std::ranges::stable_sort(
        all, {}, [across](const Placed& p) { return across ? middleX(p.bounds) : middleY(p.bounds); });
    double taken = 0;
    for (const Placed& p : all) taken += length(p);
    const double whole = begin(all.back()) + length(all.back()) - begin(all.front());
    const double gap = (whole - taken) / static_cast<double>(all.size() - 1);
    double at = begin(all.front());
    for (Placed& p : all) {
        (across ? p.by.x : p.by.y) = at - begin(p);
        at += length(p) + gap;
    }
}

// Plotting areas as large as that of the first; what is pulled at the lower right corner.
std::vector<Change> sized(const Figure& figure, const Layout& layout,
                          const std::vector<ElementId>& elements) {
    std::vector<Change> changes;
    const PanelGeometry* first = nullptr;
    for (const ElementId id : elements) {
        const PanelGeometry* g = layout.panel(id);
        if (!g) continue;
        if (!first) {
            first = g;
            continue;
        }
        const Point by{first->area.width - g->area.width, first->area.height - g->area.height};
        if (std::hypot(by.x, by.y) < kNothing) continue;
        std::ranges::move(changesOf({figure, layout, {id, {}}, Grip::BottomRight}, by),
                          std::back_inserter(changes));
    }
    return changes;
}

Edit setTogether(FigureId figure, std::string name, const std::vector<ElementId>& elements,
                 const Value& value) {
    std::vector<Change> changes;
    for (const ElementId id : elements) changes.push_back({id, kTogether, value});
    return editOf(figure, std::move(name), {}, std::move(changes));
}

} // namespace

const std::vector<Composition>& compositions() {
    static const std::vector<Composition> all = {
        {"left", "Align at the left", "Their left edges in line with the outermost", 2},
        {"centre", "Align in the middle across", "Their middles below each other", 2},
        {"right", "Align at the right", "Their right edges in line with the outermost", 2},
        {"top", "Align at the top", "Their upper edges in line with the outermost", 2},
        {"middle", "Align in the middle down", "Their middles beside each other", 2},
        {"bottom", "Align at the bottom", "Their lower edges in line with the outermost", 2},
        {"across", "Space evenly across", "Equal gaps from left to right; both ends stay", 3},
        {"down", "Space evenly down", "Equal gaps from top to bottom; both ends stay", 3},
        {"size", "Same size", "Plotting areas as large as that of the one selected first", 2}};
    return all;
}

bool canBePlaced(std::string_view kind) {
    return isPanel(kind) || isNote(kind) || kind == "legend" || kind == "results-table";
}

std::optional<Edit> compose(const Figure& figure, const Layout& layout,
                            const std::vector<ElementId>& elements, const std::string& how) {
    const auto what =
        std::ranges::find(compositions(), how, [](const Composition& c) { return std::string(c.key); });
    auto all = placedOf(figure, layout, elements);
    if (what == compositions().end() || all.size() < what->least) return {};
    std::vector<Change> changes;
    if (how == "size")
        changes = sized(figure, layout, elements);
    else if (how == "across" || how == "down")
        distribute(all, how == "across");
    else
        align(all, how);
    for (const Placed& p : all)
        if (std::hypot(p.by.x, p.by.y) > kNothing)
            std::ranges::move(changesOf({figure, layout, {p.id, {}}, Grip::Whole}, p.by),
                              std::back_inserter(changes));
    if (changes.empty()) return {};
    return editOf(figure.id, what->name, {}, std::move(changes));
}

Edit keepTogether(FigureId figure, const std::vector<ElementId>& elements) {
    const std::string name = elements.empty() ? "" : std::ranges::min(elements).text();
    return setTogether(figure, "Keep together", elements, Value(name));
}

Edit letApart(FigureId figure, const std::vector<ElementId>& elements) {
    return setTogether(figure, "Let apart", elements, Value());
}

std::vector<ElementId> togetherWith(const Figure& figure, ElementId element) {
    const Element* own = element ? figure.find(element) : nullptr;
    const std::string name = own ? own->settings.text(kTogether) : "";
    if (name.empty()) return {element};
    std::vector<ElementId> out = {element};
    const auto walk = [&](const std::vector<Element>& elements, auto&& self) -> void {
        for (const Element& e : elements) {
            if (e.id != element && e.settings.text(kTogether) == name) out.push_back(e.id);
            self(e.children, self);
        }
    };
    walk(figure.elements, walk);
    return out;
}

} // namespace jointer::figure
