// SPDX-License-Identifier: GPL-3.0-or-later
// Fits: from an analysis to the problem of the solver, and the care of what was computed before.
#include "evaluate/evaluator.h"

#include "base/text.h"
#include "evaluate/report_json.h"
#include "models/catalogue.h"

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

// What depends on the axes and the protocol, not on the problem: units, and remarks on the points.
void finishReport(fit::FitReport& r, const Curve& c, const std::vector<Issue>& remarks) {
    for (fit::DerivedResult& d : r.derived)
        d.unit = models::unitText(d.unit, c.xMeaning.unit, c.yMeaning.unit);
    std::ranges::copy(remarks, std::back_inserter(r.warnings));
}

const Issue kSmoothed{"smoothed-points",
                      "The fit takes smoothed points: their errors are not independent, so the "
                      "uncertainties are too small.",
                      {}};

Issue withoutUncertainty(std::size_t points) {
    return {"no-uncertainty",
            fmt::format("{} without an uncertainty {} not count: exclude {}, or fit without weights.",
                        counted(static_cast<long long>(points), "point"), points == 1 ? "does" : "do",
                        points == 1 ? "it" : "them"),
            {}};
}

const Issue kFurtherPredictors{
    "predictors",
    "The model has one predictor: only the first column of x is used. An equation can take x1, x2….",
    {}};

constexpr int kFitVersion = 2;             // raised when fits change their numbers
constexpr std::size_t kQuickPoints = 1000; // of a provisional fit

} // namespace

const KindInfo& fitSettings() {
    static const KindInfo info{.key = "fit",
                               .name = "Fit",
                               .purpose = "The parameters of a model that go best with the points",
                               .settings = {{.key = "level",
                                             .label = "Level",
                                             .fallback = 0.95,
                                             .help = "Level of all intervals and bands: larger means wider.",
                                             .lowest = 0.5,
                                             .highest = 0.999999},
                                            {.key = "iterations",
                                             .label = "Iterations",
                                             .kind = SettingKind::WholeNumber,
                                             .fallback = 500.0,
                                             .help = "The most iterations of one attempt.",
                                             .lowest = 1,
                                             .highest = 100000},
                                            {.key = "hold",
                                             .label = "Start values only",
                                             .kind = SettingKind::Flag,
                                             .fallback = false,
                                             .help = "Shows the start values without fitting.",
                                             .hidden = true}}};
    return info;
}

const KindInfo& weightSettings() {
    static const KindInfo info{
        .key = "weights",
        .name = "Weights",
        .purpose = "How the points count",
        .settings = {{.key = "weights",
                      .label = "Weights",
                      .kind = SettingKind::Choice,
                      .help = "Absolute: the uncertainties are believed as they stand, and χ² has meaning.",
                      .choices = {{"none", "none: all alike"},
                                  {"relative", "1/σ², relative"},
                                  {"absolute", "1/σ², absolute"}},
                      .whenEmpty = "automatic"}}};
    return info;
}

Result<models::ModelPtr> modelOf(const ModelNode& node, std::size_t predictors) {
    if (node.kind == "equation") {
        std::vector<std::string> names = {"x"};
        if (predictors > 1) names.clear();
        for (std::size_t k = 1; names.size() < predictors; ++k) names.push_back("x" + std::to_string(k));
        return models::equationModel(node.settings.text("equation"), names);
    }
    return models::makeModel(node.kind, node.settings);
}

// The observations of a fit: the counting points of its span; each replicate is one of its own where nothing
// else is known of the scatter.
Evaluator::FitTask Evaluator::taskOf(const Analysis& analysis, const ProtocolResult& chain, FitResult& out) {
    const AnalysisInput& input = analysis.inputs.front();
    const StepResult& stage = chain.at(input.point);
    out.points = std::shared_ptr<const Curve>(stage.output, &stage.output->curve);
    const Curve& c = *out.points;
    FitTask task{.problem = {.model = out.model, .predictors = {{}}},
                 .options = {.level = fitSettings().number(analysis.settings, "level"),
                             .maxIterations = fitSettings().integer(analysis.settings, "iterations")}};
    if (input.point.place == CurvePoint::Place::End && chain.unsmoothed &&
        chain.unsmoothed->digest != stage.digest)
        task.remarks.push_back(kSmoothed);
    fit::FitProblem& problem = task.problem;
    const std::string weights = input.weights.text("weights", c.sigma.empty() ? "none" : "absolute");
    const bool weighted = weights != "none" && !c.sigma.empty();
    problem.absolute = weights == "absolute" && weighted;
    out.weightsNote =
        !weighted ? "all points count alike" : c.sigmaSource + (problem.absolute ? "" : ", relative");
    const bool separate = !c.replicates.empty() && !weighted;
    const std::size_t further = out.model->predictorCount() - 1;
    problem.predictors.resize(1 + further);
    auto hasAll = [&](std::size_t i) {
        return std::ranges::all_of(c.more | std::views::take(further),
                                   [&](const auto& m) { return std::isfinite(m[i]); });
    };
    if (further < c.more.size()) task.remarks.push_back(kFurtherPredictors);
    out.used.assign(c.size(), 0);
    std::size_t unweighted = 0;
    for (std::size_t i = 0; i < c.size(); ++i) {
        if (!c.counts(i) || c.x[i] < input.low || c.x[i] > input.high || !hasAll(i)) continue;
        if (weighted && !std::isfinite(c.sigma[i])) {
            ++unweighted;
            continue;
        }
        out.used[i] = 1;
        auto observe = [&](double y) {
            if (!std::isfinite(y)) return;
            problem.predictors[0].push_back(c.x[i]);
            for (std::size_t k = 0; k < further; ++k) problem.predictors[k + 1].push_back(c.more[k][i]);
            problem.y.push_back(y);
            if (weighted) problem.sigma.push_back(c.sigma[i]);
        };
        if (!separate)
            observe(c.y[i]);
        else
            for (const auto& r : c.replicates) observe(r[i]);
    }
    if (unweighted > 0) task.remarks.push_back(withoutUncertainty(unweighted));
    for (const ParameterChoice& p : analysis.parameters) problem.parameters.push_back(specOf(p));

    Hasher h;
    h.add("fit")
        .add(kFitVersion)
        .add(task.options.level)
        .add(task.options.maxIterations)
        .add(problem.absolute);
    addModel(h, analysis.model);
    addParameters(h, analysis.parameters);
    for (const auto& column : problem.predictors) h.add(std::span<const double>(column));
    h.add(std::span<const double>(problem.y)).add(std::span<const double>(problem.sigma));
    h.add(c.xMeaning.unit).add(c.yMeaning.unit);
    out.key = h.digest();
    return task;
}

FitResult Evaluator::fit(const Project& project, const Analysis& analysis, const Request& request) {
    FitResult out;
    auto refuse = [&](Issue issue) {
        out.report = std::unexpected(std::move(issue));
        return out;
    };
    if (analysis.inputs.empty()) return refuse({"no-input", "This fit has no dataset.", {}});
    const ProtocolResult chain = protocol(project, analysis.inputs.front().dataset);
    const auto model =
        modelOf(analysis.model, 1 + chain.at(analysis.inputs.front().point).curve().more.size());
    if (!model) return refuse(model.error());
    out.model = *model;
    FitTask task = taskOf(analysis, chain, out);
    const bool once = request.effort == Effort::OneIteration;
    if (analysis.settings.flag("hold") || once) { // held: start values are shown as they stand
        task.options.maxIterations = once ? 1 : 0;
        task.options.provisional = true;
        out.report = fit::fit(task.problem, task.options, request.stop);
        return out;
    }
    if (remembered(task, out)) {
        const std::lock_guard lock(mutex_);
        lastValues_[analysis.id] = {out.model->formula(), out.report->values()};
        return out;
    }
    if (request.effort == Effort::Remembered) return out;
    if (request.effort == Effort::Provisional) {
        out.report = quickly(analysis.id, task, out, request.stop);
        return out;
    }
    out.report = computeOnce(task.problem, task.options, out.key, request.stop);
    if (!out.good()) return out;
    finishReport(*out.report, *out.points, task.remarks);
    const std::lock_guard lock(mutex_);
    lastValues_[analysis.id] = {out.model->formula(), out.report->values()};
    return out;
}

// Whether the fit was computed before, in this session or in the file that was opened.
bool Evaluator::remembered(const FitTask& task, FitResult& out) {
    if (const auto known = memo_.find<fit::FitReport>(out.key)) {
        out.report = *known;
        finishReport(*out.report, *out.points, task.remarks);
        return true;
    }
    const Digest storedKey = Hasher().add("stored").add(out.key).digest(); // a stored report is read once
    if (const auto known = memo_.find<fit::FitReport>(storedKey)) {
        out.report = *known;
        return true;
    }
    std::string text;
    {
        const std::lock_guard lock(mutex_);
        if (const auto at = stored_.find(out.key); at != stored_.end()) text = at->second;
    }
    if (text.empty()) return false;
    auto report = reportFromText(text, task.problem);
    if (!report) return false;
    out.report = std::move(report);
    memo_.put<fit::FitReport>(storedKey, std::make_shared<fit::FitReport>(*out.report),
                              16 * out.report->fitted.size() + 4096);
    return true;
}

// A picture while dragging: a few iterations on thinned points from where the last fit stood. Several panes
// ask for the same one, so the last is kept.
Result<fit::FitReport> Evaluator::quickly(AnalysisId id, const FitTask& task, const FitResult& now,
                                          const Cancellation& stop) {
    const std::lock_guard oneAtATime(quickMutex_);
    if (quick_ && quick_->first == now.key) return quick_->second;
    fit::FitProblem few{.model = task.problem.model,
                        .predictors = std::vector<std::vector<double>>(task.problem.predictors.size()),
                        .absolute = task.problem.absolute,
                        .parameters = task.problem.parameters};
    const std::size_t n = task.problem.y.size(), stride = std::max<std::size_t>(1, n / kQuickPoints);
    for (std::size_t i = 0; i < n; i += stride) {
        for (std::size_t k = 0; k < few.predictors.size(); ++k)
            few.predictors[k].push_back(task.problem.predictors[k][i]);
        few.y.push_back(task.problem.y[i]);
        if (!task.problem.sigma.empty()) few.sigma.push_back(task.problem.sigma[i]);
    }
    {
        const std::lock_guard lock(mutex_);
        const auto last = lastValues_.find(id);
        if (last != lastValues_.end() && last->second.first == now.model->formula()) {
            const auto& names = now.model->parameters();
            for (std::size_t k = 0; k < names.size() && k < last->second.second.size(); ++k) {
                auto at = std::ranges::find(few.parameters, names[k].name, &fit::ParameterSpec::name);
                if (at == few.parameters.end())
                    at = few.parameters.insert(few.parameters.end(),
                                               fit::ParameterSpec{.name = names[k].name});
                if (at->treatment == fit::Treatment::Free)
                    at->start = std::clamp(last->second.second[k], at->lower, at->upper);
            }
        }
    }
    fit::FitOptions options = task.options;
    options.provisional = true;
    auto report = fit::fit(few, options, stop);
    if (!report) return report;
    const std::vector<std::span<const double>> xs(task.problem.predictors.begin(),
                                                  task.problem.predictors.end());
    report->fitted = fit::predict(*now.model, *report, xs).y;
    report->residuals.resize(n);
    for (std::size_t i = 0; i < n; ++i) report->residuals[i] = task.problem.y[i] - report->fitted[i];
    quick_ = {now.key, *report};
    const std::lock_guard lock(mutex_);
    lastValues_[id] = {now.model->formula(), report->values()};
    return report;
}

fit::Prediction FitResult::sample(const std::vector<double>& xs) const {
    const std::span<const double> column(xs);
    return fit::predict(*model, *report, {&column, 1});
}

// Several panes ask for the same fit at once: the first computes it, the others wait and take its report.
Result<fit::FitReport> Evaluator::computeOnce(const fit::FitProblem& problem, const fit::FitOptions& options,
                                              const Digest& key, const Cancellation& stop) {
    std::stop_token own;
    {
        std::unique_lock lock(mutex_);
        finished_.wait(lock, [&] { return !running_.contains(key); });
        if (const auto at = stopped_.find(key); at != stopped_.end()) return at->second;
        if (auto known = memo_.find<fit::FitReport>(key)) return *known;
        running_.insert(key);
        ++runningCount_;
        own = stop_.get_token();
    }
    // Ends when this request is given up or when all fits are to stop.
    std::stop_source both;
    const auto end = [&both] { both.request_stop(); };
    const std::stop_callback byRequest(stop, end), byUser(own, end);
    auto report = fit::fit(problem, options, both.get_token());
    const std::lock_guard lock(mutex_);
    if (report && report->state == fit::FitState::Stopped && own.stop_requested()) stopped_[key] = *report;
    if (report && report->state != fit::FitState::Stopped)
        memo_.put<fit::FitReport>(key, std::make_shared<fit::FitReport>(*report),
                                  16 * report->fitted.size() + 4096);
    running_.erase(key);
    --runningCount_;
    finished_.notify_all();
    return report;
}

void Evaluator::stopFits() {
    const std::lock_guard lock(mutex_);
    stop_.request_stop();
    stop_ = std::stop_source();
}

void Evaluator::forgetStopped() {
    const std::lock_guard lock(mutex_);
    stopped_.clear();
}

void Evaluator::adopt(const std::map<std::string, std::string>& stored) {
    const std::lock_guard lock(mutex_);
    for (const auto& [key, text] : stored) stored_[Digest::fromHex(key)] = text;
}

std::map<std::string, std::string> Evaluator::collect(const Project& project) {
    std::map<std::string, std::string> out;
    for (const auto& a : project.analyses) {
        if (a->settings.flag("hold")) continue;
        const FitResult r = fit(project, *a, {.effort = Effort::Remembered});
        if (r.good() && r.report->state != fit::FitState::Stopped) out[r.key.hex()] = reportText(*r.report);
    }
    return out;
}

} // namespace jointer::evaluate
