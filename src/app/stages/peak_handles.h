// SPDX-License-Identifier: GPL-3.0-or-later
// The handles of a set of peaks: triangles on their tops, a bar at half height of the selected one, and
// hollow triangles where more could be; and what gestures on them change.
#pragma once

#include "analyses/peaks/peak_edits.h"
#include "steps/step.h"

namespace jointer::app {

std::vector<steps::Handle> peakHandles(const analyses::PeaksDetail& shown, int selected);

// A handle moved to a place; the height is above the baseline there.
void moveHandle(Analysis& peaks, const analyses::PeaksDetail& shown, const steps::Handle& handle, double x,
                double y);

} // namespace jointer::app
