// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/evaluator.h"

#include "evaluate/report_json.h"
#include "steps/spectrum.h"

namespace jointer::evaluate {

namespace {

StepResult stageOf(const Stored& stored) {
    return {.output = stored.as<steps::StepOutput>(), .issues = stored.issues, .digest = stored.digest};
}

// What depends on the axes and the protocol, not on the problem: units, and remarks on the points.
void finish(fit::FitReport& r, const Curve& c, const std::vector<Issue>& remarks) {
    for (fit::DerivedResult& d : r.derived)
        d.unit = models::unitText(d.unit, c.xMeaning.unit, c.yMeaning.unit);
    std::ranges::copy(remarks, std::back_inserter(r.warnings));
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

fit::Prediction FitResult::sample(const std::vector<double>& xs) const {
    const std::span<const double> column(xs);
    return fit::predict(*model, *report, {&column, 1});
}

Walk Evaluator::walk(const Project& project, const Request& request, const Analysis* asked) {
    return {graph_,
            [ground = Ground{project, digests_, fits_, asked}](const NodeId& id) {
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

Outcome<std::shared_ptr<const Curve>> Evaluator::measured(const Project& project, const Dataset& dataset) {
    Walk walk = this->walk(project);
    const Stored& stored = walk.result(measuredNode(dataset.id));
    const auto output = stored.as<steps::StepOutput>();
    return {std::shared_ptr<const Curve>(output, &output->curve), stored.issues};
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

FitResult Evaluator::fit(const Project& project, const Analysis& analysis, const Request& request) {
    FitResult out;
    if (analysis.inputs.empty()) {
        out.report = failure("no-input", "This fit has no dataset.");
        return out;
    }
    Walk walk = this->walk(project, request, &analysis);
    const Stored& curve = walk.result(curveNode(project, analysis.inputs.front()));
    const auto output = curve.as<steps::StepOutput>();
    out.points = std::shared_ptr<const Curve>(output, &output->curve);
    const Stored& observations = walk.result(observationsNode(analysis.id));
    const auto taken = observations.as<Observations>();
    if (!taken) {
        out.report = std::unexpected(observations.issues.front());
        return out;
    }
    out.model = taken->model;
    out.used = taken->used;
    out.weightsNote = taken->weightsNote;
    out.key = observations.digest;
    const Stored& fitted = walk.result(fitNode(analysis.id));
    if (!fitted.value) {
        out.report = std::unexpected(fitted.issues.front());
        return out;
    }
    out.report = *fitted.as<fit::FitReport>();
    finish(*out.report, *out.points, observations.issues);
    if (request.effort != Effort::OneIteration && !analysis.settings.flag("hold"))
        fits_.keepValues(analysis.id, out.model->formula(), out.report->values());
    return out;
}

std::map<std::string, std::string> Evaluator::collect(const Project& project) {
    std::map<std::string, std::string> out;
    for (const auto& a : project.analyses) {
        if (a->inputs.empty() || a->settings.flag("hold")) continue;
        Walk walk = this->walk(project, {.effort = Effort::Remembered});
        const Stored& fitted = walk.result(fitNode(a->id));
        if (fitted.value && fitted.whole)
            out[walk.result(observationsNode(a->id)).digest.hex()] = reportText(*fitted.as<fit::FitReport>());
    }
    return out;
}

} // namespace jointer::evaluate
