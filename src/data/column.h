// SPDX-License-Identifier: GPL-3.0-or-later
// A column of a table: what it is called, of what kind it is, and its cells. The cells are shared and never
// changed in place, so that copies of a table cost next to nothing. Thread-safe to read.
#pragma once

#include "base/hash.h"
#include "base/ids.h"

#include <cstdint>
#include <map>
#include <memory>
#include <span>
#include <string>
#include <vector>

namespace jointer {

enum class ColumnKind { Number, WholeNumber, Text, Category, DateTime, Date, TimeOfDay, Duration, Boolean };
enum class CellState : std::uint8_t { Fine, Missing, Below, Above, Unreadable };
enum class Role { None, X, Y, XError, YError, Weight, Resolution, Label, Class, Z, Companion, Component };

// Keys as files and the command line hold them, and back.
std::string_view kindKey(ColumnKind kind);
ColumnKind kindFromKey(std::string_view key);
std::string_view roleKey(Role role);
Role roleFromKey(std::string_view key);
std::string_view roleLabel(Role role); // as chips show it: "x", "± y"

// The cells. Numbers, times (seconds since 1970-01-01 UTC; time of day and durations in seconds) and yes/no
// (1, 0) are in `numbers`; texts in `texts`. A cell that is not Fine holds NaN or an empty text.
struct Cells {
    std::vector<double> numbers;
    std::vector<std::string> texts;
    std::vector<CellState> states;                  // empty: a NaN or an empty text is Missing, all else Fine
    std::map<std::uint32_t, std::string> originals; // row → text of unreadable cells and of limits

    std::size_t size() const { return numbers.empty() ? texts.size() : numbers.size(); }
    CellState state(std::size_t row) const;
    bool operator==(const Cells& other) const; // NaN equals NaN of the same bits
};

// How numbers are shown; it never touches the stored digits.
struct NumberFormat {
    enum class Style { Automatic, Fixed, Scientific, Engineering, Significant };
    Style style = Style::Automatic;
    int digits = 6;
    bool operator==(const NumberFormat&) const = default;
};

struct Column {
    ColumnId id;
    std::string name;
    std::string unit;
    ColumnKind kind = ColumnKind::Number;
    Role role = Role::None; // usual role
    NumberFormat format;
    std::string timePattern; // how times are shown and typed (time_pattern.h); empty: ISO 8601
    std::string comment;
    bool byHand = false; // not read from the table's file
    bool utc = false;    // times that were given with an offset and are held in UTC
    std::string formula; // of a computed column, with columns named 'c12'; its cells are then not stored
    std::shared_ptr<const Cells> cells = std::make_shared<Cells>();
    std::string extra{}; // members of newer versions, kept as JSON

    bool isTime() const {
        return kind == ColumnKind::DateTime || kind == ColumnKind::Date || kind == ColumnKind::TimeOfDay ||
               kind == ColumnKind::Duration;
    }
    bool isNumeric() const { return kind != ColumnKind::Text && kind != ColumnKind::Category; }
    std::span<const double> numbers() const { return cells->numbers; }
    bool operator==(const Column& other) const;
};

Column numberColumn(std::string name, std::string unit, std::vector<double> values);
Column textColumn(std::string name, std::vector<std::string> values);

// The cells at these places, in this order, with their states and texts; a place beyond the end is missing.
Cells arranged(const Cells& cells, bool numeric, const std::vector<std::size_t>& order);

// A cell as the table shows it: number in the column's format, time by its pattern, "–" where missing.
std::string cellText(const Column& column, std::size_t row);

// Numbers shown by themselves stand with their points below each other: the most decimals among the first cells, 0 for
// all that are not so; and a cell with up to two noughts added to have as many.
int commonDecimals(const Column& column);
std::string cellText(const Column& column, std::size_t row, int decimals);
std::string formatNumber(double value, const NumberFormat& format);

Digest digestOf(const Cells& cells);

// The cell without the column's format: times as ISO 8601.
std::string plainCellText(const Column& column, std::size_t row);

// ISO 8601 texts of seconds since 1970-01-01; fractions only where there are any.
std::string isoDateTime(double seconds);
std::string isoDate(double seconds);
std::string isoTimeOfDay(double seconds);

} // namespace jointer
