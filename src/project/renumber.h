// SPDX-License-Identifier: GPL-3.0-or-later
// New ids for all parts, as when parts of one project join another.
#pragma once

#include "project/project.h"

namespace jointer {

struct Renumbered {
    Project parts;
    std::map<std::string, std::string> ids; // the new by the old
};

// Every part gets an id from `nextId` on, in the order in which a reader meets them, and all references
// follow; those to what the parts do not hold get the name that `elsewhere` gives, or are dropped. Recipes
// stay as they are.
Renumbered renumbered(const Project& parts, std::uint64_t& nextId,
                      const std::map<std::string, std::string>& elsewhere = {});

} // namespace jointer
