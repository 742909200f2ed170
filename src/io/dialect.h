// SPDX-License-Identifier: GPL-3.0-or-later
// The dialect of a delimited text: what separates, where headings, units and data stand. Guessed from the
// first lines; every part can be told instead.
#pragma once

#include "describe/settings.h"

#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace jointer::io {

enum class LineKind { Preamble, Comment, Heading, Units, Data, Blank, Unread };

struct Dialect {
    char separator = ','; // ' ' stands for runs of blanks and tabs
    char decimal = '.';
    std::string comment;              // prefix of comment lines; empty: none
    std::vector<std::string> missing; // markers beside the usual ones
    long heading = 0, units = 0;      // lines, from 1; 0: none
    long first = 1;                   // first line of data
    std::size_t columns = 1;
};

struct DialectGuess {
    Dialect dialect;
    std::vector<std::string> names, unitTexts; // of the columns; filled up to dialect.columns
    std::vector<std::pair<std::string, std::string>> metadata;
    std::vector<LineKind> lineKinds; // of the first lines
};

// One line cut into fields; quotes are taken off, doubled quotes inside made single.
struct Field {
    std::string_view text; // refers to the line, or to `unquoted` storage of the caller
    bool quoted = false;
};
void splitFields(std::string_view line, char separator, std::vector<Field>& fields,
                 std::vector<std::string>& storage);

// Lines that go on because of a line break in a quoted field, as one; the places of the others stay empty, so
// that the numbers of lines hold.
std::vector<std::string_view> wholeLines(std::vector<std::string_view> lines);

// The lines of a text without their ends (CRLF, LF, CR).
std::vector<std::string_view> firstLines(std::string_view text, std::size_t most);

// Settings: separator (the character, "tab", "space"), decimal, heading and units ("none" or a line), first,
// comment, missing (comma-separated). What is absent is guessed.
DialectGuess guessDialect(std::string_view text, const Settings& told);

// "Depth (cm)", "Depth [cm]", "Depth / cm" → name and unit.
std::pair<std::string, std::string> nameAndUnit(std::string_view heading);

} // namespace jointer::io
