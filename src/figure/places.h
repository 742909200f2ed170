// SPDX-License-Identifier: GPL-3.0-or-later
// Looks at a figure that was laid out: where there is room.
#pragma once

#include "figure/layout.h"

namespace jointer::figure {

// The room that a new note is given, as parts of the width and height of its panel.
inline constexpr draw::Point kNoteShare{0.45, 0.14};

// Where a note hides the fewest points of the first panel, and no legend and no other note; corners before edges
// before the middle. As parts of the way that its box can go, from the top left.
draw::Point emptiestPlace(const Layout& layout);

} // namespace jointer::figure
