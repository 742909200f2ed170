// SPDX-License-Identifier: GPL-3.0-or-later
#include "describe/settings.h"

#include "base/bits.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>
#include <nlohmann/json.hpp>
#include <optional>

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
    if (const auto* rows = std::get_if<RowsPtr>(&a)) {
        const RowsPtr& other = std::get<RowsPtr>(b);
        return *rows == other || (*rows && other && **rows == *other);
    }
    return a == b;
}

// Adds a value's content to a hash, one overload for each type it can have.
struct ValueHash {
    Hasher& hasher;
    void operator()(std::monostate) const {}
    void operator()(bool v) const { hasher.add(v); }
    void operator()(double v) const { hasher.add(v); }
    void operator()(const std::string& v) const { hasher.add(v); }
    void operator()(const Numbers& v) const { hasher.add(std::span<const double>(v)); }
    void operator()(const Reference& v) const { hasher.add(v.to); }
    void operator()(const KeptJson& v) const { hasher.add(v.json); }
    void operator()(const Texts& v) const {
        hasher.add(v.size());
        for (const std::string& t : v) hasher.add(t);
    }
    void operator()(const References& v) const {
        hasher.add(v.size());
        for (const Reference& r : v) hasher.add(r.to);
    }
    void operator()(const RowsPtr& v) const {
        hasher.add(v ? v->size() : 0);
        if (v)
            for (const Settings& row : *v) row.addTo(hasher);
    }
};

using Json = nlohmann::ordered_json;

Json numbersJson(const Numbers& v) {
    Json list = Json::array();
    for (double n : v) list.push_back(numberJson(n));
    return list;
}

// What JSON has no form for stands in an object with one member that names the type.
struct ValueJson {
    Json operator()(std::monostate) const { return nullptr; }
    Json operator()(bool v) const { return v; }
    Json operator()(double v) const {
        return std::isfinite(v) ? numberJson(v) : Json{{"number", numberJson(v)}};
    }
    Json operator()(const std::string& v) const { return v; }
    Json operator()(const Numbers& v) const { return numbersJson(v); }
    Json operator()(const Texts& v) const { return {{"texts", v}}; }
    Json operator()(const Reference& v) const { return {{"ref", v.to}}; }
    Json operator()(const References& v) const {
        Json list = Json::array();
        for (const Reference& r : v) list.push_back(r.to);
        return {{"refs", list}};
    }
    Json operator()(const RowsPtr& v) const {
        Json list = Json::array();
        if (v)
            for (const Settings& row : *v) list.push_back(toJson(row));
        return {{"rows", list}};
    }
    Json operator()(const KeptJson& v) const {
        Json kept = Json::parse(v.json, nullptr, false);
        return kept.is_discarded() ? Json() : kept;
    }
};

bool isNumberJson(const Json& j) {
    return j.is_number() || (j.is_string() && (j == "nan" || j == "inf" || j == "-inf"));
}

Value keptJson(const Json& j) {
    return KeptJson{j.dump(-1, ' ', false, Json::error_handler_t::replace)};
}

// A list of texts under a member of an object.
std::optional<Texts> textsIn(const Json& list) {
    if (!list.is_array() || !std::ranges::all_of(list, [](const Json& t) { return t.is_string(); }))
        return std::nullopt;
    return list.get<Texts>();
}

Value valueFromObject(const Json& j) {
    if (j.size() != 1) return keptJson(j);
    const std::string& type = j.begin().key();
    const Json& held = *j.begin();
    if (type == "number" && isNumberJson(held)) return numberFromJson(held);
    if (type == "ref" && held.is_string()) return Reference{held.get<std::string>()};
    if (type == "texts")
        if (auto texts = textsIn(held)) return std::move(*texts);
    if (type == "refs")
        if (const auto texts = textsIn(held)) {
            References all;
            for (const std::string& t : *texts) all.push_back({t});
            return all;
        }
    if (type == "rows" && held.is_array() &&
        std::ranges::all_of(held, [](const Json& row) { return row.is_object(); })) {
        RowList rows;
        for (const Json& row : held) rows.push_back(settingsFromJson(row));
        return std::make_shared<const RowList>(std::move(rows));
    }
    return keptJson(j);
}

Value valueFromJson(const Json& j) {
    if (j.is_null()) return {};
    if (j.is_boolean()) return j.get<bool>();
    if (j.is_number()) return j.get<double>();
    if (j.is_string()) return j.get<std::string>();
    if (j.is_object()) return valueFromObject(j);
    if (!std::ranges::all_of(j, isNumberJson)) return keptJson(j);
    Numbers numbers;
    for (const Json& item : j) numbers.push_back(numberFromJson(item));
    return numbers;
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

Texts Settings::texts(std::string_view key) const {
    return valueOr(find(key), Texts{});
}
std::string Settings::reference(std::string_view key) const {
    return valueOr(find(key), Reference{}).to;
}
Texts Settings::references(std::string_view key) const {
    Texts out;
    for (Reference& one : valueOr(find(key), References{})) out.push_back(std::move(one.to));
    return out;
}
RowList Settings::rows(std::string_view key) const {
    const RowsPtr held = valueOr(find(key), RowsPtr{});
    return held ? *held : RowList{};
}

void Settings::eachReference(const std::function<void(Reference&)>& visit) {
    std::erase_if(entries_, [&](auto& entry) {
        Value& value = entry.second;
        if (auto* one = std::get_if<Reference>(&value)) {
            visit(*one);
            return one->to.empty();
        }
        if (auto* several = std::get_if<References>(&value)) {
            for (Reference& r : *several) visit(r);
            std::erase_if(*several, [](const Reference& r) { return r.to.empty(); });
        } else if (auto* rows = std::get_if<RowsPtr>(&value); rows && *rows) {
            RowList changed = **rows;
            for (Settings& row : changed) row.eachReference(visit);
            if (changed != **rows) *rows = std::make_shared<const RowList>(std::move(changed));
        }
        return false;
    });
}

void Settings::addTo(Hasher& hasher) const {
    hasher.add(entries_.size());
    for (const auto& [key, value] : entries_) {
        hasher.add(key).add(value.index());
        std::visit(ValueHash{hasher}, value);
    }
}

bool Settings::operator==(const Settings& other) const {
    return std::ranges::equal(entries_, other.entries_, [](const auto& a, const auto& b) {
        return a.first == b.first && sameValue(a.second, b.second);
    });
}

nlohmann::ordered_json toJson(const Settings& settings) {
    auto json = Json::object();
    for (const auto& [key, value] : settings.entries()) json[key] = std::visit(ValueJson{}, value);
    return json;
}

Settings settingsFromJson(const nlohmann::ordered_json& json) {
    Settings settings;
    if (!json.is_object()) return settings;
    for (const auto& [key, j] : json.items()) settings.set(key, valueFromJson(j));
    return settings;
}

} // namespace jointer
