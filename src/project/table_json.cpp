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

namespace {

Origin originFromJson(const Json& json) {
    JsonReader r(json);
    Origin origin{r.text("file"), r.text("reader"), r.text("reading"), r.text("encoding"), {}, {}};
    origin.metadata = r.list<std::pair<std::string, std::string>>("metadata", [](const Json& m) {
        const bool good = m.is_array() && m.size() == 2 && m[0].is_string() && m[1].is_string();
        return good ? std::pair(m[0].get<std::string>(), m[1].get<std::string>())
                    : std::pair<std::string, std::string>{};
    });
    origin.extra = r.extra();
    return origin;
}

// Hands each pair of a number and a text of the list on; what is neither is passed over.
template <class Take> void forEachNumbered(const Json* list, const Take& take) {
    if (!list || !list->is_array()) return;
    for (const Json& pair : *list)
        if (pair.is_array() && pair.size() == 2 && pair[0].is_number_unsigned() && pair[1].is_string())
            take(pair[0].get<std::uint32_t>(), pair[1].get<std::string>());
}

void takeRows(Table& t, const Json& json) {
    JsonReader r(json);
    auto number = [](const Json& n) { return n.is_number_unsigned() ? n.get<std::uint32_t>() : 0U; };
    Rows made;
    made.firstLine = static_cast<std::uint32_t>(std::clamp(r.number("firstLine", 0), 0.0, 4e9));
    made.lastId = static_cast<std::uint32_t>(std::clamp(r.number("lastId", 0), 0.0, 4e9));
    made.ids = r.list<std::uint32_t>("ids", number);
    made.lines = r.list<std::uint32_t>("lines", number);
    forEachNumbered(r.take("kinds"), [&](std::uint32_t row, const std::string& kind) {
        t.rowKinds[row] = rowKindFromKey(kind);
    });
    t.rows = std::make_shared<Rows>(std::move(made));
}

Column columnFromJson(const Json& json, std::map<ColumnId, std::map<std::uint32_t, std::string>>& originals) {
    JsonReader r(json);
    Column column;
    column.id = ColumnId::fromText(r.text("id"));
    column.name = r.text("name");
    column.unit = r.text("unit");
    column.kind = kindFromKey(r.text("kind"));
    column.role = roleFromKey(r.text("role"));
    if (const Json* f = r.take("format")) {
        JsonReader format(*f);
        column.format.style =
            static_cast<NumberFormat::Style>(std::clamp(static_cast<int>(format.number("style", 0)), 0, 4));
        column.format.digits = std::clamp(static_cast<int>(format.number("digits", 6)), 0, 17);
    }
    column.timePattern = r.text("timePattern");
    column.comment = r.text("comment");
    column.byHand = r.flag("byHand", false);
    column.utc = r.flag("utc", false);
    column.formula = r.text("formula");
    forEachNumbered(r.take("originals"), [&](std::uint32_t row, const std::string& text) {
        originals[column.id][row] = text;
    });
    column.extra = r.extra();
    return column;
}

} // namespace

Table tableFromJson(const Json& json, std::map<ColumnId, std::map<std::uint32_t, std::string>>& originals) {
    JsonReader r(json);
    Table t;
    t.id = TableId::fromText(r.text("id"));
    t.name = r.text("name");
    if (const Json* j = r.take("origin")) t.origin = originFromJson(*j);
    if (const Json* j = r.take("rows")) takeRows(t, *j);
    t.columns = r.list<Column>("columns", [&](const Json& j) { return columnFromJson(j, originals); });
    t.extra = r.extra();
    return t;
}

} // namespace jointer
