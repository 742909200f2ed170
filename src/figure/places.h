// SPDX-License-Identifier: GPL-3.0-or-later
// Looks at a figure that was laid out: where its marks are, and where there is room.
#pragma once

#include "figure/layout.h"

#include <functional>

namespace jointer::figure {

// Symbols, and points along lines, of all marks in panels, in mm.
void forEachPlace(const Layout& layout, const std::function<void(ElementId, const draw::Point&)>& consider);

// Where a note hides the fewest points: of the corners of the first panel that no legend or other note takes,
// as parts of its area from the top left.
draw::Point emptiestCorner(const Layout& layout);

} // namespace jointer::figure
