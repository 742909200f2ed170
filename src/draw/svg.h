// SPDX-License-Identifier: GPL-3.0-or-later
// A display list as SVG 1.1: exact size in mm, one text for each run at its own place, a group with an id for
// each element, clip paths. Fonts are embedded so that it looks the same everywhere.
#pragma once

#include "draw/credits.h"
#include "draw/display_list.h"

namespace jointer::draw {

struct SvgOptions {
    bool transparent = false;
    bool embedFonts = true;
    Credits credits{};
};

std::string toSvg(const DisplayList& list, const SvgOptions& options = {});

} // namespace jointer::draw
