// SPDX-License-Identifier: GPL-3.0-or-later
// Tables as JSON: everything but the cells, which have files of their own.
#include "base/text.h"
#include "project/json_reader.h"

namespace jointer {

namespace {

Json toJson(const Column& c) {
    Json originals = Json::array();
    for (const auto& [row, text] : c.cells->originals) originals.push_back({row, text});
    return withExtra({{"id", c.id.text()},
                      {"name", c.name},
                      {"unit", c.unit},
                      {"kind", kindKey(c.kind)},
                      {"role", roleKey(c.role)},
                      {"format", {{"style", static_cast<int>(c.format.style)}, {"digits", c.format.digits}}},
                      {"timePattern", c.timePattern},
                      {"comment", c.comment},
                      {"byHand", c.byHand},
                      {"utc", c.utc},
                      {"formula", c.formula},
                      {"originals", originals}},
                     c.extra);
}

} // namespace

Json toJson(const Table& t) {
    Json metadata = Json::array();
    for (const auto& [key, value] : t.origin.metadata) metadata.push_back({key, value});
    Json kinds = Json::array();
    for (const auto& [row, kind] : t.rowKinds) kinds.push_back({row, rowKindKey(kind)});
    Json columns = Json::array();
    for (const Column& c : t.columns) columns.push_back(toJson(c));
    const Json origin = withExtra({{"file", t.origin.file},
                                   {"reader", t.origin.reader},
                                   {"reading", t.origin.reading},
                                   {"encoding", t.origin.encoding},
                                   {"metadata", metadata}},
                                  t.origin.extra);
    const Json rows = {{"firstLine", t.rows->firstLine},
                       {"lastId", t.rows->lastId},
                       {"ids", t.rows->ids},
                       {"lines", t.rows->lines},
                       {"kinds", kinds}};
    return withExtra(
        {{"id", t.id.text()}, {"name", t.name}, {"origin", origin}, {"rows", rows}, {"columns", columns}},
        t.extra);
}

Table tableFromJson(const Json& json, std::map<ColumnId, std::map<std::uint32_t, std::string>>& originals) {
    JsonReader r(json);
    Table t;
    t.id = TableId::fromText(r.text("id"));
    t.name = r.text("name");
    if (const Json* j = r.take("origin")) {
        JsonReader o(*j);
        t.origin = {o.text("file"), o.text("reader"), o.text("reading"), o.text("encoding"), {}, {}};
        t.origin.metadata = o.list<std::pair<std::string, std::string>>("metadata", [](const Json& m) {
            const bool good = m.is_array() && m.size() == 2 && m[0].is_string() && m[1].is_string();
            return good ? std::pair(m[0].get<std::string>(), m[1].get<std::string>())
                        : std::pair<std::string, std::string>{};
        });
        t.origin.extra = o.extra();
    }
    if (const Json* j = r.take("rows")) {
        JsonReader rows(*j);
        auto number = [](const Json& n) { return n.is_number_unsigned() ? n.get<std::uint32_t>() : 0U; };
        Rows made;
        made.firstLine = static_cast<std::uint32_t>(std::clamp(rows.number("firstLine", 0), 0.0, 4e9));
        made.lastId = static_cast<std::uint32_t>(std::clamp(rows.number("lastId", 0), 0.0, 4e9));
        made.ids = rows.list<std::uint32_t>("ids", number);
        made.lines = rows.list<std::uint32_t>("lines", number);
        if (const Json* list = rows.take("kinds"); list && list->is_array())
            for (const Json& k : *list)
                if (k.is_array() && k.size() == 2 && k[0].is_number_unsigned() && k[1].is_string())
                    t.rowKinds[k[0].get<std::uint32_t>()] = rowKindFromKey(k[1].get<std::string>());
        t.rows = std::make_shared<Rows>(std::move(made));
    }
    t.columns = r.list<Column>("columns", [&](const Json& j) {
        JsonReader c(j);
        Column column;
        column.id = ColumnId::fromText(c.text("id"));
        column.name = c.text("name");
        column.unit = c.text("unit");
        column.kind = kindFromKey(c.text("kind"));
        column.role = roleFromKey(c.text("role"));
        if (const Json* f = c.take("format")) {
            JsonReader format(*f);
            column.format.style = static_cast<NumberFormat::Style>(
                std::clamp(static_cast<int>(format.number("style", 0)), 0, 4));
            column.format.digits = std::clamp(static_cast<int>(format.number("digits", 6)), 0, 17);
        }
        column.timePattern = c.text("timePattern");
        column.comment = c.text("comment");
        column.byHand = c.flag("byHand", false);
        column.utc = c.flag("utc", false);
        column.formula = c.text("formula");
        if (const Json* list = c.take("originals"); list && list->is_array())
            for (const Json& o : *list)
                if (o.is_array() && o.size() == 2 && o[0].is_number_unsigned() && o[1].is_string())
                    originals[column.id][o[0].get<std::uint32_t>()] = o[1].get<std::string>();
        column.extra = c.extra();
        return column;
    });
    t.extra = r.extra();
    return t;
}

} // namespace jointer
