// SPDX-License-Identifier: GPL-3.0-or-later
// Pens, colours and paths of a display list as the toolkit has them.
#pragma once

#include "draw/display_list.h"

#include <QColor>
#include <QPainterPath>
#include <QPen>

namespace jointer::paint {

QColor colourOf(draw::Colour colour);
QPen penOf(const draw::Stroke& stroke);
QPainterPath pathOf(const std::vector<draw::Polyline>& lines, bool evenOdd = false);

} // namespace jointer::paint
