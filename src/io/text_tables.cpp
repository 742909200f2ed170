// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/text_tables.h"

#include "base/text.h"
#include "io/canonical.h"
#include "io/cell_text.h"
#include "io/column_meaning.h"
#include "io/cut_cell.h"
#include "io/delimited_parser.h"
#include "io/interruptions.h"
#include "io/odd_cells.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <limits>
#include <set>
#include <tuple>

namespace jointer::io {

namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();
constexpr std::size_t kMostColumns = 20000;
constexpr std::size_t kMostBlocks = 500; // tables in one file

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

void reportLimits(const Column& c, const CellRules& rules, std::vector<Issue>& issues) {
    std::size_t below = 0, above = 0, first = 0;
    for (const auto& [row, text] : c.cells->originals) {
        const CellState state = c.cells->state(row);
        if (state != CellState::Below && state != CellState::Above) continue;
        if (below + above == 0) first = row;
        ++(state == CellState::Below ? below : above);
    }
    if (below + above == 0) return;
    std::string what;
    if (below > 0) what = counted(static_cast<long long>(below), "cell is", "cells are") + " below a limit";
    if (above > 0)
        what += (what.empty() ? "" : " and ") +
                counted(static_cast<long long>(above), "cell is", "cells are") + " above one";
    issues.push_back({"limits",
                      what + ": kept as such, without a value.",
                      {.line = rules.lineOf(first), .column = c.name}});
}

// Once for all columns of a file.
void offerOrder(DateOrder order, std::vector<Alternative>& alternatives) {
    const bool day = order == DateOrder::DayMonthYear;
    Alternative other{day ? "dates as day, month, year" : "dates as month, day, year", {}};
    other.told.set("date-order", day ? "dmy" : "mdy");
    if (std::ranges::find(alternatives, other.words, &Alternative::words) == alternatives.end())
        alternatives.push_back(std::move(other));
}

std::optional<DateOrder> toldOrder(const Settings& told) {
    const std::string order = told.text("date-order");
    if (order == "dmy") return DateOrder::DayMonthYear;
    if (order == "mdy") return DateOrder::MonthDayYear;
    if (order == "ymd") return DateOrder::YearMonthDay;
    return std::nullopt;
}

// One table out of a stretch of text. Lines count from 1 in it.
class TableReading {
public:
    TableReading(std::string_view text, DialectGuess guess, const Settings& told, const Cancellation& stop)
        : text_(text), guess_(std::move(guess)), told_(told), stop_(stop) {}

    // Requires: `body` outlives the reading.
    Interruptions parse(std::string_view body) {
        d_ = guess_.dialect;
        if (needsRewriting(d_)) {
            rewritten_ = rewritten(body, guess_);
            if (d_.form == Form::AlongLines) {
                guess_.names = labelsAlongLines(body, d_);
                guess_.unitTexts.assign(guess_.names.size(), "");
                for (std::size_t c = 0; c < guess_.names.size(); ++c)
                    std::tie(guess_.names[c], guess_.unitTexts[c]) = nameAndUnit(guess_.names[c]);
                guess_.remarkTexts.assign(guess_.names.size(), "");
                d_.columns = std::max<std::size_t>(1, guess_.names.size());
                d_.first = 1;
            }
            d_.separator = kUnitSeparator;
            d_.comment.clear();
        }
        parser_.emplace(needsRewriting(d_) ? std::string_view(rewritten_) : body, d_, stop_);
        parser_->countRows();
        plan_ = parser_->planFromSample();
        for (std::size_t c = 0; c < plan_.size(); ++c)
            if (isDeclaredText(c)) plan_[c] = Plan::Text;
        parser_->parse(plan_);
        auto strange = parser_->strangeLines();
        if (d_.form == Form::AlongLines || d_.form == Form::KeyValue) return {};
        // In a table of words headings that come again look like rows.
        auto repeated = repeatedLines(body, guess_.dialect);
        std::ranges::copy(wordyLastLines(body, guess_), std::back_inserter(repeated));
        if (!repeated.empty()) {
            const auto known = std::ssize(strange);
            std::ranges::copy_if(repeated, std::back_inserter(strange), [&](long line) {
                return !std::binary_search(strange.begin(), strange.begin() + known, line);
            });
            std::ranges::sort(strange);
        }
        if (strange.empty() && !endsInSummary(body, guess_)) return {};
        return findInterruptions(body, guess_, strange);
    }

    ReadTable finish(std::vector<Issue>& issues, std::vector<Alternative>& alternatives) {
        OddCells odd(*parser_, d_);
        odd.settle();
        bool changed = false;
        for (std::size_t c = 0; c < plan_.size(); ++c)
            if (odd.isReallyText(c, guess_.names[c])) plan_[c] = Plan::Text, changed = true;
        if (changed) {
            parser_->parse(plan_);
            odd = OddCells(*parser_, d_);
            odd.settle();
        }
        takeToldNames();
        const std::size_t kept = columnsKept();
        std::vector<std::string> names(guess_.names.begin(),
                                       guess_.names.begin() + static_cast<std::ptrdiff_t>(kept));
        makeNamesUnique(names, issues);
        names.resize(d_.columns);
        odd.report(names, issues);
        dropCutCell(issues);
        reportRagged(*parser_, d_, !text_.empty() && text_.back() != '\n' && text_.back() != '\r', issues);

        ReadTable t{.headingLine = guess_.dialect.heading,
                    .unitsLine = guess_.dialect.units,
                    .firstDataLine = parser_->rows() > 0 ? parser_->lineOf(0) : guess_.dialect.first};
        if (d_.form == Form::AlongLines) t.firstDataLine = guess_.dialect.first;
        const CellRules rules{
            .decimal = d_.decimal,
            .missing = d_.missing,
            .dateOrder = toldOrder(told_),
            .lineOf =
                [this](std::size_t row) { return d_.form == Form::AlongLines ? 0 : parser_->lineOf(row); },
            .onOpenOrder = [&](DateOrder other) { offerOrder(other, alternatives); }};
        for (std::size_t c = 0; c < kept; ++c) {
            Column column{.name = names[c],
                          .unit = guess_.unitTexts[c],
                          .kind = plan_[c] == Plan::Number ? ColumnKind::Number : ColumnKind::Text,
                          .comment = guess_.remarkTexts[c]};
            dropNumericMarkers(parser_->cells()[c], d_);
            refreshStates(parser_->cells()[c]);
            column.cells = std::make_shared<Cells>(std::move(parser_->cells()[c]));
            if (column.kind != ColumnKind::Text)
                interpretCompactDates(column);
            else if (!isDeclaredText(c))
                interpretTexts(column, rules, issues);
            reportLimits(column, rules, issues);
            t.table.columns.push_back(std::move(column));
        }
        if (d_.form == Form::AlongLines && !told_.flag("transpose"))
            issues.push_back({"transposed",
                              "Each line was taken as one variable; switch that off if lines are rows.",
                              {.line = guess_.dialect.first}});
        t.table.name = guess_.section;
        if (d_.form != Form::AlongLines)
            t.table.rows = std::make_shared<Rows>(Rows{.ids = {},
                                                       .lines = std::move(parser_->lines()),
                                                       .firstLine = static_cast<std::uint32_t>(d_.first)});
        return t;
    }

private:
    void takeToldNames() {
        if (!told_.has("names")) return;
        const std::string names = told_.text("names");
        std::size_t c = 0;
        for (std::string_view name : split(names, ','))
            if (c < guess_.names.size())
                std::tie(guess_.names[c], guess_.unitTexts[c]) = nameAndUnit(name), ++c;
    }

    // A header of the file says so.
    bool isDeclaredText(std::size_t column) const {
        const Texts texts = told_.texts("as-text");
        return column < guess_.names.size() && std::ranges::find(texts, guess_.names[column]) != texts.end();
    }

    // What the file ends within is no value.
    void dropCutCell(std::vector<Issue>& issues) {
        if (text_.empty() || text_.back() == '\n' || text_.back() == '\r' || parser_->rows() < 2) return;
        const bool plain = d_.form == Form::Separated && d_.separator != kUnitSeparator;
        const auto cut = plain ? cutCell(text_, d_) : std::nullopt;
        if (!cut || cut->column >= plan_.size()) return;
        Cells& cells = parser_->cells()[cut->column];
        const std::size_t row = parser_->rows() - 1;
        if (row < cells.numbers.size()) cells.numbers[row] = kNaN;
        if (row < cells.texts.size()) cells.texts[row].clear();
        issues.push_back({"truncated-last-line",
                          fmt::format("The file ends within “{}”: the cell is taken as missing.", cut->text),
                          {.line = parser_->lineOf(row), .column = guess_.names[cut->column]}});
    }

    // A column without a heading and without a cell is what a trailing separator leaves.
    std::size_t columnsKept() const {
        std::size_t n = d_.columns;
        auto isEmpty = [&](std::size_t c) {
            const Cells& cells = parser_->cells()[c];
            return std::ranges::all_of(cells.numbers, [](double v) { return std::isnan(v); }) &&
                   std::ranges::all_of(cells.texts, [](const std::string& t) { return t.empty(); }) &&
                   cells.originals.empty();
        };
        while (n > 1 && guess_.names[n - 1].empty() && isEmpty(n - 1)) --n;
        return n;
    }

    std::string_view text_;
    DialectGuess guess_;
    const Settings& told_;
    const Cancellation& stop_;
    Dialect d_; // of the parsed text
    std::string rewritten_;
    std::optional<DelimitedParser> parser_;
    std::vector<Plan> plan_;
};

// All tables of a text: the first, and those that begin where it is interrupted.
class TextReading {
public:
    TextReading(const Settings& told, const Cancellation& stop, ReadResult& out)
        : told_(told), stop_(stop), out_(out) {}

    Result<void> read(std::string_view text) {
        waiting_ = {{text, 0}};
        while (!waiting_.empty()) {
            const Stretch next = waiting_.back();
            waiting_.pop_back();
            if (auto good = read(next); !good) return good;
        }
        return {};
    }

private:
    struct Stretch {
        std::string_view text;
        long offset; // lines before it
    };

    Result<void> read(const Stretch& stretch) {
        const auto& [text, offset] = stretch;
        DialectGuess guess = guessDialect(text, toldFor(stretch));
        if (guess.dialect.columns > kMostColumns)
            return failure(
                "too-many-columns",
                fmt::format("A line has {} fields; at most {} can be read. Is the separator right?",
                            guess.dialect.columns, kMostColumns));
        if (!main_) takeMain(guess);
        if (offset == 0) std::ranges::copy(guess.metadata, std::back_inserter(out_.metadata));
        TableReading reading(text, guess, told_, stop_);
        Interruptions found = reading.parse(text);
        if (stop_.stop_requested()) return failure("stopped", "Reading was stopped.");
        if (out_.tables.size() >= kMostBlocks) found.newBlocks.clear();
        const std::string_view body = cutAtBlocks(stretch, found.newBlocks);
        if (body.size() < text.size() || !found.noRows.empty()) {
            const std::string edited = withBlankLines(body, found.noRows);
            TableReading again(body, guess, told_, stop_);
            again.parse(edited);
            finish(again, offset, guess.metadata);
        } else
            finish(reading, offset, guess.metadata);
        for (Issue& issue : found.issues) {
            issue.place.line += offset;
            out_.issues.push_back(std::move(issue));
        }
        return {};
    }

    // Further blocks are read as the first one is, where nothing is told of their lines.
    Settings toldFor(const Stretch& stretch) const {
        Settings told = told_;
        if (stretch.offset == 0) return told;
        for (const char* key : {"heading", "units", "first"}) told.remove(key);
        const bool bySign = main_->form == Form::Separated;
        if (!told.has("separator") && bySign) told.set("separator", Value(std::string(1, main_->separator)));
        if (!told.has("decimal")) told.set("decimal", Value(std::string(1, main_->decimal)));
        return told;
    }

    void takeMain(const DialectGuess& guess) {
        main_ = guess.dialect;
        out_.lineKinds = guess.lineKinds;
        out_.dialect = guess.dialect;
        const Place place{.line = guess.dialect.first};
        if (guess.commaIsOpen) {
            out_.issues.push_back({"ambiguous-decimal",
                                   "Every line could also be one number with a decimal comma. Read as two "
                                   "columns; choose the decimal comma if that is wrong.",
                                   place});
            offer("one column, decimal comma", {{"separator", "space"}, {"decimal", ","}});
        }
        if (guess.decimalIsOpen) {
            out_.issues.push_back({"ambiguous-decimal",
                                   "Every comma could also divide groups of three digits. Read as decimal "
                                   "comma; choose the decimal point if that is wrong.",
                                   place});
            offer("decimal point", {{"decimal", "."}});
        }
        if (!guess.near || guess.commaIsOpen || guess.decimalIsOpen) return;
        out_.issues.push_back(
            {"near-reading",
             "The lines could as well be " + guess.near->words + "; choose that if it is right.", place});
        out_.alternatives.push_back(*guess.near);
    }

    void offer(std::string words, std::initializer_list<std::pair<const char*, const char*>> told) {
        Alternative other{std::move(words), {}};
        for (const auto& [key, value] : told) other.told.set(key, value);
        out_.alternatives.push_back(std::move(other));
    }

    // The text up to the first line; what begins at the lines waits to be read.
    std::string_view cutAtBlocks(const Stretch& stretch, const std::vector<long>& lines) {
        if (lines.empty()) return stretch.text;
        const auto all = firstLines(stretch.text, static_cast<std::size_t>(lines.back()));
        std::size_t end = stretch.text.size();
        for (auto line = lines.rbegin(); line != lines.rend(); ++line) {
            const auto from = static_cast<std::size_t>(all[static_cast<std::size_t>(*line) - 1].data() -
                                                       stretch.text.data());
            waiting_.push_back({stretch.text.substr(from, end - from), stretch.offset + *line - 1});
            end = from;
        }
        return stretch.text.substr(0, end);
    }

    void finish(TableReading& reading, long offset, Metadata facts) {
        std::vector<Issue> issues;
        ReadTable t = reading.finish(issues, out_.alternatives);
        if (offset > 0 && t.table.rowCount() == 0) return; // titles and facts only
        for (Issue& issue : issues) {
            if (issue.place.line > 0) issue.place.line += offset;
            out_.issues.push_back(std::move(issue));
        }
        if (offset > 0) {
            for (long* line : {&t.headingLine, &t.unitsLine, &t.firstDataLine})
                if (*line > 0) *line += offset;
            Rows rows = *t.table.rows;
            for (auto& line : rows.lines) line += static_cast<std::uint32_t>(offset);
            if (rows.firstLine > 0) rows.firstLine += static_cast<std::uint32_t>(offset);
            t.table.rows = std::make_shared<Rows>(std::move(rows));
        }
        suggestRoles(t.table);
        if (offset > 0) t.metadata = std::move(facts);
        out_.tables.push_back(std::move(t));
    }

    const Settings& told_;
    const Cancellation& stop_;
    ReadResult& out_;
    std::optional<Dialect> main_;
    std::vector<Stretch> waiting_; // the next one last
};

// Names for the tables of a file with several: sections, else numbers.
void nameTables(std::vector<ReadTable>& tables) {
    if (tables.size() < 2) {
        if (!tables.empty()) tables.front().table.name.clear();
        return;
    }
    std::set<std::string> taken;
    int number = 0;
    for (ReadTable& t : tables) {
        ++number;
        if (t.table.name.empty()) t.table.name = fmt::format("block {}", number);
        const std::string wanted = t.table.name;
        for (int k = 2; !taken.insert(t.table.name).second; ++k)
            t.table.name = fmt::format("{} {}", wanted, k);
    }
}

// Prose and programs: nothing but texts, in lines of any number of words, in sentences or in statements.
bool isHardlyATable(const ReadResult& out) {
    const Table& t = out.tables.front().table;
    if (out.tables.size() > 1 || t.rowCount() < 2 || t.columns.empty()) return false;
    if (!std::ranges::all_of(t.columns, [](const Column& c) { return c.kind == ColumnKind::Text; }))
        return false;
    const bool ragged =
        std::ranges::any_of(out.issues, [](const Issue& i) { return i.code == "ragged-rows"; });
    const auto &first = t.columns.front().cells->texts, &last = t.columns.back().cells->texts;
    const auto sentences =
        std::ranges::count_if(first, [](const std::string& s) { return std::ranges::count(s, ' ') > 2; });
    const auto closed = std::ranges::count_if(
        last, [](const std::string& s) { return !s.empty() && std::string_view(".;{}").contains(s.back()); });
    return ragged || (t.columns.size() == 1 && 2 * sentences > std::ssize(first)) ||
           3 * closed > std::ssize(last);
}

} // namespace

Result<void> readTables(std::string_view text, const Settings& told, const Cancellation& stop,
                        ReadResult& out) {
    if (auto good = TextReading(told, stop, out).read(text); !good) return good;
    nameTables(out.tables);
    if (isHardlyATable(out))
        out.issues.push_back(
            {"hardly-a-table",
             "This hardly is a table: there are only words, in lines of different lengths. If it "
             "holds one, say what separates the columns and where the data begin.",
             {.line = std::max(1L, out.tables.front().firstDataLine)}});
    if (out.tables.size() == 1 && out.tables[0].table.rowCount() == 0)
        out.issues.push_back({"empty-file", "There are headings but no rows of data.", {}});
    return {};
}

} // namespace jointer::io
