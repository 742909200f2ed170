// SPDX-License-Identifier: GPL-3.0-or-later
// Ticks of axes of time: they follow the calendar from milliseconds to centuries. A label tells what changes
// from one tick to the next; what is common stands once below it, and again where it changes.
#pragma once

#include "figure/scales/scale.h"

namespace jointer::figure {

// Values are seconds since 1970-01-01 UTC, before it too; a typed distance is taken in seconds. Requires: low
// < high, both finite.
std::vector<Tick> timeTicks(const Range& range, const TickWish& wish);

} // namespace jointer::figure
