// SPDX-License-Identifier: GPL-3.0-or-later
// The nodes of fields: which part of a project each reads, and what it is made of.
#include "base/text.h"
#include "evaluate/column_inputs.h"
#include "evaluate/fields.h"
#include "evaluate/mapping.h"
#include "evaluate/sources.h"
#include "steps/step.h"

#include <fmt/format.h>

namespace jointer::evaluate {

using fields::Field;

namespace {

Stored fieldStored(Field field, std::vector<Issue> issues) {
    field.known = field.extent();
    const std::size_t bytes = sizeof field + 8 * (field.z.size() + field.x.size() + field.y.size());
    return {std::make_shared<const Field>(std::move(field)), std::move(issues), {}, bytes};
}

Node noField(Issue issue) {
    return {.given = fieldStored({}, {std::move(issue)})};
}

// Of the columns of a table that have a role.
Node overTable(const Ground& ground, const std::shared_ptr<const Dataset>& d) {
    const auto table = ground.project.tables.find(d->source.table);
    if (!table) return noField({"table-gone", "The table is no longer there.", {}});
    Hasher h;
    h.add("field").add(d->source.kind).add(table->rowCount()).add(d->source.roles.size());
    const ColumnInputs columns(table, d->source.roles, h);
    Node node{.name = d->name, .inputs = columns.nodes, .slow = true, .passesIssues = true};
    d->source.settings.addTo(h);
    node.own = h.digest();
    node.compute = [columns, d](std::span<const Stored> inputs, const Request& request) {
        const Table filled = columns.filled(inputs);
        std::vector<Issue> issues;
        const std::string& kind = d->source.kind;
        Field f = kind == "grid"          ? gridOf(filled, d->source, issues)
                  : kind == "composition" ? mixturesOf(filled, d->source, issues, request.stop)
                                          : surfaceOf(filled, d->source, issues, request.stop);
        Stored out = fieldStored(std::move(f), std::move(issues));
        out.whole = !request.stop.stop_requested();
        return out;
    };
    return node;
}

Node ofExpression(const std::shared_ptr<const Dataset>& d) {
    Hasher h;
    h.add("plane");
    d->source.settings.addTo(h);
    return {.name = d->name, .own = h.digest(), .compute = [d](std::span<const Stored>, const Request&) {
                std::vector<Issue> issues;
                Field f = planeOf(sourceCatalogue().find("plane")->info, d->source.settings, issues);
                return fieldStored(std::move(f), std::move(issues));
            }};
}

// Between the lowest and the highest that its points have, or where the settings tell.
std::vector<double> nodesOf(const Settings& settings, const char* key, std::pair<double, double> range,
                            const char* count) {
    if (const Numbers own = settings.numbers(key); own.size() == 2) {
        if (std::isfinite(own[0])) range.first = own[0];
        if (std::isfinite(own[1])) range.second = own[1];
    }
    const KindInfo& info = sourceCatalogue().find("fitted-surface")->info;
    return evenNodes(range.first, range.second, static_cast<std::size_t>(info.integer(settings, count)));
}

Stored fittedField(const analyses::AnalysisResult& result, const Dataset& d) {
    const Settings& settings = d.source.settings;
    const analyses::NamedCurve* fitted =
        result.curve("fit", DatasetId::fromText(settings.reference("member")));
    if (!fitted || !fitted->surface)
        return fieldStored({}, {{"no-surface",
                                 fmt::format("The fit that “{}” takes is no surface over x and y: it needs a "
                                             "model of two predictors.",
                                             d.name),
                                 {}}});
    const analyses::Surface& surface = *fitted->surface;
    Field f;
    f.x = nodesOf(settings, "x-range", surface.x, "x-nodes");
    f.y = nodesOf(settings, "y-range", surface.y, "y-nodes");
    f.xMeaning = fitted->xMeaning;
    f.yMeaning = surface.yMeaning;
    f.zMeaning = fitted->yMeaning;
    if (f.x.empty() || f.y.empty())
        return fieldStored({}, {{"range", "The ranges of x and y must end above where they begin.", {}}});
    std::vector<double> xs, ys;
    for (const double y : f.y) {
        xs.insert(xs.end(), f.x.begin(), f.x.end());
        ys.insert(ys.end(), f.x.size(), y);
    }
    const analyses::Sampled at = surface.sample(xs, ys);
    const std::string what = settings.text("what", "fit");
    f.z = what == "confidence" ? at.confidence : what == "prediction" ? at.prediction : at.y;
    f.z.resize(xs.size(), NAN);
    for (double& z : f.z)
        if (!std::isfinite(z)) z = NAN;
    if (what != "fit")
        f.zMeaning.name = (what == "confidence" ? "confidence of " : "prediction of ") + f.zMeaning.name;
    return fieldStored(std::move(f), {});
}

Node ofFit(const Ground& ground, const std::shared_ptr<const Dataset>& d) {
    const auto fit = AnalysisId::fromText(d->source.settings.reference("fit"));
    if (!ground.project.analyses.find(fit))
        return noField(
            {"no-fit",
             fmt::format("“{}” needs a fit of two predictors: choose it in its settings.", d->name),
             {}});
    Hasher h;
    h.add("fitted surface");
    d->source.settings.addTo(h);
    Node node{.name = d->name, .inputs = {analysisNode(fit)}, .own = h.digest()};
    node.compute = [d](std::span<const Stored> inputs, const Request&) {
        if (!inputs[0].value) return fieldStored({}, inputs[0].issues);
        Stored out = fittedField(*inputs[0].as<analyses::AnalysisResult>(), *d);
        out.whole = inputs[0].whole;
        return out;
    };
    node.inCircle = [d](const std::string& loop) { return fieldStored({}, {madeOfItself(d->name, loop)}); };
    return node;
}

double attributeOf(const Dataset& d, const std::string& name) {
    for (const Attribute& a : d.attributes)
        if (name.empty() || a.name == name)
            if (const auto v = parseNumber(a.value)) return *v;
    return NAN;
}

// Curves as the rows of a map, each at the place that an attribute gives it.
Field stacked(std::vector<std::pair<double, const Curve*>> curves, std::size_t nodes) {
    std::ranges::stable_sort(curves, {}, [](const auto& c) { return c.first; });
    Field f;
    double low = INFINITY, high = -INFINITY;
    std::size_t most = 0;
    for (const auto& [at, curve] : curves) {
        if (curve->x.empty()) continue;
        low = std::min(low, curve->x.front());
        high = std::max(high, curve->x.back());
        most = std::max(most, curve->size());
    }
    if (!(low < high)) return f;
    const std::size_t n = std::clamp<std::size_t>(nodes > 1 ? nodes : most, 2, 20000);
    f.x = evenNodes(low, high, n);
    for (const auto& [at, curve] : curves) {
        if (!f.y.empty() && f.y.back() == at) continue; // the first of equal ones
        f.y.push_back(at);
        std::size_t k = 0;
        for (const double x : f.x) {
            while (k + 1 < curve->size() && curve->x[k + 1] < x) ++k;
            const bool inside = k + 1 < curve->size() && x >= curve->x[k] && x <= curve->x[k + 1];
            const double step = inside ? curve->x[k + 1] - curve->x[k] : 0;
            f.z.push_back(!inside    ? NAN
                          : step > 0 ? std::lerp(curve->y[k], curve->y[k + 1], (x - curve->x[k]) / step)
                                     : curve->y[k]);
        }
    }
    f.xMeaning = curves.front().second->xMeaning;
    f.zMeaning = curves.front().second->yMeaning;
    return f;
}

Node ofCurves(const Ground& ground, const std::shared_ptr<const Dataset>& d) {
    Node node{.name = d->name};
    const std::string attribute = d->source.settings.text("attribute");
    AxisMeaning meaning{.name = attribute.empty() ? "number" : attribute};
    std::vector<double> at;
    Hasher h;
    h.add("stack");
    d->source.settings.addTo(h);
    for (const DatasetId id : d->source.inputs) {
        const auto input = ground.project.datasets.find(id);
        if (!input) continue;
        const double value = attributeOf(*input, attribute);
        at.push_back(std::isfinite(value) ? value : static_cast<double>(at.size() + 1));
        for (const Attribute& a : input->attributes)
            if (a.name == attribute || (attribute.empty() && meaning.unit.empty() && parseNumber(a.value)))
                meaning.name = a.name, meaning.unit = a.unit;
        node.inputs.push_back(chainOf(ground.project, id).stages.back());
        h.add(at.back());
    }
    h.add(meaning.name).add(meaning.unit);
    node.own = h.digest();
    const auto nodes = static_cast<std::size_t>(std::max(0.0, d->source.settings.number("nodes", 0)));
    node.compute = [=](std::span<const Stored> inputs, const Request&) {
        if (inputs.empty()) return fieldStored({}, {{"dataset-gone", "A map of curves needs datasets.", {}}});
        std::vector<std::pair<double, const Curve*>> curves;
        for (std::size_t k = 0; k < inputs.size(); ++k)
            curves.emplace_back(at[k], &inputs[k].as<steps::StepOutput>()->curve);
        Field f = stacked(std::move(curves), nodes);
        f.yMeaning = meaning;
        return fieldStored(std::move(f), {});
    };
    node.inCircle = [d](const std::string& loop) { return fieldStored({}, {madeOfItself(d->name, loop)}); };
    return node;
}

// Each line along x or y without its baseline, as the step of that name finds it; missing nodes stay missing.
Field withoutBaseline(const Field& from, const Settings& settings) {
    const steps::StepKind& step = *steps::catalogue().find("baseline");
    Settings how = settings;
    if (!how.has("method")) how.set("method", Value(std::string("als")));
    how.set("degree", Value(settings.number("baseline-degree", 3)));
    const bool alongX = settings.text("along", "x") == "x";
    const std::vector<double>& nodes = alongX ? from.x : from.y;
    const std::size_t lines = alongX ? from.rows() : from.columns(), n = from.columns();
    Field to = from;
    to.known = {};
    parallelRanges(lines, 1, [&](std::size_t begin, std::size_t end) {
        const steps::DatasetFacts facts;
        for (std::size_t line = begin; line < end; ++line) {
            Curve c;
            for (std::size_t k = 0; k < nodes.size(); ++k) {
                const double z = alongX ? from.at(k, line) : from.at(line, k);
                if (!std::isfinite(z)) continue;
                c.x.push_back(nodes[k]);
                c.y.push_back(z);
                c.rowIds.push_back(static_cast<std::uint32_t>(k + 1));
            }
            if (c.size() < 3) continue;
            const Curve level = step.apply({c, how, facts, {}}).value.curve;
            for (std::size_t k = 0; k < level.size(); ++k) {
                const std::size_t at = level.rowIds[k] - std::size_t{1};
                to.z[alongX ? line * n + at : at * n + line] = level.y[k];
            }
        }
    });
    return to;
}

Field changed(const Field& from, const Settings& settings) {
    const std::string how = settings.text("change", "smooth");
    if (how == "baseline") return withoutBaseline(from, settings);
    if (how == "trend")
        return fields::withoutTrend(from, settings.text("degree", "plane") == "plane" ? 1 : 2);
    if (how == "refine")
        return fields::refined(from, static_cast<int>(std::clamp(settings.number("times", 4), 2.0, 16.0)));
    return fields::smoothed(from, std::clamp(settings.number("width", 1.5), 0.0, 200.0));
}

Node ofField(const Ground& ground, const std::shared_ptr<const Dataset>& d) {
    if (d->source.inputs.empty() || !ground.project.datasets.find(d->source.inputs[0]))
        return noField({"dataset-gone", fmt::format("“{}” needs the field that it changes.", d->name), {}});
    Node node{.name = d->name, .inputs = {fieldNode(d->source.inputs[0])}, .passesIssues = true};
    Hasher h;
    h.add("changed field");
    d->source.settings.addTo(h);
    node.own = h.digest();
    node.compute = [d](std::span<const Stored> inputs, const Request&) {
        return fieldStored(changed(*inputs[0].as<Field>(), d->source.settings), {});
    };
    node.inCircle = [d](const std::string& loop) { return fieldStored({}, {madeOfItself(d->name, loop)}); };
    return node;
}

} // namespace

const std::vector<std::string>& fieldKinds() {
    static const std::vector<std::string> all = {"grid",  "surface",       "composition",   "plane",
                                                 "stack", "changed-field", "fitted-surface"};
    return all;
}

bool hasField(const DatasetSource& source) {
    if (source.kind == "composition")
        return std::ranges::find(source.roles, Role::Z, &RoleBinding::role) != source.roles.end();
    return std::ranges::find(fieldKinds(), source.kind) != fieldKinds().end();
}

NodeId fieldNode(DatasetId dataset) {
    return {"field", dataset.value};
}

Node planField(const Ground& ground, const NodeId& id) {
    const auto d = ground.project.datasets.find(DatasetId{id.of});
    if (!d) return noField({"dataset-gone", "The dataset is no longer there.", {}});
    const std::string& kind = d->source.kind;
    if (kind == "composition" && !hasField(d->source))
        return noField(
            {"no-field",
             fmt::format("“{}” has no column for a value over its three parts: choose it in Data.", d->name),
             {}});
    if (kind == "grid" || kind == "surface" || kind == "composition") return overTable(ground, d);
    if (kind == "fitted-surface") return ofFit(ground, d);
    if (kind == "plane") return ofExpression(d);
    if (kind == "stack") return ofCurves(ground, d);
    if (kind == "changed-field") return ofField(ground, d);
    return noField(
        {"no-field",
         fmt::format("“{}” is a curve, not a field: choose columns for x, y and z, or a grid, in Data.",
                     d->name),
         {}});
}

} // namespace jointer::evaluate
