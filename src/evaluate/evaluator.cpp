// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/evaluator.h"

#include "base/text.h"
#include "evaluate/measured_curve.h"
#include "evaluate/sources.h"

#include <fmt/format.h>

namespace jointer::evaluate {

// What a memo entry of a step holds.
struct RememberedStep {
    steps::StepOutput output;
    std::vector<Issue> issues;
    Digest digest;
};

namespace {

std::size_t bytesOf(const Curve& c) {
    return sizeof c +
           sizeof(double) *
               (c.x.size() * (2 + c.replicates.size() + c.more.size()) + c.sigma.size() + c.sigmaX.size()) +
           c.excluded.size() + 4 * c.rowIds.size();
}

// Whether the points of a dataset come, by whatever way, from another.
bool comesFrom(const Project& project, const Dataset& d, DatasetId wanted, std::set<DatasetId>& seen) {
    for (DatasetId id : d.source.inputs) {
        if (id == wanted) return true;
        const auto input = seen.insert(id).second ? project.datasets.find(id) : nullptr;
        if (input && comesFrom(project, *input, wanted, seen)) return true;
    }
    return false;
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

std::shared_ptr<const Curve> ProtocolResult::leftOutAsMeasured() const {
    const StepResult& last = end();
    const Curve &now = last.curve(), &measured = stages.front().curve();
    const bool any = std::ranges::any_of(now.excluded, [](std::uint8_t out) { return out != 0; });
    if (!any || now.rowIds.empty() || stages.size() < 2)
        return std::shared_ptr<const Curve>(last.output, &now);
    std::unordered_map<std::uint32_t, double> yOf;
    for (std::size_t i = 0; i < measured.size() && i < measured.rowIds.size(); ++i)
        yOf[measured.rowIds[i]] = measured.y[i];
    auto moved = std::make_shared<Curve>(now);
    for (std::size_t i = 0; i < moved->size() && i < moved->rowIds.size(); ++i)
        if (const auto at = yOf.find(moved->rowIds[i]); moved->isExcluded(i) && at != yOf.end())
            moved->y[i] = at->second;
    return moved;
}

std::shared_ptr<const RememberedStep> Evaluator::source(const Project& project, const Dataset& d,
                                                        std::vector<Issue>& issues) {
    if (const SourceKind* kind = sourceCatalogue().find(d.source.kind))
        return derived(project, d, *kind, issues);
    auto filled = table(project, d.source.table);
    Hasher h;
    h.add("measured").add(d.source.kind).add(d.source.roles.size());
    for (const RoleBinding& b : d.source.roles) {
        const Column* c = filled.value.find(b.column);
        h.add(static_cast<int>(b.role)).add(b.of).add(c != nullptr);
        if (c) h.add(digestOfCells(c->cells)).add(c->name).add(c->unit).add(static_cast<int>(c->kind));
    }
    d.source.settings.addTo(h);
    h.add(digestOfRows(filled.value.rows));
    for (const auto& [row, kind] : filled.value.rowKinds) h.add(row).add(static_cast<int>(kind));
    const Digest key = h.digest();
    issues = std::move(filled.issues);
    if (auto known = memo_.find<RememberedStep>(key)) {
        std::ranges::copy(known->issues, std::back_inserter(issues));
        return known;
    }
    auto made = std::make_shared<RememberedStep>();
    made->output.curve = curveFromColumns(filled.value, d, made->issues);
    std::ranges::copy(made->issues, std::back_inserter(issues));
    made->digest =
        Hasher().add("curve").add(key).digest(); // stands for its content: it follows from the columns
    memo_.put<RememberedStep>(key, made, bytesOf(made->output.curve));
    return made;
}

// Functions, and datasets made of others: of these the curve at the end of the protocol is taken.
std::shared_ptr<const RememberedStep> Evaluator::derived(const Project& project, const Dataset& d,
                                                         const SourceKind& kind, std::vector<Issue>& issues) {
    auto nothing = std::make_shared<RememberedStep>();
    std::set<DatasetId> seen;
    if (comesFrom(project, d, d.id, seen)) {
        issues.push_back(
            {"circle", fmt::format("“{}” is made of itself; choose other datasets.", d.name), {}});
        return nothing;
    }
    std::vector<std::shared_ptr<const steps::StepOutput>> held;
    std::vector<const Curve*> inputs;
    Hasher h;
    h.add("derived").add(kind.info.key).add(kind.info.version).add(d.source.inputs.size());
    d.source.settings.addTo(h);
    for (DatasetId id : d.source.inputs) {
        const ProtocolResult chain = protocol(project, id);
        held.push_back(chain.end().output);
        inputs.push_back(&held.back()->curve);
        h.add(chain.end().digest);
    }
    if (inputs.size() < kind.inputs) {
        issues.push_back(
            {"dataset-gone",
             fmt::format("“{}” needs {}.", d.name, counted(static_cast<long long>(kind.inputs), "dataset")),
             {}});
        return nothing;
    }
    const Digest key = h.digest();
    if (auto known = memo_.find<RememberedStep>(key)) {
        issues = known->issues;
        return known;
    }
    auto made = std::make_shared<RememberedStep>();
    made->output.curve = kind.curve(d.source.settings, inputs, issues);
    made->issues = issues;
    made->digest = Hasher().add("curve").add(key).digest();
    memo_.put<RememberedStep>(key, made, bytesOf(made->output.curve));
    return made;
}

Outcome<std::shared_ptr<const Curve>> Evaluator::measured(const Project& project, const Dataset& d) {
    Outcome<std::shared_ptr<const Curve>> out;
    const auto known = source(project, d, out.issues);
    out.value = std::shared_ptr<const Curve>(known, &known->output.curve);
    return out;
}

ProtocolResult Evaluator::protocol(const Project& project, DatasetId id) {
    ProtocolResult out;
    const auto dataset = project.datasets.find(id);
    std::shared_ptr<const RememberedStep> first = std::make_shared<RememberedStep>();
    if (dataset)
        first = source(project, *dataset, out.issues);
    else
        out.issues.push_back({"dataset-gone", "The dataset is no longer there.", {}});
    out.stages.push_back({.step = {},
                          .on = true,
                          .output = std::shared_ptr<const steps::StepOutput>(first, &first->output),
                          .issues = {},
                          .digest = first->digest});
    if (!dataset) return out;

    // One chain with all steps, and one that passes over those that smooth, for fits.
    auto applyStep = [&](const Step& step, const StepResult& before) {
        Hasher h;
        const steps::StepKind* kind = steps::catalogue().find(step.kind);
        h.add("step").add(step.kind).add(kind ? kind->info.version : 0).add(before.digest);
        step.settings.addTo(h);
        const Digest key = h.digest();
        auto known = memo_.find<RememberedStep>(key);
        if (!known) {
            auto applied = steps::apply(step.kind, before.curve(), step.settings);
            auto made = std::make_shared<RememberedStep>(
                RememberedStep{std::move(applied.value), std::move(applied.issues), {}});
            made->digest = digestOf(made->output.curve);
            memo_.put<RememberedStep>(key, made,
                                      bytesOf(made->output.curve) + 16 * made->output.takenX.size());
            known = made;
        }
        return StepResult{step.id, true, std::shared_ptr<const steps::StepOutput>(known, &known->output),
                          known->issues, known->digest};
    };
    std::shared_ptr<StepResult> unsmoothed;
    for (const Step& step : dataset->protocol) {
        const StepResult before = out.stages.back();
        if (!step.on) {
            StepResult same = before;
            same.step = step.id;
            same.on = false;
            out.stages.push_back(std::move(same));
            continue;
        }
        const steps::StepKind* kind = steps::catalogue().find(step.kind);
        const bool smooths = kind && kind->smooths;
        if (smooths && !unsmoothed)
            unsmoothed = std::make_shared<StepResult>(before);
        else if (!smooths && unsmoothed)
            *unsmoothed = applyStep(step, *unsmoothed);
        out.stages.push_back(applyStep(step, before));
    }
    out.unsmoothed = unsmoothed;
    return out;
}

std::shared_ptr<const CurveOverview> Evaluator::overview(const StepResult& stage) {
    const Digest key = Hasher().add("overview").add(stage.digest).digest();
    if (auto known = memo_.find<CurveOverview>(key)) return known;
    auto made = std::make_shared<const CurveOverview>(stage.curve());
    memo_.put<CurveOverview>(key, made, made->bytes());
    return made;
}

} // namespace jointer::evaluate
