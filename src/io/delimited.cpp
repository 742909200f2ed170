// SPDX-License-Identifier: GPL-3.0-or-later
// Text in columns. The dialect is guessed from the first lines (dialect.h); then one pass counts rows in
// chunks and a second parses them in place into columns of known length, both in parallel.
#include "base/text.h"
#include "io/column_meaning.h"
#include "io/encoding.h"
#include "io/joined_moments.h"
#include "io/plates.h"
#include "io/text_tables.h"
#include "io/told_settings.h"

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
    if (const std::string join = told.text("join"); !join.empty() && join != kApart)
        if (auto good = joinColumns(out.tables.front().table, join); !good)
            return std::unexpected(good.error());
    for (const Issue& issue : out.issues)
        if (issue.place.line > 0 && static_cast<std::size_t>(issue.place.line) <= out.lineKinds.size() &&
            issue.code == "unparsed-cells")
            out.lineKinds[static_cast<std::size_t>(issue.place.line) - 1] = LineKind::Unread;
    return out;
}

} // namespace

namespace {

Setting choiceOf(std::string key, std::string label, std::string help, std::vector<Choice> choices) {
    return {.key = std::move(key),
            .label = std::move(label),
            .kind = SettingKind::Choice,
            .help = std::move(help),
            .choices = std::move(choices)};
}

Setting separatorSetting() {
    Setting s = choiceOf("separator", "Separator", "What stands between the columns.",
                         {{",", "comma"},
                          {";", "semicolon"},
                          {"tab", "tab"},
                          {"space", "blanks"},
                          {"|", "bar"},
                          {"fixed", "fixed places"}});
    s.others = 1;
    return s;
}

Setting dateOrderSetting() {
    Setting s =
        choiceOf("date-order", "Dates as", "The order in dates by figures, where the column does not tell.",
                 {{"dmy", "day, month, year"}, {"mdy", "month, day, year"}, {"ymd", "year, month, day"}});
    s.whenEmpty = "automatic";
    return s;
}

Setting joinSetting() {
    Setting s = textSetting("join", "Join",
                            "A column of dates and one of times to be one: Date,Time. A - keeps them apart.");
    s.whenEmpty = "as they go";
    return s;
}

std::vector<Setting> delimitedSettings() {
    std::vector<Setting> all = {
        separatorSetting(),
        choiceOf("decimal", "Decimals", "The decimal mark of the numbers.", {{".", "point"}, {",", "comma"}})};
    std::ranges::move(placesOfTable("line"), std::back_inserter(all));
    std::ranges::move(
        std::vector<Setting>{
            textSetting("comment", "Comments", "What lines to be skipped begin with."), missingSetting(),
            dateOrderSetting(),
            textSetting("widths", "Widths", "Widths of columns at fixed places, such as 4,8,8.",
                        "separator=fixed"),
            joinSetting(),
            textSetting("names", "Names", "Names of the columns, with commas between them."),
            flagSetting("transpose", "Lines are variables", "Each line holds a name and all its values."),
            flagSetting("key-value", "Lines say key=value",
                        "Each line says key=value, several times or once."),
            plateSetting(),
            choiceOf("encoding", "Text as", "How letters beyond ASCII are written.",
                     {{"utf-8", "UTF-8"},
                      {"utf-16le", "UTF-16 LE"},
                      {"utf-16be", "UTF-16 BE"},
                      {"windows-1252", "Windows-1252"},
                      {"iso-8859-1", "Latin-1"}})},
        std::back_inserter(all));
    return all;
}

} // namespace

ReaderKind delimitedReader() {
    return {.info = {.key = "delimited",
                     .name = "Delimited text",
                     .purpose = "Columns of numbers and words in a text file, whatever separates them",
                     .settings = delimitedSettings()},
            .endings = {"csv", "tsv", "txt", "dat", "asc", "prn"},
            .recognise = [](std::string_view, std::string_view) { return 10; },
            .read = readDelimited};
}

} // namespace jointer::io
