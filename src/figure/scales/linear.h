// SPDX-License-Identifier: GPL-3.0-or-later
// Ticks at equal distances, as several scales take them.
#pragma once

#include "figure/scales/scale.h"

namespace jointer::figure {

// At round values, 1, 2 or 5 times a power of ten apart; none where the range is empty.
std::vector<Tick> evenTicks(const Range& range, const TickWish& wish);

} // namespace jointer::figure
