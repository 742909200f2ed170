// SPDX-License-Identifier: GPL-3.0-or-later
// What a publisher would send back of artwork and of figures that are shown within: pixels, lines and letters
// as they come out at their size on the page.
#include "draw/revise.h"
#include "figure/artwork.h"
#include "figure/journal.h"
#include "project/figure_edits.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::figure {

using namespace draw;

namespace {

// Small enough for its pixels: freely by its width, in the grid by a factor.
Edit smaller(FigureId figure, const Element& e, const PanelGeometry& g, double times) {
    const auto set = [&](const char* key, Value value) {
        return edits::setElement(figure, e.id, key, std::move(value));
    };
    const std::string place = e.settings.text("place", "grid");
    if (place == "free") return set("area-width", Value(std::floor(10 * g.area.width * times) / 10));
    if (place == "inset") return set("part-width", Value(e.settings.number("part-width", 0.4) * times));
    return edits::together("Make it smaller",
                           {set("scale", Value(std::string("factor"))),
                            set("factor", Value(std::floor(1000 * g.scale * times) / 1000))});
}

} // namespace

std::vector<Finding> artworkFindings(const Project& project, const Figure& figure, const Layout& layout,
                                     const JournalProfile& profile) {
    std::vector<Finding> out;
    for (const Item& item : layout.list.items) {
        const Element* e = item.element ? figure.find(item.element) : nullptr;
        const auto* group = std::get_if<Group>(&item.what);
        const PanelGeometry* g = e && e->kind == "artwork" && group ? layout.panel(e->id) : nullptr;
        if (!g) continue;
        double thinnest = INFINITY, smallest = INFINITY;
        eachItem(group->items, [&](const Item& inner) {
            if (const auto* path = std::get_if<Path>(&inner.what); path && path->stroke && !inner.line)
                if (path->stroke->widthMm > 0) thinnest = std::min(thinnest, path->stroke->widthMm);
            if (const auto* run = std::get_if<TextRun>(&inner.what))
                smallest = std::min(smallest, inner.line ? inner.line->sizePt : run->sizePt / kScripts);
        });
        if (const double pt = thinnest * g->scale / kMmPerPt; pt < profile.smallestLinePt - 1e-3)
            out.push_back(
                {"line-too-thin",
                 fmt::format("Lines of the artwork are {:.2g} pt at this size; at least {:g} pt are wanted.",
                             pt, profile.smallestLinePt),
                 e->id});
        if (const double pt = smallest * g->scale; pt < profile.smallestTextPt - 1e-6)
            out.push_back(
                {"text-too-small",
                 fmt::format("Text of the figure shown within is {:.3g} pt at this size; at least {:g} pt "
                             "are wanted.",
                             pt, profile.smallestTextPt),
                 e->id});
        const auto dpi = resolutionOf(project, layout, *e);
        if (dpi && *dpi < profile.dpi - 0.5)
            out.push_back({"artwork-dpi",
                           fmt::format("The picture has {:.0f} dots per inch at this size; {:g} are wanted.",
                                       *dpi, profile.dpi),
                           e->id, smaller(figure.id, *e, *g, *dpi / profile.dpi), "Make it small enough"});
    }
    return out;
}

} // namespace jointer::figure
