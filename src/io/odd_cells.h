// SPDX-License-Identifier: GPL-3.0-or-later
// The cells of number columns that did not read as plain numbers: grouped digits, limits, words, identifiers.
#pragma once

#include "io/delimited_parser.h"

#include "base/issue.h"

namespace jointer::io {

// Decides what the odd cells of number columns are. Columns in which too many are words, or that hold
// identifiers, go back to be texts.
class OddCells {
public:
    OddCells(DelimitedParser& parser, const Dialect& dialect)
        : parser_(&parser), d_(&dialect), of_(dialect.columns) {}

    void settle();
    bool isReallyText(std::size_t column, std::string_view name) const;
    void report(const std::vector<std::string>& names, std::vector<Issue>& issues) const;

private:
    struct Count {
        std::size_t words = 0, rounded = 0, leadingZeros = 0;
        Odd firstWord{}, firstRounded{};
    };

    void settle(const Odd& odd);

    DelimitedParser* parser_;
    const Dialect* d_;
    std::vector<Count> of_;
};

// Lines with another number of cells than the table: cut short at the end of the file, or ragged.
void reportRagged(const DelimitedParser& parser, const Dialect& d, bool cutLine, std::vector<Issue>& issues);

} // namespace jointer::io
