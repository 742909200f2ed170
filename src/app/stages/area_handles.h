// SPDX-License-Identifier: GPL-3.0-or-later
// The handles of areas between limits: a diamond at each limit, on the ground of its peak, and a triangle
// with the name on its top.
#pragma once

#include "analyses/areas/areas.h"
#include "steps/step.h"

namespace jointer::app {

std::vector<steps::Handle> areaHandles(const analyses::AreasDetail& shown, int selected);

} // namespace jointer::app
