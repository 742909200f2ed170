// SPDX-License-Identifier: GPL-3.0-or-later
#include "project/project_json.h"

#include "base/text.h"

#include <cmath>

namespace jointer {

namespace {

// Reads members by key and remembers which were known, so that the rest can be kept.
class Reader {
public:
    explicit Reader(const Json& json) : json_(json.is_object() ? json : empty()) {}

    std::string text(const char* key) {
        const Json* j = take(key);
        return j && j->is_string() ? j->get<std::string>() : std::string{};
    }
    double number(const char* key, double fallback) {
        const Json* j = take(key);
        if (j && j->is_string())
            return j->get<std::string>() == "-inf"  ? -INFINITY
                   : j->get<std::string>() == "inf" ? INFINITY
                                                    : fallback;
        return j && j->is_number() ? j->get<double>() : fallback;
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

Json withExtra(Json json, const std::string& extra) {
    if (!extra.empty()) json.update(Json::parse(extra, nullptr, false));
    return json;
}

Json numberOrText(double v) {
    if (std::isfinite(v)) return v;
    return shortestNumber(v);
}

// Declared before the templates that call them.
Json toJson(const RoleBinding&);
Json toJson(const Attribute&);
Json toJson(const Step&);
Json toJson(const Dataset&);
Json toJson(const ModelNode&);
Json toJson(const ParameterChoice&);
Json toJson(const AnalysisInput&);
Json toJson(const Analysis&);
Json toJson(const Element&);
Json toJson(const Figure&);
Json toJson(const HouseStyle&);
Json toJson(const UserModel&);
Json toJson(const Column&);
using jointer::toJson;

template <class T> Json listOf(const std::vector<T>& items) {
    Json out = Json::array();
    for (const T& item : items) out.push_back(toJson(item));
    return out;
}

template <class T> Json listOf(const Parts<T>& parts) {
    Json out = Json::array();
    for (const auto& part : parts) out.push_back(toJson(*part));
    return out;
}

template <class T, class F> Parts<T> partsFrom(Reader& r, const char* key, F make) {
    Parts<T> parts;
    for (T& part : r.list<T>(key, make))
        if (part.id) parts = parts.with(std::move(part));
    return parts;
}

Json toJson(const RoleBinding& b) {
    return {{"role", roleKey(b.role)}, {"column", b.column.text()}};
}
RoleBinding roleBindingFrom(const Json& j) {
    Reader r(j);
    return {roleFromKey(r.text("role")), ColumnId::fromText(r.text("column"))};
}

Json toJson(const DatasetSource& s) {
    Json inputs = Json::array();
    for (DatasetId id : s.inputs) inputs.push_back(id.text());
    return {{"kind", s.kind},
            {"table", s.table.text()},
            {"roles", listOf(s.roles)},
            {"inputs", inputs},
            {"settings", toJson(s.settings)}};
}
DatasetSource sourceFrom(const Json& j) {
    Reader r(j);
    DatasetSource s;
    s.kind = r.text("kind");
    s.table = TableId::fromText(r.text("table"));
    s.roles = r.list<RoleBinding>("roles", roleBindingFrom);
    s.inputs = r.list<DatasetId>("inputs", [](const Json& i) {
        return DatasetId::fromText(i.is_string() ? i.get<std::string>() : "");
    });
    s.settings = r.settings("settings");
    return s;
}

Json toJson(const Attribute& a) {
    return {{"name", a.name}, {"value", a.value}, {"unit", a.unit}};
}
Attribute attributeFrom(const Json& j) {
    Reader r(j);
    return {r.text("name"), r.text("value"), r.text("unit")};
}

Json toJson(const Step& s) {
    return {{"id", s.id.text()}, {"kind", s.kind}, {"on", s.on}, {"settings", toJson(s.settings)}};
}
Step stepFrom(const Json& j) {
    Reader r(j);
    return {StepId::fromText(r.text("id")), r.text("kind"), r.settings("settings"), r.flag("on", true)};
}

Json toJson(const Dataset& d) {
    return withExtra({{"id", d.id.text()},
                      {"name", d.name},
                      {"colour", d.colour},
                      {"source", toJson(d.source)},
                      {"attributes", listOf(d.attributes)},
                      {"protocol", listOf(d.protocol)}},
                     d.extra);
}
Dataset datasetFrom(const Json& j) {
    Reader r(j);
    Dataset d;
    d.id = DatasetId::fromText(r.text("id"));
    d.name = r.text("name");
    d.colour = r.text("colour");
    if (const Json* source = r.take("source")) d.source = sourceFrom(*source);
    d.attributes = r.list<Attribute>("attributes", attributeFrom);
    d.protocol = r.list<Step>("protocol", stepFrom);
    d.extra = r.extra();
    return d;
}

Json toJson(const ModelNode& m) {
    return {{"kind", m.kind}, {"settings", toJson(m.settings)}, {"children", listOf(m.children)}};
}
ModelNode modelFrom(const Json& j) {
    Reader r(j);
    return {r.text("kind"), r.settings("settings"), r.list<ModelNode>("children", modelFrom)};
}

Json toJson(const ParameterChoice& p) {
    return {{"name", p.name},
            {"treatment", p.treatment},
            {"start", p.start ? numberOrText(*p.start) : Json()},
            {"lower", numberOrText(p.lower)},
            {"upper", numberOrText(p.upper)},
            {"tie", p.tie}};
}
ParameterChoice parameterFrom(const Json& j) {
    Reader r(j);
    return {r.text("name"),
            r.text("treatment"),
            r.optionalNumber("start"),
            r.number("lower", -INFINITY),
            r.number("upper", INFINITY),
            r.text("tie")};
}

Json toJson(const AnalysisInput& in) {
    return {{"dataset", in.dataset.text()},
            {"point", in.point},
            {"low", numberOrText(in.low)},
            {"high", numberOrText(in.high)},
            {"weights", toJson(in.weights)}};
}
AnalysisInput inputFrom(const Json& j) {
    Reader r(j);
    return {DatasetId::fromText(r.text("dataset")), r.text("point"), r.number("low", -INFINITY),
            r.number("high", INFINITY), r.settings("weights")};
}

Json toJson(const Analysis& a) {
    return withExtra({{"id", a.id.text()},
                      {"kind", a.kind},
                      {"name", a.name},
                      {"inputs", listOf(a.inputs)},
                      {"model", toJson(a.model)},
                      {"parameters", listOf(a.parameters)},
                      {"settings", toJson(a.settings)}},
                     a.extra);
}
Analysis analysisFrom(const Json& j) {
    Reader r(j);
    Analysis a;
    a.id = AnalysisId::fromText(r.text("id"));
    a.kind = r.text("kind");
    a.name = r.text("name");
    a.inputs = r.list<AnalysisInput>("inputs", inputFrom);
    if (const Json* model = r.take("model")) a.model = modelFrom(*model);
    a.parameters = r.list<ParameterChoice>("parameters", parameterFrom);
    a.settings = r.settings("settings");
    a.extra = r.extra();
    return a;
}

Json toJson(const Element& e) {
    return {{"id", e.id.text()},
            {"kind", e.kind},
            {"source", e.source},
            {"settings", toJson(e.settings)},
            {"children", listOf(e.children)}};
}
Element elementFrom(const Json& j) {
    Reader r(j);
    return {ElementId::fromText(r.text("id")), r.text("kind"), r.text("source"), r.settings("settings"),
            r.list<Element>("children", elementFrom)};
}

Json toJson(const Figure& f) {
    return withExtra({{"id", f.id.text()},
                      {"name", f.name},
                      {"style", f.style.text()},
                      {"settings", toJson(f.settings)},
                      {"elements", listOf(f.elements)}},
                     f.extra);
}
Figure figureFrom(const Json& j) {
    Reader r(j);
    Figure f{FigureId::fromText(r.text("id")),         r.text("name"),
             StyleId::fromText(r.text("style")),       r.settings("settings"),
             r.list<Element>("elements", elementFrom), {}};
    f.extra = r.extra();
    return f;
}

Json toJson(const HouseStyle& s) {
    Json looks = Json::object();
    for (const auto& [kind, settings] : s.looks) looks[kind] = toJson(settings);
    return withExtra({{"id", s.id.text()}, {"name", s.name}, {"looks", looks}}, s.extra);
}
HouseStyle styleFrom(const Json& j) {
    Reader r(j);
    HouseStyle s{StyleId::fromText(r.text("id")), r.text("name"), {}, {}};
    if (const Json* looks = r.take("looks"); looks && looks->is_object())
        for (const auto& [kind, settings] : looks->items()) s.looks[kind] = settingsFromJson(settings);
    s.extra = r.extra();
    return s;
}

Json toJson(const UserModel& m) {
    return withExtra(
        {{"id", m.id.text()}, {"name", m.name}, {"equation", m.equation}, {"purpose", m.purpose}}, m.extra);
}
UserModel userModelFrom(const Json& j) {
    Reader r(j);
    UserModel m{
        UserModelId::fromText(r.text("id")), r.text("name"), r.text("equation"), r.text("purpose"), {}};
    m.extra = r.extra();
    return m;
}

Json toJson(const Column& c) {
    Json originals = Json::array();
    for (const auto& [row, text] : c.cells->originals) originals.push_back({row, text});
    return {{"id", c.id.text()},
            {"name", c.name},
            {"unit", c.unit},
            {"kind", kindKey(c.kind)},
            {"role", roleKey(c.role)},
            {"format", {{"style", static_cast<int>(c.format.style)}, {"digits", c.format.digits}}},
            {"comment", c.comment},
            {"formula", c.formula},
            {"originals", originals}};
}

} // namespace

Json toJson(const Project& p) {
    return withExtra({{"title", p.title},
                      {"nextId", p.nextId},
                      {"datasets", listOf(p.datasets)},
                      {"analyses", listOf(p.analyses)},
                      {"figures", listOf(p.figures)},
                      {"styles", listOf(p.styles)},
                      {"models", listOf(p.models)}},
                     p.extra);
}

Project projectFromJson(const Json& json) {
    Reader r(json);
    Project p;
    p.title = r.text("title");
    p.nextId = static_cast<std::uint64_t>(std::clamp(r.number("nextId", 1), 1.0, 9e15));
    p.datasets = partsFrom<Dataset>(r, "datasets", datasetFrom);
    p.analyses = partsFrom<Analysis>(r, "analyses", analysisFrom);
    p.figures = partsFrom<Figure>(r, "figures", figureFrom);
    p.styles = partsFrom<HouseStyle>(r, "styles", styleFrom);
    p.models = partsFrom<UserModel>(r, "models", userModelFrom);
    p.extra = r.extra();
    return p;
}

Json toJson(const Table& t) {
    Json metadata = Json::array();
    for (const auto& [key, value] : t.origin.metadata) metadata.push_back({key, value});
    return {{"id", t.id.text()},
            {"name", t.name},
            {"origin",
             {{"file", t.origin.file},
              {"reader", t.origin.reader},
              {"reading", t.origin.reading},
              {"encoding", t.origin.encoding},
              {"metadata", metadata}}},
            {"rows", {{"firstLine", t.rows->firstLine}, {"ids", t.rows->ids}, {"lines", t.rows->lines}}},
            {"columns", listOf(t.columns)}};
}

Table tableFromJson(const Json& json, std::map<ColumnId, std::map<std::uint32_t, std::string>>& originals) {
    Reader r(json);
    Table t;
    t.id = TableId::fromText(r.text("id"));
    t.name = r.text("name");
    if (const Json* j = r.take("origin")) {
        Reader o(*j);
        t.origin = {o.text("file"), o.text("reader"), o.text("reading"), o.text("encoding"), {}};
        t.origin.metadata = o.list<std::pair<std::string, std::string>>("metadata", [](const Json& m) {
            const bool good = m.is_array() && m.size() == 2 && m[0].is_string() && m[1].is_string();
            return good ? std::pair(m[0].get<std::string>(), m[1].get<std::string>())
                        : std::pair<std::string, std::string>{};
        });
    }
    if (const Json* j = r.take("rows")) {
        Reader rows(*j);
        auto number = [](const Json& n) { return n.is_number_unsigned() ? n.get<std::uint32_t>() : 0U; };
        Rows made;
        made.firstLine = static_cast<std::uint32_t>(std::clamp(rows.number("firstLine", 0), 0.0, 4e9));
        made.ids = rows.list<std::uint32_t>("ids", number);
        made.lines = rows.list<std::uint32_t>("lines", number);
        t.rows = std::make_shared<Rows>(std::move(made));
    }
    t.columns = r.list<Column>("columns", [&](const Json& j) {
        Reader c(j);
        Column column;
        column.id = ColumnId::fromText(c.text("id"));
        column.name = c.text("name");
        column.unit = c.text("unit");
        column.kind = kindFromKey(c.text("kind"));
        column.role = roleFromKey(c.text("role"));
        if (const Json* f = c.take("format")) {
            Reader format(*f);
            column.format.style = static_cast<NumberFormat::Style>(
                std::clamp(static_cast<int>(format.number("style", 0)), 0, 4));
            column.format.digits = std::clamp(static_cast<int>(format.number("digits", 6)), 0, 17);
        }
        column.comment = c.text("comment");
        column.formula = c.text("formula");
        if (const Json* list = c.take("originals"); list && list->is_array())
            for (const Json& o : *list)
                if (o.is_array() && o.size() == 2 && o[0].is_number_unsigned() && o[1].is_string())
                    originals[column.id][o[0].get<std::uint32_t>()] = o[1].get<std::string>();
        return column;
    });
    return t;
}

} // namespace jointer
