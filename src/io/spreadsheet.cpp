// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/spreadsheet.h"

#include "base/text.h"
#include "io/cell_text.h"
#include "io/fields.h"
#include "io/plates.h"
#include "io/text_tables.h"
#include "io/told_settings.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::io {

namespace {

constexpr char kLineBreak = '\x1E'; // stands for line breaks within cells

void appendCell(std::string& out, std::string_view text) {
    const bool quoted = text.starts_with('"');
    if (quoted) out += '"';
    for (char c : text) {
        if (c == '\r') continue;
        out += c == '\n' ? kLineBreak : c == kUnitSeparator ? ' ' : c;
        if (c == '"' && quoted) out += '"';
    }
    if (quoted) out += '"';
}

struct Corner {
    std::size_t row, column;
};

// "B3"
std::optional<Corner> cornerOf(std::string_view text) {
    std::size_t at = 0;
    const std::size_t column = columnFromLetters(text, at);
    const auto row = parseNumber(text.substr(at));
    if (at == 0 || !row || *row < 1 || *row > 2e6) return std::nullopt;
    return Corner{static_cast<std::size_t>(*row) - 1, column};
}

void restoreBreaks(Table& table) {
    auto restored = [](std::string text) {
        std::ranges::replace(text, kLineBreak, '\n');
        return text;
    };
    for (Column& c : table.columns) {
        std::ranges::replace(c.name, kLineBreak, ' ');
        if (std::ranges::none_of(c.cells->texts,
                                 [](const std::string& t) { return t.find(kLineBreak) != t.npos; }))
            continue;
        Cells cells = *c.cells;
        for (std::string& t : cells.texts) t = restored(std::move(t));
        c.cells = std::make_shared<Cells>(std::move(cells));
    }
}

bool isWanted(const Sheet& sheet, std::size_t index, const std::string& wanted) {
    if (wanted.empty() || sheet.name == wanted) return true;
    const auto number = parseNumber(wanted);
    return number && *number == static_cast<double>(index + 1);
}

} // namespace

bool Sheet::set(std::size_t row, std::size_t column, std::string text) {
    if (row >= kMostRows || column >= kMostColumns || cells_ >= kMostCells) return false;
    if (rows_.size() <= row) rows_.resize(row + 1);
    auto& cells = rows_[row];
    ++cells_;
    if (cells.empty() || cells.back().column < column) {
        cells.push_back({static_cast<std::uint32_t>(column), std::move(text)});
        return true;
    }
    const auto at = std::ranges::lower_bound(cells, column, {}, [](const Cell& c) { return c.column; });
    if (at != cells.end() && at->column == column)
        at->text = std::move(text);
    else
        cells.insert(at, {static_cast<std::uint32_t>(column), std::move(text)});
    return true;
}

std::size_t Sheet::columns() const {
    std::size_t n = 0;
    for (const auto& row : rows_)
        if (!row.empty()) n = std::max<std::size_t>(n, row.back().column + 1);
    return n;
}

std::size_t Sheet::firstUsedColumn() const {
    std::size_t first = kMostColumns;
    for (const auto& row : rows_)
        if (!row.empty()) first = std::min<std::size_t>(first, row.front().column);
    return first == kMostColumns ? 0 : first;
}

std::string Sheet::text(std::size_t firstRow, std::size_t lastRow, std::size_t firstColumn,
                        std::size_t lastColumn) const {
    std::string out;
    for (std::size_t row = 0; row < rows_.size() && row <= lastRow; ++row) {
        if (row >= firstRow && !rows_[row].empty()) {
            std::size_t column = firstColumn;
            bool any = false;
            for (const Cell& cell : rows_[row]) {
                if (cell.column < firstColumn || cell.column > lastColumn) continue;
                out.append(cell.column - column, kUnitSeparator);
                column = cell.column;
                appendCell(out, cell.text);
                any = true;
            }
            if (any) out.append(lastColumn - column, kUnitSeparator); // every row has all its cells
        }
        out += '\n';
    }
    return out;
}

std::string columnLetters(std::size_t column) {
    std::string out;
    for (++column; column > 0; column = (column - 1) / 26)
        out.insert(out.begin(), static_cast<char>('A' + (column - 1) % 26));
    return out;
}

std::size_t columnFromLetters(std::string_view place, std::size_t& letters) {
    std::size_t column = 0;
    for (letters = 0; letters < std::min<std::size_t>(place.size(), 4); ++letters) {
        const int letter = (place[letters] | 0x20) - 'a';
        if (letter < 0 || letter > 25) break;
        column = column * 26 + static_cast<std::size_t>(letter) + 1;
    }
    return letters == 0 ? 0 : column - 1;
}

namespace {

constexpr std::size_t kPreviewRows = 400, kPreviewColumns = 200;

std::string placeName(const SheetRegion& r) {
    return columnLetters(r.firstColumn) + std::to_string(r.firstRow + 1) + ":" + columnLetters(r.lastColumn) +
           std::to_string(r.lastRow + 1);
}

// "B3:F40", or "B3:F" down to the last row.
Result<SheetRegion> regionTold(const std::string& range) {
    const auto corners = split(range, ':');
    const auto a = cornerOf(trimmed(corners[0])),
               b = corners.size() == 2 ? cornerOf(trimmed(corners[1])) : std::nullopt;
    std::size_t letters = 0;
    const std::string_view end = corners.size() == 2 ? trimmed(corners[1]) : std::string_view();
    const std::size_t column = columnFromLetters(end, letters);
    if (a && !b && letters > 0 && letters == end.size())
        return SheetRegion{0, a->row, std::min(a->column, column), Sheet::kMostRows,
                           std::max(a->column, column)};
    if (!a || !b)
        return failure("range", fmt::format("“{}” is no range of cells; write it like B3:F40.", range));
    return SheetRegion{0, std::min(a->row, b->row), std::min(a->column, b->column), std::max(a->row, b->row),
                       std::max(a->column, b->column)};
}

SheetPreview previewOf(const Sheet& sheet) {
    SheetPreview preview{sheet.name, {}};
    for (std::size_t row = 0; row < std::min(sheet.rows(), kPreviewRows); ++row)
        preview.rows.push_back(sheet.rowTexts(row, kPreviewColumns));
    return preview;
}

} // namespace

// Blocks side by side are parted by empty columns. They are tables of their own where they begin or end at
// different rows, or begin with the same heading; else an empty column is only a gap in one table.
std::vector<SheetRegion> Sheet::regions() const {
    struct Extent {
        std::size_t first = kMostRows, last = 0;
        bool used = false;
    };
    std::vector<Extent> extents(columns());
    for (std::size_t row = 0; row < rows_.size(); ++row)
        for (const Cell& cell : rows_[row]) {
            Extent& e = extents[cell.column];
            e.first = std::min(e.first, row);
            e.last = row;
            e.used = true;
        }
    std::vector<SheetRegion> blocks;
    for (std::size_t c = 0; c < extents.size(); ++c) {
        if (!extents[c].used) continue;
        if (c == 0 || !extents[c - 1].used) blocks.push_back({0, extents[c].first, c, extents[c].last, c});
        SheetRegion& b = blocks.back();
        b.lastColumn = c;
        b.firstRow = std::min(b.firstRow, extents[c].first);
        b.lastRow = std::max(b.lastRow, extents[c].last);
    }
    auto headOf = [&](const SheetRegion& b) { return textAt(b.firstRow, b.firstColumn); };
    const bool apart =
        blocks.size() > 1 && blocks.size() <= 50 && std::ranges::all_of(blocks, [&](const SheetRegion& b) {
            const bool alone = b.firstRow != blocks[0].firstRow || b.lastRow != blocks[0].lastRow;
            const bool again = headOf(b) == headOf(blocks[0]);
            return b.lastRow > b.firstRow && (&b == &blocks[0] || alone || again);
        });
    if (apart) return blocks;
    return {{0, 0, firstUsedColumn(), kMostRows, kMostColumns}};
}

std::string Sheet::textAt(std::size_t row, std::size_t column) const {
    if (row >= rows_.size()) return {};
    const auto at = std::ranges::lower_bound(rows_[row], column, {}, &Cell::column);
    return at != rows_[row].end() && at->column == column ? at->text : std::string();
}

std::vector<std::string> Sheet::rowTexts(std::size_t row, std::size_t most) const {
    std::vector<std::string> texts;
    for (const Cell& cell : rows_[row]) {
        if (cell.column >= most) break;
        texts.resize(cell.column + 1);
        texts[cell.column] = cell.text;
    }
    return texts;
}

namespace {

// A column between others that holds nothing at all is a gap.
void dropGaps(Table& table) {
    auto isGap = [](const Column& c) {
        const bool unnamed = c.name.starts_with("column ") && c.unit.empty();
        for (std::size_t row = 0; unnamed && row < c.cells->size(); ++row)
            if (c.cells->state(row) != CellState::Missing) return false;
        return unnamed;
    };
    if (std::ranges::count_if(table.columns, isGap) < std::ssize(table.columns))
        std::erase_if(table.columns, isGap);
}

// Reads one region of a sheet; adds its tables, or nothing where it holds none.
Result<void> readRegion(const Sheet& sheet, SheetRegion region, bool one, const Settings& told,
                        const Cancellation& stop, ReadResult& out) {
    const std::size_t columns = sheet.columns();
    if (columns == 0 || region.firstColumn >= columns) return {};
    region.lastColumn = std::min(region.lastColumn, columns - 1);
    const std::string text =
        sheet.text(region.firstRow, region.lastRow, region.firstColumn, region.lastColumn);
    if (text.find_first_not_of(" \n\x1F") == std::string::npos) return {};
    Settings how = told;
    how.set("separator", Value(std::string(1, kUnitSeparator)));
    how.set("decimal", ".");
    if (!how.has("comment")) how.set("comment", "");
    ReadResult read;
    if (auto good = readTables(text, how, stop, read); !good) return std::unexpected(good.error());
    region.lastRow = std::min(region.lastRow, sheet.rows() - 1);
    region.lineKinds = read.lineKinds;
    for (ReadTable& t : read.tables) {
        restoreBreaks(t.table);
        dropGaps(t.table);
        std::string name = one ? sheet.name : sheet.name + ", " + placeName(region);
        if (read.tables.size() > 1) name += ", " + t.table.name;
        t.table.name = std::move(name);
        t.region = region;
        out.tables.push_back(std::move(t));
    }
    if (out.tables.size() == read.tables.size()) out.dialect = read.dialect;
    std::ranges::move(read.metadata, std::back_inserter(out.metadata));
    std::ranges::move(read.issues, std::back_inserter(out.issues));
    std::ranges::move(read.alternatives, std::back_inserter(out.alternatives));
    return {};
}

constexpr std::size_t kMostPlateRows = 2000;

// A sheet of microplates is read as one table.
bool takePlate(const Sheet& sheet, std::size_t index, const Settings& told, ReadResult& out) {
    if (sheet.columns() == 0) return false;
    SheetRegion region{index, 0, sheet.firstUsedColumn(), sheet.rows() - 1, sheet.columns() - 1};
    const std::string text =
        sheet.text(0, std::min(region.lastRow, kMostPlateRows), region.firstColumn, region.lastColumn);
    auto plate = plateTable(text, kUnitSeparator, told, out);
    if (!plate) return false;
    restoreBreaks(plate->table);
    plate->table.name = sheet.name;
    plate->region = std::move(region);
    out.tables.push_back(std::move(*plate));
    return true;
}

} // namespace

Result<ReadResult> tablesOfSheets(std::string format, const std::vector<Sheet>& sheets, const Settings& told,
                                  const Cancellation& stop) {
    ReadResult out{.format = std::move(format)};
    const std::string wanted = told.text("sheet"), range = told.text("range");
    std::optional<SheetRegion> only;
    if (!range.empty()) {
        const auto region = regionTold(range);
        if (!region) return std::unexpected(region.error());
        only = *region;
    }
    bool found = false;
    for (std::size_t i = 0; i < sheets.size(); ++i) {
        const Sheet& sheet = sheets[i];
        out.sheets.push_back(previewOf(sheet));
        if (!isWanted(sheet, i, wanted)) continue;
        found = true;
        std::ranges::copy(sheet.issues, std::back_inserter(out.issues));
        if (!only && takePlate(sheet, i, told, out)) continue;
        const auto regions = only ? std::vector{*only} : sheet.regions();
        for (SheetRegion region : regions) {
            region.sheet = i;
            if (auto good = readRegion(sheet, region, regions.size() == 1, told, stop, out); !good)
                return std::unexpected(good.error());
        }
    }
    if (!found) {
        std::vector<std::string> names;
        for (const Sheet& s : sheets) names.push_back("“" + s.name + "”");
        return failure("no-sheet",
                       fmt::format("There is no sheet “{}”; there are {}.", wanted, joined(names, ", ")));
    }
    if (out.tables.empty()) return failure("empty-file", "The sheets hold no cells.");
    return out;
}

std::vector<Setting> sheetSettings() {
    std::vector<Setting> all = {
        textSetting("sheet", "Sheet", "Name or number of the sheet; empty for all."),
        textSetting("range", "Cells", "Cells from corner to corner, such as B3:F40, or B3:F to the last row.")};
    std::ranges::move(placesOfTable("row"), std::back_inserter(all));
    all.push_back(missingSetting());
    all.push_back(plateSetting());
    return all;
}

} // namespace jointer::io
