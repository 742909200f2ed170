// SPDX-License-Identifier: GPL-3.0-or-later
// The dialect of a text: what separates, where headings, units and data stand. Guessed from the first lines;
// every part can be told instead.
#pragma once

#include "describe/settings.h"
#include "io/fields.h"
#include "io/preamble.h"
#include "io/unit_text.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace jointer::io {

enum class LineKind { Preamble, Comment, Heading, Units, Data, Blank, Unread };

// How the columns lie in the lines.
enum class Form {
    Separated,  // by a character, or runs of blanks
    Wide,       // by at least two blanks or a tab; single blanks belong to the cells
    Fixed,      // at fixed places
    Piped,      // by bars, with bars around the line too
    KeyValue,   // as key=value in every line
    AlongLines, // each line is a variable: to be turned
};

struct Dialect {
    Form form = Form::Separated;
    char separator = ','; // kBlanks stands for runs of blanks and tabs
    char decimal = '.';
    std::string comment;              // prefix of comment lines; empty: none
    std::vector<std::string> missing; // markers beside the usual ones
    long heading = 0, units = 0;      // lines, from 1; 0: none
    long remarks = 0;                 // line of comments on the columns
    long first = 1;                   // first line of data
    std::size_t columns = 1;
    std::vector<std::size_t> borders; // of the fixed form: where each column ends, in code points
};

// Another reading that explains the lines nearly as well.
struct Alternative {
    std::string words; // "with blanks between 3 columns"
    Settings told;     // that lead to it
};

struct DialectGuess {
    Dialect dialect;
    std::vector<std::string> names, unitTexts, remarkTexts; // of the columns; filled up to dialect.columns
    Metadata metadata;
    std::string section;                   // name of the last "[…]" above the data
    std::vector<LineKind> lineKinds;       // of the first lines
    long groups = 0;                       // line with the upper level of the headings; 0: none
    long declaredFrom = 0, declaredTo = 0; // lines that declare the columns; 0: none
    std::optional<Alternative> near;
    std::vector<std::string> surplusNames; // in the heading, behind those of the columns
    bool decimalIsOpen = false; // every "1,234" could also be grouped digits
    bool commaIsOpen = false;   // every "5,5" in two columns could also be one number
};

// Settings: separator (the character, "tab", "space", "fixed"), decimal, heading and units ("none" or a
// line), first, comment, missing (comma-separated), widths, transpose, key-value. What is absent is guessed.
DialectGuess guessDialect(std::string_view text, const Settings& told);

char separatorFromText(const std::string& text); // "tab", "space", a character

// Whether a field reads as a number, a moment or a limit in the decimal mark: 1 for plain ones, less for
// those that take more good will, 0 for none.
double valueWeight(std::string_view field, char decimal);

} // namespace jointer::io
