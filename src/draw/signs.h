// SPDX-License-Identifier: GPL-3.0-or-later
// Signs by the names that TeX gives them, and some plain words beside them.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace jointer::draw {

struct Sign {
    std::string_view name;      // after the backslash
    std::string_view character; // UTF-8
    std::string_view group;     // of a palette; empty: not offered there
    std::string_view words{};   // by which it is searched too
    std::string_view tex{};     // where it is not the name, in mathematics; "!": in text
};

const std::vector<Sign>& signs();
const Sign* signNamed(std::string_view name);
const Sign* signOf(std::string_view character); // the first of those that mean it

// Those whose name or words begin like the text, then those that hold it; all where it is empty.
std::vector<const Sign*> signsLike(std::string_view text);

} // namespace jointer::draw
