// SPDX-License-Identifier: GPL-3.0-or-later
// From the curves of an analysis to the observations of the solver.
#include "analyses/fit_taking.h"

#include "analyses/points_within.h"
#include "analyses/weights.h"
#include "base/text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <ranges>

namespace jointer::analyses {

namespace {

constexpr int kFitVersion = 4; // raised when fits change their numbers

const Issue kSmoothed{"smoothed-points",
                      "The fit takes smoothed points: their errors are not independent, so the "
                      "uncertainties are too small.",
                      {}};

const Issue kFurtherPredictors{
    "predictors",
    "The model has one predictor: only the first column of x is used. An equation can take x1, x2….",
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

// How the points of an input count.
struct Weighting {
    enum class Rule { None, Sigma, Y, YSquared, Counts };
    Rule rule = Rule::None;
    bool absolute = false;
    std::string note;

    bool bySigma() const { return rule == Rule::Sigma; }
    double sigma(const Curve& c, std::size_t i, double y) const {
        switch (rule) {
        case Rule::Sigma:
            return c.sigma[i];
        case Rule::Y:
            return std::sqrt(std::abs(y));
        case Rule::YSquared:
            return std::abs(y);
        case Rule::Counts:
            return std::sqrt(std::max(y, 1.0));
        case Rule::None:
            break;
        }
        return 1;
    }
    fit::Scatter scatter() const {
        return rule == Rule::YSquared                    ? fit::Scatter::LevelSquared
               : rule == Rule::Y || rule == Rule::Counts ? fit::Scatter::Level
                                                         : fit::Scatter::ByPoint;
    }
};

Weighting weightingOf(const Curve& c, const Settings& given, const ModelNode& model) {
    using enum Weighting::Rule;
    const std::string weights = weightsInForce(given, !c.sigma.empty(), model);
    if (weights == "1/y") return {Y, false, "1/y"};
    if (weights == "1/y2") return {YSquared, false, "1/y²"};
    if (weights == "counting") return {Counts, true, "square root of the counts"};
    if (weights == "none" || c.sigma.empty()) return {None, false, "all points count alike"};
    const bool absolute = weights == "absolute";
    return {Sigma, absolute, c.sigmaSource + (absolute ? "" : ", relative")};
}

fit::ParameterSpec specOf(const ParameterChoice& p, bool shared) {
    fit::ParameterSpec s{.name = p.name, .start = p.start, .lower = p.lower, .upper = p.upper, .tie = p.tie};
    if (p.treatment == Treatment::Fixed) s.treatment = fit::Treatment::Fixed;
    if (p.treatment == Treatment::Tied) s.treatment = fit::Treatment::Tied;
    s.shared = shared;
    return s;
}

fit::Loss lossOf(const Settings& settings) {
    const std::string key = fitSettings().text(settings, "loss");
    for (const fit::Loss loss : {fit::Loss::Huber, fit::Loss::Cauchy, fit::Loss::Bisquare})
        if (key == fit::lossKey(loss)) return loss;
    return fit::Loss::Squares;
}

// The counting points of one input.
class Taker {
public:
    Taker(const TaskInput& input, const Task& task, std::size_t predictors, std::vector<Issue>& issues)
        : input_(input), c_(*input.curve), issues_(issues),
          weighting_(weightingOf(c_, input.spec.weights, task.spec.model)),
          takesMade_(fitSettings().flag(task.spec.settings, "made-points")),
          errorsInX_(fitSettings().flag(task.spec.settings, "errors-in-x")) {
        const bool several = task.inputs.size() > 1;
        member_.name = several ? input.name : "";
        member_.scatter = weighting_.scatter();
        member_.predictors.resize(predictors);
        points_ = {input.spec.dataset, input.name, input.curve, std::vector<std::uint8_t>(c_.size(), 0)};
    }

    void take() {
        const std::size_t further = member_.predictors.size() - 1;
        if (further < c_.more.size()) issues_.push_back(kFurtherPredictors);
        std::size_t unweighted = 0, made = 0;
        for (std::size_t i = 0; i < c_.size(); ++i) {
            if (!c_.counts(i) || !input_.spec.span.takes(c_.x[i]) || !hasAll(i, further)) continue;
            if (c_.isMade(i) && !takesMade_) {
                ++made;
                continue;
            }
            const bool counts = observe(i);
            points_.used[i] = counts;
            unweighted += !counts;
        }
        if (unweighted > 0) issues_.push_back(withoutUncertainty(unweighted));
        if (made > 0) issues_.push_back(madePoints(made));
        if (input_.smoothed) issues_.push_back(kSmoothed);
        if (!c_.common.empty()) issues_.push_back(commonErrors(c_));
        // Of smoothed points more is said.
        if (!c_.correlatedBy.empty() && c_.correlatedBy != "smoothing")
            issues_.push_back(correlated(c_.correlatedBy));
    }

    fit::FitMember& member() { return member_; }
    MemberPoints& points() { return points_; }
    const Weighting& weighting() const { return weighting_; }
    bool lacksErrorsOfX() const { return errorsInX_ && c_.sigmaX.empty(); }

private:
    bool hasAll(std::size_t i, std::size_t further) const {
        return c_.more.size() >= further &&
               std::ranges::all_of(c_.more | std::views::take(further),
                                   [&](const auto& m) { return std::isfinite(m[i]); });
    }
    // Each replicate is an observation of its own where nothing else is known of the scatter.
    bool observe(std::size_t i) {
        if (c_.replicates.empty() || weighting_.bySigma()) return add(i, c_.y[i]);
        bool any = false;
        for (const auto& r : c_.replicates) any |= std::isfinite(r[i]) && add(i, r[i]);
        return any;
    }
    bool add(std::size_t i, double y) {
        const double sigma = weighting_.sigma(c_, i, y);
        if (!std::isfinite(sigma) || !(weighting_.bySigma() || sigma > 0)) return false;
        const double sigmaX = errorsInX_ && i < c_.sigmaX.size() ? c_.sigmaX[i] : 0;
        if (!std::isfinite(sigmaX)) return false;
        member_.predictors[0].push_back(c_.x[i]);
        for (std::size_t k = 1; k < member_.predictors.size(); ++k)
            member_.predictors[k].push_back(c_.more[k - 1][i]);
        member_.y.push_back(y);
        if (weighting_.rule != Weighting::Rule::None) member_.sigma.push_back(sigma);
        if (errorsInX_) member_.sigmaX.push_back(sigmaX);
        return true;
    }

    const TaskInput& input_;
    const Curve& c_;
    std::vector<Issue>& issues_;
    Weighting weighting_;
    bool takesMade_, errorsInX_;
    fit::FitMember member_;
    MemberPoints points_;
};

} // namespace

Result<void> takeMember(const TaskInput& input, const Task& task, models::ModelPtr model,
                        std::size_t predictors, FitTaken& taken, std::vector<Issue>& issues) {
    Taker taker(input, task, predictors, issues);
    taker.take();
    taker.member().model = std::move(model);
    if (taker.lacksErrorsOfX())
        return failure(
            "no-uncertainty",
            fmt::format("“{}” has no errors of x: give a column the role ± x, or fit without them.",
                        input.name));
    if (taken.members.empty()) {
        taken.problem.absolute = taker.weighting().absolute;
        taken.weightsNote = taker.weighting().note;
    } else if (taken.problem.absolute != taker.weighting().absolute)
        return failure("weights",
                       fmt::format("The uncertainties of “{}” are absolute and those of “{}” are not: choose "
                                   "the same weights for both.",
                                   taken.problem.absolute ? taken.members[0].name : input.name,
                                   taken.problem.absolute ? input.name : taken.members[0].name));
    taken.problem.members.push_back(std::move(taker.member()));
    taken.members.push_back(std::move(taker.points()));
    return {};
}

namespace {

// What is said of one member goes to it, what is said of all to the problem.
void addParameters(const Task& task, FitTaken& taken) {
    const bool several = task.inputs.size() > 1;
    for (const ParameterChoice& p : task.spec.parameters) {
        if (!p.member) {
            taken.problem.parameters.push_back(specOf(p, several && p.treatment == Treatment::Shared));
            continue;
        }
        for (std::size_t m = 0; m < taken.members.size(); ++m)
            if (taken.members[m].dataset == p.member)
                taken.problem.members[m].parameters.push_back(specOf(p, false));
    }
}

bool mentions(const ModelNode& model, const std::string& name) {
    return model.settings.text("equation").find(name) != std::string::npos ||
           model.settings.text("contrast").find(name) != std::string::npos ||
           std::ranges::any_of(model.children, [&](const ModelNode& child) { return mentions(child, name); });
}

// Exactly the numbers and settings that decide the report.
Digest digestOf(const Task& task, const FitTaken& taken) {
    Hasher h;
    h.add("fit").add(kFitVersion).add(taken.problem.absolute);
    addTo(h, task.spec);
    for (const TaskInput& input : task.inputs)
        for (const auto& [name, value] : input.attributes)
            if (mentions(task.spec.model, name)) h.add(name).add(value);
    for (const auto& [id, other] : task.curves) h.add(other.name).add(jointer::digestOf(*other.curve));
    addTo(h, taken);
    if (taken.time) h.add(taken.time->origin).add(taken.time->unit);
    return h.digest();
}

} // namespace

void addTo(Hasher& h, const FitTaken& taken) {
    for (std::size_t m = 0; m < taken.members.size(); ++m) {
        const fit::FitMember& member = taken.problem.members[m];
        h.add(member.name);
        for (const auto& column : member.predictors) h.add(std::span<const double>(column));
        h.add(std::span<const double>(member.y)).add(std::span<const double>(member.sigma));
        h.add(std::span<const double>(member.sigmaX)).add(static_cast<int>(member.scatter));
        if (const auto& resolution = taken.members[m].curve->resolution; !resolution.empty())
            h.add(std::span<const double>(resolution));
        h.add(taken.members[m].curve->xMeaning.unit).add(taken.members[m].curve->yMeaning.unit);
    }
}

std::size_t bytesOf(const FitTaken& taken) {
    std::size_t bytes = sizeof(FitTaken);
    for (const fit::FitMember& m : taken.problem.members)
        bytes += m.y.size() * 8 * (2 + m.predictors.size()) + 512;
    return bytes;
}

void takeSettings(const Settings& settings, fit::FitProblem& problem) {
    problem.loss = lossOf(settings);
    for (const Settings& row : settings.rows("derive"))
        problem.derive.push_back({row.text("name"), row.text("formula"), ""});
    for (const Settings& row : settings.rows("schedule")) {
        const std::string names = row.text("release");
        std::vector<std::string> step;
        for (std::string_view name : split(names, ','))
            if (!trimmed(name).empty()) step.emplace_back(trimmed(name));
        problem.schedule.push_back(std::move(step));
    }
}

namespace {

Taken cannot(Issue issue) {
    return {.issues = {std::move(issue)}};
}

} // namespace

std::optional<models::TimeScale> timeOf(const Task& task) {
    double first = INFINITY, last = -INFINITY;
    for (const TaskInput& input : task.inputs) {
        if (!input.curve->xMeaning.isTime) return {};
        if (input.curve->x.empty()) continue;
        const auto [low, high] = std::ranges::minmax(input.curve->x);
        first = std::min(first, low), last = std::max(last, high);
    }
    if (!(first <= last) || !task.curves.empty()) return {};
    std::string unit = fitSettings().text(task.spec.settings, "time-in");
    const std::string own = task.spec.model.settings.text("x-is"); // of a model that knows hours
    if (unit == "automatic" && (own == "days" || own == "seconds" || own == "hours" || task.spec.model.kind == "tide"))
        unit = own == "days" ? "d" : own == "seconds" ? "s" : "h";
    return models::timeScaleOf(first, last, unit == "automatic" ? "" : unit);
}

models::ModelContext contextOf(const Task& task, const TaskInput& input) {
    return {.predictors = 1 + input.curve->more.size(),
            .constants = input.attributes,
            .curves = task.curves,
            .fitted = pointsWithin(input)};
}

Taken takeFit(const Task& task) {
    if (task.inputs.empty()) return cannot({"no-input", "This fit has no dataset.", {}});
    auto taken = std::make_shared<FitTaken>();
    taken->time = timeOf(task);
    Taken out;
    for (const TaskInput& input : task.inputs) {
        const auto model = modelOf(task.spec.model, contextOf(task, input));
        if (!model) return cannot(model.error());
        if ((*model)->predictorCount() > 1 + input.curve->more.size())
            return cannot(
                {"predictors",
                 fmt::format("The model needs {}, x1 and x2: give “{}” a second column x.",
                             counted(static_cast<long long>((*model)->predictorCount()), "predictor"),
                             input.name),
                 {}});
        const models::ModelPtr counted = taken->time ? models::timedModel(*model, *taken->time) : *model;
        if (auto good = takeMember(input, task, counted, (*model)->predictorCount(), *taken, out.issues);
            !good)
            return cannot(good.error());
    }
    addParameters(task, *taken);
    takeSettings(task.spec.settings, taken->problem);
    out.digest = digestOf(task, *taken);
    out.bytes = bytesOf(*taken);
    out.value = std::move(taken);
    return out;
}

} // namespace jointer::analyses
