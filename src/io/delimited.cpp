// SPDX-License-Identifier: GPL-3.0-or-later
// Text in columns. The dialect is guessed from the first lines (dialect.h); then one pass counts rows in
// chunks and a second parses them in place into columns of known length, both in parallel.
#include "base/text.h"
#include "io/column_meaning.h"
#include "io/encoding.h"
#include "io/plates.h"
#include "io/text_tables.h"

#include <algorithm>
#include <fmt/format.h>

namespace jointer::io {

namespace {

// Whether some lines end with a carriage return alone while others end otherwise.
bool hasLoneReturns(std::string_view text) {
    if (text.find('\n') == text.npos) return false;
    for (std::size_t at = 0; (at = text.find('\r', at)) != text.npos; ++at)
        if (at + 1 >= text.size() || text[at + 1] != '\n') return true;
    return false;
}

// NUL bytes as blanks, one kind of line ends, and nothing after an end mark of old systems.
std::string_view cleaned(std::string_view text, std::string& storage, std::vector<Issue>& issues) {
    if (const std::size_t end = text.find('\x1A');
        end != text.npos && (text.size() - end < 4096 ||
                             text.find_first_not_of(std::string_view("\x1A\0\r\n ", 5), end) == text.npos))
        text = text.substr(0, end);
    const std::size_t nul = text.find('\0');
    const bool mixed = hasLoneReturns(text);
    if (nul == text.npos && !mixed) return text;
    storage.assign(text);
    if (mixed)
        for (std::size_t at = 0; (at = storage.find('\r', at)) != storage.npos; ++at)
            if (at + 1 >= storage.size() || storage[at + 1] != '\n') storage[at] = '\n';
    if (nul == text.npos) return storage;
    std::ranges::replace(storage, '\0', ' ');
    const auto before = storage.begin() + static_cast<std::ptrdiff_t>(nul);
    issues.push_back({"nul-bytes",
                      "The file holds NUL bytes from here on; they are read as blanks.",
                      {.line = static_cast<long>(std::count(storage.begin(), before, '\n')) + 1}});
    return storage;
}

// A column of dates and one of times of day joined, as was asked for: "Date,Time".
Result<void> joinColumns(Table& table, const std::string& wanted) {
    const auto names = split(wanted, ',');
    auto indexOf = [&](std::string_view name) {
        const Column* c = table.findByName(trimmed(name));
        return c ? c - table.columns.data() : -1;
    };
    const auto date = names.size() == 2 ? indexOf(names[0]) : -1,
               time = names.size() == 2 ? indexOf(names[1]) : -1;
    if (date < 0 || time < 0)
        return failure("join", fmt::format("“{}” does not name two columns to be joined; there are {}.",
                                           wanted, columnNames(table)));
    auto joined = joinedMoments(table.columns[static_cast<std::size_t>(date)],
                                table.columns[static_cast<std::size_t>(time)]);
    if (!joined) return std::unexpected(joined.error());
    table.columns[static_cast<std::size_t>(date)] = std::move(*joined);
    table.columns.erase(table.columns.begin() + time);
    return {};
}

void describeLines(std::string_view text, const ReadTable& plate, ReadResult& out) {
    const auto lines = firstLines(text, 400);
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const long line = static_cast<long>(i) + 1;
        const bool above = line < plate.headingLine;
        if (above) takeMetadata(lines[i], out.dialect.separator, out.metadata);
        out.lineKinds.push_back(isBlankLine(lines[i])       ? LineKind::Blank
                                : above                     ? LineKind::Preamble
                                : line == plate.headingLine ? LineKind::Heading
                                                            : LineKind::Data);
    }
}

// A microplate is read as one, whatever separates its wells.
bool takePlate(std::string_view text, const Settings& told, ReadResult& out) {
    std::vector<char> separators = {',', ';', '\t', '|', kBlanks};
    if (told.has("separator")) separators = {separatorFromText(told.text("separator"))};
    for (const char separator : separators) {
        auto plate = plateTable(text, separator, told, out);
        if (!plate) continue;
        out.dialect.separator = separator;
        out.dialect.heading = plate->headingLine;
        out.dialect.first = plate->firstDataLine;
        describeLines(text, *plate, out);
        out.tables.push_back(std::move(*plate));
        return true;
    }
    return false;
}

Result<ReadResult> readDelimited(std::string_view bytes, const Settings& told, const Cancellation& stop) {
    DecodedText decoded;
    if (auto good = decode(bytes, told.text("encoding"), decoded); !good)
        return std::unexpected(good.error());
    if (decoded.text.find_first_not_of(std::string_view(" \t\r\n\v\f\0\x1A", 8)) == std::string_view::npos)
        return failure("empty-file", "The file holds nothing but blanks.");
    ReadResult out{.format = "delimited", .encoding = decoded.encoding};
    std::string storage;
    const std::string_view text = cleaned(decoded.text, storage, out.issues);
    if (takePlate(text, told, out)) return out;
    if (auto good = readTables(text, told, stop, out); !good) return std::unexpected(good.error());
    if (out.dialect.form == Form::Fixed) out.format = "fixed-width";
    if (const std::string join = told.text("join"); !join.empty())
        if (auto good = joinColumns(out.tables.front().table, join); !good)
            return std::unexpected(good.error());
    for (const Issue& issue : out.issues)
        if (issue.place.line > 0 && static_cast<std::size_t>(issue.place.line) <= out.lineKinds.size() &&
            issue.code == "unparsed-cells")
            out.lineKinds[static_cast<std::size_t>(issue.place.line) - 1] = LineKind::Unread;
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
                                           {"|", "bar"},
                                           {"fixed", "fixed places"}},
                               .others = 1},
                              {.key = "decimal",
                               .label = "Decimals",
                               .kind = SettingKind::Choice,
                               .help = "The decimal mark of the numbers.",
                               .choices = {{".", "point"}, {",", "comma"}}},
                              {.key = "heading",
                               .label = "Headings",
                               .kind = SettingKind::WholeNumber,
                               .help = "Line with the names of the columns.",
                               .lowest = 0,
                               .highest = 1e9,
                               .zero = "none"},
                              {.key = "units",
                               .label = "Units",
                               .kind = SettingKind::WholeNumber,
                               .help = "Line with the units of the columns.",
                               .lowest = 0,
                               .highest = 1e9,
                               .zero = "none"},
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
                              {.key = "date-order",
                               .label = "Dates as",
                               .kind = SettingKind::Choice,
                               .help = "The order in dates by figures, where the column does not tell.",
                               .choices = {{"dmy", "day, month, year"},
                                           {"mdy", "month, day, year"},
                                           {"ymd", "year, month, day"}},
                               .whenEmpty = "automatic"},
                              {.key = "widths",
                               .label = "Widths",
                               .kind = SettingKind::Text,
                               .help = "Widths of columns at fixed places, such as 4,8,8.",
                               .shownIf = "separator=fixed"},
                              {.key = "join",
                               .label = "Join",
                               .kind = SettingKind::Text,
                               .help = "A column of dates and one of times to be one: Date,Time."},
                              {.key = "names",
                               .label = "Names",
                               .kind = SettingKind::Text,
                               .help = "Names of the columns, with commas between them."},
                              {.key = "transpose",
                               .label = "Lines are variables",
                               .kind = SettingKind::Flag,
                               .help = "Each line holds a name and all its values."},
                              {.key = "key-value",
                               .label = "Lines say key=value",
                               .kind = SettingKind::Flag,
                               .help = "Each line says key=value, several times or once."},
                              plateSetting(),
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
