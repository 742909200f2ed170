// SPDX-License-Identifier: GPL-3.0-or-later
// How several elements of a page stand to each other: edges in line, equal gaps, equal plotting areas, and
// sets that are selected and moved together.
#pragma once

#include "figure/layout.h"
#include "project/figure_edits.h"

namespace jointer::figure {

struct Composition {
    const char *key, *name, *tip;
    std::size_t least; // elements that it needs
};
const std::vector<Composition>& compositions(); // "left", "centre", …, "across", "down", "size"

// What has a place of its own: panels, artwork, notes, legends, tables.
bool canBePlaced(std::string_view kind);

// The outermost of them stays for edges, the two ends for gaps, the first one for sizes. Nothing: too few of
// them can be placed so, or all stand so already.
std::optional<Edit> compose(const Figure& figure, const Layout& layout,
                            const std::vector<ElementId>& elements, const std::string& how);

// Kept together they are selected by a click on one; the others of its set, itself among them.
Edit keepTogether(FigureId figure, const std::vector<ElementId>& elements);
Edit letApart(FigureId figure, const std::vector<ElementId>& elements);
std::vector<ElementId> togetherWith(const Figure& figure, ElementId element);

} // namespace jointer::figure
