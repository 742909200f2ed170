// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/key_value.h"

#include "base/text.h"
#include "io/fields.h"

#include <algorithm>
#include <map>
#include <set>

namespace jointer::io {

namespace {

constexpr std::size_t kMostKeys = 500;
bool isKey(std::string_view key) {
    if (key.empty() || key.size() > 60) return false;
    const auto first = static_cast<unsigned char>(key.front());
    return (first | 0x20) >= 'a' ? (first | 0x20) <= 'z' || first >= 0x80 : first == '_';
}

} // namespace

Pairs pairsOf(std::string_view line) {
    Pairs pairs;
    line = trimmed(line);
    for (std::size_t at = 0; at < line.size();) {
        const std::size_t equals = line.find('=', at);
        if (equals == std::string_view::npos) return {};
        const std::string_view key = trimmed(line.substr(at, equals - at));
        if (!isKey(key)) return {};
        std::size_t from = equals + 1;
        while (from < line.size() && line[from] == ' ') ++from;
        std::size_t end;
        if (from < line.size() && line[from] == '"') {
            end = line.find('"', from + 1);
            if (end == std::string_view::npos) return {};
            pairs.emplace_back(key, line.substr(from + 1, end - from - 1));
            end = std::min(end + 1, line.size());
        } else {
            // The value goes to the separator; a blank ends it when a further key follows.
            end = line.find_first_of(",;\t", from);
            if (end == std::string_view::npos) end = line.size();
            const std::size_t next = line.find('=', from);
            if (next < end) {
                const std::size_t keyEnd = line.find_last_not_of(' ', next - 1);
                const std::size_t blank = keyEnd == line.npos ? line.npos : line.rfind(' ', keyEnd);
                if (blank == std::string_view::npos || blank < from) return {};
                end = blank;
            }
            pairs.emplace_back(key, trimmed(line.substr(from, end - from)));
        }
        while (end < line.size() &&
               (line[end] == ' ' || line[end] == ',' || line[end] == ';' || line[end] == '\t'))
            ++end;
        at = end;
    }
    return pairs;
}

bool looksLikeKeyValues(const std::vector<std::string_view>& lines, std::string_view comment) {
    std::size_t used = 0, records = 0, several = 0;
    std::map<std::string_view, std::size_t> keys;
    for (std::string_view line : lines) {
        if (isBlankLine(line) || isComment(line, comment)) continue;
        ++used;
        const Pairs pairs = pairsOf(line);
        records += !pairs.empty();
        several += pairs.size() > 1;
        for (const auto& [key, value] : pairs) ++keys[key];
    }
    if (used < 2 || 10 * records < 9 * used) return false;
    const std::size_t repeated =
        static_cast<std::size_t>(std::ranges::count_if(keys, [](const auto& k) { return k.second > 1; }));
    return 2 * several > used || (2 * repeated > keys.size() && keys.size() > 1);
}

std::vector<std::string> keysOf(std::string_view text, std::string_view comment) {
    std::vector<std::string> keys;
    std::set<std::string, std::less<>> seen;
    for (std::string_view line : allLines(text)) {
        if (isComment(line, comment)) continue;
        for (const auto& [key, value] : pairsOf(line))
            if (keys.size() < kMostKeys && seen.emplace(key).second) keys.emplace_back(key);
    }
    return keys;
}

std::string recordsFromKeyValues(std::string_view text, const std::vector<std::string>& keys,
                                 std::string_view comment) {
    std::map<std::string_view, std::size_t> place;
    for (std::size_t i = 0; i < keys.size(); ++i) place[keys[i]] = i;
    std::vector<std::string_view> record(keys.size());
    std::vector<bool> have(keys.size());
    std::string out;
    std::size_t blankLines = 0; // after the line in which the record began
    bool open = false;
    auto close = [&] {
        if (!open) return;
        for (std::size_t i = 0; i < record.size(); ++i) {
            if (i) out += kUnitSeparator;
            out += have[i] ? record[i] : std::string_view();
        }
        out.append(blankLines + 1, '\n');
        have.assign(have.size(), false);
        open = false;
        blankLines = 0;
    };
    for (std::string_view line : allLines(text)) {
        const Pairs pairs = isComment(line, comment) ? Pairs{} : pairsOf(line);
        const bool again = std::ranges::any_of(pairs, [&](const auto& p) {
            const auto at = place.find(p.first);
            return at != place.end() && have[at->second];
        });
        if (open && (again || (pairs.empty() && isBlankLine(line)))) close();
        if (pairs.empty() || open) {
            if (open)
                ++blankLines;
            else
                out += '\n';
        }
        for (const auto& [key, value] : pairs)
            if (const auto at = place.find(key); at != place.end()) {
                record[at->second] = value;
                have[at->second] = true;
                open = true;
            }
    }
    close();
    return out;
}

} // namespace jointer::io
