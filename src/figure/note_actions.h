// SPDX-License-Identifier: GPL-3.0-or-later
// Notes of all kinds as one action each: put where there is room, and told in another anchor at the same
// place.
#pragma once

#include "figure/layout.h"
#include "project/figure_edits.h"

namespace jointer::figure {

struct NewNote {
    const char *key, *name, *tip;
};
const std::vector<NewNote>&
newNotes(); // "text", "arrow", "line", "bracket", "rectangle", "ellipse", "scale-bar", "table"

// Of a panel, or of the page where none is told, where it hides least; `source`: the analysis or the dataset
// that a text speaks of, or the table that is shown.
Element noteOf(const std::string& key, const Layout& layout, ElementId panel, const std::string& source,
               const std::string& text);

// All points of a note are told in the data, the panel or the page, where they are. Nothing for what is no
// note.
std::optional<Edit> anchorTo(const Figure& figure, const Layout& layout, ElementId note,
                             const std::string& anchor);

} // namespace jointer::figure
