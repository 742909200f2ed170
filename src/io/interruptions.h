// SPDX-License-Identifier: GPL-3.0-or-later
// What stands between and after the rows of a table and is no row of it: repeated headings, further blocks,
// sections, footers.
#pragma once

#include "base/issue.h"
#include "io/dialect.h"

#include <set>

namespace jointer::io {

struct Interruptions {
    std::set<long> noRows;       // lines that are no rows
    std::vector<long> newBlocks; // lines at which a table of its own begins
    std::vector<Issue> issues;
};

// `strange` are the lines of rows that do not look like the others, in order; lines count from 1 in `text`.
Interruptions findInterruptions(std::string_view text, const DialectGuess& guess,
                                const std::vector<long>& strange);

// Lines below the heading that say the same once more. Cost: one search through the text.
std::vector<long> repeatedLines(std::string_view text, const Dialect& dialect);

// The last lines, where they begin with words and the rows with values: perhaps a footer.
std::vector<long> wordyLastLines(std::string_view text, const DialectGuess& guess);

// Whether the last lines could be a summary (means, totals) of a table of words and numbers.
bool endsInSummary(std::string_view text, const DialectGuess& guess);

} // namespace jointer::io
