// SPDX-License-Identifier: GPL-3.0-or-later
// The lines of a text, one after the other, at the speed of memchr.
#pragma once

#include <cstddef>
#include <cstring>
#include <string_view>

namespace jointer::io {

// Where the end of a line stands with respect to quoted fields. A quote opens a field only where a field
// begins, and closes it only where one ends; any other (an inch mark) stands for itself.
enum class LineEnd { Outside, Inside, Stray }; // Stray: what had been opened turned out to be no quoted field

inline LineEnd endOfLine(std::string_view line, std::string_view separators, bool inside) {
    const auto separates = [&](char c) { return separators.find(c) != std::string_view::npos; };
    const bool continued = inside;
    for (std::size_t at = 0; (at = line.find('"', at)) != std::string_view::npos;) {
        if (!inside) {
            std::size_t before = at;
            while (before > 0 && line[before - 1] == ' ' && !separates(' ')) --before;
            inside = before == 0 || separates(line[before - 1]);
            ++at;
        } else if (at + 1 < line.size() && line[at + 1] == '"')
            at += 2;
        else {
            std::size_t after = at + 1;
            while (after < line.size() && (line[after] == ' ' || line[after] == '\r') && !separates(' '))
                ++after;
            inside = false;
            if (continued && after < line.size() && !separates(line[after])) return LineEnd::Stray;
            ++at;
        }
    }
    return inside ? LineEnd::Inside : LineEnd::Outside;
}

// Runs over lines; a line goes on until the quoted fields that it opens are closed.
class LineCursor {
public:
    // `separators`: of fields; empty where the text has no quotes.
    LineCursor(const char* at, const char* end, char lineEnd, std::string_view separators)
        : at_(at), end_(end), lineEnd_(lineEnd), separators_(separators) {}

    bool next(const char*& from, const char*& to) {
        if (at_ >= end_) return false;
        from = at_;
        const char* stop = find(at_);
        lines_ = 1;
        if (!separators_.empty() && endOfLine({from, stop}, separators_, false) == LineEnd::Inside) {
            const char* further = stop;
            long more = 1;
            // A quote that is never closed is a stray one: the line then ends where it seemed to.
            while (further < end_ && further - from < kLongest) {
                const char* begin = further + 1;
                further = find(begin);
                ++more;
                const LineEnd state = endOfLine({begin, further}, separators_, true);
                if (state == LineEnd::Outside) {
                    stop = further;
                    lines_ = more;
                }
                if (state != LineEnd::Inside) break;
            }
        }
        to = stop > from && stop[-1] == '\r' ? stop - 1 : stop;
        at_ = stop < end_ ? stop + 1 : end_;
        return true;
    }
    long lines() const { return lines_; } // that the last line took
    const char* place() const { return at_; }

private:
    static constexpr std::ptrdiff_t kLongest = 100000; // bytes of a line with breaks in quotes

    const char* find(const char* from) const {
        if (from >= end_) return end_;
        const void* hit = std::memchr(from, lineEnd_, static_cast<std::size_t>(end_ - from));
        return hit ? static_cast<const char*>(hit) : end_;
    }

    const char *at_, *end_;
    char lineEnd_;
    std::string_view separators_;
    long lines_ = 1;
};

} // namespace jointer::io
