// SPDX-License-Identifier: GPL-3.0-or-later
// Random tables written in random dialects of text, with what a reader has to find in them. Every choice
// comes from the seed; a table that is read wrong can be shrunk to the smallest one that still is.
#pragma once

#include "io/reader.h"

#include <random>
#include <set>
#include <string>
#include <vector>

namespace jointer::test {

enum class CellKind { Number, Text, DateTime, Date, TimeOfDay, YesNo };

struct MadeColumn {
    std::string name, unit;
    CellKind kind = CellKind::Number;
    std::vector<std::string> cells; // with a decimal point, times in the dialect's pattern; empty: missing
    std::vector<double> numbers;    // what they mean; NaN: missing, or a text
};

enum class UnitsIn { Nowhere, Headings, Line, BracketedLine };
enum class Preamble { None, Title, Prose, Facts, CommentedFacts, CommentedProse, FactCells };
enum class Declared { Nowhere, List, Numbered }; // names in comments above a table without headings
enum class Quoting { None, Texts, All };

// Values of `separator` beside characters.
constexpr char kAligned = 'A', kOneBlank = ' ', kRuledPipes = 'P';

struct MadeTable {
    std::vector<MadeColumn> columns;
    std::size_t rows = 0;

    char separator = ',', decimal = '.';
    Quoting quoting = Quoting::None;
    Preamble preamble = Preamble::None;
    std::vector<std::string> preambleLines;
    bool wideFacts = false; // facts in cells have the empty ones of the table behind them
    bool blankAfterPreamble = false, headings = true, commentedHeadings = false, ruleBelow = false;
    Declared declared = Declared::Nowhere;
    UnitsIn units = UnitsIn::Nowhere;
    char unitStyle = '('; // ( [ /
    std::string missing;
    std::size_t repeatEvery = 0;   // headings come again after so many rows; 0: never
    std::size_t commentBefore = 0; // a comment stands before this row; 0: nowhere
    std::string footer;
    bool trailingSeparator = false, padded = false, lastLineEnds = true;
    std::string lineEnd = "\n", encoding = "utf-8";

    bool named() const { return headings || declared != Declared::Nowhere; }
    std::string text() const;             // as UTF-8
    std::string bytes() const;            // in its encoding
    std::set<std::string> warned() const; // codes that a reader may well say of it
};

MadeTable madeTable(unsigned seed);

enum class Outcome { Right, RightButWarned, WrongWarned, WrongSilently };
struct Judged {
    Outcome outcome = Outcome::Right;
    std::string why; // what differs first
};
Judged judged(const MadeTable& table);

// The smallest table found that is judged `outcome` as well.
MadeTable shrunk(MadeTable table, Outcome outcome);

} // namespace jointer::test
