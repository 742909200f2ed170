// SPDX-License-Identifier: GPL-3.0-or-later
// The cells of one sheet as readers of spreadsheets find them, and the tables that they hold.
#pragma once

#include "io/reader.h"

namespace jointer::io {

// Cells as texts, row by row: numbers with all digits, moments as ISO 8601, durations as "PT…S".
class Sheet {
public:
    static constexpr std::size_t kMostRows = 1048576, kMostColumns = 16384, kMostCells = 60000000;

    std::string name;
    std::vector<Issue> issues; // lines are rows, columns are letters

    // Rows and columns from 0. False when the sheet is larger than any that is real.
    bool set(std::size_t row, std::size_t column, std::string text);
    std::size_t rows() const { return rows_.size(); }
    std::size_t cells() const { return cells_; }

    // The cells between two corners, as text with kUnitSeparator between them, one line for each row.
    std::string text(std::size_t firstRow, std::size_t lastRow, std::size_t firstColumn,
                     std::size_t lastColumn) const;
    std::size_t firstUsedColumn() const;
    std::string textAt(std::size_t row, std::size_t column) const;
    std::vector<std::string> rowTexts(std::size_t row, std::size_t most) const; // of the first columns
    // The whole sheet, or its blocks where several tables stand side by side.
    std::vector<SheetRegion> regions() const;
    std::size_t columns() const;

private:
    struct Cell {
        std::uint32_t column;
        std::string text;
    };
    std::vector<std::vector<Cell>> rows_; // columns rise
    std::size_t cells_ = 0;
};

// 2 → "C", 27 → "AB".
std::string columnLetters(std::size_t column);

// The column that the letters at the start of a place name ("AB12" → 27); `letters` becomes their number, 0
// where there are none.
std::size_t columnFromLetters(std::string_view place, std::size_t& letters);

// Reads the tables of the sheets that are asked for: told are `sheet` (name or number) and `range`
// ("B3:F40").
Result<ReadResult> tablesOfSheets(std::string format, const std::vector<Sheet>& sheets, const Settings& told,
                                  const Cancellation& stop);

// Text of a serial day number (days since 1899-12-30) in a cell with such a format.
enum class SerialKind { Number, Date, DateTime, Time, Duration };
std::string serialText(double serial, SerialKind kind, bool from1904);

// What a number format code shows: "yyyy-mm-dd hh:mm" is DateTime.
SerialKind kindOfFormat(std::string_view code);

// The options of both readers.
std::vector<Setting> sheetSettings();

} // namespace jointer::io
