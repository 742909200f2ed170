// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/name_pattern.h"

#include "base/text.h"

#include <algorithm>

namespace jointer {

namespace {

struct PatternPart {
    std::string literal, name; // a literal, or a placeholder of this name
    char kind = 't';           // t, d, f; * for what does not matter
};

Result<std::vector<PatternPart>> partsOf(std::string_view pattern) {
    std::vector<PatternPart> parts;
    for (std::size_t at = 0; at < pattern.size();) {
        if (pattern[at] == '*') {
            parts.push_back({.kind = '*'});
            ++at;
        } else if (pattern[at] == '{') {
            const std::size_t end = pattern.find('}', at);
            if (end == std::string_view::npos) return failure("pattern", "A bracket { is not closed.");
            const std::string_view inside = pattern.substr(at + 1, end - at - 1);
            const std::size_t colon = inside.find(':');
            const std::string_view kind = colon == inside.npos ? "t" : inside.substr(colon + 1);
            if (kind != "t" && kind != "d" && kind != "f")
                return failure("pattern",
                               "“" + std::string(kind) +
                                   "” is no kind: write d for a whole number or f for any number.");
            const std::string_view name = trimmed(inside.substr(0, colon));
            if (name.empty()) return failure("pattern", "A pair of brackets { } needs a name.");
            parts.push_back({.name = std::string(name), .kind = kind[0]});
            at = end + 1;
        } else {
            const std::size_t end = std::min(pattern.find_first_of("{*", at), pattern.size());
            parts.push_back({.literal = std::string(pattern.substr(at, end - at))});
            at = end;
        }
    }
    return parts;
}

bool fits(char kind, std::string_view text) {
    if (kind == '*') return true;
    if (text.empty()) return false;
    if (kind == 'd') return std::ranges::all_of(text, [](char c) { return c >= '0' && c <= '9'; });
    return kind == 't' || parseNumber(text).has_value();
}

// Tries lengths from the shortest for texts and from the longest for numbers. `budget` bounds the work.
bool match(const std::vector<PatternPart>& parts, std::size_t k, std::string_view rest, NamedTexts& found,
           int& budget) {
    if (--budget < 0) return false;
    if (k == parts.size()) return rest.empty();
    const PatternPart& part = parts[k];
    if (!part.literal.empty())
        return rest.starts_with(part.literal) &&
               match(parts, k + 1, rest.substr(part.literal.size()), found, budget);
    const bool longestFirst = part.kind == 'd' || part.kind == 'f';
    for (std::size_t n = 0; n <= rest.size(); ++n) {
        const std::size_t length = longestFirst ? rest.size() - n : n;
        const std::string_view taken = rest.substr(0, length);
        if (!fits(part.kind, taken)) continue;
        if (part.kind != '*') found.emplace_back(part.name, taken);
        if (match(parts, k + 1, rest.substr(length), found, budget)) return true;
        if (part.kind != '*') found.pop_back();
    }
    return false;
}

} // namespace

Result<std::optional<NamedTexts>> matchPattern(std::string_view pattern, std::string_view name) {
    const auto parts = partsOf(pattern);
    if (!parts) return std::unexpected(parts.error());
    NamedTexts found;
    int budget = 20000;
    if (!match(*parts, 0, name, found, budget)) return std::optional<NamedTexts>();
    return std::optional(std::move(found));
}

std::string filledTemplate(std::string_view text, const NamedTexts& found) {
    std::string out(text);
    for (const auto& [name, value] : found) {
        const std::string mark = "{" + name + "}";
        for (std::size_t at = 0; (at = out.find(mark, at)) != out.npos; at += value.size())
            out.replace(at, mark.size(), value);
    }
    return out;
}

} // namespace jointer
