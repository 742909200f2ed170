// SPDX-License-Identifier: GPL-3.0-or-later
// Changes of all parts of one type at once. Never replace `project.figures` while going through it: what one
// goes through may then be gone.
#pragma once

#include "project/project.h"

namespace jointer {

// The parts after `change(part)` of each; those that stay equal stay shared.
template <class T, class Change> Parts<T> changedEach(Parts<T> parts, Change change) {
    Parts<T> out = parts;
    for (const auto& part : parts) {
        T copy = *part;
        change(copy);
        if (!(copy == *part)) out = out.with(std::move(copy));
    }
    return out;
}

} // namespace jointer
