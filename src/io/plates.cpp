// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/plates.h"

#include "base/text.h"
#include "io/cell_text.h"
#include "io/column_meaning.h"
#include "io/formats/made_table.h"
#include "io/told_settings.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <set>

namespace jointer::io {

namespace {

constexpr std::size_t kMostLines = 2000, kMostBlocks = 60;

struct Size {
    std::size_t rows = 0, columns = 0;
    bool operator==(const Size&) const = default;
    auto operator<=>(const Size&) const = default;
};

constexpr std::array<Size, 7> kUsual = {{{2, 3}, {3, 4}, {4, 6}, {6, 8}, {8, 12}, {16, 24}, {32, 48}}};

// The cells of the text, line by line.
class Grid {
public:
    Grid(std::string_view text, char separator) {
        for (std::string_view line : firstLines(text, kMostLines)) {
            std::vector<std::string> fields;
            if (!isBlankLine(line)) fields = fieldTexts(line, separator);
            // Blanks leave no empty corner before "1 2 3".
            if (separator == kBlanks && fields.size() > 2 && fields[0] == "1" && fields[1] == "2")
                fields.insert(fields.begin(), "");
            lines_.push_back(std::move(fields));
        }
    }
    std::size_t lines() const { return lines_.size(); }
    std::size_t width(std::size_t line) const { return lines_[line].size(); }
    const std::string& at(std::size_t line, std::size_t column) const {
        static const std::string nothing;
        return line < lines_.size() && column < lines_[line].size() ? lines_[line][column] : nothing;
    }
    // The one text of a line within some columns; empty where there are more.
    std::string onlyText(std::size_t line, std::size_t column, std::size_t more) const {
        std::string found;
        for (std::size_t c = column; c <= column + more; ++c) {
            if (!found.empty() && !at(line, c).empty()) return {};
            if (found.empty()) found = at(line, c);
        }
        return found;
    }
    std::size_t filled() const {
        std::size_t n = 0;
        for (const auto& line : lines_)
            n += static_cast<std::size_t>(
                std::ranges::count_if(line, [](const std::string& f) { return !f.empty(); }));
        return n;
    }

private:
    std::vector<std::vector<std::string>> lines_;
};

// A, B … Z, AA, AB …
std::string rowLabel(std::size_t row) {
    std::string label(1, static_cast<char>('A' + row % 26));
    return row < 26 ? label : std::string(1, static_cast<char>('A' + row / 26 - 1)) + label;
}

struct Block {
    std::size_t line = 0, column = 0; // of the corner
    Size size;
    std::string title;
};

// The block whose corner stands here, if there is one.
std::optional<Block> blockAt(const Grid& grid, std::size_t line, std::size_t column) {
    Block b{.line = line, .column = column};
    while (grid.at(line, column + 1 + b.size.columns) == std::to_string(b.size.columns + 1)) ++b.size.columns;
    if (b.size.columns < 3) return std::nullopt;
    while (grid.at(line + 1 + b.size.rows, column) == rowLabel(b.size.rows)) ++b.size.rows;
    if (b.size.rows < 2) return std::nullopt;
    // The title stands in the corner, or above the block.
    b.title = grid.at(line, column);
    for (std::size_t up = 1; b.title.empty() && up <= 2 && up <= line; ++up)
        b.title = grid.onlyText(line - up, column, b.size.columns);
    if (numberOf(b.title, '.')) b.title.clear();
    return b;
}

std::vector<Block> blocksOf(const Grid& grid) {
    std::vector<Block> blocks;
    for (std::size_t line = 0; line < grid.lines(); ++line)
        for (std::size_t column = 0; column + 3 < grid.width(line) && blocks.size() < kMostBlocks; ++column)
            if (grid.at(line, column + 1) == "1")
                if (auto b = blockAt(grid, line, column)) blocks.push_back(std::move(*b));
    return blocks;
}

std::vector<std::string> cellsOf(const Grid& grid, const Block& b) {
    std::vector<std::string> cells;
    for (std::size_t r = 0; r < b.size.rows; ++r)
        for (std::size_t c = 0; c < b.size.columns; ++c)
            cells.push_back(grid.at(b.line + 1 + r, b.column + 1 + c));
    return cells;
}

std::size_t numbersIn(const std::vector<std::string>& cells, char decimal) {
    return static_cast<std::size_t>(
        std::ranges::count_if(cells, [&](const std::string& c) { return numberOf(c, decimal).has_value(); }));
}

bool isNumeric(const std::vector<std::string>& cells) {
    std::size_t filled = 0;
    for (const std::string& c : cells) filled += !isMissing(c, {});
    return filled > 0 && 2 * std::max(numbersIn(cells, '.'), numbersIn(cells, ',')) > filled;
}

// A plate, not a table that happens to be labelled so: of a usual size, or with its layout beside; and there
// is little else.
bool arePlates(const Grid& grid, const std::vector<Block>& blocks) {
    if (blocks.empty()) return false;
    std::size_t wells = 0, words = 0;
    bool usual = false;
    for (const Block& b : blocks) {
        if (b.size != blocks.front().size) return false;
        usual |= std::ranges::find(kUsual, b.size) != kUsual.end();
        const auto cells = cellsOf(grid, b);
        words += !isNumeric(cells);
        wells += static_cast<std::size_t>(
            std::ranges::count_if(cells, [](const std::string& c) { return !c.empty(); }));
        wells += b.size.rows + b.size.columns;
    }
    return (usual || words > 0) && words < blocks.size() && 10 * wells >= 7 * grid.filled();
}

bool meansDose(const std::string& title) {
    const std::string lower = lowerAscii(title);
    return lower.contains("dose") || lower.contains("conc") || lower.contains("amount");
}

// "Layout" says no more than that these are the samples.
std::string columnName(const Block& b, bool numeric) {
    const std::string lower = lowerAscii(b.title);
    if (!numeric && (b.title.empty() || lower.contains("layout") || lower.contains("sample")))
        return "sample";
    if (numeric && (b.title.empty() || lower.starts_with("plate"))) return "reading";
    return b.title;
}

Column blockColumn(const Grid& grid, const Block& b, const CellRules& rules, std::vector<Issue>& issues) {
    auto cells = cellsOf(grid, b);
    const bool numeric = isNumeric(cells);
    auto [name, unit] = nameAndUnit(columnName(b, numeric));
    Column column = textColumn(name, std::move(cells));
    column.unit = unit;
    CellRules own = rules;
    own.decimal = numbersIn(column.cells->texts, ',') > numbersIn(column.cells->texts, '.') ? ',' : '.';
    own.lineOf = [line = b.line, columns = b.size.columns](std::size_t well) {
        return static_cast<long>(line + 2 + well / columns);
    };
    if (numeric) interpretTexts(column, own, issues);
    return column;
}

void giveRoles(Table& table) {
    bool haveX = false;
    for (Column& c : table.columns) {
        c.role = !c.isNumeric() ? Role::Label : Role::Y;
        if (c.isNumeric() && meansDose(c.name) && !haveX) c.role = Role::X, haveX = true;
        if (c.name == "row" || c.name == "column") c.role = Role::None;
    }
}

ReadTable longTable(const Grid& grid, const std::vector<Block>& blocks, const CellRules& rules,
                    std::vector<Issue>& issues) {
    const Size size = blocks.front().size;
    std::vector<std::string> wells, rows;
    std::vector<double> columns;
    for (std::size_t r = 0; r < size.rows; ++r)
        for (std::size_t c = 0; c < size.columns; ++c) {
            wells.push_back(rowLabel(r) + std::to_string(c + 1));
            rows.push_back(rowLabel(r));
            columns.push_back(static_cast<double>(c + 1));
        }
    std::vector<Column> all = {textColumn("well", std::move(wells)), textColumn("row", std::move(rows)),
                               numberColumn("column", "", std::move(columns))};
    // What stood in the wells comes before what was read of it.
    std::vector<std::pair<int, Column>> contents;
    for (const Block& b : blocks) {
        Column c = blockColumn(grid, b, rules, issues);
        contents.emplace_back(!c.isNumeric() ? 0 : meansDose(c.name) ? 1 : 2, std::move(c));
    }
    std::ranges::stable_sort(contents, {}, [](const auto& c) { return c.first; });
    for (auto& [order, column] : contents) all.push_back(std::move(column));
    std::vector<Issue> renamed; // plates of one name are numbered, without a word
    ReadTable t = madeTable("", std::move(all), renamed);
    giveRoles(t.table);
    const Block& first = blocks.front();
    t.headingLine = static_cast<long>(first.line) + 1;
    t.firstDataLine = t.headingLine + 1;
    std::vector<std::uint32_t> lines;
    for (std::size_t well = 0; well < size.rows * size.columns; ++well)
        lines.push_back(static_cast<std::uint32_t>(first.line + 2 + well / size.columns));
    t.table.rows = std::make_shared<Rows>(
        Rows{.ids = {}, .lines = std::move(lines), .firstLine = static_cast<std::uint32_t>(t.firstDataLine)});
    return t;
}

} // namespace

Setting plateSetting() {
    return {.key = "plate",
            .label = "Plate",
            .kind = SettingKind::Choice,
            .help = "Blocks with letters and numbers at their edges become a row for each well.",
            .choices = {{"yes", "a row for each well"}, {"no", "a table as it stands"}},
            .whenEmpty = "automatic"};
}

std::optional<ReadTable> plateTable(std::string_view text, char separator, const Settings& told,
                                    ReadResult& out) {
    const std::string wanted = told.text("plate");
    for (const char* key : {"heading", "first", "units", "names", "transpose", "key-value", "widths"})
        if (wanted != "yes" && told.has(key)) return std::nullopt; // the lines were told
    if (wanted == "no") return std::nullopt;
    const Grid grid(text, separator);
    const auto blocks = blocksOf(grid);
    if (!(wanted == "yes" ? !blocks.empty() : arePlates(grid, blocks))) return std::nullopt;
    std::vector<Block> alike;
    std::ranges::copy_if(blocks, std::back_inserter(alike),
                         [&](const Block& b) { return b.size == blocks.front().size; });
    CellRules rules;
    rules.missing = missingTold(told);
    ReadTable table = longTable(grid, alike, rules, out.issues);
    if (wanted == "yes") return table;
    out.issues.push_back({"plate",
                          fmt::format("Read as a plate of {} × {} wells, a row for each. Choose “a table as "
                                      "it stands” if it is none.",
                                      alike.front().size.rows, alike.front().size.columns),
                          {.line = table.headingLine}});
    Alternative plain{"a table as it stands", {}};
    plain.told.set("plate", "no");
    if (std::ranges::find(out.alternatives, plain.words, &Alternative::words) == out.alternatives.end())
        out.alternatives.push_back(std::move(plain));
    return table;
}

} // namespace jointer::io
