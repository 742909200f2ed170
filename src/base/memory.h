// SPDX-License-Identifier: GPL-3.0-or-later
// What the process does with memory that was freed. Pages that come from the system have to be cleared first,
// which takes as long as a step over a million points; so what was freed is kept for the next list.
#pragma once

namespace jointer {

void keepFreedMemory();     // up to 256 MB of it; once, at the start of a program
void giveBackFreedMemory(); // to the system: when nothing was done for a while

} // namespace jointer
