// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/unit_text.h"

#include "base/text.h"

#include <algorithm>
#include <cctype>
#include <map>

namespace jointer {

namespace {

// A "u" that was typed for micro: before a unit that it may stand for.
bool isMicro(std::string_view unit, std::size_t at) {
    if (unit[at] != 'u' || (at > 0 && std::isalpha(static_cast<unsigned char>(unit[at - 1])))) return false;
    std::size_t end = at + 1;
    while (end < unit.size() && std::isalpha(static_cast<unsigned char>(unit[end]))) ++end;
    const std::string_view rest = unit.substr(at + 1, end - at - 1);
    static constexpr std::string_view units[] = {"mol", "g", "L",  "l",  "m",  "s", "M", "A",
                                                 "V",   "W", "Pa", "Hz", "eq", "S", "F"};
    return std::ranges::find(units, rest) != std::end(units);
}

// A power typed plainly at a place: "-1" behind a letter, "^-1", "^2", "**3".
struct Power {
    std::size_t length = 0; // in the text; none: there is no power
    bool negative = false;
    std::string_view digits;
};

Power powerAt(std::string_view unit, std::size_t at) {
    auto isDigit = [&](std::size_t i) { return i < unit.size() && unit[i] >= '0' && unit[i] <= '9'; };
    const std::string_view rest = unit.substr(at);
    std::size_t i = at + (rest.starts_with("**") ? 2 : rest.starts_with('^') ? 1 : 0);
    const bool told = i > at, behindLetter = at > 0 && std::isalpha(static_cast<unsigned char>(unit[at - 1]));
    static constexpr std::string_view minusSign = "\u2212";
    const std::size_t minus = unit.substr(i).starts_with('-')         ? 1
                              : unit.substr(i).starts_with(minusSign) ? minusSign.size()
                                                                      : 0;
    if (!told && (minus == 0 || !behindLetter)) return {};
    i += minus;
    const std::size_t first = i;
    while (isDigit(i)) ++i;
    if (i == first) return {};
    return {i - at, minus > 0, unit.substr(first, i - first)};
}

} // namespace

std::string unitMarkup(std::string_view unit) {
    std::string out;
    for (std::size_t i = 0; i < unit.size();) {
        if (isMicro(unit, i)) {
            out += "µ";
            ++i;
        } else if (unit.substr(i).starts_with("degC") || unit.substr(i).starts_with("degF")) {
            out += "°";
            i += 3;
        } else if (const Power power = powerAt(unit, i); power.length > 0) {
            out += "^{" + (power.negative ? std::string("\u2212") : std::string()) +
                   std::string(power.digits) + '}';
            i += power.length;
        } else
            out += unit[i++];
    }
    return out;
}

std::string bracketedUnit(std::string_view unit) {
    const auto has = [&](std::string_view sign) { return unit.find(sign) != std::string_view::npos; };
    const bool plain = unit.find_first_of("/*^ -0123456789") == std::string_view::npos && !has("·") &&
                       !has("⁻") && !has("¹") && !has("²") && !has("³");
    return plain ? std::string(unit) : "(" + std::string(unit) + ")";
}

std::string multipliedUnits(std::string_view first, std::string_view second) {
    if (first.empty() || second.empty()) return std::string(first) + std::string(second);
    const bool divides = first.find('/') != std::string_view::npos;
    return (divides ? "(" + std::string(first) + ")" : std::string(first)) + "·" + std::string(second);
}

std::string readableUnit(std::string_view unit) {
    static const std::map<char32_t, std::string_view> raised = {
        {U'0', "⁰"}, {U'1', "¹"}, {U'2', "²"}, {U'3', "³"}, {U'4', "⁴"}, {U'5', "⁵"}, {U'6', "⁶"},
        {U'7', "⁷"}, {U'8', "⁸"}, {U'9', "⁹"}, {U'-', "⁻"}, {U'−', "⁻"}, {U'+', "⁺"}};
    const std::u32string markup = decodeUtf8(unitMarkup(unit));
    std::string out;
    for (std::size_t i = 0; i < markup.size(); ++i) {
        if (markup[i] != U'^' || i + 1 >= markup.size()) {
            appendUtf8(out, markup[i]);
            continue;
        }
        const bool group = markup[i + 1] == U'{';
        const std::size_t from = i + (group ? 2 : 1),
                          to = group ? std::min(markup.find(U'}', from), markup.size()) : from + 1;
        const std::u32string_view power(markup.data() + from, to - from);
        const bool plain = std::ranges::all_of(power, [](char32_t c) { return raised.contains(c); });
        for (char32_t c : plain ? power : std::u32string_view(markup).substr(i, to - i)) {
            if (plain)
                out += raised.at(c);
            else
                appendUtf8(out, c);
        }
        i = group && (plain || to == markup.size()) ? to : to - 1;
    }
    return out;
}

} // namespace jointer
