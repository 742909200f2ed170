// SPDX-License-Identifier: GPL-3.0-or-later
// Ticks of axes of time: they follow the calendar from milliseconds to centuries. A label tells what changes
// from one tick to the next; what is common stands once below it, and again where it changes.
#pragma once

#include "figure/scale.h"

namespace jointer::figure {

// Values are seconds since 1970-01-01 UTC, before it too. `about` is the number of ticks wished for.
// Requires: scale.low < scale.high, both finite.
std::vector<Tick> timeTicks(const Scale& scale, int about);

} // namespace jointer::figure
