// SPDX-License-Identifier: GPL-3.0-or-later
// Texts in rarer forms rewritten for the parser of delimited text: kUnitSeparator between the fields, each
// line in its place, so that line numbers hold.
#pragma once

#include "io/dialect.h"

#include <set>

namespace jointer::io {

// Whether the form has to be rewritten before it is parsed.
bool needsRewriting(const Dialect& dialect);

// Requires: needsRewriting(dialect). Lines above the data are left blank. A text whose variables lie along
// the lines is turned; its first line then holds the first row.
std::string rewritten(std::string_view text, const DialectGuess& guess);

// The labels of the lines of a text whose variables lie along them.
std::vector<std::string> labelsAlongLines(std::string_view text, const Dialect& dialect);

// The text with these lines (from 1) left blank.
std::string withBlankLines(std::string_view text, const std::set<long>& lines);

} // namespace jointer::io
