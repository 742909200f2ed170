// SPDX-License-Identifier: GPL-3.0-or-later
// The units that have a name, with their prefixes; for units.cpp.
#pragma once

#include "base/units.h"

namespace jointer {

struct KnownUnit {
    double inBase;
    Dimension dimension;
    bool prefixes = false; // may stand behind k, m, µ …
    double zeroAt = 0;
    const char* shown = nullptr; // where the usual sign is another one
};

// A word without powers; none: it is not known.
std::optional<KnownUnit> knownUnit(std::string_view word);

} // namespace jointer
