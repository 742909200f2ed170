// SPDX-License-Identifier: GPL-3.0-or-later
#include "describe/typed_number.h"

#include "base/text.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <string>

namespace jointer {

namespace {

void replaceAll(std::string& text, std::string_view from, std::string_view to) {
    for (std::size_t at = 0; (at = text.find(from, at)) != text.npos; at += to.size())
        text.replace(at, from.size(), to);
}

// "10^-6", "pi", "2pi", "3".
std::optional<double> factor(std::string_view text) {
    if (const auto n = parseNumber(text)) return n;
    if (const std::size_t at = text.find('^'); at != text.npos) {
        const auto base = factor(text.substr(0, at)), power = parseNumber(text.substr(at + 1));
        if (!base || !power) return {};
        const double value = std::pow(*base, *power);
        return std::isfinite(value) ? std::optional(value) : std::nullopt;
    }
    if (!text.ends_with("pi")) return {};
    const std::string_view before = text.substr(0, text.size() - 2);
    if (before.empty()) return std::numbers::pi;
    if (before == "-") return -std::numbers::pi;
    const auto n = parseNumber(before);
    return n ? std::optional(*n * std::numbers::pi) : std::nullopt;
}

} // namespace

std::optional<double> typedNumber(std::string_view typed) {
    if (const auto n = parseNumber(trimmed(typed))) return n;
    std::string text(trimmed(typed));
    replaceAll(text, "−", "-");
    replaceAll(text, "×", "*");
    replaceAll(text, "·", "*");
    replaceAll(text, "π", "pi");
    replaceAll(text, "\u2009", ""); // of thousands
    const bool known = std::ranges::all_of(text, [](char c) {
        return std::string_view("0123456789.+-eE^*/ pi").find(c) != std::string_view::npos;
    });
    if (!known || text.empty()) return {};
    // Blanks between factors multiply: "2 pi".
    double value = 1;
    bool divides = false, pending = true, any = false;
    for (std::size_t at = 0; at < text.size();) {
        const char c = text[at];
        if (c == ' ') {
            ++at;
            continue;
        }
        if (c == '*' || c == '/') {
            if (pending) return {};
            divides = c == '/';
            pending = true;
            ++at;
            continue;
        }
        const std::size_t end = std::min(text.find_first_of("*/ ", at), text.size());
        const auto f = factor(std::string_view(text).substr(at, end - at));
        if (!f || (divides && *f == 0)) return {};
        value = divides ? value / *f : value * *f;
        divides = pending = false;
        any = true;
        at = end;
    }
    if (!any || pending || !std::isfinite(value)) return {};
    return value;
}

std::optional<double> typedNumberOrTime(std::string_view text) {
    const auto n = typedNumber(text);
    return n ? n : parseIsoTime(text);
}

} // namespace jointer
