// SPDX-License-Identifier: GPL-3.0-or-later
// What the headings of columns have in common.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace jointer {

// Without the number at the end: "count 2" → "count", "x1" → "x"; "2" → "".
std::string nameWithoutNumber(std::string_view name);

// Of repeats of one thing: "Copper 1", "Copper 2" → "Copper"; the first where they have no such name in common.
template <class Columns> std::string commonName(const Columns& columns) {
    const std::string& first = (*std::begin(columns))->name;
    std::string common = nameWithoutNumber(first);
    for (const auto& c : columns)
        if (nameWithoutNumber(c->name) != common) return first;
    return std::size(columns) < 2 || common.empty() ? first : common;
}

// What all names begin with, up to " · ": "shells · length" and "shells · mass" beside each other are "length" and "mass". Empty:
// they have nothing in common, or are all the same.
std::string sharedBeginning(const std::vector<std::string>& names);

} // namespace jointer
