// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/delimited_parser.h"

#include "base/progress.h"
#include "base/text.h"
#include "io/cell_text.h"
#include "io/line_cursor.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <cstring>
#include <limits>
#include <utility>

namespace jointer::io {

namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();
constexpr std::size_t kChunk = 2 << 20;
constexpr double kCountingShare = 0.2; // of the time

// Tells the progress of this thread how many of some parts are done, by whatever thread.
class Portion {
public:
    Portion(double from, double to, std::size_t parts)
        : progress_(boundProgress()), from_(from),
          each_((to - from) / static_cast<double>(std::max<std::size_t>(parts, 1))) {}
    void step() {
        const auto done = static_cast<double>(++done_);
        if (progress_) progress_->set(from_ + each_ * done);
    }

private:
    Progress* progress_;
    double from_, each_;
    std::atomic<std::size_t> done_ = 0;
};

} // namespace

void DelimitedParser::countRows() {
    const char* start = startOfData();
    const std::string separators = std::exchange(separators_, "");
    cutChunks(start);
    std::atomic<bool> breaks = false; // in quoted fields
    Portion counted(0, kCountingShare, chunks_.size());
    parallelRanges(chunks_.size(), 1, [&](std::size_t from, std::size_t to) {
        for (std::size_t k = from; k < to && !stop_.stop_requested() && !breaks; ++k, counted.step())
            if (!count(chunks_[k], separators)) breaks = true;
    });
    if (breaks) { // the lines have to be run over one after the other
        separators_ = separators;
        chunks_.clear();
        cutChunks(start);
    }
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
std::vector<Plan> DelimitedParser::planFromSample() const {
    std::vector<std::size_t> numbers(d_.columns, 0), texts(d_.columns, 0);
    std::vector<Field> fields;
    std::vector<std::string> storage;
    for (const Chunk& c : chunks_) {
        LineCursor cursor(c.begin, c.end, lineEnd_, separators_);
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

void DelimitedParser::parse(const std::vector<Plan>& plan) {
    plan_ = plan;
    cells_.assign(d_.columns, {});
    // The system hands out fresh memory slowly, so in parallel too.
    parallelRanges(d_.columns, 1, [&](std::size_t from, std::size_t to) {
        for (std::size_t c = from; c < to; ++c) {
            if (plan_[c] == Plan::Number)
                cells_[c].numbers.resize(rows_);
            else
                cells_[c].texts.resize(rows_);
        }
    });
    numbers_.clear();
    for (Cells& c : cells_) numbers_.push_back(c.numbers.data());
    if (skipsLines_) lines_.resize(rows_);
    Portion parsed(kCountingShare, 1, chunks_.size());
    parallelRanges(chunks_.size(), 1, [&](std::size_t from, std::size_t to) {
        for (std::size_t k = from; k < to && !stop_.stop_requested(); ++k, parsed.step())
            parseChunk(chunks_[k]);
    });
}

const char* DelimitedParser::startOfData() const {
    LineCursor cursor(text_.data(), text_.data() + text_.size(), lineEnd_, {});
    const char *from, *to;
    for (long line = 1; line < d_.first; ++line)
        if (!cursor.next(from, to)) break;
    return cursor.place();
}

// Chunks end at line ends; where there are quotes, at such with even quotes before them.
void DelimitedParser::cutChunks(const char* at) {
    const char* end = text_.data() + text_.size();
    while (at < end) {
        Chunk chunk{at, end};
        if (!separators_
                 .empty()) { // where quotes may hold line ends the lines are run over here, and counted
            LineCursor cursor(at, end, lineEnd_, separators_);
            const char *from, *to;
            while (cursor.place() - at < static_cast<std::ptrdiff_t>(kChunk) && cursor.next(from, to)) {
                chunk.lines += cursor.lines();
                if (isRow(from, to)) ++chunk.rows;
            }
            chunk.end = cursor.place();
        } else if (static_cast<std::size_t>(end - at) > kChunk) {
            const void* hit = std::memchr(at + kChunk, lineEnd_, static_cast<std::size_t>(end - at) - kChunk);
            chunk.end = hit ? static_cast<const char*>(hit) + 1 : end;
        }
        chunks_.push_back(chunk);
        at = chunk.end;
    }
}

bool DelimitedParser::isRow(const char* from, const char* to) const {
    while (from < to && (*from == ' ' || *from == '\t' || *from == '\f' || *from == '\x1A' || *from == '\0'))
        ++from;
    if (from == to) return false;
    return d_.comment.empty() ||
           !std::string_view(from, static_cast<std::size_t>(to - from)).starts_with(d_.comment);
}

bool DelimitedParser::count(Chunk& c, std::string_view separators) const {
    LineCursor cursor(c.begin, c.end, lineEnd_, {});
    const char *from, *to;
    while (cursor.next(from, to)) {
        ++c.lines;
        if (isRow(from, to)) ++c.rows;
        if (!separators.empty() && endOfLine({from, to}, separators, false) == LineEnd::Inside) return false;
    }
    return true;
}

void DelimitedParser::parseChunk(Chunk& c) {
    c.odd.clear();
    c.strange.clear();
    c.ragged = c.joined = 0;
    LineCursor cursor(c.begin, c.end, lineEnd_, separators_);
    const char *from, *to;
    std::size_t row = c.firstRow;
    for (long line = c.firstLine; cursor.next(from, to); line += cursor.lines()) {
        if (!isRow(from, to)) continue;
        if (skipsLines_) lines_[row] = static_cast<std::uint32_t>(line);
        const std::size_t oddBefore = c.odd.size();
        const std::size_t joinedBefore = c.joined;
        const bool whole = parseRow(from, to, row, c);
        if (c.joined > joinedBefore && joinedBefore == 0) c.joinedLine = line;
        if (!whole && c.ragged++ == 0) c.raggedLine = line;
        const bool oddFirst = c.odd.size() > oddBefore && c.odd[oddBefore].column == 0;
        if (!whole || oddFirst || c.odd.size() - oddBefore == d_.columns) c.strange.push_back(line);
        ++row;
    }
}

const char* DelimitedParser::numberAt(const char* p, const char* to, double& value) const {
    if (p >= to) return nullptr;
    if (*p != '"') return readNumber(p, to, d_.decimal, value);
    const char* after = p + 1 < to ? readNumber(p + 1, to, d_.decimal, value) : nullptr;
    return after && after < to && *after == '"' ? after + 1 : nullptr;
}

// One line into its row. False when it has too few or too many fields.
bool DelimitedParser::parseRow(const char* p, const char* to, std::size_t row, Chunk& c) {
    constexpr double kExact = 9007199254740992.0; // whole numbers from here on may be rounded
    const bool blanks = d_.separator == ' ';
    const char separator = d_.separator;
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
            const char* after = numberAt(p, to, value);
            if (after) {
                const char* next = skip(after);
                if (next >= to || (blanks ? next > after : *next == separator)) {
                    numbers_[column][row] = value;
                    const bool zeroFirst = *p == '0' && p + 1 < after && isDigit(p[1]);
                    if (zeroFirst || value >= kExact || value <= -kExact)
                        c.odd.push_back({row,
                                         static_cast<std::uint32_t>(column),
                                         {p, static_cast<std::size_t>(after - p)}});
                    more = next < to;
                    p = blanks ? next : next + 1;
                    continue;
                }
            }
        }
        // A text at the end of the line may hold the separator.
        const bool takesRest =
            column + 1 == columns && columns > 1 && plan_[column] == Plan::Text && p < to && *p != '"';
        const std::string_view field = takesRest ? restOfLine(p, to, more, c) : rawField(p, to, more);
        if (plan_[column] == Plan::Number) {
            cells_[column].numbers[row] = kNaN;
            if (!field.empty()) c.odd.push_back({row, static_cast<std::uint32_t>(column), field});
        } else
            unquote(field, cells_[column].texts[row]);
    }
    // A trailing separator is no further field.
    return !more || skip(p) >= to;
}

std::string_view DelimitedParser::restOfLine(const char*& p, const char* to, bool& more, Chunk& c) const {
    std::string_view rest = trimmed({p, static_cast<std::size_t>(to - p)});
    while (!rest.empty() && rest.back() == d_.separator) rest = trimmed(rest.substr(0, rest.size() - 1));
    if (d_.separator != ' ' && rest.find(d_.separator) != std::string_view::npos) ++c.joined;
    p = to;
    more = false;
    return rest;
}

std::vector<long> DelimitedParser::strangeLines() const {
    std::vector<long> all;
    for (const Chunk& c : chunks_) all.insert(all.end(), c.strange.begin(), c.strange.end());
    return all;
}

// The field at p with its quotes; moves p behind its separator.
std::string_view DelimitedParser::rawField(const char*& p, const char* to, bool& more) const {
    const char* from = p;
    const char* end = nullptr;
    if (p < to && *p == '"') {
        auto quoteFrom = [to](const char* at) {
            const void* hit = at < to ? std::memchr(at, '"', static_cast<std::size_t>(to - at)) : nullptr;
            return hit ? static_cast<const char*>(hit) : to;
        };
        const char* q = quoteFrom(p + 1);
        while (q + 1 < to && q[1] == '"') q = quoteFrom(q + 2); // doubled: part of the field
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

void DelimitedParser::unquote(std::string_view field, std::string& into) {
    if (field.size() < 2 || field.front() != '"' || field.back() != '"') return void(into.assign(field));
    const std::string_view inside = field.substr(1, field.size() - 2);
    std::size_t from = 0;
    into.clear();
    for (std::size_t quote; (quote = inside.find('"', from)) != inside.npos; from = quote + 2)
        into.append(inside.substr(from, quote + 1 - from)); // of two, one
    if (from < inside.size()) into.append(inside.substr(from));
}

} // namespace jointer::io
