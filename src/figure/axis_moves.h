// SPDX-License-Identifier: GPL-3.0-or-later
// What gestures on an axis mean, for moves.h: its range, what its breaks leave out, how lanes share the
// height.
#pragma once

#include "figure/moves.h"

namespace jointer::figure {

std::vector<GripPlace> axisGrips(const AxisGeometry& axis);
void dragAxis(const Drag& drag, const AxisGeometry& axis, draw::Point byMm, std::vector<Change>& out);

} // namespace jointer::figure
