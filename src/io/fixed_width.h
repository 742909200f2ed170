// SPDX-License-Identifier: GPL-3.0-or-later
// Text whose columns lie at fixed places, also where numbers touch.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace jointer::io {

// Where each column ends, in code points, by the places that are blank in all lines and by the decimal marks
// that stand below each other. Empty where no such borders are found.
std::vector<std::size_t> guessBorders(const std::vector<std::string_view>& lines, char decimal);

// "4,8,8" → 4, 12, 20. Empty for anything else.
std::vector<std::size_t> bordersFromWidths(std::string_view widths);

// Whether a border, other than the last, falls within a word of the line.
bool cutsWords(std::string_view line, const std::vector<std::size_t>& borders);

// The line cut at the borders; the last cell takes the rest.
std::vector<std::string_view> cutAt(std::string_view line, const std::vector<std::size_t>& borders);

} // namespace jointer::io
