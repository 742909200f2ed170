// SPDX-License-Identifier: GPL-3.0-or-later
// Lines and their fields, for guesses from the first lines of a text. The reader's inner loop has its own
// (delimited_parser.h).
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace jointer::io {

// Separators beside characters: runs of blanks and tabs, and such of at least two blanks.
constexpr char kBlanks = ' ', kWideBlanks = '\x02';
// Stands between the fields of a text that was rewritten (canonical.h).
constexpr char kUnitSeparator = '\x1F';

struct Field {
    std::string_view text; // refers to the line, or to `unquoted` storage of the caller
    bool quoted = false;
};

// One line cut into fields; quotes are taken off, doubled quotes inside made single.
void splitFields(std::string_view line, char separator, std::vector<Field>& fields,
                 std::vector<std::string>& storage);

// The same as texts without blanks around them.
std::vector<std::string> fieldTexts(std::string_view line, char separator);

// Lines that go on because of a line break in a quoted field, as one; the places of the others stay empty, so
// that the numbers of lines hold.
std::vector<std::string_view> wholeLines(std::vector<std::string_view> lines);

// The lines of a text without their ends (CRLF, LF, CR).
std::vector<std::string_view> firstLines(std::string_view text, std::size_t most);
std::vector<std::string_view> allLines(std::string_view text);

bool isBlankLine(std::string_view line);
bool isComment(std::string_view line, std::string_view prefix);
std::string_view withoutComment(std::string_view line,
                                std::string_view prefix); // and without blanks around it

// "-----", "+----+----+", "|---|:--:|", "====": a line that only rules.
bool isRuleLine(std::string_view line);

// The name of a section: "[Data]"; empty otherwise.
std::string_view sectionName(std::string_view line);

} // namespace jointer::io
