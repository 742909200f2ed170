// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/evaluator.h"

#include "evaluate/fields.h"

#include "steps/spectrum.h"

namespace jointer::evaluate {

namespace {

StepResult stageOf(const Stored& stored) {
    return {.output = stored.as<steps::StepOutput>(), .issues = stored.issues, .digest = stored.digest};
}

} // namespace

const StepResult& ProtocolResult::at(const CurvePoint& point) const {
    using enum CurvePoint::Place;
    if (point.place == Measured) return stages.front();
    if (point.place == BeforeSmoothing && unsmoothed) return *unsmoothed;
    if (point.place == AfterStep)
        for (const StepResult& s : stages)
            if (s.step == point.step) return s;
    return stages.back();
}

std::shared_ptr<const Curve> ProtocolResult::leftOutAsMeasured(const StepResult& stage) const {
    const Curve &now = stage.curve(), &measured = stages.front().curve();
    const bool any = std::ranges::any_of(now.excluded, [](std::uint8_t out) { return out != 0; });
    const bool sameAxes = now.xMeaning == measured.xMeaning && now.yMeaning == measured.yMeaning;
    if (!any || !sameAxes || now.rowIds.empty() || stages.size() < 2)
        return std::shared_ptr<const Curve>(stage.output, &now);
    std::unordered_map<std::uint32_t, std::size_t> placeOf;
    for (std::size_t i = 0; i < measured.rowIds.size(); ++i) placeOf[measured.rowIds[i]] = i;
    auto moved = std::make_shared<Curve>(now);
    for (std::size_t i = 0; i < moved->size() && i < moved->rowIds.size(); ++i) {
        const auto at = placeOf.find(moved->rowIds[i]);
        if (!moved->isExcluded(i) || at == placeOf.end()) continue;
        moved->y[i] = measured.y[at->second];
    }
    return moved;
}

Walk Evaluator::walk(const Project& project, const Request& request, const Analysis* asked) {
    return {graph_,
            [ground = Ground{project, digests_, memory_, asked}](const NodeId& id) {
                return plannedNode(ground, id);
            },
            request};
}

Outcome<Table> Evaluator::table(const Project& project, TableId id) {
    const auto table = project.tables.find(id);
    if (!table) return {{}, {{"table-gone", "The table is no longer there.", {}}}};
    Outcome<Table> out{*table, {}};
    Walk walk = this->walk(project);
    for (Column& column : out.value.columns) {
        const Stored& cells = walk.result(columnNode(id, column.id));
        column.cells = cells.as<Cells>();
        for (const Issue& issue : cells.issues)
            if (std::ranges::find(out.issues, issue) == out.issues.end()) out.issues.push_back(issue);
    }
    return out;
}

Outcome<std::shared_ptr<const Curve>> Evaluator::measured(const Project& project, DatasetId id) {
    Walk walk = this->walk(project);
    const Stored& stored = walk.result(measuredNode(id));
    const auto output = stored.as<steps::StepOutput>();
    return {std::shared_ptr<const Curve>(output, &output->curve), stored.issues};
}

Outcome<fields::FieldPtr> Evaluator::field(const Project& project, DatasetId id, const Request& request) {
    Walk walk = this->walk(project, request);
    const Stored& stored = walk.result(fieldNode(id));
    return {stored.as<fields::Field>(), stored.issues};
}

ProtocolResult Evaluator::protocol(const Project& project, DatasetId id, const Request& request) {
    ProtocolResult out;
    Walk walk = this->walk(project, request);
    const Chain chain = chainOf(project, id);
    out.stages.push_back(stageOf(walk.result(chain.stages.front())));
    std::swap(out.issues, out.stages.front().issues);
    const auto dataset = project.datasets.find(id);
    for (std::size_t i = 1; i < chain.stages.size(); ++i) {
        StepResult stage = stageOf(walk.result(chain.stages[i]));
        const Step& step = dataset->protocol[i - 1];
        if (!step.on) stage.issues = out.stages.back().issues;
        stage.step = step.id;
        stage.on = step.on;
        out.stages.push_back(std::move(stage));
    }
    if (chain.unsmoothed)
        out.unsmoothed = std::make_shared<const StepResult>(stageOf(walk.result(*chain.unsmoothed)));
    return out;
}

std::shared_ptr<const Curve> Evaluator::spectrum(const StepResult& stage) {
    const Node node{.own = Hasher().add("spectrum").add(stage.digest).digest(),
                    .compute = [&](std::span<const Stored>, const Request&) -> Stored {
                        auto made = std::make_shared<const Curve>(steps::spectrumCurve(stage.curve()));
                        const std::size_t bytes = 16 * made->size();
                        return {std::move(made), {}, {}, bytes};
                    }};
    return graph_.result(node, {}).as<Curve>();
}

std::shared_ptr<const CurveOverview> Evaluator::overview(const StepResult& stage) {
    const Node node{.own = Hasher().add("overview").add(stage.digest).digest(),
                    .compute = [&](std::span<const Stored>, const Request&) -> Stored {
                        auto made = std::make_shared<const CurveOverview>(stage.curve());
                        const std::size_t bytes = made->bytes();
                        return {std::move(made), {}, {}, bytes};
                    }};
    return graph_.result(node, {}).as<CurveOverview>();
}

AnalysisOutcome Evaluator::analysis(const Project& project, const Analysis& analysis,
                                    const Request& request) {
    AnalysisOutcome out;
    Walk walk = this->walk(project, request, &analysis);
    const Stored& taken = walk.result(takenNode(analysis.id));
    out.key = taken.digest;
    if (!taken.value) {
        out.result = std::unexpected(taken.issues.front());
        return out;
    }
    const Stored& computed = walk.result(analysisNode(analysis.id));
    if (!computed.value) {
        out.result = std::unexpected(computed.issues.front());
        return out;
    }
    const auto result = computed.as<analyses::AnalysisResult>();
    out.result = result;
    out.issues = result->issues;
    std::ranges::copy(taken.issues, std::back_inserter(out.issues));
    const analyses::AnalysisKind* kind = analyses::kindOf(analysis);
    if (kind->values && request.effort != Effort::OneIteration && !analysis.settings.flag("hold"))
        memory_.keepValues(analysis, kind->values(*result));
    return out;
}

std::map<std::string, std::string> Evaluator::collect(const Project& project) {
    std::map<std::string, std::string> out;
    for (const auto& a : project.analyses) {
        const analyses::AnalysisKind* kind = analyses::kindOf(*a);
        if (!kind || !kind->text || a->settings.flag("hold")) continue;
        Walk walk = this->walk(project, {.effort = Effort::Remembered});
        const Stored& computed = walk.result(analysisNode(a->id));
        if (!computed.value || !computed.whole) continue;
        std::string text = kind->text(*computed.as<analyses::AnalysisResult>());
        if (!text.empty()) out[walk.result(takenNode(a->id)).digest.hex()] = std::move(text);
    }
    return out;
}

} // namespace jointer::evaluate
