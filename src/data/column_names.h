// SPDX-License-Identifier: GPL-3.0-or-later
// What the headings of columns have in common.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace jointer {

// Without the number at the end: "count 2" → "count", "x1" → "x"; "2" → "".
std::string nameWithoutNumber(std::string_view name);

// Without a single small letter, a to h, behind a blank, a mark or a digit: "A405 b" → "A405"; else "".
std::string nameWithoutLetter(std::string_view name);

// Of repeats of one thing: "Copper 1", "Copper 2" → "Copper", "A405 a", "A405 b" → "A405"; the first where
// they have no such name in common.
template <class Columns> std::string commonName(const Columns& columns) {
    const std::string& first = (*std::begin(columns))->name;
    if (std::size(columns) < 2) return first;
    for (const auto without : {nameWithoutNumber, nameWithoutLetter}) {
        const std::string common = without(first);
        bool all = !common.empty();
        for (const auto& c : columns) all = all && without(c->name) == common;
        if (all) return common;
    }
    return first;
}

// What all names begin with, up to " · ": "shells · length" and "shells · mass" beside each other are "length" and "mass". Empty:
// they have nothing in common, or are all the same.
std::string sharedBeginning(const std::vector<std::string>& names);

} // namespace jointer
