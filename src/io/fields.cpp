// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/fields.h"

#include "base/text.h"
#include "io/line_cursor.h"
#include "io/unit_text.h"

#include <algorithm>

namespace jointer::io {

namespace {

void splitWide(std::string_view line, std::vector<Field>& fields) {
    line = trimmed(line);
    for (std::size_t from = 0; from <= line.size();) {
        std::size_t end = from;
        while (end < line.size() && line[end] != '\t' && !line.substr(end).starts_with("  ")) ++end;
        fields.push_back({trimmed(line.substr(from, end - from))});
        if (end >= line.size()) return;
        from = end;
        while (from < line.size() && (line[from] == ' ' || line[from] == '\t')) ++from;
    }
}

} // namespace

void splitFields(std::string_view line, char separator, std::vector<Field>& fields,
                 std::vector<std::string>& storage) {
    fields.clear();
    storage.clear();
    storage.reserve(line.size() / 2 + 1); // so that views into it stay valid
    if (separator == kWideBlanks) return splitWide(line, fields);
    const bool blanks = separator == kBlanks;
    std::size_t i = 0;
    auto skipBlanks = [&] {
        while (i < line.size() && (line[i] == ' ' || (line[i] == '\t' && separator != '\t'))) ++i;
    };
    if (blanks) line = trimmed(line);
    for (;;) {
        skipBlanks();
        if (i < line.size() && line[i] == '"') {
            std::string text;
            std::size_t k = i + 1;
            bool closed = false;
            for (; k < line.size(); ++k) {
                if (line[k] != '"')
                    text += line[k];
                else if (k + 1 < line.size() && line[k + 1] == '"')
                    text += line[k++];
                else {
                    closed = true;
                    break;
                }
            }
            std::size_t after = k + 1;
            while (closed && after < line.size() && line[after] == ' ') ++after;
            const bool ends = closed && (after >= line.size() || line[after] == separator ||
                                         (blanks && (line[k + 1] == ' ' || line[k + 1] == '\t')));
            if (ends) { // otherwise a stray quote or an inch mark: taken as it stands
                storage.push_back(std::move(text));
                fields.push_back({storage.back(), true});
                if (after >= line.size()) return;
                i = blanks ? after : after + 1;
                continue;
            }
        }
        std::size_t end = blanks ? line.find_first_of(" \t", i) : line.find(separator, i);
        if (end == std::string_view::npos) {
            fields.push_back({line.substr(std::min(i, line.size()))});
            return;
        }
        fields.push_back({line.substr(i, end - i)});
        i = end + 1;
    }
}

std::vector<std::string_view> wholeLines(std::vector<std::string_view> lines) {
    constexpr std::string_view separators = ",;|\t";
    for (std::size_t i = 0; i < lines.size(); ++i) {
        if (endOfLine(lines[i], separators, false) != LineEnd::Inside) continue;
        std::size_t end = i + 1;
        LineEnd state = LineEnd::Inside;
        while (end < lines.size() && (state = endOfLine(lines[end], separators, true)) == LineEnd::Inside)
            ++end;
        if (end == lines.size() || state != LineEnd::Outside) continue;
        lines[i] = {lines[i].data(), lines[end].data() + lines[end].size()};
        for (std::size_t k = i + 1; k <= end; ++k) lines[k] = {};
        i = end;
    }
    return lines;
}

std::vector<std::string_view> firstLines(std::string_view text, std::size_t most) {
    std::vector<std::string_view> lines;
    std::size_t from = 0;
    while (from < text.size() && lines.size() < most) {
        std::size_t end = text.find_first_of("\r\n", from);
        if (end == std::string_view::npos) end = text.size();
        lines.push_back(text.substr(from, end - from));
        from = end + (text.substr(end).starts_with("\r\n") ? 2 : 1);
    }
    return lines;
}

std::vector<std::string_view> allLines(std::string_view text) {
    return firstLines(text, static_cast<std::size_t>(-1));
}

std::vector<std::string> fieldTexts(std::string_view line, char separator) {
    std::vector<Field> fields;
    std::vector<std::string> storage;
    splitFields(line, separator, fields, storage);
    std::vector<std::string> texts;
    for (const Field& f : fields) texts.emplace_back(trimmed(f.text));
    return texts;
}

bool isBlankLine(std::string_view line) {
    return trimmed(line).find_first_not_of(std::string_view("\0\x1A", 2)) == std::string_view::npos;
}

bool isComment(std::string_view line, std::string_view prefix) {
    return !prefix.empty() && trimmed(line).starts_with(prefix);
}

std::string_view withoutComment(std::string_view line, std::string_view comment) {
    line = trimmed(line);
    if (isComment(line, comment)) line.remove_prefix(comment.size());
    return trimmed(line);
}

bool isRuleLine(std::string_view line) {
    const std::string_view t = trimmed(line);
    if (t.size() > 5 && t.starts_with("--") && t.ends_with("--") && t.find_first_of(",;\t|") == t.npos)
        return true; // "-- end --"
    if (t.size() < 3 || t.find_first_not_of("-=+|:_ \t") != std::string_view::npos) return false;
    return t.find("---") != t.npos || t.find("===") != t.npos || t.find("___") != t.npos ||
           t.find(":-") != t.npos;
}

std::string_view sectionName(std::string_view line) {
    const std::string_view t = trimmed(line);
    if (t.size() < 3 || t.front() != '[' || t.back() != ']' || t.find_first_of("[]", 1) != t.size() - 1)
        return {};
    const std::string_view name = trimmed(t.substr(1, t.size() - 2));
    return isUnitText(name) ? std::string_view() : name; // "[mg/L]" below a heading
}

} // namespace jointer::io
