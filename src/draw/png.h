// SPDX-License-Identifier: GPL-3.0-or-later
// A picture as the bytes of a PNG file, to be embedded.
#pragma once

#include "draw/display_list.h"

namespace jointer::draw {

// Colours with opacity, eight bits each. Source: ISO/IEC 15948.
std::string pngOf(const Picture& picture, double dpi = 0); // 0: it does not tell

} // namespace jointer::draw
