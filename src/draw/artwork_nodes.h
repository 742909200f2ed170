// SPDX-License-Identifier: GPL-3.0-or-later
// Elements of an SVG drawing: what their attributes tell.
#pragma once

#include "draw/artwork_fill.h"

#include <pugixml.hpp>

namespace jointer::draw::svg {

using Node = pugi::xml_node;

double attribute(Node node, const char* name);       // 0 where there is none
std::string_view linkOf(Node node);                  // what it uses
std::string propertyOf(Node node, const char* name); // an attribute, or within "style"
std::vector<Polyline> rectangleOf(Node node, const Matrix& matrix);
std::optional<Gradient> gradientOf(Node node); // in coordinates of the drawing; others: nothing

} // namespace jointer::draw::svg
