// SPDX-License-Identifier: GPL-3.0-or-later
// The lines of a text, one after the other, at the speed of memchr.
#pragma once

#include <algorithm>
#include <cstring>

namespace jointer::io {

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

} // namespace jointer::io
