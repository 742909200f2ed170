// SPDX-License-Identifier: GPL-3.0-or-later
// For formats without translucency: what is translucent becomes opaque in the colours that one sees.
#pragma once

#include "draw/display_list.h"

namespace jointer::paint {

struct Flattened {
    draw::DisplayList list;
    std::size_t pictures = 0; // layers that had to become pictures of 1200 dpi
};

// On a white page. A translucent area is drawn in its colour on white; what lies behind it is drawn again
// within its outline, in colours mixed with its own. Where that would become too much, all of it becomes a
// picture.
Flattened flattened(const draw::DisplayList& list);

} // namespace jointer::paint
