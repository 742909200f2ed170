// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/fit_taking.h"
#include "analyses/peaks/peak_edits.h"
#include "analyses/peaks/plan.h"
#include "analyses/peaks/telling.h"
#include "base/text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace jointer::analyses {

namespace {

constexpr int kPeaksVersion = 1; // raised when peaks change their numbers
constexpr int kIterationsInProportion = 3;
constexpr int kIterationsWithFew = 3;
constexpr double kPointsOfWidth = 6;       // that are left of the narrowest peak in that pass
constexpr std::size_t kPointsForPeak = 60; // and of all for each peak
constexpr int kIterationsOfTrial = 40;
constexpr std::size_t kMostForShapes = 30;   // peaks
constexpr double kShapeGain = 10;            // of AICc: from here on another shape is told
constexpr double kFurtherSignificance = 6.5; // of proposals in the residuals

Taken take(const Task& task) {
    if (task.inputs.empty()) return {.issues = {{"no-input", "These peaks have no dataset.", {}}}};
    auto taken = std::make_shared<FitTaken>();
    Taken out;
    if (auto good = takeMember(task.inputs.front(), task, nullptr, 1, *taken, out.issues); !good)
        return {.issues = {good.error()}};
    Hasher h;
    h.add("peaks").add(kPeaksVersion);
    addTo(h, task.spec);
    addTo(h, *taken);
    out.digest = h.digest();
    out.bytes = bytesOf(*taken);
    out.value = std::move(taken);
    return out;
}

// The starts are found, and limits keep the peaks apart: no others are tried by themselves.
fit::FitOptions optionsOfPeaks(const Analysis& spec) {
    fit::FitOptions options = optionsOf(spec);
    options.restarts = false;
    return options;
}

// So few points that each width still has some: enough to begin with. Whether there are fewer now.
bool thin(const PeaksPlan& plan, fit::FitMember& member) {
    double narrowest = INFINITY;
    for (const PlannedPeak& p : plan.peaks) narrowest = std::min(narrowest, p.width);
    const double stride = std::min(narrowest / plan.spacing / kPointsOfWidth,
                                   static_cast<double>(member.y.size()) /
                                       static_cast<double>(kPointsForPeak * plan.peaks.size()));
    if (!(stride >= 2)) return false;
    const auto every = static_cast<std::size_t>(stride);
    const auto some = [every](std::vector<double>& list) {
        std::size_t kept = 0;
        for (std::size_t i = 0; i < list.size(); i += every) list[kept++] = list[i];
        list.resize(std::min(kept, list.size()));
    };
    some(member.predictors[0]);
    some(member.y);
    some(member.sigma);
    some(member.sigmaX);
    return true;
}

// Free parameters begin where a quick fit has brought them.
void beginAt(const std::vector<double>& reached, fit::FitProblem& problem) {
    for (std::size_t k = 0; k < problem.parameters.size(); ++k)
        if (fit::ParameterSpec& s = problem.parameters[k]; s.treatment == fit::Treatment::Free)
            s.start = std::clamp(reached[k], s.lower, s.upper);
}

// Most of the way is gone with few of many points.
void beginWithFew(const PeaksPlan& plan, fit::FitProblem& problem, const fit::FitOptions& options,
                  const Cancellation& stop) {
    fit::FitProblem few = problem;
    if (!few.schedule.empty() || !thin(plan, few.members.front())) return;
    fit::FitOptions quick = options;
    quick.maxIterations = kIterationsWithFew;
    quick.starts = 1;
    if (const auto reached = fit::attempted(few, quick, stop)) beginAt(*reached, problem);
}

// Widths of two parts: a part of nought has no effect, and a fit that comes there on its way stays. So first
// the parts keep the proportion with which they begin; from there both are free.
void beginInProportion(const PeaksPlan& plan, fit::FitProblem& problem, const fit::FitOptions& options,
                       const Cancellation& stop) {
    fit::FitProblem first = problem;
    bool any = false;
    for (const PlannedPeak& p : plan.peaks) {
        const auto& widths = p.shape.traits->widths;
        for (std::size_t i = 1; i < widths.size(); ++i) {
            fit::ParameterSpec &lead = first.parameters[p.firstParameter + widths[0]],
                               &other = first.parameters[p.firstParameter + widths[i]];
            if (lead.treatment != fit::Treatment::Free || other.treatment != fit::Treatment::Free ||
                !(*lead.start > 0))
                continue;
            other.treatment = fit::Treatment::Tied;
            other.tie = fmt::format("{}*{}", *other.start / *lead.start, lead.name);
            any = true;
        }
    }
    if (!any) return;
    fit::FitOptions quick = options;
    quick.maxIterations = kIterationsInProportion;
    quick.starts = 1;
    first.schedule.clear();
    thin(plan, first.members.front());
    const auto report = fit::attempted(first, quick, stop);
    if (report) beginAt(*report, problem);
}

// What AICc would be without a peak, less what it is.
double withoutPeak(const Task& task, const FitTaken& points, const PeaksDetail& detail, int number) {
    Analysis rest = task.spec;
    placeAsPlanned(rest, detail.plan);
    dropPeak(rest, number);
    const Task without{.spec = rest, .inputs = task.inputs, .stop = task.stop};
    auto plan = planned(without, points, false);
    if (!plan) return std::nan("");
    fit::FitProblem& problem = plan->taken->problem;
    const fit::MemberReport& reached = detail.report.one();
    for (fit::ParameterSpec& s : problem.parameters) // from where the others stand
        if (const auto at = std::ranges::find(reached.parameters, s.name, &fit::ParameterResult::name);
            at != reached.parameters.end())
            s.start = std::clamp(at->value, s.lower, s.upper);
    fit::FitOptions quick = optionsOfPeaks(task.spec);
    quick.starts = 1;
    quick.maxIterations = std::min(quick.maxIterations, 50);
    const auto report = fit::fit(problem, quick, task.stop);
    return report ? report->aicc - detail.report.aicc : std::nan("");
}

void addRemoval(const Task& task, const FitTaken& points, PeaksDetail& detail) {
    detail.removal.assign(detail.plan.peaks.size(), std::nan(""));
    if (detail.plan.peaks.size() < 2 || !std::isfinite(detail.report.aicc)) return;
    for (int number : weakPeaks(detail))
        for (std::size_t k = 0; k < detail.plan.peaks.size(); ++k)
            if (detail.plan.peaks[k].number == number)
                detail.removal[k] = withoutPeak(task, points, detail, number);
}

// Residuals with a pattern: one of the common shapes may go better with the points, from where the peaks
// stand.
void addOtherShape(const Task& task, const FitTaken& points, PeaksDetail& detail) {
    const fit::FitReport& r = detail.report;
    if (r.runsP > 0.01 || r.n < 20 || !std::isfinite(r.aicc) || detail.plan.peaks.size() > kMostForShapes)
        return;
    for (const char* key : {"gaussian", "lorentzian", "pseudo-voigt"}) {
        if (commonShape(task.spec) == key || task.stop.stop_requested()) continue;
        Analysis other = task.spec;
        takeOver(other, detail);
        other.model = {.kind = key};
        other.parameters.clear();
        Task trial{.spec = other, .inputs = task.inputs, .stop = task.stop};
        const auto plan = planned(trial, points, false);
        if (!plan) continue;
        fit::FitOptions quick = optionsOfPeaks(other);
        quick.starts = 1;
        quick.maxIterations = kIterationsOfTrial;
        const auto report = fit::fit(plan->taken->problem, quick, task.stop);
        if (!report || r.aicc - report->aicc < std::max(kShapeGain, detail.otherShapeGain)) continue;
        detail.otherShape = key;
        detail.otherShapeGain = r.aicc - report->aicc;
    }
}

// What still stands out of the residuals is proposed. A wrong shape leaves traces that are no peaks.
void addFurther(const Task& task, PeaksDetail& detail) {
    if (!detail.otherShape.empty()) return;
    detail.furtherWanted = {
        .direction = directionOf(task.spec.settings), .most = 3, .significance = kFurtherSignificance};
}

// The coefficients of a baseline go against each other where x is far from nought; nobody asks for them.
void dropOfBaseline(PeaksDetail& detail) {
    std::size_t first = 0;
    for (const PlannedPeak& p : detail.plan.peaks) first = std::max(first, p.firstParameter + p.begin.size());
    const auto& all = detail.report.one().parameters;
    std::erase_if(detail.report.warnings, [&](const Issue& issue) {
        if (issue.code != "correlated") return false;
        bool one = false, other = false;
        for (std::size_t k = first; k < all.size(); ++k) {
            one = one || issue.text.starts_with(all[k].name + " and ");
            other = other || issue.text.find(" and " + all[k].name + " go ") != std::string::npos;
        }
        return one && other;
    });
}

Result<AnalysisResult> compute(const Task& task, const Taken& given) {
    const auto points = std::static_pointer_cast<const FitTaken>(given.value);
    const bool held = task.spec.settings.flag("hold"), dragged = task.effort == Effort::Provisional;
    auto plan = planned(task, *points, held || dragged);
    if (!plan) return std::unexpected(plan.error());
    auto detail = std::make_shared<PeaksDetail>();
    detail->plan = std::move(plan->plan);
    detail->taken = plan->taken;
    const fit::FitOptions options = optionsOfPeaks(task.spec);
    fit::FitProblem& problem = plan->taken->problem;
    if (task.effort == Effort::Full && !held) {
        beginInProportion(detail->plan, problem, options, task.stop);
        beginWithFew(detail->plan, problem, options, task.stop);
    }
    auto report = held || dragged                       ? begun(problem, options, 0, task.stop)
                  : task.effort == Effort::OneIteration ? begun(problem, options, 1, task.stop)
                                                        : fit::fit(problem, options, task.stop);
    if (!report) return std::unexpected(report.error());
    detail->report = std::move(*report);
    dropOfBaseline(*detail);
    readPeaks(*detail);
    if (task.effort == Effort::Full && !held) {
        std::ranges::move(intervalsOf(task, *detail->taken, *detail),
                          std::back_inserter(detail->report.warnings));
        addRemoval(task, *points, *detail);
        addOtherShape(task, *points, *detail);
        addFurther(task, *detail);
    }
    auto result = toldOf(std::shared_ptr<const PeaksDetail>(detail), task, held);
    if (held) result.whole = true;
    return result;
}

std::string text(const AnalysisResult& result) {
    const PeaksDetail* detail = peaksDetail(result);
    if (!detail || !detail->profiles.empty()) return {};
    nlohmann::ordered_json j = {{"report", reportText(detail->report)}};
    for (double d : detail->removal)
        j["removal"].push_back(std::isfinite(d) ? nlohmann::ordered_json(d) : nlohmann::ordered_json());
    if (!detail->otherShape.empty()) j["other_shape"] = {detail->otherShape, detail->otherShapeGain};
    return j.dump();
}

Result<AnalysisResult> fromText(const std::string& stored, const Task& task, const Taken& given) {
    const auto j = nlohmann::ordered_json::parse(stored, nullptr, false);
    if (!j.is_object() || !j.contains("report") || !j["report"].is_string())
        return failure("damaged", "The stored result of the peaks cannot be read.");
    auto plan = planned(task, *std::static_pointer_cast<const FitTaken>(given.value), false);
    if (!plan) return std::unexpected(plan.error());
    auto report = reportFromText(j["report"].get<std::string>(), plan->taken->problem);
    if (!report) return std::unexpected(report.error());
    auto detail = std::make_shared<PeaksDetail>();
    detail->plan = std::move(plan->plan);
    detail->taken = plan->taken;
    detail->report = std::move(*report);
    detail->removal.assign(detail->plan.peaks.size(), std::nan(""));
    if (j.contains("removal"))
        for (std::size_t k = 0; k < std::min(j["removal"].size(), detail->removal.size()); ++k)
            if (j["removal"][k].is_number()) detail->removal[k] = j["removal"][k].get<double>();
    if (const auto other = j.find("other_shape"); other != j.end() && other->is_array() &&
                                                  other->size() == 2 && (*other)[0].is_string() &&
                                                  (*other)[1].is_number()) {
        detail->otherShape = (*other)[0].get<std::string>();
        detail->otherShapeGain = (*other)[1].get<double>();
    }
    readPeaks(*detail);
    addFurther(task, *detail);
    return toldOf(std::shared_ptr<const PeaksDetail>(std::move(detail)), task, false);
}

} // namespace

// What is left on a high peak is a few hundredths of it wherever its shape is not quite right, or where the
// noise grows with the signal: that is no peak of its own.
bool PeaksDetail::isMisfit(const fit::FoundPeak& f) const {
    constexpr double kShare = 0.05;
    double there = 0;
    for (std::size_t k = 0; k < plan.peaks.size(); ++k) there += peak(k, {f.place}).front();
    return std::abs(f.height) < kShare * std::abs(there);
}

const std::vector<fit::FoundPeak>& PeaksDetail::further() const {
    std::call_once(looked_, [this] {
        if (!furtherWanted) return;
        const Ordered rest = inOrder(taken->problem.members.front(), report.one().residuals);
        further_ = fit::findPeaks(rest.x, rest.y, *furtherWanted);
        std::erase_if(further_, [this](const fit::FoundPeak& f) { return isMisfit(f); });
    });
    return further_;
}

const PeaksDetail* peaksDetail(const AnalysisResult& result) {
    return dynamic_cast<const PeaksDetail*>(result.kept.get());
}

AnalysisKind peaksAnalysis() {
    return {.info = peaksSettings(),
            .slots = {{.key = "dataset", .label = "Dataset", .of = "dataset"}},
            .take = take,
            .compute = compute,
            .text = text,
            .fromText = fromText,
            .givesCurve = true};
}

} // namespace jointer::analyses
