// SPDX-License-Identifier: GPL-3.0-or-later
#include "describe/kind.h"

#include "base/text.h"
#include "describe/typed_number.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer {

namespace {

std::string rangeText(const Setting& s) {
    if (std::isfinite(s.lowest) && std::isfinite(s.highest))
        return fmt::format("from {} to {}", readableNumber(s.lowest), readableNumber(s.highest));
    if (std::isfinite(s.lowest)) return fmt::format("of at least {}", readableNumber(s.lowest));
    if (std::isfinite(s.highest)) return fmt::format("of at most {}", readableNumber(s.highest));
    return {};
}

std::string expected(const Setting& s) {
    switch (s.kind) {
    case SettingKind::Number:
        return "a number " + rangeText(s);
    case SettingKind::WholeNumber:
        return s.zero.empty() ? "a whole number " + rangeText(s) : "a number of a line, or " + s.zero;
    case SettingKind::Flag:
        return "yes or no";
    case SettingKind::Interval:
        return "two numbers, the lower first";
    case SettingKind::List:
        return "numbers";
    case SettingKind::Points:
        return "pairs of numbers";
    case SettingKind::Texts:
        return "texts";
    case SettingKind::Reference:
    case SettingKind::References:
        return s.of.empty() ? "a part of the project" : "a " + s.of;
    case SettingKind::Rows:
        return "rows of settings";
    case SettingKind::Choice: {
        std::vector<std::string> labels;
        for (const Choice& c : s.choices) labels.push_back(c.label);
        return labels.empty() ? "the name of a " + s.of : "one of: " + joined(labels, ", ");
    }
    default:
        return "a text";
    }
}

std::unexpected<Issue> refused(const Setting& s, std::string_view given) {
    return failure("bad-setting",
                   fmt::format("“{}” needs {}, not “{}”.", s.label, trimmed(expected(s)), given));
}

std::size_t signs(std::string_view text) {
    return static_cast<std::size_t>(
        std::ranges::count_if(text, [](char c) { return (static_cast<unsigned char>(c) & 0xC0) != 0x80; }));
}

bool inRange(const Setting& s, double v) {
    return v >= s.lowest && v <= s.highest;
}

bool fits(const Setting& s, const Value& value);

bool rowsFit(const Setting& s, const Value& value) {
    const RowsPtr* rows = std::get_if<RowsPtr>(&value);
    if (!rows || !*rows) return false;
    return std::ranges::all_of(**rows, [&](const Settings& row) {
        return std::ranges::all_of(s.row, [&](const Setting& part) {
            const Value* held = row.find(part.key);
            return !held || std::holds_alternative<std::monostate>(*held) || fits(part, *held);
        });
    });
}

bool fits(const Setting& s, const Value& value) {
    const double* n = std::get_if<double>(&value);
    const std::string* t = std::get_if<std::string>(&value);
    const Numbers* ns = std::get_if<Numbers>(&value);
    switch (s.kind) {
    case SettingKind::Number:
        return n && inRange(s, *n);
    case SettingKind::WholeNumber:
        return n && inRange(s, *n) && std::round(*n) == *n;
    case SettingKind::Flag:
        return std::holds_alternative<bool>(value);
    case SettingKind::Choice:
        return t && (std::ranges::any_of(s.choices, [&](const Choice& c) { return c.key == *t; }) ||
                     (!t->empty() && signs(*t) <= s.others));
    case SettingKind::Interval:
        return ns && ns->size() == 2 && (*ns)[0] <= (*ns)[1] &&
               (s.openEnds || (std::isfinite((*ns)[0]) && std::isfinite((*ns)[1])));
    case SettingKind::List:
        return ns != nullptr;
    case SettingKind::Points:
        return ns != nullptr && ns->size() % 2 == 0;
    case SettingKind::Text:
    case SettingKind::Formula:
    case SettingKind::Colour:
        return t != nullptr;
    case SettingKind::Texts:
        return std::holds_alternative<Texts>(value);
    case SettingKind::Reference:
        return std::holds_alternative<Reference>(value);
    case SettingKind::References:
        return std::holds_alternative<References>(value);
    case SettingKind::Rows:
        return rowsFit(s, value);
    }
    return false;
}

// Numbers or times between separators; between these also blanks, which belong to a time too.
std::optional<Numbers> numbersIn(std::string_view text, std::string_view separators) {
    Numbers numbers;
    while (!text.empty()) {
        const std::size_t end = std::min(text.find_first_of(separators), text.size());
        std::string_view part = trimmed(text.substr(0, end));
        if (const auto time = parseIsoTime(part)) {
            numbers.push_back(*time);
            part = {};
        }
        while (!part.empty()) {
            const std::size_t blank = std::min(part.find(' '), part.size());
            const auto n = typedNumberOrTime(part.substr(0, blank));
            if (!n) return std::nullopt;
            numbers.push_back(*n);
            part = trimmed(part.substr(blank));
        }
        text.remove_prefix(std::min(end + 1, text.size()));
    }
    return numbers;
}

// An end of an interval; an empty one is open.
std::optional<double> endOf(std::string_view text, double open) {
    text = trimmed(text);
    if (text.empty()) return open;
    return typedNumberOrTime(text);
}

std::optional<Numbers> intervalIn(std::string_view text) {
    constexpr double inf = std::numeric_limits<double>::infinity();
    for (std::string_view between : {"…", "..", "/", ":"}) {
        const std::size_t at = text.find(between);
        if (at == text.npos) continue;
        const auto low = endOf(text.substr(0, at), -inf), high = endOf(text.substr(at + between.size()), inf);
        if (!low || !high) continue;
        if (*low == -inf && *high == inf) return std::nullopt;
        return Numbers{*low, *high};
    }
    return numbersIn(text, ",;\t");
}

Result<Value> parseNumbers(const Setting& s, std::string_view text) {
    const auto numbers = s.kind == SettingKind::Interval ? intervalIn(text)
                         : s.kind == SettingKind::Points ? numbersIn(text, ",;:\t")
                                                         : numbersIn(text, ",;\t");
    if (!numbers) return refused(s, text);
    return Value(*numbers);
}

} // namespace

const Setting* KindInfo::find(std::string_view settingKey) const {
    const auto at = std::ranges::find(settings, settingKey, &Setting::key);
    return at == settings.end() ? nullptr : &*at;
}

Value KindInfo::value(const Settings& given, std::string_view settingKey) const {
    const Setting* setting = find(settingKey);
    const Value* v = given.find(settingKey);
    if (v && (!setting || fits(*setting, *v))) return *v;
    return setting ? setting->fallback : Value{};
}

double KindInfo::number(const Settings& given, std::string_view k) const {
    const Value v = value(given, k);
    const double* n = std::get_if<double>(&v);
    return n ? *n : 0;
}
int KindInfo::integer(const Settings& given, std::string_view k) const {
    return static_cast<int>(std::lround(number(given, k)));
}
bool KindInfo::flag(const Settings& given, std::string_view k) const {
    const Value v = value(given, k);
    const bool* b = std::get_if<bool>(&v);
    return b && *b;
}
std::string KindInfo::text(const Settings& given, std::string_view k) const {
    const Value v = value(given, k);
    const std::string* t = std::get_if<std::string>(&v);
    return t ? *t : std::string{};
}

namespace {

// "key=choice|choice" holds for the values in force, and that setting is shown itself.
bool holds(const KindInfo& kind, std::string_view condition, const Settings& given) {
    const auto equals = condition.find('=');
    const std::string_view key = trimmed(condition.substr(0, equals)),
                           wanted = trimmed(condition.substr(equals + 1));
    const Setting* other = kind.find(key);
    if (other && !other->hidden && !isShown(kind, *other, given)) return false;
    const Value v = kind.value(given, key);
    if (const bool* b = std::get_if<bool>(&v)) return *b == (wanted == "yes");
    const std::string* t = std::get_if<std::string>(&v);
    const auto options = split(wanted, '|');
    return t && std::ranges::find(options, *t) != options.end();
}

} // namespace

bool isShown(const KindInfo& kind, const Setting& setting, const Settings& given) {
    if (setting.hidden) return false;
    if (setting.shownIf.empty()) return true;
    return std::ranges::any_of(split(setting.shownIf, ';'),
                               [&](std::string_view condition) { return holds(kind, condition, given); });
}

std::vector<Issue> dropUnfit(const KindInfo& kind, Settings& given) {
    std::vector<Issue> issues;
    const Settings before = given;
    for (const auto& [key, value] : before.entries()) {
        const Setting* setting = kind.find(key);
        if (!setting || std::holds_alternative<std::monostate>(value) || fits(*setting, value)) continue;
        issues.push_back(refused(*setting, valueText(*setting, value)).error());
        given.remove(key);
    }
    return issues;
}

Result<void> validate(const KindInfo& kind, const Settings& given) {
    for (const auto& [key, value] : given.entries()) {
        const Setting* setting = kind.find(key);
        if (setting && !std::holds_alternative<std::monostate>(value) && !fits(*setting, value))
            return refused(*setting, valueText(*setting, value));
    }
    return {};
}

Result<Value> parseValue(const Setting& setting, std::string_view text) {
    Value value;
    switch (setting.kind) {
    case SettingKind::Number:
    case SettingKind::WholeNumber:
        if (const auto n = typedNumber(text)) value = *n;
        if (!setting.zero.empty() && trimmed(text) == setting.zero) value = 0.0;
        break;
    case SettingKind::Flag: {
        const std::string t = lowerAscii(trimmed(text));
        if (t == "yes" || t == "true" || t == "1") value = true;
        if (t == "no" || t == "false" || t == "0") value = false;
        break;
    }
    case SettingKind::Choice:
        for (const Choice& c : setting.choices)
            if (c.key == trimmed(text) || c.label == trimmed(text)) value = c.key;
        if (std::holds_alternative<std::monostate>(value)) value = std::string(text);
        break;
    case SettingKind::Interval:
    case SettingKind::List:
    case SettingKind::Points: {
        auto numbers = parseNumbers(setting, text);
        if (!numbers) return numbers;
        value = std::move(*numbers);
        break;
    }
    case SettingKind::Texts: {
        Texts texts;
        for (std::string_view part : split(text, ','))
            if (!trimmed(part).empty()) texts.emplace_back(trimmed(part));
        value = std::move(texts);
        break;
    }
    case SettingKind::Reference:
        value = Reference{std::string(trimmed(text))};
        break;
    case SettingKind::References: {
        References all;
        for (std::string_view part : split(text, ','))
            if (!trimmed(part).empty()) all.push_back({std::string(trimmed(part))});
        value = std::move(all);
        break;
    }
    default:
        value = std::string(text);
    }
    if (!fits(setting, value)) return refused(setting, text);
    return value;
}

namespace {

std::string numbersText(const Setting& s, const Numbers& numbers) {
    auto end = [](double v) { return std::isfinite(v) ? shortestNumber(v) : std::string(); };
    if (s.kind == SettingKind::Interval && numbers.size() == 2)
        return end(numbers[0]) + " … " + end(numbers[1]);
    std::vector<std::string> parts;
    for (std::size_t i = 0; i < numbers.size(); ++i) {
        const bool second = s.kind == SettingKind::Points && i % 2 == 1;
        if (second)
            parts.back() += ":" + shortestNumber(numbers[i]);
        else
            parts.push_back(shortestNumber(numbers[i]));
    }
    return joined(parts, ", ");
}

} // namespace

std::string valueText(const Setting& setting, const Value& value) {
    if (const auto* b = std::get_if<bool>(&value)) return *b ? "yes" : "no";
    if (const auto* n = std::get_if<double>(&value))
        return *n == 0 && !setting.zero.empty() ? setting.zero : shortestNumber(*n);
    if (const auto* t = std::get_if<std::string>(&value)) {
        const auto at = std::ranges::find(setting.choices, *t, &Choice::key);
        return at == setting.choices.end() ? *t : at->label;
    }
    if (const auto* ns = std::get_if<Numbers>(&value)) return numbersText(setting, *ns);
    if (const auto* texts = std::get_if<Texts>(&value)) return joined(*texts, ", ");
    if (const auto* one = std::get_if<Reference>(&value)) return one->to;
    if (const auto* several = std::get_if<References>(&value)) {
        std::vector<std::string> names;
        for (const Reference& r : *several) names.push_back(r.to);
        return joined(names, ", ");
    }
    if (const auto* rows = std::get_if<RowsPtr>(&value))
        return counted(*rows ? std::ssize(**rows) : 0, "row");
    return {};
}

} // namespace jointer
