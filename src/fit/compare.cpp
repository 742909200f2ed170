// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/compare.h"

#include "base/text.h"
#include "fit/quality.h"
#include "fit/residual_tests.h"
#include "fit/specs.h"
#include "stats/group_tests.h"

#include <algorithm>
#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/distributions/fisher_f.hpp>
#include <cmath>
#include <fmt/format.h>
#include <map>

namespace jointer::fit {

namespace {

constexpr double kSameCurve = 1e-6; // of the range of a curve: so near another model must come to hold it
constexpr double kClear = 0.9, kLittle = 0.6; // weights
constexpr double kFewPerParameter = 4;

double freeIn(const FitReport& r) {
    return static_cast<double>(r.n) - static_cast<double>(r.dof);
}

bool isUsable(const Compared& c) {
    return std::isfinite(c.rss) && (c.report ? c.report->dof > 0 : std::isfinite(c.aicc));
}

// Whether the larger model can be the fitted curve of the simpler one.
bool holds(const FitProblem& larger, const FitReport& simpler, const FitOptions& options,
           const Cancellation& stop) {
    FitProblem exact = larger;
    exact.loss = Loss::Squares;
    double low = INFINITY, high = -INFINITY;
    for (std::size_t m = 0; m < exact.members.size(); ++m) {
        exact.members[m].y = simpler.members[m].fitted;
        for (double v : exact.members[m].y) low = std::min(low, v), high = std::max(high, v);
    }
    if (!(high > low)) return false;
    const auto report = fit(exact, options, stop);
    if (!report) return false;
    double worst = 0;
    for (const MemberReport& m : report->members)
        for (double r : m.residuals) worst = std::max(worst, std::abs(r));
    return worst <= kSameCurve * (high - low);
}

NestedTest tested(const ModelComparison& c, std::size_t simpler, std::size_t larger) {
    const FitReport &a = *c.models[simpler].report, &b = *c.models[larger].report;
    NestedTest t{.simpler = simpler, .larger = larger};
    t.dof[0] = freeIn(b) - freeIn(a);
    const double less = std::max(0.0, a.rss - b.rss);
    if (c.absolute) {
        t.statistic = less;
        t.p = boost::math::cdf(complement(boost::math::chi_squared(t.dof[0]), t.statistic));
        return t;
    }
    t.dof[1] = static_cast<double>(b.dof);
    t.statistic = less / t.dof[0] / (b.rss / t.dof[1]);
    t.p = std::isfinite(t.statistic)
              ? boost::math::cdf(complement(boost::math::fisher_f(t.dof[0], t.dof[1]), t.statistic))
          : less > 0 ? 0
                     : 1;
    return t;
}

// To which part each observation of a member belongs.
std::vector<int> dealt(const FitMember& member, const CompareOptions& options) {
    std::vector<int> part(member.y.size());
    std::map<double, int> levels;
    if (options.leaveOut == LeaveOut::Levels) {
        for (double x : member.predictors[0]) levels.emplace(x, 0);
        for (int next = 0; auto& [x, number] : levels) number = next++ % options.parts;
    }
    for (std::size_t i = 0; i < part.size(); ++i)
        part[i] = options.leaveOut == LeaveOut::Levels ? levels[member.predictors[0][i]]
                                                       : static_cast<int>(i) % options.parts;
    return part;
}

FitMember partOf(const FitMember& all, const std::vector<int>& parts, int which, bool inside) {
    FitMember some = all;
    const auto keep = [&](const std::vector<double>& list) {
        std::vector<double> out;
        for (std::size_t i = 0; i < list.size(); ++i)
            if ((parts[i] == which) == inside) out.push_back(list[i]);
        return out;
    };
    for (auto& column : some.predictors) column = keep(column);
    some.y = keep(all.y);
    some.sigma = keep(all.sigma);
    some.sigmaX = keep(all.sigmaX);
    return some;
}

// What one candidate, made from the rest, says at the points that were left out, member by member; nothing
// where the rest does not determine it.
using Predictor = std::function<std::optional<std::vector<std::vector<double>>>(
    FitProblem rest, const std::vector<FitMember>& out)>;

Predictor predictorOf(const FitReport& whole, const FitOptions& options, const Cancellation& stop) {
    return [&](FitProblem rest,
               const std::vector<FitMember>& out) -> std::optional<std::vector<std::vector<double>>> {
        beginAt(whole, rest);
        const auto report = fit(rest, options, stop);
        // What the rest does not determine is no prediction: it would be where the whole fit had left it.
        if (!report || report->state == FitState::Undetermined || report->state == FitState::Stopped)
            return {};
        std::vector<std::vector<double>> all;
        for (std::size_t m = 0; m < out.size(); ++m) {
            const std::vector<std::span<const double>> xs(out[m].predictors.begin(), out[m].predictors.end());
            all.push_back(curve(*rest.members[m].model, report->members[m], xs));
        }
        return all;
    };
}

Predictor predictorOf(const FreeForm& free) {
    return [&](const FitProblem& rest,
               const std::vector<FitMember>& out) -> std::optional<std::vector<std::vector<double>>> {
        auto found = free.predicted(rest.members[0], out[0].predictors[0]);
        if (!found) return {};
        std::vector<std::vector<double>> all;
        all.push_back(std::move(*found));
        return all;
    };
}

// The root mean weighted square over all that is left out in turn; NaN where some could not be predicted.
double predictionError(const FitProblem& problem, const Predictor& predicted, const CompareOptions& options,
                       const Cancellation& stop) {
    std::vector<std::vector<int>> parts;
    int most = 0;
    for (const FitMember& m : problem.members) {
        parts.push_back(dealt(m, options));
        for (int p : parts.back()) most = std::max(most, p);
    }
    std::vector<double> squares(static_cast<std::size_t>(most) + 1, NAN), weights(squares.size(), 0);
    parallelRanges(squares.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t k = begin; k < end && !stop.stop_requested(); ++k) {
            FitProblem rest = problem;
            std::vector<FitMember> out;
            for (std::size_t m = 0; m < rest.members.size(); ++m) {
                rest.members[m] = partOf(problem.members[m], parts[m], static_cast<int>(k), false);
                out.push_back(partOf(problem.members[m], parts[m], static_cast<int>(k), true));
            }
            const auto found = predicted(std::move(rest), out);
            if (!found) continue;
            squares[k] = 0;
            for (std::size_t m = 0; m < out.size(); ++m)
                for (std::size_t i = 0; i < out[m].y.size(); ++i) {
                    const double off = out[m].y[i] - (*found)[m][i];
                    squares[k] += out[m].weight(i) * off * off;
                    weights[k] += out[m].weight(i);
                }
        }
    });
    double sum = 0, weight = 0;
    for (std::size_t k = 0; k < squares.size(); ++k) sum += squares[k], weight += weights[k];
    return std::sqrt(sum / weight);
}

void weigh(ModelComparison& c) {
    double aicc = INFINITY, bic = INFINITY, total = 0;
    for (const Compared& m : c.models)
        if (isUsable(m)) aicc = std::min(aicc, m.aicc), bic = std::min(bic, m.bic);
    for (Compared& m : c.models) {
        if (!isUsable(m)) continue;
        m.aiccDifference = m.aicc - aicc;
        m.bicDifference = m.bic - bic;
        m.weight = std::exp(-m.aiccDifference / 2);
        if (std::isfinite(m.weight)) total += m.weight;
    }
    for (Compared& m : c.models) m.weight = isUsable(m) && std::isfinite(m.weight) ? m.weight / total : 0;
}

void takeFit(const Candidate& candidate, const CompareOptions& options, const Cancellation& stop,
             Compared& c) {
    auto report =
        candidate.report ? Result<FitReport>(*candidate.report) : fit(candidate.problem, options.fit, stop);
    if (!report) {
        c.why = report.error().text;
        return;
    }
    c.k = freeIn(*report);
    c.rss = report->rss;
    c.aicc = report->aicc, c.bic = report->bic;
    c.runsP = report->runsP;
    c.report = std::move(*report);
    if (options.leaveOut != LeaveOut::Nothing)
        c.predictionError =
            predictionError(candidate.problem, predictorOf(*c.report, options.fit, stop), options, stop);
}

void takeFree(const Candidate& candidate, const CompareOptions& options, const Cancellation& stop,
              Compared& c) {
    const FitMember& points = candidate.problem.members.front();
    c.free = true;
    c.k = candidate.free->dof;
    std::vector<double> residuals(points.y.size());
    c.rss = 0;
    for (std::size_t i = 0; i < residuals.size(); ++i) {
        residuals[i] = points.y[i] - candidate.free->fitted[i];
        c.rss += points.weight(i) * residuals[i] * residuals[i];
    }
    // A curve through every point has none left to be judged by.
    if (c.k < static_cast<double>(points.y.size())) {
        const Criteria criteria = criteriaOf(c.rss, c.k, points.y.size(), candidate.problem.absolute);
        c.aicc = criteria.aicc, c.bic = criteria.bic;
    }
    if (const RunsTest runs = runsTest(residuals); runs.few) c.runsP = runs.p;
    if (options.leaveOut != LeaveOut::Nothing)
        c.predictionError = predictionError(candidate.problem, predictorOf(*candidate.free), options, stop);
}

} // namespace

bool haveSamePoints(const FitProblem& a, const FitProblem& b) {
    if (a.absolute != b.absolute || a.members.size() != b.members.size()) return false;
    for (std::size_t m = 0; m < a.members.size(); ++m)
        if (a.members[m].y != b.members[m].y || a.members[m].sigma != b.members[m].sigma ||
            a.members[m].predictors != b.members[m].predictors)
            return false;
    return true;
}

std::optional<std::size_t> ModelComparison::best() const {
    std::optional<std::size_t> found;
    for (std::size_t k = 0; k < models.size(); ++k)
        if (isUsable(models[k]) && (!found || models[k].aicc < models[*found].aicc)) found = k;
    return found;
}

Result<ModelComparison> compareModels(const std::vector<Candidate>& candidates, const CompareOptions& options,
                                      const Cancellation& stop) {
    if (candidates.empty()) return failure("no-models", "There is no model to compare.");
    for (const Candidate& c : candidates)
        if (!haveSamePoints(c.problem, candidates.front().problem))
            return failure("different-points",
                           fmt::format("“{}” and “{}” are not fits of the same points with the same "
                                       "weights; they cannot be compared.",
                                       candidates.front().name, c.name));
    ModelComparison out{.absolute = candidates.front().problem.absolute,
                        .n = candidates.front().problem.observationCount()};
    out.models.resize(candidates.size());
    parallelRanges(candidates.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t k = begin; k < end; ++k) {
            out.models[k].name = candidates[k].name;
            candidates[k].free ? takeFree(candidates[k], options, stop, out.models[k])
                               : takeFit(candidates[k], options, stop, out.models[k]);
        }
    });
    weigh(out);
    for (std::size_t a = 0; a < candidates.size(); ++a)
        for (std::size_t b = 0; b < candidates.size(); ++b)
            if (isUsable(out.models[a]) && isUsable(out.models[b]) && out.models[a].report &&
                out.models[b].report && out.models[a].k < out.models[b].k && !stop.stop_requested() &&
                holds(candidates[b].problem, *out.models[a].report, options.fit, stop))
                out.tests.push_back(tested(out, a, b));
    return out;
}

namespace {

std::string percent(double weight) {
    return weight > 0.99 ? "more than 99 %" : fmt::format("{:.0f} %", 100 * weight);
}

void addAgainst(const ModelComparison& c, std::size_t best, Verdict& v) {
    const Compared& b = c.models[best];
    if (b.report && b.report->state != FitState::Converged)
        v.against.push_back(fmt::format("its fit is {}", stateText(b.report->state)));
    if (b.k > 0 && static_cast<double>(c.n) / b.k < kFewPerParameter)
        v.against.push_back(fmt::format("{} for {} are few", counted(static_cast<long long>(c.n), "point"),
                                        b.free ? fmt::format("{:.3g} degrees of freedom", b.k)
                                               : counted(std::llround(b.k), "parameter")));
    if (b.free) v.against.push_back("it is no formula and has no parameters");
    if (b.runsP < 0.01) v.against.push_back("its residuals still follow a pattern");
    for (const NestedTest& t : c.tests) {
        if (t.larger == best && t.p > 0.05)
            v.against.push_back(fmt::format("the {} test finds it no better than “{}” ({})",
                                            c.absolute ? "χ²" : "F", c.models[t.simpler].name,
                                            stats::probabilityText(t.p)));
        if (t.simpler == best && t.p < 0.05)
            v.against.push_back(fmt::format("the {} test prefers “{}” to it ({})", c.absolute ? "χ²" : "F",
                                            c.models[t.larger].name, stats::probabilityText(t.p)));
    }
    const Compared* predicts = &b;
    for (const Compared& m : c.models)
        if (m.predictionError < predicts->predictionError * (1 - 1e-9)) predicts = &m;
    if (predicts != &b)
        v.against.push_back(fmt::format("“{}” predicts what is left out better", predicts->name));
}

} // namespace

Verdict verdictOf(const ModelComparison& c) {
    const auto best = c.best();
    if (!best) return {"None of the models could be fitted.", {}};
    const Compared& b = c.models[*best];
    Verdict v;
    if (c.models.size() == 1)
        v.sentence = fmt::format("“{}” stands alone: give it others to be compared with.", b.name);
    else if (b.weight >= kClear)
        v.sentence =
            fmt::format("The points speak for “{}”, with {} of the weight.", b.name, percent(b.weight));
    else if (b.weight >= kLittle)
        v.sentence =
            fmt::format("The points lean to “{}”, with {} of the weight.", b.name, percent(b.weight));
    else
        v.sentence =
            fmt::format("The points do not decide: “{}” has {} of the weight.", b.name, percent(b.weight));
    addAgainst(c, *best, v);
    return v;
}

} // namespace jointer::fit
