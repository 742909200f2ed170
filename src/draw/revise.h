// SPDX-License-Identifier: GPL-3.0-or-later
// A display list made into another one before it is written: cut to what is drawn, its text as outlines, in
// grey.
#pragma once

#include "draw/display_list.h"

#include <functional>

namespace jointer::draw {

// What the list blackens on its page; the page where it draws nothing. Letters by their outlines.
Rect inkOf(const DisplayList& list);

// The page cut to what is drawn, with a margin; a hundredth of a millimetre is the unit of its size.
DisplayList trimmed(const DisplayList& list, double marginMm = 0.2);

// Without a first area of no element that covers the page.
DisplayList withoutGround(DisplayList list);

DisplayList moved(const DisplayList& list, Point by);

// Letters as paths.
DisplayList outlined(const DisplayList& list);
Path outlineOf(const TextRun& text);

// By the relative luminance of colours. Source: ITU-R BT.709, weights of linear light.
DisplayList inGrey(const DisplayList& list);
Colour greyOf(Colour colour);

// Every colour another; the opacity of pixels stays.
DisplayList recoloured(const DisplayList& list, const std::function<Colour(Colour)>& change);

// The dashes of a stroke as lines of their own: drawn solid, they are alike on every device. The lines
// themselves where the stroke is solid or would fall into more than a million dashes.
std::vector<Polyline> dashesOf(const std::vector<Polyline>& lines, const Stroke& stroke);

// Every item, those within groups too, after the group.
void eachItem(std::vector<Item>& items, const std::function<void(Item&)>& visit);
void eachItem(const std::vector<Item>& items, const std::function<void(const Item&)>& visit);

} // namespace jointer::draw
