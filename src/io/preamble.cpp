// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/preamble.h"

#include "base/text.h"
#include "io/cell_text.h"
#include "io/fields.h"

#include <algorithm>
#include <optional>

namespace jointer::io {

namespace {

using Fact = std::pair<std::string, std::string>;

std::optional<Fact> keyAndValue(std::string_view piece) {
    const std::size_t at = piece.find_first_of(":=");
    if (at == std::string_view::npos || at == 0 || at > 60) return std::nullopt;
    const std::string_view key = trimmed(piece.substr(0, at)), value = trimmed(piece.substr(at + 1));
    if (key.empty() || value.empty() || std::ranges::count(key, ' ') > 4) return std::nullopt;
    if (value.starts_with("//")) return std::nullopt; // an address of the web
    // "started 12:30" is a time, not a fact.
    if (piece[at] == ':' && isDigit(key.back()) && isDigit(value.front()) && at + 1 < piece.size() &&
        isDigit(piece[at + 1]))
        return std::nullopt;
    return Fact(key, value);
}

// -99, 9999, -8888.8, 1e30: no measured value looks like that.
bool looksLikeSentinel(std::string_view text) {
    const auto value = numberOf(text, '.');
    if (!value) return false;
    std::string digits;
    for (char c : text.substr(0, text.find_first_of("eE")))
        if (isDigit(c)) digits += c;
    while (digits.size() > 2 && digits.back() == '0') digits.pop_back();
    const bool same = digits.size() >= 2 && digits.find_first_not_of(digits[0]) == std::string::npos;
    return same || *value > 1e10 || *value < -1e10;
}

std::string_view withoutEnd(std::string_view line, char separator) {
    line = trimmed(line);
    while (!line.empty() && line.back() == separator && separator != kBlanks)
        line = trimmed(line.substr(0, line.size() - 1));
    if (line.size() > 1 && line.front() == '"' && line.back() == '"' && line.find('"', 1) == line.size() - 1)
        line = line.substr(1, line.size() - 2);
    return line;
}

bool isWord(std::string_view text) {
    return !text.empty() && text.size() <= 40 && std::ranges::count(text, ' ') <= 3 && !numberOf(text, '.') &&
           text.back() != '.' && text.find(':') == text.npos;
}

} // namespace

void takeMetadata(std::string_view line, char separator, Metadata& metadata) {
    line = withoutEnd(line, separator);
    while (line.starts_with('#') || line.starts_with('%')) line = trimmed(line.substr(1));
    if (separator != kBlanks && separator != kWideBlanks) {
        // "Site:;North pan" and "Site;North pan" are facts in two fields.
        const auto fields = fieldTexts(line, separator);
        if (fields.size() == 2 && !fields[1].empty()) {
            std::string_view key = fields[0];
            const bool marked = key.ends_with(':') || key.ends_with('=');
            if (marked) key = trimmed(key.substr(0, key.size() - 1));
            if (isWord(key) && (marked || separator != ',' || !fields[0].contains(' '))) {
                if (!keyAndValue(line) || marked) {
                    metadata.emplace_back(std::string(key), fields[1]);
                    return;
                }
            }
        }
    }
    std::vector<Fact> found;
    const auto pieces = split(line, ';');
    for (std::string_view piece : pieces)
        if (auto fact = keyAndValue(piece)) found.push_back(std::move(*fact));
    if (found.size() < pieces.size()) {
        found.clear();
        if (auto fact = keyAndValue(line)) found.push_back(std::move(*fact));
    }
    std::ranges::move(found, std::back_inserter(metadata));
}

void takeMissingMarkers(std::string_view line, std::vector<std::string>& markers) {
    const std::string lower = lowerAscii(line);
    bool declares = false;
    for (std::string_view word :
         {"missing", "nodata", "no data", "no_data", "fill value", "fillvalue", "fill_value", "not measured",
          "bad value", "invalid", "null value", "no value"})
        declares = declares || lower.find(word) != std::string::npos;
    if (!declares) return;
    // The marker is what stands in quotes, or the last figure, or what follows the mark of a fact.
    if (const std::size_t open = line.find_first_of("\"'"); open != line.npos)
        if (const std::size_t close = line.find(line[open], open + 1);
            close != line.npos && close > open + 1) {
            markers.emplace_back(trimmed(line.substr(open + 1, close - open - 1)));
            return;
        }
    std::string_view last;
    for (std::string_view token : split(line, ' ')) {
        const std::size_t mark = token.find_first_of("=:,;");
        if (mark != token.npos && mark + 1 < token.size()) token = token.substr(mark + 1);
        while (!token.empty() &&
               (token.back() == '.' || token.back() == ',' || token.back() == ')' || token.back() == ';'))
            token.remove_suffix(1);
        while (token.starts_with('(')) token.remove_prefix(1);
        if (numberOf(token, '.')) last = token;
    }
    bool codes = false;
    for (std::string_view word : {"code", "flag", "marker", "marked", "nodata", "fill", "denoted"})
        codes = codes || lower.find(word) != std::string::npos;
    if (!last.empty() && !codes && !looksLikeSentinel(last)) return;
    if (!last.empty()) {
        markers.emplace_back(last);
        return;
    }
    if (const std::size_t at = line.find_first_of(":="); at != line.npos)
        if (const auto value = trimmed(line.substr(at + 1)); !value.empty() && value.size() < 20)
            for (std::string_view part : split(value, ',')) markers.emplace_back(trimmed(part));
}

} // namespace jointer::io
