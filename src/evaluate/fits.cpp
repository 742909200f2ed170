// SPDX-License-Identifier: GPL-3.0-or-later
// Fits: from an analysis to the problem of the solver, and the care of what was computed before.
#include "evaluate/evaluator.h"
#include "evaluate/report_json.h"
#include "models/catalogue.h"

namespace jointer::evaluate {

namespace {

fit::ParameterSpec specOf(const ParameterChoice& p) {
    fit::ParameterSpec s{.name = p.name, .start = p.start, .lower = p.lower, .upper = p.upper, .tie = p.tie};
    if (p.treatment == "fixed") s.treatment = fit::Treatment::Fixed;
    if (p.treatment == "tied") s.treatment = fit::Treatment::Tied;
    return s;
}

void addModel(Hasher& h, const ModelNode& m) {
    h.add(m.kind).add(m.children.size());
    m.settings.addTo(h);
    if (const models::ModelKind* kind = models::findModel(m.kind)) h.add(kind->info.version);
    for (const ModelNode& child : m.children) addModel(h, child);
}

void addParameters(Hasher& h, const std::vector<ParameterChoice>& list) {
    h.add(list.size());
    for (const ParameterChoice& p : list)
        h.add(p.name)
            .add(p.treatment)
            .add(p.start.has_value())
            .add(p.start.value_or(0))
            .add(p.lower)
            .add(p.upper)
            .add(p.tie);
}

// What depends on the axes and the protocol, not on the problem: units, and the warning about smoothed
// points.
void finishReport(fit::FitReport& r, const Curve& c, bool smoothed) {
    for (fit::DerivedResult& d : r.derived)
        d.unit = models::unitText(d.unit, c.xMeaning.unit, c.yMeaning.unit);
    if (smoothed)
        r.warnings.push_back({"smoothed-points",
                              "The fit takes smoothed points: their errors are not independent, so the "
                              "uncertainties are too small.",
                              {}});
}

constexpr int kFitVersion = 1; // raised when fits change their numbers

} // namespace

Result<models::ModelPtr> modelOf(const ModelNode& node) {
    if (node.kind == "equation") return models::equationModel(node.settings.text("equation"));
    return models::makeModel(node.kind, node.settings);
}

FitResult Evaluator::fit(const Project& project, const Analysis& analysis, const Request& request) {
    FitResult out;
    auto refuse = [&](Issue issue) {
        out.report = std::unexpected(std::move(issue));
        return out;
    };
    if (analysis.inputs.empty()) return refuse({"no-input", "This fit has no dataset.", {}});
    const AnalysisInput& input = analysis.inputs.front();
    const ProtocolResult chain = protocol(project, input.dataset);
    const StepResult& stage = chain.at(input.point);
    out.points = std::shared_ptr<const Curve>(stage.output, &stage.output->curve);
    const Curve& c = *out.points;
    auto model = modelOf(analysis.model);
    if (!model) return refuse(model.error());
    out.model = *model;

    fit::FitProblem problem{.model = *model, .predictors = {{}}};
    const std::string weights = input.weights.text("weights", c.sigma.empty() ? "none" : "absolute");
    const bool weighted = weights != "none" && !c.sigma.empty();
    problem.absolute = weights == "absolute" && weighted;
    out.weightsNote =
        !weighted ? "all points count alike" : c.sigmaSource + (problem.absolute ? "" : ", relative");
    const bool separate = !c.replicates.empty() && !weighted; // each replicate is an observation of its own
    out.used.assign(c.size(), 0);
    for (std::size_t i = 0; i < c.size(); ++i) {
        if (!c.counts(i) || c.x[i] < input.low || c.x[i] > input.high) continue;
        out.used[i] = 1;
        auto observe = [&](double y) {
            if (!std::isfinite(y)) return;
            problem.predictors[0].push_back(c.x[i]);
            problem.y.push_back(y);
            if (weighted) problem.sigma.push_back(c.sigma[i]);
        };
        if (!separate)
            observe(c.y[i]);
        else
            for (const auto& r : c.replicates) observe(r[i]);
    }
    for (const ParameterChoice& p : analysis.parameters) problem.parameters.push_back(specOf(p));
    const double level = analysis.settings.number("level", 0.95);

    Hasher h;
    h.add("fit")
        .add(kFitVersion)
        .add(level)
        .add(analysis.settings.integer("iterations", 500))
        .add(problem.absolute);
    addModel(h, analysis.model);
    addParameters(h, analysis.parameters);
    h.add(std::span<const double>(problem.predictors[0]))
        .add(std::span<const double>(problem.y))
        .add(std::span<const double>(problem.sigma));
    h.add(c.xMeaning.unit).add(c.yMeaning.unit);
    out.key = h.digest();

    if (analysis.settings.flag("hold")) { // start values are shown as they stand
        out.report =
            fit::fit(problem, {.level = level, .maxIterations = 0, .provisional = true}, request.stop);
        return out;
    }
    const bool smoothed =
        input.point == "end" && chain.unsmoothed && chain.unsmoothed->digest != stage.digest;
    if (auto known = memo_.find<fit::FitReport>(out.key)) {
        out.report = *known;
        finishReport(*out.report, c, smoothed);
        return out;
    }
    const Digest storedKey = Hasher().add("stored").add(out.key).digest(); // a stored report is read once
    if (auto known = memo_.find<fit::FitReport>(storedKey)) {
        out.report = *known;
        return out;
    }
    std::string storedText;
    {
        const std::lock_guard lock(mutex_);
        if (const auto at = stored_.find(out.key); at != stored_.end()) storedText = at->second;
    }
    if (!storedText.empty()) out.report = reportFromText(storedText, problem);
    if (out.good())
        memo_.put<fit::FitReport>(storedKey, std::make_shared<fit::FitReport>(*out.report),
                                  16 * out.report->fitted.size() + 4096);
    if (!out.good()) {
        const fit::FitOptions options{.level = level,
                                      .maxIterations = analysis.settings.integer("iterations", 500),
                                      .provisional = request.provisional};
        out.report = request.provisional ? fit::fit(problem, options, request.stop)
                                         : computeOnce(problem, options, out.key, request.stop);
        if (!out.good()) return out;
        finishReport(*out.report, c, smoothed);
    }
    return out;
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
        const FitResult r = fit(project, *a);
        if (r.good() && r.report->state != fit::FitState::Stopped) out[r.key.hex()] = reportText(*r.report);
    }
    return out;
}

} // namespace jointer::evaluate
