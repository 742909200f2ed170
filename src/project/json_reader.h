// SPDX-License-Identifier: GPL-3.0-or-later
// Reads the members of a JSON object by key and remembers which were known, so that what a newer version
// wrote is kept.
#pragma once

#include "project/project_json.h"

#include <cmath>
#include <set>

namespace jointer {

// The members that were kept, put back beside those that are known.
inline Json withExtra(Json json, const std::string& extra) {
    if (extra.empty()) return json;
    const Json kept = Json::parse(extra, nullptr, false);
    if (kept.is_object()) json.update(kept);
    return json;
}

class JsonReader {
public:
    explicit JsonReader(const Json& json) : json_(json.is_object() ? json : empty()) {}

    std::string text(const char* key) {
        const Json* j = take(key);
        return j && j->is_string() ? j->get<std::string>() : std::string{};
    }
    double number(const char* key, double fallback) {
        const Json* j = take(key);
        return j ? numberOf(*j, fallback) : fallback;
    }
    static double numberOf(const Json& j, double fallback) {
        if (j.is_string())
            return j.get<std::string>() == "-inf"  ? -INFINITY
                   : j.get<std::string>() == "inf" ? INFINITY
                                                   : fallback;
        return j.is_number() ? j.get<double>() : fallback;
    }
    std::optional<double> optionalNumber(const char* key) {
        const Json* j = take(key);
        return j && j->is_number() ? std::optional(j->get<double>()) : std::nullopt;
    }
    bool flag(const char* key, bool fallback) {
        const Json* j = take(key);
        return j && j->is_boolean() ? j->get<bool>() : fallback;
    }
    Settings settings(const char* key) {
        const Json* j = take(key);
        return j ? settingsFromJson(*j) : Settings{};
    }
    template <class T, class F> std::vector<T> list(const char* key, F&& make) {
        std::vector<T> out;
        if (const Json* j = take(key); j && j->is_array())
            for (const Json& item : *j) out.push_back(make(item));
        return out;
    }
    const Json* take(const char* key) {
        known_.push_back(key);
        const auto at = json_.find(key);
        return at == json_.end() ? nullptr : &*at;
    }
    std::string extra() const {
        Json rest = Json::object();
        for (const auto& [key, value] : json_.items())
            if (std::ranges::find(known_, key) == known_.end()) rest[key] = value;
        return rest.empty() ? std::string{} : rest.dump();
    }

private:
    static const Json& empty() {
        static const Json e = Json::object();
        return e;
    }
    const Json& json_;
    std::vector<std::string> known_;
};

} // namespace jointer
