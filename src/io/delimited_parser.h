// SPDX-License-Identifier: GPL-3.0-or-later
// The body of a delimited text: rows are counted in chunks, then parsed in place into columns of known
// length; chunks run in parallel.
#pragma once

#include "base/parallel.h"
#include "data/column.h"
#include "io/dialect.h"
#include "io/encoding.h"

#include <cstdint>
#include <limits>
#include <string>
#include <string_view>
#include <vector>

namespace jointer::io {

enum class Plan : std::uint8_t { Number, Text };

// A cell that did not read as a plain number, or one that a double may not hold as it is written.
struct Odd {
    std::size_t row;
    std::uint32_t column;
    std::string_view text;
};

struct Chunk {
    const char *begin, *end;
    std::size_t rows = 0, firstRow = 0;
    long lines = 0, firstLine = 0;
    std::vector<Odd> odd;
    std::vector<long> strange; // lines whose first cell or number of cells is not like the others
    std::size_t ragged = 0,
                joined = 0; // lines with too few or too many cells; with further ones joined to the last
    long raggedLine = 0, joinedLine = 0;
};

class DelimitedParser {
public:
    DelimitedParser(std::string_view text, const Dialect& dialect, const Cancellation& stop)
        : text_(text), d_(dialect), stop_(stop),
          separators_(!holdsByte(text, '"')      ? ""
                      : dialect.separator == ' ' ? " \t"
                                                 : std::string(1, dialect.separator)),
          lineEnd_(text.find('\n') == std::string_view::npos ? '\r' : '\n') {}

    void countRows();

    // What each column looks like in a sample from all over the data.
    std::vector<Plan> planFromSample() const;

    void parse(const std::vector<Plan>& plan);

    std::vector<Cells>& cells() { return cells_; }
    const std::vector<Cells>& cells() const { return cells_; }
    const std::vector<Chunk>& chunks() const { return chunks_; }
    std::vector<long> strangeLines() const;
    std::vector<std::uint32_t>& lines() { return lines_; }
    std::size_t rows() const { return rows_; }
    long lineOf(std::size_t row) const {
        return skipsLines_ ? static_cast<long>(lines_[row]) : d_.first + static_cast<long>(row);
    }
    bool endsWithoutLineEnd() const { return !text_.empty() && text_.back() != '\n' && text_.back() != '\r'; }

private:
    const char* startOfData() const;

    // Chunks end at line ends; where `separators_` are given, at such outside of quoted fields.
    void cutChunks(const char* at);

    bool isRow(const char* from, const char* to) const;

    // Counts lines and rows. False when a quoted field goes on over the end of its line.
    bool count(Chunk& c, std::string_view separators) const;

    void parseChunk(Chunk& c);

    // One line into its row. False when it has too few or too many fields.
    bool parseRow(const char* p, const char* to, std::size_t row, Chunk& c);

    // Reads a number, also one in quotes. Returns the place behind it or nullptr.
    const char* numberAt(const char* p, const char* to, double& value) const;

    void setMissing(std::size_t column, std::size_t row) {
        if (plan_[column] == Plan::Number)
            cells_[column].numbers[row] = std::numeric_limits<double>::quiet_NaN();
    }

    // The field at p with its quotes; moves p behind its separator.
    std::string_view rawField(const char*& p, const char* to, bool& more) const;

    // All that is left of the line, without separators at its end.
    std::string_view restOfLine(const char*& p, const char* to, bool& more, Chunk& c) const;

    // The field without its quotes.
    static void unquote(std::string_view field, std::string& into);

    std::string_view text_;
    const Dialect& d_;
    const Cancellation& stop_;
    std::string separators_; // empty: no quoted field holds a line end
    char lineEnd_;
    std::vector<Chunk> chunks_;
    std::vector<Plan> plan_;
    std::vector<Cells> cells_;
    std::vector<double*> numbers_; // of the number columns, for the inner loop
    std::vector<std::uint32_t> lines_;
    std::size_t rows_ = 0;
    bool skipsLines_ = false;
};

} // namespace jointer::io
