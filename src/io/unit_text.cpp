// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/unit_text.h"

#include "base/text.h"
#include "io/cell_text.h"

#include <algorithm>
#include <array>
#include <string_view>

namespace jointer::io {

namespace {

// Symbols that take SI prefixes.
constexpr std::array<std::string_view, 39> kPrefixed = {
    "m",   "g", "s", "A",   "K",   "mol", "cd", "Hz", "N",   "Pa", "J",   "W",  "C",
    "V",   "F", "Ω", "ohm", "S",   "Wb",  "T",  "H",  "lm",  "lx", "Bq",  "Gy", "Sv",
    "kat", "l", "L", "eV",  "bar", "M",   "t",  "eq", "cal", "Da", "rad", "B",  "Ohm"};
// Symbols that stand alone.
constexpr std::array<std::string_view, 68> kPlain = {
    "min",        "h",    "hr",          "hrs",   "d",       "day",    "days",    "yr",     "year",
    "years",      "a",    "°",           "°C",    "degC",    "deg C",  "°F",      "deg",    "degree",
    "degrees",    "%",    "‰",           "ppm",   "ppb",     "ppt",    "psu",     "PSU",    "pH",
    "Å",          "Å",    "counts",      "count", "cts",     "cps",    "a.u.",    "arb.u.", "arb. u.",
    "arb. units", "arb.", "au",          "-",     "AU",      "OD",     "rpm",     "dB",     "molecules",
    "cells",      "ind",  "individuals", "sec",   "seconds", "second", "minutes", "hours",  "hour",
    "kn",         "NTU",  "FNU",         "in",    "ft",      "Torr",   "atm",     "weeks",  "months",
    "particles",  "px",   "pixel",       "u",     "1"};
constexpr std::array<std::string_view, 22> kPrefixes = {"k",  "M", "G", "T", "P", "m", "µ", "μ",
                                                        "u",  "n", "p", "f", "a", "c", "d", "h",
                                                        "da", "",  "E", "Z", "y", "z"};
constexpr std::array<std::string_view, 11> kRaised = {"⁰", "¹", "²", "³", "⁴", "⁵", "⁶", "⁷", "⁸", "⁹", "⁻"};

template <std::size_t N> bool isOneOf(std::string_view text, const std::array<std::string_view, N>& all) {
    return std::ranges::find(all, text) != all.end();
}

// Without a power behind it: "cm^-1", "m2", "s⁻¹", "mol-1".
std::string_view withoutPower(std::string_view t) {
    for (bool changed = true; changed && !t.empty();) {
        changed = false;
        for (std::string_view raised : kRaised)
            if (t.ends_with(raised)) t.remove_suffix(raised.size()), changed = true;
        if (!t.empty() && isDigit(t.back())) t.remove_suffix(1), changed = true;
        if (!changed) break;
    }
    if (t.ends_with("−")) t.remove_suffix(3);
    while (!t.empty() && (t.back() == '-' || t.back() == '^' || t.back() == '+')) t.remove_suffix(1);
    if (t.ends_with("**")) t.remove_suffix(2);
    return t;
}

bool isFactor(std::string_view t) {
    if (isOneOf(t, kPlain)) return true;
    if (std::ranges::all_of(t, isDigit)) return !t.empty() && t.size() <= 3; // "100 mL", "10^3"
    const std::string_view bare = withoutPower(t);
    if (bare.empty()) return false;
    if (isOneOf(bare, kPlain)) return true;
    for (std::string_view prefix : kPrefixes)
        if (bare.starts_with(prefix) && isOneOf(bare.substr(prefix.size()), kPrefixed)) return true;
    const std::string lower = lowerAscii(bare);
    return lower != bare && lower.size() > 1 && isOneOf(std::string_view(lower), kPlain);
}

bool plainlyNoUnit(std::string_view t) {
    static constexpr std::array<std::string_view, 34> words = {
        "raw",  "mean",   "average", "avg", "sd",     "se",        "sem",        "std", "blank",
        "left", "right",  "total",   "new", "old",    "calc",      "calculated", "obs", "observed",
        "fit",  "fitted", "model",   "rep", "corr",   "corrected", "error",      "err", "smoothed",
        "dry",  "wet",    "max",     "min", "median", "b",         "sum"};
    if (t.empty() || t.find('=') != std::string_view::npos) return true;
    if (isUnitText(t)) return false;
    if (isDigit(t.front())) return true;
    const std::string lower = lowerAscii(t);
    if (isOneOf(std::string_view(lower), words)) return true;
    const bool endsInFigure =
        isDigit(t.back()) && t.find('/') == std::string_view::npos && t.find(' ') != t.npos;
    return endsInFigure || std::ranges::count(t, ' ') > 2; // "replicate 2", a phrase
}

} // namespace

bool isBracketed(std::string_view text) {
    const std::string_view t = trimmed(text);
    if (t.size() < 3) return false;
    const bool square = t.front() == '[' && t.back() == ']', round = t.front() == '(' && t.back() == ')';
    return (square || round) && t.find_first_of("[]()", 1) == t.size() - 1;
}

std::string bareUnit(std::string_view text) {
    std::string_view t = trimmed(text);
    if (isBracketed(t)) t = trimmed(t.substr(1, t.size() - 2));
    return std::string(t);
}

bool isUnitText(std::string_view text) {
    const std::string bare = bareUnit(text);
    if (bare.empty() || bare.size() > 40) return false;
    if (isFactor(bare)) return true;
    // Quotients and products, each part a factor.
    std::string parts = bare;
    for (std::string_view mark : {"·", "⋅", "×", " per "})
        for (std::size_t at; (at = parts.find(mark)) != std::string::npos;)
            parts.replace(at, mark.size(), " ");
    for (char& c : parts)
        if (c == '/' || c == '*' || c == '(' || c == ')' || c == '.') c = ' ';
    std::size_t factors = 0;
    for (std::string_view part : split(parts, ' ')) {
        if (part.empty()) continue;
        if (!isFactor(part)) return false;
        ++factors;
    }
    return factors > 1 || (factors == 1 && parts != bare && bare.find('.') == std::string::npos);
}

std::pair<std::string, std::string> nameAndUnit(std::string_view heading) {
    const std::string_view t = trimmed(heading);
    for (const auto& [open, close] : {std::pair('[', ']'), std::pair('(', ')')}) {
        if (t.empty() || t.back() != close) continue;
        // The bracket that belongs to the last one: units may hold brackets themselves.
        int depth = 0;
        std::size_t at = t.size();
        while (at-- > 0) {
            if (t[at] == close) ++depth;
            if (t[at] == open && --depth == 0) break;
        }
        if (at == 0 || at >= t.size()) continue;
        const std::string_view inside = trimmed(t.substr(at + 1, t.size() - at - 2));
        if (inside.empty() || (open == '(' && plainlyNoUnit(inside))) continue;
        return {std::string(trimmed(t.substr(0, at))), std::string(inside)};
    }
    if (const std::size_t slash = t.find(" / "); slash != std::string_view::npos && slash > 0)
        return {std::string(trimmed(t.substr(0, slash))), bareUnit(t.substr(slash + 3))};
    if (const std::size_t comma = t.rfind(", ");
        comma != t.npos && comma > 0 && isUnitText(t.substr(comma + 2)))
        return {std::string(trimmed(t.substr(0, comma))), bareUnit(t.substr(comma + 2))};
    if (const std::size_t slash = t.find('/'); slash != t.npos && slash > 0 && slash + 1 < t.size()) {
        const std::string_view unit = trimmed(t.substr(slash + 1));
        // "T/K" is a name over its unit, "mg/L" is a unit itself.
        const bool symbol = slash == 1 || (slash == 2 && static_cast<unsigned char>(t[0]) >= 0x80);
        if (isUnitText(unit) && (symbol || !isUnitText(t)))
            return {std::string(trimmed(t.substr(0, slash))), bareUnit(unit)};
    }
    return {std::string(t), {}};
}

} // namespace jointer::io
