// SPDX-License-Identifier: GPL-3.0-or-later
// The same data as another kind of mark: points become a line, bars become boxes.
#pragma once

#include "figure/marks/mark.h"
#include "project/figure_edits.h"

namespace jointer::figure {

// The kinds that show what this mark shows, itself among them, in the order of the catalogue; empty: it is no
// mark, or shows no data.
std::vector<const MarkKind*> kindsInPlaceOf(const Element& mark);

// Looks that the new kind has too are kept. Marks that cannot be of the kind stay as they are.
Edit drawAs(FigureId figure, std::vector<ElementId> marks, std::string kind);

} // namespace jointer::figure
