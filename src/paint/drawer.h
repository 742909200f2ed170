// SPDX-License-Identifier: GPL-3.0-or-later
// Draws the items of a display list with the toolkit's painter: what paint/painter.h is made of.
#pragma once

#include "draw/display_list.h"
#include "paint/painter.h"

namespace jointer::paint {

// 1 unit of the painter's coordinates = 1 mm.
void drawItems(QPainter& painter, const std::vector<draw::Item>& items, Medium medium);

} // namespace jointer::paint
