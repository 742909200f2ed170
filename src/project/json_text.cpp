// SPDX-License-Identifier: GPL-3.0-or-later
#include "project/json_text.h"

#include "project/json_reader.h"

#include <algorithm>
#include <functional>

namespace jointer {

namespace {

constexpr int kDeepest = 60; // levels of brackets

bool isEmpty(const Json& j) {
    return j.is_null() || (j.is_string() && j.get_ref<const std::string&>().empty()) ||
           (j.is_structured() && j.empty());
}

} // namespace

void prune(Json& j) {
    for (auto& [key, value] : j.items())
        if (value.is_structured() && key != "settings" && key != "weights" && key != "looks") prune(value);
    if (!j.is_object()) return;
    for (auto at = j.begin(); at != j.end();) at = isEmpty(*at) ? j.erase(at) : std::next(at);
}

Result<Json> parsedDocument(std::string_view text, const DocumentKind& kind) {
    const auto wrong = [&](std::string said, long line = 0) {
        return failure(kind.code, std::move(said), {.file = kind.file, .line = line});
    };
    if (text.size() > kind.largest) return wrong("The file is too large for " + kind.what + ".");
    bool tooDeep = false;
    const auto watch = [&](int depth, Json::parse_event_t, Json&) {
        tooDeep = tooDeep || depth > kDeepest;
        return !tooDeep;
    };
    try {
        Json json = Json::parse(text, watch);
        if (tooDeep) return wrong("The brackets of this file are too deep for " + kind.what + ".");
        return json;
    } catch (const Json::exception& e) {
        const auto* at = dynamic_cast<const Json::parse_error*>(&e);
        const std::size_t end = at ? std::min<std::size_t>(at->byte, text.size()) : 0;
        const long line = 1 + std::ranges::count(text.substr(0, end), '\n');
        return wrong("This is no JSON from here on: a comma, a quote or a bracket is missing.", line);
    }
}

std::set<std::string> idsOf(const Project& parts, std::string& twice) {
    std::set<std::string> ids;
    const auto add = [&](const auto& part) {
        if (!part.id || !ids.insert(part.id.text()).second) twice = part.id ? part.id.text() : "(none)";
    };
    for (const auto& t : parts.tables) {
        add(*t);
        for (const Column& c : t->columns) add(c);
    }
    for (const auto& d : parts.datasets) {
        add(*d);
        for (const Step& s : d->protocol) add(s);
    }
    for (const auto& a : parts.analyses) add(*a);
    for (const auto& s : parts.styles) add(*s);
    for (const auto& a : parts.assets) add(*a);
    const std::function<void(const Element&)> below = [&](const Element& e) {
        add(e);
        for (const Element& child : e.children) below(child);
    };
    for (const auto& f : parts.figures) {
        add(*f);
        for (const Element& e : f->elements) below(e);
    }
    return ids;
}

} // namespace jointer
