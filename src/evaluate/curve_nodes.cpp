// SPDX-License-Identifier: GPL-3.0-or-later
// Curves of datasets: as measured, and after each step.
#include "base/text.h"
#include "evaluate/measured_curve.h"
#include "evaluate/nodes.h"
#include "evaluate/sources.h"
#include "steps/step.h"

#include <fmt/format.h>

namespace jointer::evaluate {

namespace {

std::size_t bytesOf(const Curve& c) {
    return sizeof c +
           sizeof(double) *
               (c.x.size() * (2 + c.replicates.size() + c.more.size()) + c.sigma.size() + c.sigmaX.size()) +
           c.excluded.size() + 4 * c.rowIds.size();
}

Stored curveStored(steps::StepOutput output, std::vector<Issue> issues, const Digest& digest) {
    const std::size_t bytes = bytesOf(output.curve) + 16 * output.takenX.size();
    return {std::make_shared<const steps::StepOutput>(std::move(output)), std::move(issues), digest, bytes};
}

Node noCurve(Issue issue) {
    return {.given = curveStored({}, {std::move(issue)}, {})};
}

// Of the columns that have a role. What the points come from stands for their content: the digest is the key.
Node overColumns(const Ground& ground, const std::shared_ptr<const Dataset>& d) {
    const auto table = ground.project.tables.find(d->source.table);
    if (!table) return noCurve({"table-gone", "The table is no longer there.", {}});
    Node node{.name = d->name, .passesIssues = true};
    std::vector<std::size_t> places; // of the inputs, in the table
    Hasher h;
    h.add("measured").add(d->source.kind).add(table->rowCount()).add(d->source.roles.size());
    for (const RoleBinding& b : d->source.roles) {
        const auto c = std::ranges::find(table->columns, b.column, &Column::id);
        const bool there = c != table->columns.end();
        h.add(static_cast<int>(b.role)).add(b.of).add(there);
        if (!there) continue;
        h.add(c->name).add(c->unit).add(static_cast<int>(c->kind));
        node.inputs.push_back(columnNode(table->id, c->id));
        places.push_back(static_cast<std::size_t>(c - table->columns.begin()));
    }
    d->source.settings.addTo(h);
    h.add(ground.digests.of(table->rows));
    for (const auto& [row, kind] : table->rowKinds) h.add(row).add(static_cast<int>(kind));
    node.own = h.digest();
    node.compute = [table, d, places](std::span<const Stored> inputs, const Request&) {
        Table filled = *table;
        for (std::size_t i = 0; i < places.size(); ++i)
            filled.columns[places[i]].cells = inputs[i].as<Cells>();
        steps::StepOutput out;
        std::vector<Issue> issues;
        out.curve = curveFromColumns(filled, *d, issues);
        return curveStored(std::move(out), std::move(issues), {});
    };
    return node;
}

// Functions, and datasets made of others: of these the curve at the end of the protocol is taken.
Node madeOf(const Ground& ground, const std::shared_ptr<const Dataset>& d, const SourceKind& kind) {
    if (d->source.inputs.size() < kind.inputs)
        return noCurve(
            {"dataset-gone",
             fmt::format("“{}” needs {}.", d->name, counted(static_cast<long long>(kind.inputs), "dataset")),
             {}});
    Node node{.name = d->name};
    for (DatasetId id : d->source.inputs) node.inputs.push_back(chainOf(ground.project, id).stages.back());
    Hasher h;
    h.add("made").add(kind.info.key).add(kind.info.version);
    d->source.settings.addTo(h);
    node.own = h.digest();
    node.compute = [d, &kind](std::span<const Stored> inputs, const Request&) {
        std::vector<const Curve*> curves; // held by the inputs
        for (const Stored& input : inputs) curves.push_back(&input.as<steps::StepOutput>()->curve);
        steps::StepOutput out;
        std::vector<Issue> issues;
        out.curve = kind.curve(d->source.settings, curves, issues);
        return curveStored(std::move(out), std::move(issues), {});
    };
    node.inCircle = [d](const std::string& loop) {
        const Issue issue{
            "circle", fmt::format("“{}” is made of itself ({}): choose other datasets.", d->name, loop), {}};
        return curveStored({}, {issue}, {});
    };
    return node;
}

} // namespace

Chain chainOf(const Project& project, DatasetId id, StepId before) {
    Chain chain{{measuredNode(id)}, {}};
    const auto dataset = project.datasets.find(id);
    if (!dataset) return chain;
    for (const Step& step : dataset->protocol) {
        if (before && step.id == before) break;
        const NodeId last = chain.stages.back();
        chain.stages.push_back(step.on ? NodeId{"step", id.value, step.id.value} : last);
        if (!step.on) continue;
        const steps::StepKind* kind = steps::catalogue().find(step.kind);
        const bool smooths = kind && kind->smooths;
        if (smooths && !chain.unsmoothed)
            chain.unsmoothed = last;
        else if (!smooths && chain.unsmoothed)
            chain.unsmoothed = NodeId{"unsmoothed", id.value, step.id.value};
    }
    return chain;
}

NodeId curveNode(const Project& project, const AnalysisInput& input) {
    using enum CurvePoint::Place;
    const Chain chain = chainOf(project, input.dataset);
    if (input.point.place == Measured) return chain.stages.front();
    if (input.point.place == BeforeSmoothing && chain.unsmoothed) return *chain.unsmoothed;
    const auto dataset = project.datasets.find(input.dataset);
    for (std::size_t i = 1; input.point.place == AfterStep && i < chain.stages.size(); ++i)
        if (dataset->protocol[i - 1].id == input.point.step) return chain.stages[i];
    return chain.stages.back(); // also where the step is gone
}

Node planMeasured(const Ground& ground, const NodeId& id) {
    const auto d = ground.project.datasets.find(DatasetId{id.of});
    if (!d) return noCurve({"dataset-gone", "The dataset is no longer there.", {}});
    const SourceKind* kind = sourceCatalogue().find(d->source.kind);
    return kind ? madeOf(ground, d, *kind) : overColumns(ground, d);
}

// Only steps of `chainOf` are asked for.
Node planStep(const Ground& ground, const NodeId& id) {
    const auto d = ground.project.datasets.find(DatasetId{id.of});
    const auto step = std::ranges::find(d->protocol, StepId{id.part}, &Step::id);
    const Chain before = chainOf(ground.project, d->id, step->id);
    const steps::StepKind* kind = steps::catalogue().find(step->kind);
    Node node{.inputs = {id.sort == "step" ? before.stages.back() : *before.unsmoothed}};
    Hasher h;
    h.add("step").add(step->kind).add(kind ? kind->info.version : 0);
    step->settings.addTo(h);
    node.own = h.digest();
    node.compute = [d, &step = *step](std::span<const Stored> inputs, const Request&) {
        auto applied = steps::apply(step.kind, inputs[0].as<steps::StepOutput>()->curve, step.settings);
        const Digest digest = digestOf(applied.value.curve);
        return curveStored(std::move(applied.value), std::move(applied.issues), digest);
    };
    return node;
}

} // namespace jointer::evaluate
