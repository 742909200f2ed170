// SPDX-License-Identifier: GPL-3.0-or-later
// Delimited text. The dialect is guessed from the first lines (dialect.h); then one pass counts rows in
// chunks and a second parses them in place into columns of known length, both in parallel.
#include "base/text.h"
#include "io/cell_text.h"
#include "io/column_meaning.h"
#include "io/delimited_parser.h"
#include "io/encoding.h"
#include "io/reader.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <limits>

namespace jointer::io {

namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();
constexpr std::size_t kMostColumns = 20000;

std::string_view withoutQuotes(std::string_view t) {
    return t.size() >= 2 && t.front() == '"' && t.back() == '"' ? t.substr(1, t.size() - 2) : t;
}

// Decides what the odd cells of number columns are. Columns in which too many are words go back to be texts.
class OddCells {
public:
    OddCells(DelimitedParser& parser, const Dialect& dialect)
        : parser_(&parser), d_(&dialect), words_(dialect.columns, 0), firstWord_(dialect.columns) {}

    void settle() {
        for (const Chunk& c : parser_->chunks())
            for (const Odd& odd : c.odd) settle(odd);
    }

    bool isReallyText(std::size_t column) const {
        const Cells& cells = parser_->cells()[column];
        if (words_[column] == 0 || cells.numbers.empty()) return false;
        const auto numbers = static_cast<std::size_t>(
            std::ranges::count_if(cells.numbers, [](double v) { return !std::isnan(v); }));
        return 2 * words_[column] > numbers;
    }

    void report(const std::vector<std::string>& names, std::vector<Issue>& issues) const {
        for (std::size_t c = 0; c < d_->columns; ++c) {
            if (words_[c] == 0 || parser_->cells()[c].numbers.empty()) continue;
            const std::string more =
                words_[c] == 1 ? ""
                               : fmt::format(" The same holds for {} in this column.",
                                             counted(static_cast<long long>(words_[c]) - 1, "further cell"));
            issues.push_back(
                {"unparsed-cells",
                 fmt::format("“{}” is not a number. Taken as missing.{}", firstWord_[c].text, more),
                 {.line = parser_->lineOf(firstWord_[c].row), .column = names[c]}});
        }
    }

private:
    void settle(const Odd& odd) {
        Cells& cells = parser_->cells()[odd.column];
        const std::string_view text = withoutQuotes(odd.text);
        if (isMissing(text, d_->missing)) return;
        if (const auto number = numberOf(text, d_->decimal)) return void(cells.numbers[odd.row] = *number);
        if (cells.states.empty()) {
            cells.states.resize(parser_->rows());
            for (std::size_t i = 0; i < parser_->rows(); ++i)
                cells.states[i] = std::isnan(cells.numbers[i]) ? CellState::Missing : CellState::Fine;
        }
        const auto limit = limitOf(text, d_->decimal);
        cells.states[odd.row] = limit ? limit->side : CellState::Unreadable;
        cells.originals[static_cast<std::uint32_t>(odd.row)] = std::string(text);
        if (!limit && words_[odd.column]++ == 0) firstWord_[odd.column] = odd;
    }

    DelimitedParser* parser_;
    const Dialect* d_;
    std::vector<std::size_t> words_;
    std::vector<Odd> firstWord_;
};

// Cells that were settled as numbers after their row was marked keep a Fine state.
void refreshStates(Cells& cells) {
    for (std::size_t i = 0; i < cells.states.size(); ++i)
        if (cells.states[i] == CellState::Missing && !std::isnan(cells.numbers[i]))
            cells.states[i] = CellState::Fine;
}

// Markers of missing values that are numbers themselves, such as -999.
void dropNumericMarkers(Cells& cells, const Dialect& d) {
    for (const std::string& marker : d.missing) {
        const auto value = numberOf(marker, d.decimal);
        if (value) std::ranges::replace(cells.numbers, *value, kNaN);
    }
}

bool isEmptyColumn(const Column& c) {
    return std::ranges::all_of(c.cells->numbers, [](double v) { return std::isnan(v); }) &&
           std::ranges::all_of(c.cells->texts, [](const std::string& t) { return t.empty(); }) &&
           c.cells->originals.empty();
}

// A column without a heading and without a cell is what a trailing separator leaves.
void dropTrailingColumn(Table& table, const DialectGuess& guess) {
    if (table.columns.size() > 1 && guess.names.back().empty() && isEmptyColumn(table.columns.back()))
        table.columns.pop_back();
}

void reportRagged(const DelimitedParser& parser, const Dialect& d, ReadResult& out) {
    std::size_t ragged = 0;
    long line = 0;
    for (const Chunk& c : parser.chunks()) {
        if (ragged == 0 && c.ragged > 0) line = c.raggedLine;
        ragged += c.ragged;
    }
    if (ragged == 0) return;
    const bool onlyLast = ragged == 1 && parser.rows() > 1 && line == parser.lineOf(parser.rows() - 1) &&
                          parser.endsWithoutLineEnd();
    if (onlyLast)
        out.issues.push_back({"truncated-last-line",
                              "The last line is cut short: its missing cells are empty.",
                              {.line = line}});
    else
        out.issues.push_back(
            {"ragged-rows",
             fmt::format("{} another number of cells than the {} of the table, first here. Missing cells are "
                         "empty, further ones left out.",
                         ragged == 1 ? "1 line has" : fmt::format("{} lines have", ragged), d.columns),
             {.line = line}});
}

Result<ReadResult> readDelimited(std::string_view bytes, const Settings& told, const Cancellation& stop) {
    DecodedText decoded;
    if (auto good = decode(bytes, told.text("encoding"), decoded); !good)
        return std::unexpected(good.error());
    if (decoded.text.find_first_not_of(std::string_view(" \t\r\n\v\f\0\x1A", 8)) == std::string_view::npos)
        return failure("empty-file", "The file holds nothing but blanks.");

    ReadResult out{.format = "delimited", .encoding = decoded.encoding};
    DialectGuess guess = guessDialect(decoded.text, told);
    if (guess.dialect.columns > kMostColumns)
        return failure("too-many-columns",
                       fmt::format("A line has {} fields; at most {} can be read. Is the separator right?",
                                   guess.dialect.columns, kMostColumns));
    if (holdsByte(decoded.text, '\0'))
        out.issues.push_back({"nul-bytes", "The file holds NUL bytes; they are read as blanks.", {}});

    DelimitedParser parser(decoded.text, guess.dialect, stop);
    parser.countRows();
    std::vector<Plan> plan = parser.planFromSample();
    parser.parse(plan);
    auto settle = [&] {
        OddCells odd(parser, guess.dialect);
        odd.settle();
        return odd;
    };
    OddCells odd = settle();
    bool changed = false;
    for (std::size_t c = 0; c < plan.size(); ++c)
        if (odd.isReallyText(c)) plan[c] = Plan::Text, changed = true;
    if (changed) {
        parser.parse(plan);
        odd = settle();
    }
    if (stop.stop_requested()) return failure("stopped", "Reading was stopped.");

    const bool headed = guess.dialect.heading > 0;
    std::vector<std::string> names = guess.names;
    makeNamesUnique(names, out.issues);
    odd.report(names, out.issues);
    reportRagged(parser, guess.dialect, out);

    ReadTable t{.headingLine = guess.dialect.heading,
                .unitsLine = guess.dialect.units,
                .firstDataLine = guess.dialect.first};
    for (std::size_t c = 0; c < plan.size(); ++c) {
        Column column{.name = names[c],
                      .unit = guess.unitTexts[c],
                      .kind = plan[c] == Plan::Number ? ColumnKind::Number : ColumnKind::Text};
        dropNumericMarkers(parser.cells()[c], guess.dialect);
        refreshStates(parser.cells()[c]);
        column.cells = std::make_shared<Cells>(std::move(parser.cells()[c]));
        if (column.kind == ColumnKind::Text) interpretMoments(column, guess.dialect.missing);
        t.table.columns.push_back(std::move(column));
    }
    if (headed || plan.size() > 1) dropTrailingColumn(t.table, guess);
    suggestRoles(t.table);
    t.table.rows = std::make_shared<Rows>(Rows{.ids = {},
                                               .lines = std::move(parser.lines()),
                                               .firstLine = static_cast<std::uint32_t>(guess.dialect.first)});
    out.dialect = guess.dialect;
    out.metadata = guess.metadata;
    out.lineKinds = guess.lineKinds;
    for (const Issue& issue : out.issues)
        if (issue.place.line > 0 && static_cast<std::size_t>(issue.place.line) <= out.lineKinds.size() &&
            issue.code == "unparsed-cells")
            out.lineKinds[static_cast<std::size_t>(issue.place.line) - 1] = LineKind::Unread;
    out.tables.push_back(std::move(t));
    return out;
}

} // namespace

ReaderKind delimitedReader() {
    return {
        .info = {.key = "delimited",
                 .name = "Delimited text",
                 .purpose = "Columns of numbers and words in a text file, whatever separates them",
                 .settings = {{.key = "separator",
                               .label = "Separator",
                               .kind = SettingKind::Choice,
                               .help = "What stands between the columns.",
                               .choices = {{",", "comma"},
                                           {";", "semicolon"},
                                           {"tab", "tab"},
                                           {"space", "blanks"},
                                           {"|", "bar"}}},
                              {.key = "decimal",
                               .label = "Decimals",
                               .kind = SettingKind::Choice,
                               .help = "The decimal mark of the numbers.",
                               .choices = {{".", "point"}, {",", "comma"}}},
                              {.key = "heading",
                               .label = "Headings",
                               .kind = SettingKind::WholeNumber,
                               .help = "Line with the names of the columns; 0 for none.",
                               .lowest = 0,
                               .highest = 1e9},
                              {.key = "units",
                               .label = "Units",
                               .kind = SettingKind::WholeNumber,
                               .help = "Line with the units of the columns; 0 for none.",
                               .lowest = 0,
                               .highest = 1e9},
                              {.key = "first",
                               .label = "Data from",
                               .kind = SettingKind::WholeNumber,
                               .help = "First line of the data.",
                               .lowest = 1,
                               .highest = 1e9},
                              {.key = "comment",
                               .label = "Comments",
                               .kind = SettingKind::Text,
                               .help = "What lines to be skipped begin with."},
                              {.key = "missing",
                               .label = "Missing",
                               .kind = SettingKind::Text,
                               .help =
                                   "Further texts that stand for a missing value, with commas between them."},
                              {.key = "encoding",
                               .label = "Text as",
                               .kind = SettingKind::Choice,
                               .help = "How letters beyond ASCII are written.",
                               .choices = {{"utf-8", "UTF-8"},
                                           {"utf-16le", "UTF-16 LE"},
                                           {"utf-16be", "UTF-16 BE"},
                                           {"windows-1252", "Windows-1252"},
                                           {"iso-8859-1", "Latin-1"}}}}},
        .endings = {"csv", "tsv", "txt", "dat", "asc", "prn"},
        .recognise = [](std::string_view, std::string_view) { return 10; },
        .read = readDelimited};
}

} // namespace jointer::io
