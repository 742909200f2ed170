// SPDX-License-Identifier: GPL-3.0-or-later
// Settings: the values a kind (step, model, mark, axis, reader…) was given, by key. Only what was given is
// stored; what is absent has the default of the kind's description. A plain value: copy, compare, hash
// freely. Example: `Settings s; s.set("window", 11); double w = s.number("window", 5);`
#pragma once

#include "base/hash.h"
#include "base/issue.h"

#include <concepts>
#include <cstdint>
#include <functional>
#include <memory>
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <string_view>
#include <utility>
#include <variant>
#include <vector>

namespace jointer {

class Settings;

using Numbers = std::vector<double>;
using Texts = std::vector<std::string>;

// What a setting refers to, as the text of an id: "d3" a dataset, "c12" a column, "a4" an analysis.
struct Reference {
    std::string to;
    bool operator==(const Reference&) const = default;
};
using References = std::vector<Reference>;

// A list of settings with a description of their own: parameters of a fit, peaks. Shared, never changed.
using RowList = std::vector<Settings>;
using RowsPtr = std::shared_ptr<const RowList>;

// JSON of a newer version, kept as it is.
struct KeptJson {
    std::string json;
    bool operator==(const KeptJson&) const = default;
};

using Value = std::variant<std::monostate, bool, double, std::string, Numbers, Texts, Reference, References,
                           RowsPtr, KeptJson>;

class Settings {
public:
    bool has(std::string_view key) const;
    const Value* find(std::string_view key) const;
    void set(std::string key, Value value);
    void set(std::string key, const char* value) { set(std::move(key), Value(std::string(value))); }
    template <class Whole>
    requires std::same_as<Whole, int> // of others nothing may be cut
    void set(std::string key, Whole value) { set(std::move(key), Value(static_cast<double>(value))); }
    void remove(std::string_view key);

    bool flag(std::string_view key, bool fallback = false) const;
    double number(std::string_view key, double fallback = 0) const;
    int integer(std::string_view key, int fallback = 0) const;
    std::string text(std::string_view key, std::string_view fallback = {}) const;
    Numbers numbers(std::string_view key) const;
    Texts texts(std::string_view key) const;
    std::string reference(std::string_view key) const; // the text of an id; empty: none
    Texts references(std::string_view key) const;      // the same of several
    RowList rows(std::string_view key) const;

    bool empty() const { return entries_.empty(); }
    const std::vector<std::pair<std::string, Value>>& entries() const { return entries_; } // sorted by key

    // Every reference, also those within rows. `visit` may change it; an emptied one is taken out.
    void eachReference(const std::function<void(Reference&)>& visit);
    void addTo(Hasher& hasher) const;
    bool operator==(const Settings& other) const;

private:
    std::vector<std::pair<std::string, Value>> entries_;
};

nlohmann::ordered_json toJson(const Settings& settings);
Settings settingsFromJson(const nlohmann::ordered_json& json); // members of unknown form are kept as they are

} // namespace jointer
