// SPDX-License-Identifier: GPL-3.0-or-later
// Names, units and remarks of columns from the lines above the data.
#pragma once

#include "io/dialect.h"

namespace jointer::io {

// Finds the lines of headings and units above the data, where they are not told, and takes names and units
// from them. `guess` needs its dialect up to `first`, and room for the names.
void findHeadings(const std::vector<std::string_view>& lines, DialectGuess& guess, const Settings& told);

// Takes names and units from the lines that the dialect names.
void takeHeadings(const std::vector<std::string_view>& lines, DialectGuess& guess, const Settings& told);

// What comments declare of the columns (declared_columns.h) goes before headings that stand in a comment, or
// nowhere; a line of headings gets the units and remarks that it lacks.
void takeDeclared(const std::vector<std::string_view>& lines, DialectGuess& guess);

// The fields of a line in the form of the dialect, without a comment mark before them.
std::vector<std::string> fieldsOfLine(std::string_view line, const Dialect& dialect);

// Whether a line can name as many columns: most of its filled fields are words.
bool isHeadingLine(const std::vector<std::string>& fields, const Dialect& dialect);

} // namespace jointer::io
