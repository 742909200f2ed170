// SPDX-License-Identifier: GPL-3.0-or-later
// One table out of a stretch of text, by a dialect that was guessed or told: cells are parsed, odd ones
// settled, columns get their kinds.
#pragma once

#include "io/delimited_parser.h"
#include "io/interruptions.h"
#include "io/reader.h"

namespace jointer::io {

class OddCells;
struct CellRules;

class TableReading {
public:
    TableReading(std::string_view text, DialectGuess guess, const Settings& told, const Cancellation& stop)
        : text_(text), guess_(std::move(guess)), told_(told), stop_(stop) {}

    // Gives what interrupts the table. Requires: `body` outlives the reading.
    Interruptions parse(std::string_view body);

    // Lines count from 1 in the stretch.
    ReadTable finish(std::vector<Issue>& issues, std::vector<Alternative>& alternatives);

private:
    bool turnIntoTexts(const OddCells& odd);
    Column finishedColumn(std::size_t column, const std::string& name, const CellRules& rules,
                          std::vector<Issue>& issues);
    void takeToldNames();
    bool isDeclaredText(std::size_t column) const; // a header of the file says so
    void dropCutCell(std::vector<Issue>& issues);  // what the file ends within is no value
    std::size_t
    columnsKept() const; // a column without a heading and without a cell is what a separator leaves

    std::string_view text_;
    DialectGuess guess_;
    const Settings& told_;
    const Cancellation& stop_;
    Dialect d_; // of the parsed text
    std::string rewritten_;
    std::optional<DelimitedParser> parser_;
    std::vector<Plan> plan_;
};

} // namespace jointer::io
