// SPDX-License-Identifier: GPL-3.0-or-later
// The references between the parts of a project, found by one walker: removal, copying and recipes go by it.
// A part, a step, a column or an element of a figure is named by the text of its id ("d3"); the letters of
// the types differ. Thread-safe: projects are values.
#pragma once

#include "project/project.h"

#include <functional>
#include <set>

namespace jointer {

struct Link {
    std::string from; // what holds the reference
    std::string to;   // what it names
    // The holder has no meaning without it: a dataset without its table, a mark without its source. Others
    // are dropped when what they name goes.
    bool needed = false;
};

void eachReference(const Project& project, const std::function<void(const Link&)>& visit);

// The project with other names in its references; `other` gives the new one, empty: none. Entries of lists
// without a name are taken out; formulas keep what would be empty.
Project withReferences(const Project& project, const std::function<std::string(const Link&)>& other);

// The project without these and all that needs them, and without artwork that nothing else shows. Other
// references to what goes are dropped.
Project without(const Project& project, std::set<std::string> ids);

} // namespace jointer
