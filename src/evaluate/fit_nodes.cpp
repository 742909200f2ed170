// SPDX-License-Identifier: GPL-3.0-or-later
// Fits: from a curve to the observations of the solver, and from these to a report.
#include "base/text.h"
#include "evaluate/evaluator.h"
#include "evaluate/nodes.h"
#include "evaluate/report_json.h"
#include "models/catalogue.h"
#include "steps/step.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <ranges>

namespace jointer::evaluate {

namespace {

fit::ParameterSpec specOf(const ParameterChoice& p) {
    fit::ParameterSpec s{.name = p.name, .start = p.start, .lower = p.lower, .upper = p.upper, .tie = p.tie};
    if (p.treatment == Treatment::Fixed) s.treatment = fit::Treatment::Fixed;
    if (p.treatment == Treatment::Tied) s.treatment = fit::Treatment::Tied;
    return s;
}

void addModel(Hasher& h, const ModelNode& m) {
    h.add(m.kind).add(m.children.size());
    m.settings.addTo(h);
    if (const models::ModelKind* kind = models::catalogue().find(m.kind)) h.add(kind->info.version);
    for (const ModelNode& child : m.children) addModel(h, child);
}

void addParameters(Hasher& h, const std::vector<ParameterChoice>& list) {
    h.add(list.size());
    for (const ParameterChoice& p : list)
        h.add(p.name)
            .add(treatmentKey(p.treatment))
            .add(p.start.has_value())
            .add(p.start.value_or(0))
            .add(p.lower)
            .add(p.upper)
            .add(p.tie);
}

const Issue kSmoothed{"smoothed-points",
                      "The fit takes smoothed points: their errors are not independent, so the "
                      "uncertainties are too small.",
                      {}};

Issue withoutUncertainty(std::size_t points) {
    return {"no-uncertainty",
            fmt::format("{} without an uncertainty {} not count: leave {} out, or fit without weights.",
                        counted(static_cast<long long>(points), "point"), points == 1 ? "does" : "do",
                        points == 1 ? "it" : "them"),
            {}};
}

Issue madePoints(std::size_t points) {
    return {"made-points",
            fmt::format("{} that {} not measured but put in by a step {} not fitted.",
                        counted(static_cast<long long>(points), "point"), points == 1 ? "was" : "were",
                        points == 1 ? "is" : "are"),
            {}};
}

// What the errors of the parameters leave out.
Issue commonErrors(const Curve& c) {
    std::vector<std::string> sources;
    for (const CommonError& common : c.common) sources.push_back(common.source);
    return {"common-error",
            fmt::format("All points share the error of {}: it does not average out, and the errors of the "
                        "parameters do not hold it.",
                        joined(sources, " and ")),
            {}};
}

Issue correlated(const std::string& by) {
    return {
        "correlated-points",
        fmt::format("Neighbouring points depend on each other after {}: the uncertainties of the parameters "
                    "are too small.",
                    by),
        {}};
}

const Issue kFurtherPredictors{
    "predictors",
    "The model has one predictor: only the first column of x is used. An equation can take x1, x2….",
    {}};

constexpr int kFitVersion = 3;             // raised when fits change their numbers
constexpr std::size_t kQuickPoints = 1000; // of a provisional fit

std::shared_ptr<const Curve> curveOf(const Stored& stored) {
    const auto output = stored.as<steps::StepOutput>();
    return {output, &output->curve};
}

// The analysis that is asked for, or the one of the project.
const Analysis& analysisOf(const Ground& ground, const NodeId& id) {
    if (ground.asked && ground.asked->id.value == id.of) return *ground.asked;
    return *ground.project.analyses.find(AnalysisId{id.of});
}

fit::FitOptions optionsOf(const Analysis& analysis) {
    return {.level = fitSettings().number(analysis.settings, "level"),
            .maxIterations = fitSettings().integer(analysis.settings, "iterations")};
}

// The counting points of the span. Issues: what else is said of them.
Observations observed(const Curve& c, const Analysis& analysis, models::ModelPtr model,
                      std::vector<Issue>& issues) {
    const AnalysisInput& input = analysis.inputs.front();
    const std::string weights = input.weights.text("weights", c.sigma.empty() ? "none" : "absolute");
    Observations o{.model = std::move(model), .used = std::vector<std::uint8_t>(c.size(), 0)};
    o.weighted = weights != "none" && !c.sigma.empty();
    o.absolute = weights == "absolute" && o.weighted;
    o.weightsNote = !o.weighted ? "all points count alike" : c.sigmaSource + (o.absolute ? "" : ", relative");
    const std::size_t further = o.model->predictorCount() - 1;
    auto hasAll = [&](std::size_t i) {
        return std::ranges::all_of(c.more | std::views::take(further),
                                   [&](const auto& m) { return std::isfinite(m[i]); });
    };
    if (further < c.more.size()) issues.push_back(kFurtherPredictors);
    const bool takesMade = fitSettings().flag(analysis.settings, "made-points");
    std::size_t unweighted = 0, made = 0;
    for (std::size_t i = 0; i < c.size(); ++i) {
        if (!c.counts(i) || c.x[i] < input.low || c.x[i] > input.high || !hasAll(i)) continue;
        if (c.isMade(i) && !takesMade) {
            ++made;
            continue;
        }
        const bool counts = !o.weighted || std::isfinite(c.sigma[i]);
        o.used[i] = counts;
        unweighted += !counts;
    }
    if (unweighted > 0) issues.push_back(withoutUncertainty(unweighted));
    if (made > 0) issues.push_back(madePoints(made));
    if (!c.common.empty()) issues.push_back(commonErrors(c));
    // Of smoothed points more is said.
    if (!c.correlatedBy.empty() && c.correlatedBy != "smoothing")
        issues.push_back(correlated(c.correlatedBy));
    return o;
}

// The key of a fit: exactly the numbers and settings that decide its report.
Digest digestOfFit(const fit::FitProblem& problem, const Curve& c, const Analysis& analysis) {
    const fit::FitOptions options = optionsOf(analysis);
    Hasher h;
    h.add("fit").add(kFitVersion).add(options.level).add(options.maxIterations).add(problem.absolute);
    addModel(h, analysis.model);
    addParameters(h, analysis.parameters);
    for (const auto& column : problem.predictors) h.add(std::span<const double>(column));
    h.add(std::span<const double>(problem.y)).add(std::span<const double>(problem.sigma));
    h.add(c.xMeaning.unit).add(c.yMeaning.unit);
    return h.digest();
}

Stored reportStored(Result<fit::FitReport> report) {
    if (!report) return {.value = nullptr, .issues = {report.error()}};
    const bool whole = report->state != fit::FitState::Stopped;
    const std::size_t bytes = 16 * report->fitted.size() + 4096;
    return {std::make_shared<const fit::FitReport>(std::move(*report)), {}, {}, bytes, whole};
}

// Every so many observations, at most about `most`.
fit::FitProblem thinned(const fit::FitProblem& all, std::size_t most) {
    fit::FitProblem few{.model = all.model,
                        .predictors = std::vector<std::vector<double>>(all.predictors.size()),
                        .absolute = all.absolute,
                        .parameters = all.parameters};
    const std::size_t stride = std::max<std::size_t>(1, all.y.size() / most);
    for (std::size_t i = 0; i < all.y.size(); i += stride) {
        for (std::size_t k = 0; k < few.predictors.size(); ++k)
            few.predictors[k].push_back(all.predictors[k][i]);
        few.y.push_back(all.y[i]);
        if (!all.sigma.empty()) few.sigma.push_back(all.sigma[i]);
    }
    return few;
}

void startAt(const std::vector<double>& values, fit::FitProblem& problem) {
    const auto& names = problem.model->parameters();
    for (std::size_t k = 0; k < names.size() && k < values.size(); ++k) {
        auto at = std::ranges::find(problem.parameters, names[k].name, &fit::ParameterSpec::name);
        if (at == problem.parameters.end())
            at = problem.parameters.insert(problem.parameters.end(),
                                           fit::ParameterSpec{.name = names[k].name});
        if (at->treatment == fit::Treatment::Free) at->start = std::clamp(values[k], at->lower, at->upper);
    }
}

// A picture while dragging: a few iterations on thinned points from where the last fit stood.
Result<fit::FitReport> quickly(const fit::FitProblem& problem, fit::FitOptions options,
                               const std::vector<double>& lastValues, const Cancellation& stop) {
    fit::FitProblem few = thinned(problem, kQuickPoints);
    startAt(lastValues, few);
    options.provisional = true;
    auto report = fit::fit(few, options, stop);
    if (!report) return report;
    const std::vector<std::span<const double>> xs(problem.predictors.begin(), problem.predictors.end());
    report->fitted = fit::predict(*problem.model, *report, xs).y;
    report->residuals.resize(problem.y.size());
    for (std::size_t i = 0; i < problem.y.size(); ++i)
        report->residuals[i] = problem.y[i] - report->fitted[i];
    return report;
}

// The values at which it begins, or after `iterations` from there.
Result<fit::FitReport> begun(const fit::FitProblem& problem, fit::FitOptions options, int iterations,
                             const Cancellation& stop) {
    options.maxIterations = iterations;
    options.provisional = true;
    return fit::fit(problem, options, stop);
}

} // namespace

fit::FitProblem Observations::problem(const Curve& c, const Analysis& analysis) const {
    const std::size_t further = model->predictorCount() - 1;
    fit::FitProblem out{
        .model = model, .predictors = std::vector<std::vector<double>>(1 + further), .absolute = absolute};
    const bool separate = !c.replicates.empty() && !weighted;
    for (std::size_t i = 0; i < used.size(); ++i) {
        if (!used[i]) continue;
        auto observe = [&](double y) {
            if (!std::isfinite(y)) return;
            out.predictors[0].push_back(c.x[i]);
            for (std::size_t k = 0; k < further; ++k) out.predictors[k + 1].push_back(c.more[k][i]);
            out.y.push_back(y);
            if (weighted) out.sigma.push_back(c.sigma[i]);
        };
        if (!separate)
            observe(c.y[i]);
        else
            for (const auto& r : c.replicates) observe(r[i]);
    }
    for (const ParameterChoice& p : analysis.parameters) out.parameters.push_back(specOf(p));
    return out;
}

// The second input, where there is one, is the curve before smoothing, to tell whether that differs.
Node planObservations(const Ground& ground, const NodeId& id) {
    const Analysis& analysis = analysisOf(ground, id);
    const AnalysisInput& input = analysis.inputs.front();
    const Chain chain = chainOf(ground.project, input.dataset);
    Node node{.inputs = {curveNode(ground.project, input)}};
    if (input.point.place == CurvePoint::Place::End && chain.unsmoothed)
        node.inputs.push_back(*chain.unsmoothed);
    const fit::FitOptions options = optionsOf(analysis);
    Hasher h;
    h.add("observations").add(kFitVersion).add(options.level).add(options.maxIterations);
    h.add(input.low).add(input.high);
    input.weights.addTo(h);
    addModel(h, analysis.model);
    addParameters(h, analysis.parameters);
    node.own = h.digest();
    node.compute = [&analysis](std::span<const Stored> inputs, const Request&) -> Stored {
        const auto curve = curveOf(inputs[0]);
        const auto model = modelOf(analysis.model, 1 + curve->more.size());
        if (!model) return {.value = nullptr, .issues = {model.error()}};
        std::vector<Issue> issues;
        if (inputs.size() > 1 && inputs[1].digest != inputs[0].digest) issues.push_back(kSmoothed);
        auto made = std::make_shared<const Observations>(observed(*curve, analysis, *model, issues));
        const Digest digest = digestOfFit(made->problem(*curve, analysis), *curve, analysis);
        const std::size_t bytes = sizeof(Observations) + made->used.size();
        return {std::move(made), std::move(issues), digest, bytes};
    };
    return node;
}

// Held: the start values are shown as they stand.
Node planFit(const Ground& ground, const NodeId& id) {
    const Analysis& analysis = analysisOf(ground, id);
    const bool held = analysis.settings.flag("hold");
    Node node{.inputs = {observationsNode(analysis.id)},
              .also = {curveNode(ground.project, analysis.inputs.front())},
              .own = Hasher().add("report").add(held).digest(),
              .costly = true};
    auto problemOf = [&analysis](std::span<const Stored> inputs) {
        return inputs[0].as<Observations>()->problem(*curveOf(inputs[1]), analysis);
    };
    node.compute = [&analysis, &fits = ground.fits, problemOf](std::span<const Stored> inputs,
                                                               const Request& request) {
        if (!inputs[0].value) return inputs[0];
        const fit::FitProblem problem = problemOf(inputs);
        const fit::FitOptions options = optionsOf(analysis);
        if (request.effort == Effort::OneIteration)
            return reportStored(begun(problem, options, 1, request.stop));
        if (request.effort == Effort::Provisional)
            return reportStored(quickly(
                problem, options, fits.lastValues(analysis.id, problem.model->formula()), request.stop));
        return reportStored(fit::fit(problem, options, request.stop));
    };
    node.recall = [&analysis, &fits = ground.fits, held,
                   problemOf](std::span<const Stored> inputs) -> std::optional<Stored> {
        if (!inputs[0].value) return std::nullopt;
        if (held) return reportStored(begun(problemOf(inputs), optionsOf(analysis), 0, {}));
        const std::string text = fits.stored(inputs[0].digest);
        if (text.empty()) return std::nullopt;
        auto report = reportFromText(text, problemOf(inputs));
        return report ? std::optional(reportStored(std::move(report))) : std::nullopt;
    };
    return node;
}

} // namespace jointer::evaluate
