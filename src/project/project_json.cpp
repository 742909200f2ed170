// SPDX-License-Identifier: GPL-3.0-or-later
#include "project/project_json.h"

#include "base/text.h"
#include "project/json_reader.h"
#include "project/recipe_json.h"

#include <cmath>

namespace jointer {

namespace {

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
Json toJson(const Asset&);
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

template <class T, class F> Parts<T> partsFrom(JsonReader& r, const char* key, F make) {
    Parts<T> parts;
    for (T& part : r.list<T>(key, make))
        if (part.id) parts = parts.with(std::move(part));
    return parts;
}

Json toJson(const RoleBinding& b) {
    Json json = {{"role", roleKey(b.role)}, {"column", b.column.text()}};
    if (!b.of.empty()) json["of"] = b.of;
    return withExtra(std::move(json), b.extra);
}
RoleBinding roleBindingFrom(const Json& j) {
    JsonReader r(j);
    RoleBinding b{roleFromKey(r.text("role")), ColumnId::fromText(r.text("column")), r.text("of")};
    b.extra = r.extra();
    return b;
}

Json toJson(const DatasetSource& s) {
    Json inputs = Json::array();
    for (DatasetId id : s.inputs) inputs.push_back(id.text());
    return withExtra({{"kind", s.kind},
                      {"table", s.table.text()},
                      {"roles", listOf(s.roles)},
                      {"inputs", inputs},
                      {"settings", toJson(s.settings)}},
                     s.extra);
}
DatasetSource sourceFrom(const Json& j) {
    JsonReader r(j);
    DatasetSource s;
    s.kind = r.text("kind");
    s.table = TableId::fromText(r.text("table"));
    s.roles = r.list<RoleBinding>("roles", roleBindingFrom);
    s.inputs = r.list<DatasetId>("inputs", [](const Json& i) {
        return DatasetId::fromText(i.is_string() ? i.get<std::string>() : "");
    });
    s.settings = r.settings("settings");
    s.extra = r.extra();
    return s;
}

Json toJson(const Attribute& a) {
    return withExtra({{"name", a.name}, {"value", a.value}, {"unit", a.unit}}, a.extra);
}
Attribute attributeFrom(const Json& j) {
    JsonReader r(j);
    Attribute a{r.text("name"), r.text("value"), r.text("unit")};
    a.extra = r.extra();
    return a;
}

Json toJson(const Step& s) {
    return withExtra({{"id", s.id.text()}, {"kind", s.kind}, {"on", s.on}, {"settings", toJson(s.settings)}},
                     s.extra);
}
Step stepFrom(const Json& j) {
    JsonReader r(j);
    Step s{StepId::fromText(r.text("id")), r.text("kind"), r.settings("settings"), r.flag("on", true)};
    s.extra = r.extra();
    return s;
}

Json toJson(const Dataset& d) {
    Json out = {{"id", d.id.text()},
                {"name", d.name},
                {"colour", d.colour},
                {"source", toJson(d.source)},
                {"attributes", listOf(d.attributes)},
                {"protocol", listOf(d.protocol)}};
    if (d.recipe) out["recipe"] = d.recipe.text();
    return withExtra(std::move(out), d.extra);
}
Dataset datasetFrom(const Json& j) {
    JsonReader r(j);
    Dataset d;
    d.id = DatasetId::fromText(r.text("id"));
    d.name = r.text("name");
    d.colour = r.text("colour");
    if (const Json* source = r.take("source")) d.source = sourceFrom(*source);
    d.attributes = r.list<Attribute>("attributes", attributeFrom);
    d.protocol = r.list<Step>("protocol", stepFrom);
    d.recipe = RecipeId::fromText(r.text("recipe"));
    d.extra = r.extra();
    return d;
}

Json toJson(const ModelNode& m) {
    Json out = {{"kind", m.kind}, {"settings", toJson(m.settings)}, {"children", listOf(m.children)}};
    if (m.component != 0) out["component"] = m.component;
    return withExtra(std::move(out), m.extra);
}
ModelNode modelFrom(const Json& j) {
    JsonReader r(j);
    ModelNode m{r.text("kind"), r.settings("settings"), r.list<ModelNode>("children", modelFrom)};
    m.component = static_cast<int>(r.number("component", 0));
    m.extra = r.extra();
    return m;
}

Json toJson(const ParameterChoice& p) {
    Json out = {{"name", p.name},
                {"treatment", treatmentKey(p.treatment)},
                {"start", p.start ? numberOrText(*p.start) : Json()},
                {"lower", numberOrText(p.lower)},
                {"upper", numberOrText(p.upper)},
                {"tie", p.tie}};
    if (p.member) out["member"] = p.member.text();
    return withExtra(std::move(out), p.extra);
}
ParameterChoice parameterFrom(const Json& j) {
    JsonReader r(j);
    ParameterChoice p{r.text("name"),
                      DatasetId::fromText(r.text("member")),
                      treatmentFromKey(r.text("treatment")),
                      r.optionalNumber("start"),
                      r.number("lower", -INFINITY),
                      r.number("upper", INFINITY),
                      r.text("tie")};
    p.extra = r.extra();
    return p;
}

// A span is a list of pieces; "outside" is written where it is so.
Json toJson(const AnalysisInput& in) {
    Json pieces = Json::array();
    for (const auto& [low, high] : in.span.pieces) pieces.push_back({numberOrText(low), numberOrText(high)});
    Json out = {{"dataset", in.dataset.text()},
                {"point", in.point.text()},
                {"span", std::move(pieces)},
                {"weights", toJson(in.weights)}};
    if (in.span.outside) out["outside"] = true;
    return withExtra(std::move(out), in.extra);
}
// Earlier files have one piece as "low" and "high".
Span spanFrom(JsonReader& r) {
    Span span;
    const double low = r.number("low", -INFINITY), high = r.number("high", INFINITY);
    if (std::isfinite(low) || std::isfinite(high)) span.pieces = {{low, high}};
    if (const Json* pieces = r.take("span"); pieces && pieces->is_array())
        for (const Json& p : *pieces)
            if (p.is_array() && p.size() == 2)
                span.pieces.emplace_back(JsonReader::numberOf(p[0], -INFINITY),
                                         JsonReader::numberOf(p[1], INFINITY));
    span.outside = r.flag("outside", false);
    return span;
}
AnalysisInput inputFrom(const Json& j) {
    JsonReader r(j);
    AnalysisInput in{DatasetId::fromText(r.text("dataset")), CurvePoint::fromText(r.text("point")),
                     spanFrom(r), r.settings("weights")};
    in.extra = r.extra();
    return in;
}

Json toJson(const Analysis& a) {
    Json analyses = Json::array();
    for (AnalysisId id : a.analyses) analyses.push_back(id.text());
    Json out = {{"id", a.id.text()},
                {"kind", a.kind},
                {"name", a.name},
                {"inputs", listOf(a.inputs)},
                {"model", toJson(a.model)},
                {"parameters", listOf(a.parameters)},
                {"settings", toJson(a.settings)}};
    if (!a.analyses.empty()) out["analyses"] = std::move(analyses);
    return withExtra(std::move(out), a.extra);
}
Analysis analysisFrom(const Json& j) {
    JsonReader r(j);
    Analysis a;
    a.id = AnalysisId::fromText(r.text("id"));
    a.kind = r.text("kind");
    a.name = r.text("name");
    a.inputs = r.list<AnalysisInput>("inputs", inputFrom);
    a.analyses = r.list<AnalysisId>("analyses", [](const Json& i) {
        return AnalysisId::fromText(i.is_string() ? i.get<std::string>() : std::string());
    });
    if (const Json* model = r.take("model")) a.model = modelFrom(*model);
    a.parameters = r.list<ParameterChoice>("parameters", parameterFrom);
    a.settings = r.settings("settings");
    a.extra = r.extra();
    return a;
}

Json toJson(const Element& e) {
    return withExtra({{"id", e.id.text()},
                      {"kind", e.kind},
                      {"source", e.source},
                      {"settings", toJson(e.settings)},
                      {"children", listOf(e.children)}},
                     e.extra);
}
Element elementFrom(const Json& j) {
    JsonReader r(j);
    Element e{ElementId::fromText(r.text("id")), r.text("kind"), r.text("source"), r.settings("settings"),
              r.list<Element>("children", elementFrom)};
    e.extra = r.extra();
    return e;
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
    JsonReader r(j);
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
    JsonReader r(j);
    HouseStyle s{StyleId::fromText(r.text("id")), r.text("name"), {}, {}};
    if (const Json* looks = r.take("looks"); looks && looks->is_object())
        for (const auto& [kind, settings] : looks->items()) s.looks[kind] = settingsFromJson(settings);
    s.extra = r.extra();
    return s;
}

Json toJson(const UserModel& m) {
    return withExtra({{"id", m.id.text()},
                      {"name", m.name},
                      {"equation", m.equation},
                      {"purpose", m.purpose},
                      {"starts", m.starts}},
                     m.extra);
}
UserModel userModelFrom(const Json& j) {
    JsonReader r(j);
    UserModel m{.id = UserModelId::fromText(r.text("id")),
                .name = r.text("name"),
                .equation = r.text("equation"),
                .purpose = r.text("purpose"),
                .starts = r.text("starts")};
    m.extra = r.extra();
    return m;
}

// What it is; its bytes are entries of the file.
Json toJson(const Asset& a) {
    Json json = {{"id", a.id.text()}, {"name", a.name}, {"type", a.type}};
    if (!a.note.empty()) json["note"] = a.note;
    return withExtra(std::move(json), a.extra);
}
Asset assetFrom(const Json& j) {
    static const auto empty = std::make_shared<const std::string>();
    JsonReader r(j);
    Asset a{.id = AssetId::fromText(r.text("id")),
            .name = r.text("name"),
            .type = r.text("type"),
            .bytes = empty};
    a.note = r.text("note");
    a.extra = r.extra();
    return a;
}

} // namespace

Json toJson(const Project& p) {
    Json out = {{"title", p.title},
                {"nextId", p.nextId},
                {"datasets", listOf(p.datasets)},
                {"analyses", listOf(p.analyses)},
                {"figures", listOf(p.figures)},
                {"styles", listOf(p.styles)},
                {"models", listOf(p.models)}};
    if (!p.assets.empty()) out["assets"] = listOf(p.assets);
    if (!p.recipes.empty()) out["recipes"] = listOf(p.recipes);
    return withExtra(std::move(out), p.extra);
}

Project projectFromJson(const Json& json) {
    JsonReader r(json);
    Project p;
    p.title = r.text("title");
    p.nextId = static_cast<std::uint64_t>(std::clamp(r.number("nextId", 1), 1.0, 9e15));
    p.datasets = partsFrom<Dataset>(r, "datasets", datasetFrom);
    p.analyses = partsFrom<Analysis>(r, "analyses", analysisFrom);
    p.figures = partsFrom<Figure>(r, "figures", figureFrom);
    p.styles = partsFrom<HouseStyle>(r, "styles", styleFrom);
    p.models = partsFrom<UserModel>(r, "models", userModelFrom);
    p.assets = partsFrom<Asset>(r, "assets", assetFrom);
    p.recipes = partsFrom<Recipe>(r, "recipes", recipeFromJson);
    p.extra = r.extra();
    return p;
}

} // namespace jointer
