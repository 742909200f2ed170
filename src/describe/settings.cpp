// SPDX-License-Identifier: GPL-3.0-or-later
#include "describe/settings.h"

#include "base/bits.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>
#include <nlohmann/json.hpp>

namespace jointer {

namespace {

auto position(auto& entries, std::string_view key) {
    return std::lower_bound(entries.begin(), entries.end(), key,
                            [](const auto& e, std::string_view k) { return e.first < k; });
}

template <class T> T valueOr(const Value* value, T fallback) {
    const T* held = value ? std::get_if<T>(value) : nullptr;
    return held ? *held : fallback;
}

// JSON has no NaN or infinity; they are written as texts.
nlohmann::ordered_json numberJson(double v) {
    if (std::isfinite(v)) return v;
    return std::isnan(v) ? "nan" : v > 0 ? "inf" : "-inf";
}

double numberFromJson(const nlohmann::ordered_json& j) {
    if (j.is_number()) return j.get<double>();
    const std::string s = j.is_string() ? j.get<std::string>() : "";
    constexpr double inf = std::numeric_limits<double>::infinity();
    return s == "inf" ? inf : s == "-inf" ? -inf : std::numeric_limits<double>::quiet_NaN();
}

bool sameValue(const Value& a, const Value& b) {
    if (a.index() != b.index()) return false;
    if (const auto* n = std::get_if<double>(&a)) return sameBits(*n, std::get<double>(b));
    if (const auto* ns = std::get_if<Numbers>(&a))
        return std::ranges::equal(*ns, std::get<Numbers>(b), sameBits);
    return a == b;
}

} // namespace

const Value* Settings::find(std::string_view key) const {
    const auto at = position(entries_, key);
    return at != entries_.end() && at->first == key ? &at->second : nullptr;
}

bool Settings::has(std::string_view key) const {
    return find(key) != nullptr;
}

void Settings::set(std::string key, Value value) {
    const auto at = position(entries_, key);
    if (at != entries_.end() && at->first == key)
        at->second = std::move(value);
    else
        entries_.insert(at, {std::move(key), std::move(value)});
}

void Settings::remove(std::string_view key) {
    const auto at = position(entries_, key);
    if (at != entries_.end() && at->first == key) entries_.erase(at);
}

bool Settings::flag(std::string_view key, bool fallback) const {
    return valueOr(find(key), fallback);
}
double Settings::number(std::string_view key, double fallback) const {
    return valueOr(find(key), fallback);
}
int Settings::integer(std::string_view key, int fallback) const {
    const double v = number(key, fallback);
    return std::isfinite(v) ? static_cast<int>(std::lround(std::clamp(v, -2e9, 2e9))) : fallback;
}
std::string Settings::text(std::string_view key, std::string_view fallback) const {
    return valueOr(find(key), std::string(fallback));
}
Numbers Settings::numbers(std::string_view key) const {
    return valueOr(find(key), Numbers{});
}

void Settings::addTo(Hasher& hasher) const {
    hasher.add(entries_.size());
    for (const auto& [key, value] : entries_) {
        hasher.add(key).add(value.index());
        if (const auto* b = std::get_if<bool>(&value))
            hasher.add(*b);
        else if (const auto* n = std::get_if<double>(&value))
            hasher.add(*n);
        else if (const auto* t = std::get_if<std::string>(&value))
            hasher.add(*t);
        else if (const auto* ns = std::get_if<Numbers>(&value))
            hasher.add(std::span<const double>(*ns));
    }
}

bool Settings::operator==(const Settings& other) const {
    return std::ranges::equal(entries_, other.entries_, [](const auto& a, const auto& b) {
        return a.first == b.first && sameValue(a.second, b.second);
    });
}

nlohmann::ordered_json toJson(const Settings& settings) {
    auto json = nlohmann::ordered_json::object();
    for (const auto& [key, value] : settings.entries()) {
        if (const auto* b = std::get_if<bool>(&value))
            json[key] = *b;
        else if (const auto* n = std::get_if<double>(&value))
            json[key] =
                std::isfinite(*n) ? numberJson(*n) : nlohmann::ordered_json{{"number", numberJson(*n)}};
        else if (const auto* t = std::get_if<std::string>(&value))
            json[key] = *t;
        else if (const auto* ns = std::get_if<Numbers>(&value)) {
            json[key] = nlohmann::ordered_json::array();
            for (double v : *ns) json[key].push_back(numberJson(v));
        } else
            json[key] = nullptr;
    }
    return json;
}

Settings settingsFromJson(const nlohmann::ordered_json& json) {
    Settings settings;
    if (!json.is_object()) return settings;
    for (const auto& [key, j] : json.items()) {
        if (j.is_boolean())
            settings.set(key, Value(j.get<bool>()));
        else if (j.is_number())
            settings.set(key, Value(j.get<double>()));
        else if (j.is_string())
            settings.set(key, Value(j.get<std::string>()));
        else if (j.is_null())
            settings.set(key, Value());
        else if (j.is_object() && j.contains("number"))
            settings.set(key, Value(numberFromJson(j["number"])));
        else if (j.is_array()) {
            Numbers numbers;
            for (const auto& item : j) numbers.push_back(numberFromJson(item));
            settings.set(key, Value(std::move(numbers)));
        }
    }
    return settings;
}

} // namespace jointer
