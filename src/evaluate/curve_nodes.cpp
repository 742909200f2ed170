// SPDX-License-Identifier: GPL-3.0-or-later
// Curves of datasets: as measured, and after each step.
#include "base/text.h"
#include "evaluate/column_inputs.h"
#include "evaluate/field_sources.h"
#include "evaluate/fields.h"
#include "evaluate/mapping.h"
#include "evaluate/measured_curve.h"
#include "evaluate/nodes.h"
#include "evaluate/sources.h"
#include "steps/step.h"

#include <fmt/format.h>

namespace jointer::evaluate {

namespace {

std::size_t bytesOf(const steps::StepOutput& o) {
    std::size_t bytes = sizeof o + 64 * o.handles.size();
    o.curve.eachList([&](const auto& list) { bytes += list.size() * sizeof list[0]; });
    for (const steps::Layer& layer : o.layers) bytes += sizeof(double) * (layer.x.size() + layer.y.size());
    return bytes;
}

Stored curveStored(steps::StepOutput output, std::vector<Issue> issues, const Digest& digest) {
    const std::size_t bytes = bytesOf(output);
    return {std::make_shared<const steps::StepOutput>(std::move(output)), std::move(issues), digest, bytes};
}

Node noCurve(Issue issue) {
    return {.given = curveStored({}, {std::move(issue)}, {})};
}

// Of the columns that have a role. What the points come from stands for their content: the digest is the key.
Node overColumns(const Ground& ground, const std::shared_ptr<const Dataset>& d) {
    const auto table = ground.project.tables.find(d->source.table);
    if (!table) return noCurve({"table-gone", "The table is no longer there.", {}});
    Hasher h;
    h.add("measured").add(d->source.kind).add(table->rowCount()).add(d->source.roles.size());
    const ColumnInputs columns(table, d->source.roles, h);
    Node node{.name = d->name, .inputs = columns.nodes, .passesIssues = true};
    d->source.settings.addTo(h);
    h.add(ground.digests.of(table->rows));
    for (const auto& [row, kind] : table->rowKinds) h.add(row).add(static_cast<int>(kind));
    node.own = h.digest();
    node.compute = [columns, d](std::span<const Stored> inputs, const Request&) {
        steps::StepOutput out;
        std::vector<Issue> issues;
        out.curve = curveFromColumns(columns.filled(inputs), *d, issues);
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
        return curveStored({}, {madeOfItself(d->name, loop)}, {});
    };
    return node;
}

// The nodes of a field as points, or a cut through it.
Node fromField(const Ground& ground, const std::shared_ptr<const Dataset>& d, const SourceKind& kind) {
    if (kind.ofField && (d->source.inputs.empty() || !ground.project.datasets.find(d->source.inputs[0])))
        return noCurve({"dataset-gone", fmt::format("“{}” needs a field to cut through.", d->name), {}});
    Node node{.name = d->name,
              .inputs = {fieldNode(kind.ofField ? d->source.inputs[0] : d->id)},
              .passesIssues = true};
    Hasher h;
    h.add("of field").add(kind.info.key).add(kind.info.version);
    if (kind.ofField) d->source.settings.addTo(h);
    node.own = h.digest();
    node.compute = [d, &kind](std::span<const Stored> inputs, const Request&) {
        const auto field = inputs[0].as<fields::Field>();
        steps::StepOutput out;
        std::vector<Issue> issues;
        out.curve = kind.ofField ? cutCurve(*field, d->source.settings, issues) : curveOf(*field, issues);
        return curveStored(std::move(out), std::move(issues), {});
    };
    node.inCircle = [d](const std::string& loop) {
        return curveStored({}, {madeOfItself(d->name, loop)}, {});
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
    if (kind && (kind->field || kind->ofField)) return fromField(ground, d, *kind);
    return kind ? madeOf(ground, d, *kind) : overColumns(ground, d);
}

// The dataset over the same table that is its samples: names and dilutions by what the columns are called,
// where no column was told.
Node planSamples(const Ground& ground, const NodeId& id) {
    const auto d = ground.project.datasets.find(DatasetId{id.of});
    const auto table = d ? ground.project.tables.find(d->source.table) : nullptr;
    if (!table) return noCurve({"table-gone", "The table is no longer there.", {}});
    auto samples = std::make_shared<Dataset>(*d);
    samples->source.kind = "samples";
    const MappingKind& kind = *mappingCatalogue().find(samples->source.kind);
    for (const RoleBinding& b : guessedRoles(kind, *table))
        if ((b.role == Role::Label || b.role == Role::Companion) &&
            std::ranges::find(samples->source.roles, b.role, &RoleBinding::role) ==
                samples->source.roles.end())
            samples->source.roles.push_back(b);
    return overColumns(ground, samples);
}

namespace {

// What a kind asks of its dataset, and the nodes that it takes for that.
class FactsPlan {
public:
    FactsPlan(const Ground& ground, const Dataset& d, const steps::StepKind* kind, const Step& step,
              Node& node, Hasher& h) {
        if (!kind) return;
        table_ = ground.project.tables.find(d.source.table);
        if (table_) planColumns(ground, *kind, step, node, h);
        if (!kind->asksFacts) return;
        for (const Attribute& a : d.attributes) {
            facts_.attributes.push_back({a.name, a.value, a.unit});
            h.add(a.name).add(a.value);
        }
        if (table_) planReadings(d, node, h);
    }

    steps::DatasetFacts filled(std::span<const Stored> inputs) const {
        steps::DatasetFacts facts = facts_;
        for (const auto& [reference, place] : columns_) {
            const auto cells = inputs[place].as<Cells>();
            for (std::size_t row = 0; row < cells->numbers.size(); ++row)
                facts.columns[reference][table_->rows->id(row)] = cells->numbers[row];
        }
        for (std::size_t place : readings_) {
            const auto cells = inputs[place].as<Cells>();
            for (std::size_t row = 0; row < cells->numbers.size(); ++row)
                if (const RowKind kind = table_->rowKind(row); kind != RowKind::Plain)
                    facts.readings[kind].push_back(cells->numbers[row]);
        }
        return facts;
    }

private:
    std::size_t take(ColumnId column, Node& node) {
        node.inputs.push_back(columnNode(table_->id, column));
        return node.inputs.size() - 1;
    }
    void planColumns(const Ground& ground, const steps::StepKind& kind, const Step& step, Node& node,
                     Hasher& h) {
        for (const std::string& reference : steps::columnsNamed(kind.info, step.settings)) {
            const Column* column = table_->find(ColumnId::fromText(reference));
            if (!column || !column->isNumeric()) continue;
            columns_.emplace_back(reference, take(column->id, node));
            h.add(reference);
        }
        if (!columns_.empty()) h.add(ground.digests.of(table_->rows));
    }
    void planReadings(const Dataset& d, Node& node, Hasher& h) {
        if (table_->rowKinds.empty()) return;
        facts_.rowKinds = table_->rowKinds;
        for (const auto& [row, kind] : table_->rowKinds) h.add(row).add(static_cast<int>(kind));
        for (const RoleBinding& b : d.source.roles)
            if (const Column* y = b.role == Role::Y ? table_->find(b.column) : nullptr; y && y->isNumeric())
                readings_.push_back(take(y->id, node));
    }

    std::shared_ptr<const Table> table_;
    steps::DatasetFacts facts_;
    std::vector<std::pair<std::string, std::size_t>> columns_; // a reference and the place of its input
    std::vector<std::size_t> readings_;
};

// Another dataset that a step names, and the place of its curve among the inputs.
struct OtherInput {
    std::string reference, name;
    std::size_t place;
};

std::vector<OtherInput> planOthers(const Ground& ground, const steps::StepKind* kind, const Step& step,
                                   Node& node, Hasher& h) {
    std::vector<OtherInput> others;
    if (!kind) return others;
    for (const std::string& reference : steps::datasetsNamed(kind->info, step.settings)) {
        const DatasetId id = DatasetId::fromText(reference);
        const auto dataset = ground.project.datasets.find(id);
        h.add(reference).add(dataset != nullptr);
        if (!dataset) continue;
        h.add(dataset->name); // the sentence names it
        others.push_back({reference, dataset->name, node.inputs.size()});
        node.inputs.push_back(chainOf(ground.project, id).stages.back());
    }
    return others;
}

} // namespace

// Only steps of `chainOf` are asked for.
Node planStep(const Ground& ground, const NodeId& id) {
    const auto d = ground.project.datasets.find(DatasetId{id.of});
    const auto step = d->find(StepId{id.part});
    const Chain before = chainOf(ground.project, d->id, step->id);
    const steps::StepKind* kind = steps::catalogue().find(step->kind);
    Node node{.name = d->name, .inputs = {id.sort == "step" ? before.stages.back() : *before.unsmoothed}};
    Hasher h;
    h.add("step").add(step->kind).add(kind ? kind->info.version : 0);
    step->settings.addTo(h);
    const FactsPlan facts(ground, *d, kind, *step, node, h);
    const std::vector<OtherInput> others = planOthers(ground, kind, *step, node, h);
    node.own = h.digest();
    node.slow = kind && kind->costly;
    node.compute = [d, &step = *step, facts, others](std::span<const Stored> inputs, const Request& request) {
        std::vector<steps::OtherCurve> curves;
        for (const OtherInput& other : others) {
            const auto output = inputs[other.place].as<steps::StepOutput>();
            curves.push_back({other.reference, other.name, {output, &output->curve}});
        }
        const steps::DatasetFacts known = facts.filled(inputs);
        auto applied = steps::apply(step.kind, {.curve = inputs[0].as<steps::StepOutput>()->curve,
                                                .settings = step.settings,
                                                .facts = known,
                                                .others = curves,
                                                .stop = request.stop});
        const Digest digest = digestOf(applied.value.curve);
        Stored made = curveStored(std::move(applied.value), std::move(applied.issues), digest);
        made.whole = !request.stop.stop_requested();
        return made;
    };
    if (!others.empty())
        node.inCircle = [d](const std::string& loop) {
            steps::StepOutput none{.sentence = "Takes itself: nothing was done."};
            const Issue issue{
                "circle",
                fmt::format("“{}” is made of itself ({}): choose another dataset.", d->name, loop),
                {}};
            return curveStored(std::move(none), {issue}, {});
        };
    return node;
}

} // namespace jointer::evaluate
