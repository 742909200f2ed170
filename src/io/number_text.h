// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers as people and instruments write them: grouped digits, Unicode minus, exponents of every spelling,
// units stuck to them. The reader's inner loop takes plain numbers (cell_text.h); this is for all others.
#pragma once

#include <optional>
#include <string_view>

namespace jointer::io {

struct NumberReading {
    double value = 0;
    bool grouped = false;    // digits stood in groups of three
    bool rounded = false;    // a whole number that a double does not hold exactly
    std::string_view suffix; // what follows the number: a unit, "%"; empty without
};

// Reads the whole text as a number with the decimal mark. Digit groups are divided by the other mark, blanks,
// thin blanks or apostrophes. A suffix is letters or unit signs, directly behind or after a blank.
std::optional<NumberReading> readRichNumber(std::string_view text, char decimal);

// Whether the text is a whole number with a leading zero ("007"), as identifiers are.
bool hasLeadingZero(std::string_view text);

// Words that instruments write where a number was too large ("OVER", "O.L", "####").
bool isOverflowWord(std::string_view text);

// "#DIV/0!" and its kin.
bool isSheetError(std::string_view text);

} // namespace jointer::io
