// SPDX-License-Identifier: GPL-3.0-or-later
// Delimited text. The dialect is guessed from the first lines (dialect.h); then one pass counts rows in
// chunks and a second parses them in place into columns of known length, both in parallel.
#include "base/text.h"
#include "io/cell_text.h"
#include "io/encoding.h"
#include "io/reader.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <cstring>
#include <fmt/format.h>
#include <limits>
#include <set>

namespace jointer::io {

namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();
constexpr std::size_t kChunk = 2 << 20;
constexpr std::size_t kMostColumns = 20000;

// Runs over lines; with quotes in the text a line goes on until its quotes are even.
class LineCursor {
public:
    LineCursor(const char* at, const char* end, char lineEnd, bool quotes)
        : at_(at), end_(end), lineEnd_(lineEnd), quotes_(quotes) {}

    bool next(const char*& from, const char*& to) {
        if (at_ >= end_) return false;
        from = at_;
        const char* stop = find(at_);
        lines_ = 1;
        if (quotes_ && oddQuotes(from, stop)) {
            const char* further = stop;
            long more = 1;
            // A quote that is never closed is a stray one: the line then ends where it seemed to.
            while (further < end_ && further - from < 100000) {
                further = find(further + 1);
                ++more;
                if (!oddQuotes(from, further)) {
                    stop = further;
                    lines_ = more;
                    break;
                }
            }
        }
        to = stop > from && stop[-1] == '\r' ? stop - 1 : stop;
        at_ = stop < end_ ? stop + 1 : end_;
        return true;
    }
    long lines() const { return lines_; } // that the last line took
    const char* place() const { return at_; }

private:
    const char* find(const char* from) const {
        if (from >= end_) return end_;
        const void* hit = std::memchr(from, lineEnd_, static_cast<std::size_t>(end_ - from));
        return hit ? static_cast<const char*>(hit) : end_;
    }
    static bool oddQuotes(const char* from, const char* to) { return std::count(from, to, '"') % 2 != 0; }

    const char *at_, *end_;
    char lineEnd_;
    bool quotes_;
    long lines_ = 1;
};

enum class Plan : std::uint8_t { Number, Text };

// A cell that did not read as a number.
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
    std::size_t ragged = 0;
    long raggedLine = 0;
};

class DelimitedParser {
public:
    DelimitedParser(std::string_view text, const Dialect& dialect, const Cancellation& stop)
        : text_(text), d_(dialect), stop_(stop), quotes_(text.find('"') != std::string_view::npos),
          lineEnd_(text.find('\n') == std::string_view::npos ? '\r' : '\n') {}

    void countRows() {
        cutChunks(startOfData());
        parallelRanges(chunks_.size(), 1, [&](std::size_t from, std::size_t to) {
            for (std::size_t k = from; k < to && !stop_.stop_requested(); ++k) count(chunks_[k]);
        });
        long line = d_.first;
        for (Chunk& c : chunks_) {
            c.firstRow = rows_;
            c.firstLine = line;
            rows_ += c.rows;
            line += c.lines;
        }
        skipsLines_ = static_cast<std::size_t>(line - d_.first) != rows_;
    }

    // What each column looks like in a sample from all over the data.
    std::vector<Plan> planFromSample() const {
        std::vector<std::size_t> numbers(d_.columns, 0), texts(d_.columns, 0);
        std::vector<Field> fields;
        std::vector<std::string> storage;
        for (const Chunk& c : chunks_) {
            LineCursor cursor(c.begin, c.end, lineEnd_, quotes_);
            const char *from, *to;
            const int most = chunks_.size() == 1 ? 2000 : 200;
            for (int k = 0; k < most && cursor.next(from, to); ++k) {
                if (!isRow(from, to)) continue;
                splitFields({from, static_cast<std::size_t>(to - from)}, d_.separator, fields, storage);
                for (std::size_t i = 0; i < std::min(fields.size(), d_.columns); ++i) {
                    if (isMissing(fields[i].text, d_.missing)) continue;
                    const bool number = !fields[i].text.empty() && (numberOf(fields[i].text, d_.decimal) ||
                                                                    limitOf(fields[i].text, d_.decimal));
                    ++(number ? numbers : texts)[i];
                }
            }
        }
        std::vector<Plan> plan(d_.columns, Plan::Number);
        for (std::size_t i = 0; i < d_.columns; ++i)
            if (2 * numbers[i] < texts[i]) plan[i] = Plan::Text;
        return plan;
    }

    void parse(const std::vector<Plan>& plan) {
        plan_ = plan;
        cells_.assign(d_.columns, {});
        for (std::size_t c = 0; c < d_.columns; ++c) {
            if (plan_[c] == Plan::Number)
                cells_[c].numbers.resize(rows_);
            else
                cells_[c].texts.resize(rows_);
        }
        numbers_.clear();
        for (Cells& c : cells_) numbers_.push_back(c.numbers.data());
        if (skipsLines_) lines_.resize(rows_);
        parallelRanges(chunks_.size(), 1, [&](std::size_t from, std::size_t to) {
            for (std::size_t k = from; k < to && !stop_.stop_requested(); ++k) parseChunk(chunks_[k]);
        });
    }

    std::vector<Cells>& cells() { return cells_; }
    const std::vector<Chunk>& chunks() const { return chunks_; }
    std::vector<std::uint32_t>& lines() { return lines_; }
    std::size_t rows() const { return rows_; }
    long lineOf(std::size_t row) const {
        return skipsLines_ ? static_cast<long>(lines_[row]) : d_.first + static_cast<long>(row);
    }
    bool endsWithoutLineEnd() const { return !text_.empty() && text_.back() != '\n' && text_.back() != '\r'; }

private:
    const char* startOfData() const {
        LineCursor cursor(text_.data(), text_.data() + text_.size(), lineEnd_, false);
        const char *from, *to;
        for (long line = 1; line < d_.first; ++line)
            if (!cursor.next(from, to)) break;
        return cursor.place();
    }

    // Chunks end at line ends; where there are quotes, at such with even quotes before them.
    void cutChunks(const char* at) {
        const char* end = text_.data() + text_.size();
        while (at < end) {
            const char* stop = end;
            if (static_cast<std::size_t>(end - at) > kChunk) {
                if (quotes_) {
                    LineCursor cursor(at, end, lineEnd_, true);
                    const char *from, *to;
                    while (cursor.place() - at < static_cast<std::ptrdiff_t>(kChunk) &&
                           cursor.next(from, to)) {}
                    stop = cursor.place();
                } else {
                    const void* hit =
                        std::memchr(at + kChunk, lineEnd_, static_cast<std::size_t>(end - at) - kChunk);
                    stop = hit ? static_cast<const char*>(hit) + 1 : end;
                }
            }
            chunks_.push_back({at, stop});
            at = stop;
        }
    }

    bool isRow(const char* from, const char* to) const {
        while (from < to &&
               (*from == ' ' || *from == '\t' || *from == '\f' || *from == '\x1A' || *from == '\0'))
            ++from;
        if (from == to) return false;
        return d_.comment.empty() ||
               !std::string_view(from, static_cast<std::size_t>(to - from)).starts_with(d_.comment);
    }

    void count(Chunk& c) const {
        LineCursor cursor(c.begin, c.end, lineEnd_, quotes_);
        const char *from, *to;
        while (cursor.next(from, to)) {
            c.lines += cursor.lines();
            if (isRow(from, to)) ++c.rows;
        }
    }

    void parseChunk(Chunk& c) {
        c.odd.clear();
        c.ragged = 0;
        LineCursor cursor(c.begin, c.end, lineEnd_, quotes_);
        const char *from, *to;
        std::size_t row = c.firstRow;
        for (long line = c.firstLine; cursor.next(from, to); line += cursor.lines()) {
            if (!isRow(from, to)) continue;
            if (skipsLines_) lines_[row] = static_cast<std::uint32_t>(line);
            if (!parseRow(from, to, row, c)) {
                if (c.ragged++ == 0) c.raggedLine = line;
            }
            ++row;
        }
    }

    bool atEnd(const char* p, const char* to) const { return p >= to; }

    // One line into its row. False when it has too few or too many fields.
    bool parseRow(const char* p, const char* to, std::size_t row, Chunk& c) {
        const bool blanks = d_.separator == ' ';
        const char separator = d_.separator, decimal = d_.decimal;
        const std::size_t columns = d_.columns;
        auto isSpace = [&](char x) { return x == ' ' || (x == '\t' && separator != '\t'); };
        auto skip = [&](const char* at) {
            while (at < to && isSpace(*at)) ++at;
            return at;
        };
        if (blanks) p = skip(p);
        bool more = true;
        for (std::size_t column = 0; column < columns; ++column) {
            if (!more) {
                for (; column < columns; ++column) setMissing(column, row);
                return false;
            }
            p = skip(p);
            if (plan_[column] == Plan::Number) {
                double value;
                const char* after = p < to ? readNumber(p, to, decimal, value) : nullptr;
                if (after) {
                    const char* next = skip(after);
                    if (next >= to || (blanks ? next > after : *next == separator)) {
                        numbers_[column][row] = value;
                        more = next < to;
                        p = blanks ? next : next + 1;
                        continue;
                    }
                }
            }
            const std::string_view field = rawField(p, to, more);
            if (plan_[column] == Plan::Number) {
                cells_[column].numbers[row] = kNaN;
                if (!field.empty()) c.odd.push_back({row, static_cast<std::uint32_t>(column), field});
            } else
                cells_[column].texts[row] = unquoted(field);
        }
        // A trailing separator is no further field.
        return !more || skip(p) >= to;
    }

    void setMissing(std::size_t column, std::size_t row) {
        if (plan_[column] == Plan::Number) cells_[column].numbers[row] = kNaN;
    }

    // The field at p with its quotes; moves p behind its separator.
    std::string_view rawField(const char*& p, const char* to, bool& more) const {
        const char* from = p;
        const char* end = nullptr;
        if (p < to && *p == '"') {
            const char* q = p + 1;
            while (q < to && !(*q == '"' && (q + 1 >= to || q[1] != '"'))) q += *q == '"' ? 2 : 1;
            const char* after = q + 1;
            while (after < to && *after == ' ') ++after;
            const bool blankEnds = d_.separator == ' ' && q + 1 < to && (q[1] == ' ' || q[1] == '\t');
            if (q < to && (after >= to || *after == d_.separator || blankEnds)) end = after;
        }
        if (!end) {
            end = p;
            if (d_.separator == ' ')
                while (end < to && *end != ' ' && *end != '\t') ++end;
            else {
                const void* hit =
                    p < to ? std::memchr(p, d_.separator, static_cast<std::size_t>(to - p)) : nullptr;
                end = hit ? static_cast<const char*>(hit) : to;
            }
        }
        if (d_.separator == ' ')
            while (end < to && (*end == ' ' || *end == '\t')) ++end;
        more = end < to;
        p = d_.separator == ' ' ? end : std::min(end + 1, to + 1);
        return trimmed({from, static_cast<std::size_t>(end - from)});
    }

    static std::string unquoted(std::string_view field) {
        if (field.size() < 2 || field.front() != '"' || field.back() != '"') return std::string(field);
        std::string out;
        for (std::size_t i = 1; i + 1 < field.size(); ++i) {
            out += field[i];
            if (field[i] == '"') ++i;
        }
        return out;
    }

    std::string_view text_;
    const Dialect& d_;
    const Cancellation& stop_;
    bool quotes_;
    char lineEnd_;
    std::vector<Chunk> chunks_;
    std::vector<Plan> plan_;
    std::vector<Cells> cells_;
    std::vector<double*> numbers_; // of the number columns, for the inner loop
    std::vector<std::uint32_t> lines_;
    std::size_t rows_ = 0;
    bool skipsLines_ = false;
};

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

// A text column whose cells are moments becomes a time column.
void interpretMoments(Column& column, const Dialect& d) {
    const Cells& cells = *column.cells;
    std::size_t moments = 0, filled = 0;
    ColumnKind kind = ColumnKind::Date;
    for (const std::string& t : cells.texts) {
        if (isMissing(t, d.missing)) continue;
        ++filled;
        const auto m = isoMoment(t);
        if (!m) {
            if (filled > 20 && 3 * moments < filled) return;
            continue;
        }
        if (moments++ == 0 || m->kind == ColumnKind::DateTime) kind = m->kind;
    }
    if (moments == 0 || 3 * (filled - moments) > filled) return;
    Cells out;
    out.numbers.assign(cells.texts.size(), kNaN);
    for (std::size_t i = 0; i < cells.texts.size(); ++i) {
        if (isMissing(cells.texts[i], d.missing)) continue;
        if (const auto m = isoMoment(cells.texts[i])) {
            out.numbers[i] = m->seconds;
            continue;
        }
        if (out.states.empty()) out.states.resize(cells.texts.size());
        out.originals[static_cast<std::uint32_t>(i)] = cells.texts[i];
    }
    for (std::size_t i = 0; i < out.states.size(); ++i)
        out.states[i] = out.originals.contains(static_cast<std::uint32_t>(i)) ? CellState::Unreadable
                        : std::isnan(out.numbers[i])                          ? CellState::Missing
                                                                              : CellState::Fine;
    column.kind = kind;
    column.cells = std::make_shared<Cells>(std::move(out));
}

void makeNamesUnique(std::vector<std::string>& names, std::vector<Issue>& issues) {
    std::set<std::string> taken;
    for (std::size_t i = 0; i < names.size(); ++i) {
        if (names[i].empty()) names[i] = fmt::format("column {}", i + 1);
        const std::string wanted = names[i];
        for (int k = 2; taken.contains(names[i]); ++k) names[i] = fmt::format("{} {}", wanted, k);
        if (names[i] != wanted)
            issues.push_back(
                {"duplicate-names",
                 fmt::format("Two columns are called “{}”; this one is now “{}”.", wanted, names[i]),
                 {.column = names[i]}});
        taken.insert(names[i]);
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

void suggestRoles(Table& table) {
    bool haveX = false;
    for (Column& c : table.columns) {
        const std::string name = lowerAscii(c.name);
        const bool error = name == "sd" || name == "se" || name == "sem" || name == "err" ||
                           name == "error" || name == "sigma" || name == "u" || name.starts_with("±") ||
                           name.ends_with(" sd") || name.ends_with("_sd") || name.ends_with(" error") ||
                           name.ends_with("_err") || name.starts_with("sd ") || name.starts_with("sd_");
        if (!c.isNumeric())
            c.role = Role::Label;
        else if (!haveX)
            c.role = Role::X, haveX = true;
        else
            c.role = error ? Role::YError : Role::Y;
    }
    // A time column is x even when it is not the first one.
    const auto time = std::ranges::find_if(table.columns, [](const Column& c) {
        return c.kind == ColumnKind::DateTime || c.kind == ColumnKind::Date;
    });
    if (time == table.columns.end()) return;
    for (Column& c : table.columns)
        if (c.role == Role::X) c.role = Role::Y;
    time->role = Role::X;
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
    if (decoded.text.find('\0') != std::string_view::npos)
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
        if (column.kind == ColumnKind::Text) interpretMoments(column, guess.dialect);
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
