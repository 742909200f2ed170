// SPDX-License-Identifier: GPL-3.0-or-later
// Tables in JSON: a list of records, members that are lists, lists of lists, or our own form with columns.
#include "base/text.h"
#include "io/column_meaning.h"
#include "io/formats/made_table.h"

#include <algorithm>

#include <cmath>
#include <fmt/format.h>
#include <map>
#include <nlohmann/json.hpp>

namespace jointer::io {

namespace {

using Json = nlohmann::ordered_json;
constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();
constexpr std::size_t kMostColumns = 5000;

// The depth of brackets: the library's parser would need stack for each.
bool isTooDeep(std::string_view text) {
    int depth = 0;
    bool inText = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (inText) {
            if (c == '\\')
                ++i;
            else if (c == '"')
                inText = false;
        } else if (c == '"')
            inText = true;
        else if (c == '[' || c == '{') {
            if (++depth > 64) return true;
        } else if (c == ']' || c == '}')
            --depth;
    }
    return false;
}

bool isScalar(const Json& j) {
    return j.is_primitive();
}
bool isListOfScalars(const Json& j) {
    return j.is_array() && !j.empty() && std::ranges::all_of(j, isScalar);
}

std::string textOf(const Json& j) {
    return j.is_null()     ? ""
           : j.is_string() ? j.get<std::string>()
                           : j.dump(-1, ' ', false, Json::error_handler_t::replace);
}

class Tables {
public:
    explicit Tables(ReadResult& out) : out_(out) {}

    void take(const Json& j, const std::string& name, int depth = 0) {
        if (depth > 6 || out_.tables.size() > 500) return;
        if (j.is_array()) {
            if (!j.empty() && std::ranges::all_of(j, [](const Json& e) { return e.is_object(); }))
                takeRecords(j, name);
            else if (!j.empty() && std::ranges::all_of(j, [](const Json& e) { return e.is_array(); }))
                takeRows(j, name);
            else if (isListOfScalars(j))
                add(name, {{name.empty() ? "value" : name, j}});
            return;
        }
        if (!j.is_object()) return;
        if (const auto columns = j.find("columns");
            columns != j.end() && columns->is_array() && takeColumns(j, *columns, name))
            return;
        takeMembers(j, name, depth);
    }

private:
    struct Given {
        std::string name;
        Json values; // a list
        std::string unit = {}, kind = {}, role = {}, comment = {};
    };

    // Lists of one length are a table; other members are facts or tables of their own.
    void takeMembers(const Json& j, const std::string& name, int depth) {
        std::vector<std::pair<std::size_t, std::vector<Given>>> byLength;
        std::vector<std::pair<std::string, const Json*>> others;
        for (const auto& [key, value] : j.items()) {
            if (isListOfScalars(value)) {
                auto at = std::ranges::find(byLength, value.size(), [](const auto& e) { return e.first; });
                if (at == byLength.end()) at = byLength.insert(byLength.end(), {value.size(), {}});
                if (at->second.size() < kMostColumns) at->second.push_back({key, value});
            } else if (isScalar(value)) {
                if (const std::string text = textOf(value);
                    text.size() < 1000 && out_.metadata.size() < 10000)
                    out_.metadata.emplace_back(name.empty() ? key : name + "." + key, text);
            } else
                others.emplace_back(name.empty() ? key : name + "." + key, &value);
        }
        for (auto& [length, columns] : byLength)
            add(byLength.size() > 1 ? fmt::format("{}{}lists of {}", name, name.empty() ? "" : ", ", length)
                                    : name,
                std::move(columns));
        for (const auto& [key, value] : others) take(*value, key, depth + 1);
    }

    void takeRecords(const Json& j, const std::string& name) {
        std::vector<Given> columns;
        std::map<std::string, std::size_t, std::less<>> place;
        std::size_t row = 0;
        for (const Json& record : j) {
            flatten(record, "", [&](const std::string& key, const Json& value) {
                auto at = place.find(key);
                if (at == place.end()) {
                    if (columns.size() >= kMostColumns) return;
                    at = place.emplace(key, columns.size()).first;
                    columns.push_back({key, Json::array()});
                }
                Json& values = columns[at->second].values;
                while (values.size() < row) values.push_back(nullptr);
                if (values.size() == row) values.push_back(value);
            });
            ++row;
        }
        for (Given& c : columns)
            while (c.values.size() < row) c.values.push_back(nullptr);
        add(name, std::move(columns));
    }

    // Members of members as "site.depth"; lists within a record as their text.
    template <class Take>
    static void flatten(const Json& j, const std::string& prefix, const Take& take, int depth = 0) {
        for (const auto& [key, value] : j.items()) {
            const std::string full = prefix.empty() ? key : prefix + "." + key;
            if (value.is_object() && depth < 4)
                flatten(value, full, take, depth + 1);
            else
                take(full, value);
        }
    }

    void takeRows(const Json& j, const std::string& name) {
        std::size_t across = 0;
        for (const Json& row : j) across = std::max(across, row.size());
        across = std::min(across, kMostColumns);
        const bool headed = j.size() > 1 && !j[0].empty() &&
                            std::ranges::all_of(j[0], [](const Json& e) { return e.is_string(); }) &&
                            std::ranges::any_of(j[1], [](const Json& e) { return e.is_number(); });
        std::vector<Given> columns;
        for (std::size_t c = 0; c < across; ++c) {
            Given g{headed && c < j[0].size() ? j[0][c].get<std::string>() : "", Json::array()};
            for (std::size_t r = headed ? 1 : 0; r < j.size(); ++r)
                g.values.push_back(c < j[r].size() ? j[r][c] : Json());
            columns.push_back(std::move(g));
        }
        add(name, std::move(columns));
    }

    // {"columns": [{"name", "unit", "kind", "values"}, …]}, or names beside "data" or "rows".
    bool takeColumns(const Json& j, const Json& columns, const std::string& name) {
        if (std::ranges::all_of(columns,
                                [](const Json& c) {
                                    return c.is_object() && c.contains("values") && c["values"].is_array();
                                }) &&
            !columns.empty()) {
            std::vector<Given> given;
            auto text = [](const Json& c, const char* key) {
                return c.contains(key) && c[key].is_string() ? c[key].get<std::string>() : std::string();
            };
            for (const Json& c : columns)
                if (given.size() < kMostColumns)
                    given.push_back({text(c, "name"), c["values"], text(c, "unit"), text(c, "kind"),
                                     text(c, "role"), text(c, "comment")});
            const std::string own = text(j, "name");
            if (const auto metadata = j.find("metadata"); metadata != j.end() && metadata->is_object())
                for (const auto& [key, value] : metadata->items())
                    if (isScalar(value)) out_.metadata.emplace_back(key, textOf(value));
            add(own.empty() ? name : own, std::move(given));
            return true;
        }
        for (const char* key : {"data", "rows"})
            if (const auto rows = j.find(key);
                rows != j.end() && rows->is_array() &&
                std::ranges::all_of(columns, [](const Json& c) { return c.is_string(); })) {
                Json all = Json::array({columns});
                for (const Json& row : *rows)
                    if (row.is_array()) all.push_back(row);
                if (all.size() > 1) takeRows(all, name);
                return true;
            }
        return false;
    }

    void add(const std::string& name, std::vector<Given> given) {
        std::vector<Column> columns;
        for (Given& g : given) {
            auto [label, unit] =
                g.unit.empty() && g.kind.empty() ? nameAndUnit(g.name) : std::pair(g.name, g.unit);
            columns.push_back(columnOf(g, label));
            columns.back().unit = unit;
            columns.back().comment = g.comment;
            if (!g.role.empty()) columns.back().role = roleFromKey(g.role);
        }
        if (columns.empty()) return;
        std::vector<Role> roles;
        for (const Column& c : columns) roles.push_back(c.role);
        ReadTable t = madeTable(name, std::move(columns), out_.issues);
        if (std::ranges::any_of(roles, [](Role r) { return r != Role::None; }))
            for (std::size_t c = 0; c < roles.size(); ++c) t.table.columns[c].role = roles[c];
        out_.tables.push_back(std::move(t));
    }

    Column columnOf(const Given& g, const std::string& label) {
        bool numbers = true, truths = true, any = false;
        std::size_t rounded = 0;
        for (const Json& v : g.values) {
            if (v.is_null()) continue;
            any = true;
            numbers = numbers && v.is_number();
            truths = truths && v.is_boolean();
            if (v.is_number_integer() && std::abs(v.get<double>()) >= 9007199254740992.0) {
                const double d = v.get<double>();
                rounded += fmt::format("{:.0f}", d) != v.dump();
            }
        }
        if (rounded > 0)
            out_.issues.push_back(
                {"precision-loss", "Whole numbers beyond 2⁵³ are rounded.", {.column = label}});
        if (!any || numbers || truths) {
            std::vector<double> values;
            values.reserve(g.values.size());
            for (const Json& v : g.values)
                values.push_back(v.is_null() ? kNaN : v.is_boolean() ? v.get<bool>() : v.get<double>());
            Column c = numberColumn(label, "", std::move(values));
            if (any && truths) c.kind = ColumnKind::Boolean;
            if (g.kind == "duration") c.kind = ColumnKind::Duration;
            return c;
        }
        std::vector<std::string> texts;
        for (const Json& v : g.values) texts.push_back(textOf(v));
        Column c = textColumn(label, std::move(texts));
        if (g.kind.empty() || g.kind != "text") interpretTexts(c, {}, out_.issues);
        return c;
    }

    ReadResult& out_;
};

Result<ReadResult> readJson(std::string_view bytes, const Settings&, const Cancellation&) {
    if (bytes.starts_with("\xEF\xBB\xBF")) bytes.remove_prefix(3);
    if (isTooDeep(bytes))
        return failure("json", "The brackets of the file are nested more than 64 deep: that is no table.");
    Json j;
    try {
        j = Json::parse(bytes);
    } catch (const Json::parse_error& e) {
        const auto end = bytes.begin() + static_cast<std::ptrdiff_t>(std::min(e.byte, bytes.size()));
        return failure("json", "The JSON breaks off or is wrong here.",
                       {.line = static_cast<long>(std::count(bytes.begin(), end, '\n')) + 1});
    } catch (const Json::exception&) {
        return failure("json", "The JSON holds a number that cannot be read.");
    }
    ReadResult out{.format = "json", .encoding = "utf-8"};
    if (const auto tables = j.is_object() ? j.find("tables") : j.end();
        j.is_object() && tables != j.end() && tables->is_array()) {
        for (const Json& t : *tables) Tables(out).take(t, "");
    }
    if (out.tables.empty()) Tables(out).take(j, "");
    if (out.tables.empty())
        return failure("json", "The file holds no lists of values that could be columns.");
    return out;
}

} // namespace

ReaderKind jsonReader() {
    return {.info = {.key = "json", .name = "JSON", .purpose = "Records or lists in JSON"},
            .endings = {"json"},
            .recognise =
                [](std::string_view head, std::string_view name) {
                    if (head.starts_with("\xEF\xBB\xBF")) head.remove_prefix(3);
                    const std::string_view t = trimmed(head);
                    if (t.empty() || (t[0] != '{' && t[0] != '[')) return 0;
                    const std::string_view rest = trimmed(t.substr(1));
                    const bool object = t[0] == '{' && (rest.starts_with('"') || rest.starts_with('}'));
                    const bool list = t[0] == '[' && (rest.starts_with('{') || rest.starts_with('[') ||
                                                      lowerAscii(name).ends_with(".json"));
                    return object || list ? 80 : 0;
                },
            .read = readJson};
}

} // namespace jointer::io
