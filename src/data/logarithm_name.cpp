// SPDX-License-Identifier: GPL-3.0-or-later
#include "data/logarithm_name.h"

#include "base/text.h"

#include <numbers>

namespace jointer {

namespace {

std::string bracketed(const std::string& words) {
    return words.find('/') == words.npos ? words : "(" + words + ")";
}

std::string_view withoutBrackets(std::string_view words) {
    int depth = 0;
    for (std::size_t i = 0; i < words.size(); ++i) {
        depth += (words[i] == '(') - (words[i] == ')');
        if (depth == 0 && i + 1 < words.size()) return words; // the first does not hold the whole
    }
    const bool held = words.size() > 2 && words.front() == '(' && words.back() == ')';
    return held ? words.substr(1, words.size() - 2) : words;
}

// The stroke that divides name and unit: the last outside of brackets.
std::size_t divider(std::string_view words) {
    int depth = 0;
    for (std::size_t i = words.size(); i-- > 0;) {
        depth += (words[i] == ')') - (words[i] == '(');
        if (depth == 0 && words[i] == '/') return i;
    }
    return words.npos;
}

} // namespace

std::string nameOfLogarithm(std::string_view function, const std::string& name, const std::string& unit) {
    return std::string(function) + "(" + bracketed(name) + (unit.empty() ? "" : "/" + bracketed(unit)) + ")";
}

std::optional<LogarithmName> logarithmOf(std::string_view name) {
    const bool natural = name.starts_with("ln("), decadic = name.starts_with("log10(");
    if ((!natural && !decadic) || !name.ends_with(')')) return std::nullopt;
    const std::string_view argument = name.substr(natural ? 2 : 5), inner = withoutBrackets(argument);
    if (inner.size() + 2 != argument.size() || trimmed(inner).empty()) return std::nullopt;
    LogarithmName out{natural ? std::numbers::e : 10, {}, {}};
    const std::size_t at = divider(inner);
    out.name = withoutBrackets(inner.substr(0, at));
    if (at != inner.npos) out.unit = withoutBrackets(inner.substr(at + 1));
    return out;
}

} // namespace jointer
