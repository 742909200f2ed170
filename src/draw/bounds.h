// SPDX-License-Identifier: GPL-3.0-or-later
// How far drawing items reach, and what differs between two lists: so that only that is painted again.
#pragma once

#include "draw/display_list.h"

namespace jointer::draw {

// With line widths and the sizes of symbols and letters; empty (negative width) where nothing is drawn.
Rect boundsOf(const Item& item);
bool meet(const Rect& a, const Rect& b);

// A rectangle that holds all that one of the lists draws and the other does not; nothing where they are
// alike. Lists of another page or length differ as a whole.
std::optional<Rect> difference(const DisplayList& before, const DisplayList& now);

} // namespace jointer::draw
