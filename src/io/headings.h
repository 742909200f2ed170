// SPDX-License-Identifier: GPL-3.0-or-later
// Names and units of columns from the lines above the data.
#pragma once

#include "io/dialect.h"

namespace jointer::io {

// Finds the lines of headings and units above the data, where they are not told, and takes names and units
// from them. `guess` needs its dialect up to `first`, and room for the names.
void findHeadings(const std::vector<std::string_view>& lines, DialectGuess& guess, const Settings& told);

bool isBlankLine(std::string_view line);
bool isComment(std::string_view line, std::string_view prefix);
std::string_view withoutComment(std::string_view line,
                                std::string_view prefix); // and without blanks around it

} // namespace jointer::io
