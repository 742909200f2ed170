// SPDX-License-Identifier: GPL-3.0-or-later
// Columns of a table of the project as a note.
#pragma once

#include "figure/page/page.h"

namespace jointer::figure {

// At the place, which is one of its corners or edges as the look tells; `caption` stands above, as markup.
void drawTable(Page& page, const Element& element, const Look& look, const draw::TextStyle& text,
               const std::string& caption, draw::Point at);

} // namespace jointer::figure
