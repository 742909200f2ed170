// SPDX-License-Identifier: GPL-3.0-or-later
// What the lines and fields of a text would cost, in bits, as prose, as names and as cells of each kind: the
// ground on which hypotheses about its columns are weighed (assess.h).
#pragma once

#include "io/dialect.h"

#include <array>

namespace jointer::io {

// Letters and figures by their entropy, about; the rest are prices of what is rarer than its alternative,
// tuned on generated tables (tests/io/table_generator) and the corpus.
constexpr double kLetter = 5, kFigure = 3.4, kTimeFigure = 2.6, kGap = 2.5, kSeparator = 0.4;
constexpr double kOddCell = 9, kMissing = 3, kYesNo = 2;
constexpr double kShortRow = 5, kLackingField = 3, kLongRow = 14;
constexpr double kInterruption = 7, kRepeatedHeading = 3;
constexpr double kNoHeading = 6, kUnitsLine = 3, kBlankBelowHeading = 3, kBlankInBody = 6;
constexpr double kSurplusName = 1.5; // a name in the heading behind those of the columns
constexpr double kLeadingZero = 3, kBareExponent = 4, kStraySign = 7, kLonelyField = 6, kCommaAbove = 10,
                 kNoBar = 8, kFactAsRow = 8;
constexpr double kTab = 1.5, kMixedTab = 5, kTabs = 6;

enum class Type { Number, Moment, YesNo, Text };
constexpr std::array<double, 4> kTypePrice = {1, 2, 3, 3};

// A field and what it would cost in a column of each type.
struct FieldBits {
    std::array<float, 4> in{};
    bool empty = false, value = false, number = false, missing = false;
};

struct Line {
    bool used = false, comment = false, fact = false; // neither blank nor a rule nor a section
    std::vector<std::string> texts;
    std::vector<FieldBits> fields;
    std::size_t filled = 0; // fields up to the last that is not empty
    double prose = 0, tabs = 0;
    double apart = 0; // as a line of words in fields that is none of the rows
};

// A line cut by a form, separator and decimal mark, and what it costs.
Line lookedAt(std::string_view text, const Dialect& form);

double proseBits(std::string_view text);
std::size_t letters(std::string_view text); // without blanks

bool isProseWord(std::string_view word);    // of sentences, never the name of a column
bool isSentenceWord(std::string_view word); // makes a name of several words a sentence
bool isPlainWord(std::string_view text);    // "missing", "none": markers of missing cells, but names as well
bool isUnitField(const std::string& field); // a unit or an empty place, as lines of units have them

} // namespace jointer::io
