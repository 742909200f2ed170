// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/interruptions.h"

#include "base/text.h"
#include "io/cell_text.h"
#include "io/headings.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>

namespace jointer::io {

namespace {

bool isSummaryWord(std::string_view field) {
    static constexpr std::array<std::string_view, 22> words = {"mean",
                                                               "average",
                                                               "avg",
                                                               "total",
                                                               "sum",
                                                               "sd",
                                                               "std",
                                                               "std dev",
                                                               "stdev",
                                                               "st. dev.",
                                                               "standard deviation",
                                                               "sem",
                                                               "se",
                                                               "median",
                                                               "count",
                                                               "cv",
                                                               "cv%",
                                                               "rsd",
                                                               "min",
                                                               "max",
                                                               "minimum",
                                                               "maximum"};
    std::string lower = lowerAscii(trimmed(field));
    while (!lower.empty() && (lower.back() == ':' || lower.back() == '=')) lower.pop_back();
    return std::ranges::find(words, lower) != words.end();
}

bool beginsWithValue(const std::vector<std::string>& fields, const Dialect& d) {
    return valueWeight(fields.front(), d.decimal) > 0 || isYesNo(fields.front());
}

class Finder {
public:
    Finder(std::string_view text, const DialectGuess& guess, const std::vector<long>& strange)
        : lines_(allLines(text)), d_(guess.dialect), strange_(strange) {
        if (d_.heading > 0) heading_ = fieldsOf(d_.heading);
        std::size_t seen = 0, values = 0;
        for (long line = d_.first; line <= last() && seen < 20; line = nextUsed(line), ++seen)
            values += beginsWithValue(fieldsOf(line), d_);
        rowsBeginWithValues_ = 2 * values > seen;
    }

    Interruptions find() {
        for (std::size_t i = 0; i < strange_.size();) {
            std::size_t end = i + 1;
            while (end < strange_.size() && isNext(strange_[end - 1], strange_[end])) ++end;
            settle(strange_[i], strange_[end - 1]);
            i = end;
        }
        dropSummaryRows();
        report();
        return std::move(out_);
    }

private:
    std::string_view text(long line) const {
        const bool there = line >= 1 && line <= last();
        return there ? lines_[static_cast<std::size_t>(line) - 1] : std::string_view();
    }
    long last() const { return static_cast<long>(lines_.size()); }
    std::vector<std::string> fieldsOf(long line) const { return fieldsOfLine(text(line), d_); }
    bool isUsed(long line) const { return !isBlankLine(text(line)) && !isComment(text(line), d_.comment); }

    // Whether nothing but blank lines and comments stands between.
    bool isNext(long a, long b) const {
        for (long line = a + 1; line < b; ++line)
            if (isUsed(line)) return false;
        return true;
    }

    double valuesIn(const std::vector<std::string>& fields) const {
        double values = 0;
        for (const std::string& f : fields) values += valueWeight(f, d_.decimal) > 0;
        return values;
    }
    // No value at all, and not a row of missing cells.
    bool isWordsOnly(const std::vector<std::string>& fields) const {
        const bool begins = !fields.front().empty() &&
                            (!isMissing(fields.front(), d_.missing) || fields.front().starts_with("--"));
        return begins && valuesIn(fields) == 0;
    }
    bool looksLikeData(const std::vector<std::string>& fields) const {
        return !fields.empty() && 2 * valuesIn(fields) >= static_cast<double>(fields.size());
    }
    long nextUsed(long line) const {
        do ++line;
        while (line <= last() && (!isUsed(line) || isRuleLine(text(line))));
        return line;
    }

    // Whether a table with names of its own begins with the line: names, then lines with as many values.
    bool headsTable(long line) const {
        const auto names = fieldsOf(line);
        Dialect d = d_;
        d.columns = names.size();
        if (names.size() < 2 || !isHeadingLine(names, d) || valuesIn(names) > 0) return false;
        long below = nextUsed(line);
        for (int k = 0; k < 2 && below <= last() && valuesIn(fieldsOf(below)) == 0; ++k)
            below = nextUsed(below);
        if (below > last()) return false;
        const auto data = fieldsOf(below);
        return valuesIn(data) > 0 && (data.size() == names.size() || data.size() == names.size() + 1);
    }

    bool repeatsHeading(long line) const { return !heading_.empty() && fieldsOf(line) == heading_; }
    bool repeatsUnits(long line) const {
        return d_.units > 0 && line <= last() && fieldsOf(line) == fieldsOf(d_.units);
    }

    // "Scan 2" where "Scan 1" stands above the first data without headings.
    bool repeatsTitle(long line) const {
        if (d_.heading > 0 || d_.first < 2) return false;
        auto letters = [](std::string_view t) {
            std::string out;
            for (char c : trimmed(t))
                if (!isDigit(c)) out += c;
            return out;
        };
        long title = d_.first - 1;
        while (title > 1 && isBlankLine(text(title))) --title;
        const std::string above = letters(text(title));
        return above.find_first_not_of(" .,;:-+\t") != above.npos && above == letters(text(line));
    }

    // Lines of another number of fields that go on after a gap are a block without headings.
    bool startsBareBlock(long line, long end) const {
        const auto fields = fieldsOf(line);
        if (fields.size() == d_.columns || fields.size() < 2 || !looksLikeData(fields)) return false;
        const bool gap = line > 1 && (isBlankLine(text(line - 1)) || valuesIn(fieldsOf(line - 1)) == 0);
        long count = 1;
        for (long below = nextUsed(line); below <= end && fieldsOf(below).size() == fields.size();
             below = nextUsed(below))
            ++count;
        return gap && count >= 3;
    }

    void settle(long from, long to) {
        long begin = from; // of what is not settled yet
        for (long line = from; line <= to; line = nextUsed(line)) {
            if (repeatsHeading(line)) {
                for (long k = begin; k <= line; ++k) out_.noRows.insert(k);
                repeated_.push_back(line);
                if (isRuleLine(text(line + 1))) out_.noRows.insert(line + 1);
                if (repeatsUnits(nextUsed(line))) out_.noRows.insert(line = nextUsed(line));
                begin = line + 1;
            } else if (line > d_.first && (!sectionName(text(line)).empty() || repeatsTitle(line) ||
                                           headsTable(line) || startsBareBlock(line, to))) {
                // Titles and facts above the names belong to the new table.
                long top = line;
                while (top > begin && !looksLikeData(fieldsOf(top - 1))) --top;
                settleRest(begin, top - 1, false);
                out_.newBlocks.push_back(std::max({top, begin, d_.first + 1}));
                return; // the rest is read anew
            }
        }
        settleRest(begin, to, nextUsed(to) > last());
    }

    // Single lines: those without any value are no rows.
    void settleRest(long from, long to, bool atEnd) {
        for (long line = from; line <= to; ++line) {
            if (!isUsed(line) || out_.noRows.contains(line)) continue;
            if (isRuleLine(text(line))) {
                out_.noRows.insert(line);
                continue;
            }
            const auto fields = fieldsOf(line);
            const bool prose =
                valuesIn(fields) == 0 && (fields.size() != d_.columns ||
                                          (d_.columns == 1 && fields[0].find(' ') != std::string::npos));
            const bool summary = isSummaryWord(fields[0]);
            const bool sentence = fields.size() < d_.columns && valueWeight(fields[0], d_.decimal) == 0 &&
                                  fields[0].find(' ') != std::string::npos;
            // Words only, where rows begin with a value.
            const bool words = rowsBeginWithValues_ && isWordsOnly(fields);
            const bool footer = atEnd && (summary || prose || sentence || words ||
                                          (begunFooter_ && valueWeight(fields[0], d_.decimal) == 0));
            if (!footer && !prose) continue;
            out_.noRows.insert(line);
            begunFooter_ = begunFooter_ || footer;
            (footer ? footers_ : skipped_).push_back(line);
        }
    }

    // Rows of means and totals at the end of a table whose first column holds words.
    void dropSummaryRows() {
        long line = last();
        std::vector<long> rows;
        for (; line > d_.first; --line) {
            if (!isUsed(line) || out_.noRows.contains(line) || isRuleLine(text(line))) continue;
            if (!isSummaryWord(fieldsOf(line)[0])) break;
            rows.push_back(line);
        }
        if (line <= d_.first || rows.size() > 12) return;
        for (long row : rows) {
            out_.noRows.insert(row);
            footers_.push_back(row);
        }
    }

    void report() {
        auto say = [&](std::vector<long>& lines, const char* code, auto&& sentence) {
            if (lines.empty()) return;
            std::ranges::sort(lines);
            out_.issues.push_back({code, sentence(lines.size()), {.line = lines.front()}});
        };
        say(repeated_, "repeated-heading", [](std::size_t n) {
            return fmt::format("The headings come again {}; what follows is joined to the same table.",
                               n == 1 ? "here" : fmt::format("in {} places, first here", n));
        });
        say(footers_, "skipped-footer", [](std::size_t n) {
            return fmt::format("{} below the data {} no row of the table and left out.",
                               counted(static_cast<long long>(n), "line"), n == 1 ? "is" : "are");
        });
        say(skipped_, "skipped-lines", [](std::size_t n) {
            return fmt::format("{} between the rows {} no value and left out.",
                               counted(static_cast<long long>(n), "line"), n == 1 ? "holds" : "hold");
        });
    }

    std::vector<std::string_view> lines_;
    const Dialect& d_;
    const std::vector<long>& strange_;
    std::vector<std::string> heading_;
    std::vector<long> repeated_, footers_, skipped_;
    bool begunFooter_ = false, rowsBeginWithValues_ = false;
    Interruptions out_;
};

} // namespace

Interruptions findInterruptions(std::string_view text, const DialectGuess& guess,
                                const std::vector<long>& strange) {
    return Finder(text, guess, strange).find();
}

std::vector<long> repeatedLines(std::string_view text, const Dialect& d) {
    std::vector<long> found;
    if (d.heading < 1) return found;
    const auto lines = firstLines(text, static_cast<std::size_t>(d.heading));
    if (lines.size() < static_cast<std::size_t>(d.heading) || lines.back().size() < 3) return found;
    const std::string_view heading = lines.back();
    long line = d.heading;
    std::size_t counted =
        static_cast<std::size_t>(heading.data() - text.data()); // up to here lines are counted
    for (std::size_t at = counted; (at = text.find(heading, at + 1)) != text.npos;) {
        const std::size_t end = at + heading.size();
        const bool whole = (text[at - 1] == '\n' || text[at - 1] == '\r') &&
                           (end == text.size() || text[end] == '\n' || text[end] == '\r');
        if (!whole) continue;
        line += std::ssize(allLines(text.substr(counted, at - counted)));
        counted = at;
        found.push_back(line);
    }
    return found;
}

std::vector<long> wordyLastLines(std::string_view text, const DialectGuess& guess) {
    const Dialect& d = guess.dialect;
    const auto head = firstLines(text, static_cast<std::size_t>(d.first) + 5);
    std::size_t rows = 0, values = 0;
    for (std::size_t i = static_cast<std::size_t>(d.first) - 1; i < head.size(); ++i) {
        if (isBlankLine(head[i]) || isComment(head[i], d.comment)) continue;
        ++rows;
        values += beginsWithValue(fieldsOfLine(head[i], d), d);
    }
    const std::size_t tail = std::min<std::size_t>(text.size(), 2000);
    auto last = allLines(text.substr(text.size() - tail));
    while (!last.empty() && (isBlankLine(last.back()) || isComment(last.back(), d.comment))) last.pop_back();
    const bool quotes = text.substr(text.size() - tail).find('"') != text.npos; // lines may go on
    const bool ruled = !last.empty() && isRuleLine(last.back());
    if ((2 * values <= rows && !ruled) || rows == 0 || quotes) return {};
    std::size_t wordy = 0;
    while (wordy < last.size() && wordy < 5) {
        const auto fields = fieldsOfLine(last[last.size() - 1 - wordy], d);
        if (fields.front().empty() || beginsWithValue(fields, d) ||
            (isMissing(fields.front(), d.missing) && !fields.front().starts_with("--")))
            break;
        ++wordy;
    }
    if (wordy == 0 || wordy == 5) return {};
    const long count =
        std::ssize(allLines(text.substr(0, static_cast<std::size_t>(last.back().data() - text.data())))) + 1;
    std::vector<long> lines;
    for (std::size_t k = wordy; k-- > 0;) lines.push_back(count - static_cast<long>(k));
    return lines;
}

bool endsInSummary(std::string_view text, const DialectGuess& guess) {
    const std::size_t tail = std::min<std::size_t>(text.size(), 2000);
    for (std::string_view line : firstLines(text.substr(text.size() - tail), 1000))
        if (isSummaryWord(fieldsOfLine(line, guess.dialect).front())) return true;
    return false;
}

} // namespace jointer::io
