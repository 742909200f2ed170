// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/cell_text.h"

#include "base/text.h"

#include <algorithm>
#include <cmath>
#include <fast_float/fast_float.h>

namespace jointer::io {

const char* readNumberSlowly(const char* at, const char* end, char decimal, double& value) {
    const char* from = at < end && *at == '+' ? at + 1 : at;
    if (decimal == '.') {
        const auto [stop, error] = fast_float::from_chars(from, end, value);
        const bool dExponent = error == std::errc{} && stop < end && (*stop == 'd' || *stop == 'D');
        // Beyond the largest number there is no value, not infinity.
        if (!dExponent) return error == std::errc{} && std::isfinite(value) ? stop : nullptr;
    }
    char buffer[128];
    std::size_t used = 0;
    for (const char* p = from; p < end && used < sizeof buffer; ++p, ++used) {
        const bool sign = (*p == '+' || *p == '-') && (used == 0 || buffer[used - 1] == 'e');
        if (isDigit(*p) || sign)
            buffer[used] = *p;
        else if (*p == decimal)
            buffer[used] = '.';
        else if ((*p | 0x20) == 'e' || (*p | 0x20) == 'd')
            buffer[used] = 'e';
        else
            break;
    }
    const auto [stop, error] = fast_float::from_chars(buffer, buffer + used, value);
    return error == std::errc{} && std::isfinite(value) ? from + (stop - buffer) : nullptr;
}

std::optional<double> numberOf(std::string_view text, char decimal) {
    text = trimmed(text);
    std::string plain;
    if (text.starts_with("−")) text = plain = "-" + std::string(text.substr(3));
    double value = 0;
    const char* end = text.data() + text.size();
    return readNumber(text.data(), end, decimal, value) == end && !text.empty() ? std::optional(value)
                                                                                : std::nullopt;
}

std::optional<bool> isYesNo(std::string_view text) {
    if (text.size() < 2 || text.size() > 8) return std::nullopt;
    const std::string lower = lowerAscii(trimmed(text));
    if (lower == "true" || lower == "yes") return true;
    if (lower == "false" || lower == "no") return false;
    return std::nullopt;
}

bool isMissing(std::string_view text, const std::vector<std::string>& markers) {
    static constexpr std::string_view usual[] = {
        "",    "na", "n/a",  "nan",  "null",    "none",   "-",       "--",  "---",   "–",      "—",
        ".",   "?",  "#n/a", "n.a.", "nd",      "n.d.",   "missing", "*",   "nil",   "<na>",   "(null)",
        "#na", "..", "...",  "-nan", "1.#qnan", "1.#ind", "-1.#ind", "n/d", "empty", "no data"};
    const std::string_view t = trimmed(text);
    if (t.size() <= 8) {
        const std::string lower = lowerAscii(t);
        if (std::ranges::find(usual, lower) != std::end(usual)) return true;
    }
    return std::ranges::any_of(markers, [&](const std::string& m) { return t == trimmed(m); });
}

std::optional<Limit> limitOf(std::string_view text, char decimal) {
    static constexpr std::pair<std::string_view, CellState> signs[] = {
        {"<=", CellState::Below}, {">=", CellState::Above}, {"<", CellState::Below},
        {">", CellState::Above},  {"≤", CellState::Below},  {"≥", CellState::Above}};
    const std::string_view t = trimmed(text);
    for (const auto& [sign, side] : signs) {
        if (!t.starts_with(sign)) continue;
        const auto value = numberOf(t.substr(sign.size()), decimal);
        return value ? std::optional(Limit{*value, side}) : std::nullopt;
    }
    return std::nullopt;
}

} // namespace jointer::io
