// SPDX-License-Identifier: GPL-3.0-or-later
// Analyses: what they take of their curves, and from this their result. Knows no kind.
#include "base/text.h"
#include "evaluate/evaluator.h"
#include "evaluate/nodes.h"

namespace jointer::evaluate {

namespace {

std::shared_ptr<const Curve> curveOf(const Stored& stored) {
    const auto output = stored.as<steps::StepOutput>();
    return {output, &output->curve};
}

// The analysis that is asked for, or the one of the project.
const Analysis& analysisOf(const Ground& ground, const NodeId& id) {
    static const Analysis none{.kind = ""};
    if (ground.asked && ground.asked->id.value == id.of) return *ground.asked;
    const auto found = ground.project.analyses.find(AnalysisId{id.of});
    return found ? *found : none;
}

Stored cannot(Issue issue) {
    return {.value = nullptr, .issues = {std::move(issue)}};
}

Stored unknownKind(const Analysis& analysis) {
    return cannot({"unknown-analysis",
                   "This version does not know the analysis “" + analysis.kind + "”; it is kept as it is.",
                   {}});
}

// The curves that an analysis takes, in order of its inputs.
std::vector<NodeId> curveNodes(const Ground& ground, const Analysis& analysis) {
    std::vector<NodeId> nodes;
    for (const AnalysisInput& input : analysis.inputs) nodes.push_back(curveNode(ground.project, input));
    return nodes;
}

// The samples of its datasets, where the kind takes them.
std::vector<NodeId> sampleNodes(const Analysis& analysis) {
    std::vector<NodeId> nodes;
    const analyses::AnalysisKind* kind = analyses::kindOf(analysis);
    if (kind && kind->takesSamples)
        for (const AnalysisInput& input : analysis.inputs) nodes.push_back(samplesNode(input.dataset));
    return nodes;
}

// The curves that its model is made of, as their protocols leave them.
std::vector<NodeId> modelNodes(const Ground& ground, const Analysis& analysis) {
    std::vector<NodeId> nodes;
    for (const std::string& id : analyses::curvesOf(analysis.model))
        nodes.push_back(chainOf(ground.project, DatasetId::fromText(id)).stages.back());
    return nodes;
}

// Those before smoothing, to tell whether that differs; none where nothing is smoothed.
std::vector<std::optional<NodeId>> unsmoothedNodes(const Ground& ground, const Analysis& analysis) {
    std::vector<std::optional<NodeId>> nodes;
    for (const AnalysisInput& input : analysis.inputs)
        nodes.push_back(input.point.place == CurvePoint::Place::End
                            ? chainOf(ground.project, input.dataset).unsmoothed
                            : std::nullopt);
    return nodes;
}

analyses::Effort effortOf(Effort effort) {
    return effort == Effort::OneIteration  ? analyses::Effort::OneIteration
           : effort == Effort::Provisional ? analyses::Effort::Provisional
                                           : analyses::Effort::Full;
}

// What decides a result that its kind does not say more of.
analyses::Taken takenAsItIs(const analyses::Task& task, std::span<const Stored> inputs) {
    Hasher h;
    analyses::addTo(h, task.spec);
    for (const Stored& input : inputs) h.add(input.digest);
    return {.value = std::make_shared<analyses::Detail>(), .digest = h.digest(), .bytes = 64};
}

// Those that are numbers.
std::map<std::string, double> numbersOf(const std::vector<Attribute>& attributes) {
    std::map<std::string, double> out;
    for (const Attribute& a : attributes)
        if (const auto number = parseNumber(a.value)) out[a.name] = *number;
    return out;
}

std::map<std::string, std::string> unitsOf(const std::vector<Attribute>& attributes) {
    std::map<std::string, std::string> out;
    for (const Attribute& a : attributes)
        if (!a.unit.empty()) out[a.name] = a.unit;
    return out;
}

bool isStepped(const Dataset& d) {
    return std::ranges::any_of(d.protocol, &Step::on);
}

// A task from the curves, then the results of other analyses, then samples where the kind takes them.
analyses::Task taskOf(const Ground& ground, const Analysis& analysis, std::span<const Stored> curves,
                      std::span<const Stored> rest) {
    analyses::Task task{.spec = analysis};
    const auto others = rest.first(analysis.analyses.size()), samples = rest.subspan(others.size());
    for (std::size_t i = 0; i < analysis.inputs.size(); ++i) {
        const auto dataset = ground.project.datasets.find(analysis.inputs[i].dataset);
        task.inputs.push_back(
            {.name = dataset ? dataset->name : "",
             .curve = curveOf(curves[i]),
             .attributes = dataset ? numbersOf(dataset->attributes) : std::map<std::string, double>(),
             .attributeUnits = dataset ? unitsOf(dataset->attributes) : std::map<std::string, std::string>(),
             .spec = analysis.inputs[i],
             .samples = i < samples.size() ? curveOf(samples[i]) : nullptr,
             .stepped = dataset && isStepped(*dataset)});
    }
    for (const Stored& other : others) task.analyses.push_back(other.as<analyses::AnalysisResult>());
    return task;
}

// The curves that its model is made of.
std::map<std::string, models::MeasuredCurve> madeOf(const Ground& ground, const Analysis& analysis,
                                                    std::span<const Stored> curves) {
    std::map<std::string, models::MeasuredCurve> out;
    for (std::size_t i = 0; const std::string& id : analyses::curvesOf(analysis.model)) {
        const auto dataset = ground.project.datasets.find(DatasetId::fromText(id));
        out[id] = {dataset ? dataset->name : "a dataset that is gone", curveOf(curves[i++])};
    }
    return out;
}

Stored stored(Result<analyses::AnalysisResult> result) {
    if (!result) return cannot(result.error());
    const bool whole = result->whole;
    std::size_t bytes = 4096;
    for (const analyses::NamedCurve& c : result->curves)
        if (c.points) bytes += 16 * c.points->size();
    bytes += result->quantities.size() * 400;
    return {std::make_shared<const analyses::AnalysisResult>(std::move(*result)), {}, {}, bytes, whole};
}

// Model and inputs: where a provisional result may go on from.
std::string likenessOf(const Analysis& analysis) {
    Hasher h;
    analyses::addTo(h, analysis.model);
    for (const AnalysisInput& input : analysis.inputs) h.add(input.dataset.value);
    return h.digest().hex();
}

} // namespace

void ResultMemory::keepValues(const Analysis& analysis, std::vector<double> values) {
    std::string like = likenessOf(analysis);
    const std::lock_guard lock(mutex_);
    lastValues_[analysis.id] = {std::move(like), std::move(values)};
}

std::vector<double> ResultMemory::lastValues(const Analysis& analysis) const {
    const std::string like = likenessOf(analysis);
    const std::lock_guard lock(mutex_);
    const auto at = lastValues_.find(analysis.id);
    return at == lastValues_.end() || at->second.first != like ? std::vector<double>{} : at->second.second;
}

// Its inputs are the curves, then those before smoothing, then other analyses, then samples.
Node planTaken(const Ground& ground, const NodeId& id) {
    const Analysis& analysis = analysisOf(ground, id);
    const analyses::AnalysisKind* kind = analyses::kindOf(analysis);
    Node node{.name = analyses::nameOf(analysis), .inputs = curveNodes(ground, analysis)};
    node.inCircle = [](const std::string& loop) {
        return cannot({"circle", "The analysis needs itself: " + loop + ".", {}});
    };
    const std::size_t curves = node.inputs.size();
    const auto unsmoothed = unsmoothedNodes(ground, analysis);
    std::vector<std::size_t> place(curves, 0); // of each one's unsmoothed curve; 0: none
    for (std::size_t i = 0; i < curves; ++i)
        if (unsmoothed[i]) {
            place[i] = node.inputs.size();
            node.inputs.push_back(*unsmoothed[i]);
        }
    const std::size_t parts = node.inputs.size();
    for (const NodeId& curve : modelNodes(ground, analysis)) node.inputs.push_back(curve);
    const std::size_t others = node.inputs.size();
    for (AnalysisId other : analysis.analyses) node.inputs.push_back(analysisNode(other));
    for (const NodeId& samples : sampleNodes(analysis)) node.inputs.push_back(samples);
    Hasher h;
    h.add("taken").add(analysis.kind);
    for (const AnalysisInput& input : analysis.inputs)
        if (const auto d = ground.project.datasets.find(input.dataset)) {
            if (analysis.inputs.size() > 1) h.add(d->name); // messages name it
            for (const Attribute& a : d->attributes) h.add(a.name).add(a.value).add(a.unit);
        }
    for (const std::string& part : analyses::curvesOf(analysis.model))
        if (const auto d = ground.project.datasets.find(DatasetId::fromText(part))) h.add(d->name);
    analyses::addTo(h, analysis);
    node.own = h.digest();
    node.compute = [&analysis, &ground, kind, curves, place, parts, others](std::span<const Stored> inputs,
                                                                            const Request&) -> Stored {
        if (!kind) return unknownKind(analysis);
        for (const Stored& other : inputs.subspan(others, analysis.analyses.size()))
            if (!other.value) return other;
        analyses::Task task = taskOf(ground, analysis, inputs.first(curves), inputs.subspan(others));
        task.curves = madeOf(ground, analysis, inputs.subspan(parts));
        for (std::size_t i = 0; i < curves; ++i)
            task.inputs[i].smoothed = place[i] > 0 && inputs[place[i]].digest != inputs[i].digest;
        analyses::Taken taken = kind->take ? kind->take(task) : takenAsItIs(task, inputs);
        return {.value = taken.value, .issues = taken.issues, .digest = taken.digest, .bytes = taken.bytes};
    };
    return node;
}

Node planAnalysis(const Ground& ground, const NodeId& id) {
    const Analysis& analysis = analysisOf(ground, id);
    const analyses::AnalysisKind* kind = analyses::kindOf(analysis);
    Node node{.name = analyses::nameOf(analysis),
              .inputs = {takenNode(AnalysisId{id.of})},
              .also = curveNodes(ground, analysis),
              .own = Hasher().add("analysis").add(analysis.kind).digest(),
              .costly = kind && kind->costly};
    const std::size_t curves = node.also.size();
    for (AnalysisId other : analysis.analyses) node.also.push_back(analysisNode(other));
    for (const NodeId& samples : sampleNodes(analysis)) node.also.push_back(samples);
    const auto makeTask = [&analysis, &ground, curves](std::span<const Stored> inputs) {
        return taskOf(ground, analysis, inputs.subspan(1, curves), inputs.subspan(1 + curves));
    };
    const auto takenFrom = [](const Stored& from) {
        return analyses::Taken{from.as<analyses::Detail>(), from.issues, from.digest, from.bytes};
    };
    node.compute = [&analysis, &memory = ground.memory, kind, makeTask,
                    takenFrom](std::span<const Stored> inputs, const Request& request) -> Stored {
        if (!inputs[0].value || !kind) return inputs[0];
        analyses::Task task = makeTask(inputs);
        task.effort = effortOf(request.effort);
        task.stop = request.stop;
        if (task.effort == analyses::Effort::Provisional) task.lastValues = memory.lastValues(analysis);
        return stored(kind->compute(task, takenFrom(inputs[0])));
    };
    node.recall = [&analysis, &memory = ground.memory, kind, makeTask,
                   takenFrom](std::span<const Stored> inputs) -> std::optional<Stored> {
        if (!inputs[0].value || !kind) return std::nullopt;
        // Start values as they stand are no computation.
        if (analysis.settings.flag("hold"))
            return stored(kind->compute(makeTask(inputs), takenFrom(inputs[0])));
        const std::string text = kind->fromText ? memory.stored(inputs[0].digest) : std::string();
        if (text.empty()) return std::nullopt;
        auto result = kind->fromText(text, makeTask(inputs), takenFrom(inputs[0]));
        return result ? std::optional(stored(std::move(result))) : std::nullopt;
    };
    return node;
}

} // namespace jointer::evaluate
