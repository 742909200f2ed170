// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/text_tables.h"

#include "base/text.h"
#include "io/canonical.h"
#include "io/column_meaning.h"
#include "io/table_reading.h"

#include <algorithm>
#include <fmt/format.h>
#include <set>

namespace jointer::io {

namespace {

constexpr std::size_t kMostColumns = 20000;
constexpr std::size_t kMostBlocks = 500; // tables in one file

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
        if (!guess.surplusNames.empty())
            out_.issues.push_back(
                {"ragged-rows",
                 fmt::format("The heading names {} more than there are in the rows: {}. The first {} are taken.",
                             counted(static_cast<long long>(guess.surplusNames.size()), "column"),
                             joined(guess.surplusNames, ", "), guess.dialect.columns),
                 {.line = guess.dialect.heading}});
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
