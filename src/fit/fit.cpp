// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/fit.h"

#include "base/text.h"
#include "fit/attempt.h"
#include "fit/inference.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <random>

namespace jointer::fit {

using Eigen::Index, Eigen::MatrixXd, Eigen::VectorXd;

namespace {

constexpr std::string_view kStates[] = {"converged", "on-limit", "undetermined", "not-converged", "stopped"};
constexpr std::string_view kTreatments[] = {"free", "fixed", "tied"};

} // namespace

std::string_view stateKey(FitState s) {
    return kStates[static_cast<int>(s)];
}

FitState stateFromKey(std::string_view key) {
    const auto at = std::ranges::find(kStates, key);
    return at == std::end(kStates) ? FitState::NotConverged : static_cast<FitState>(at - std::begin(kStates));
}

std::string_view treatmentKey(Treatment t) {
    return kTreatments[static_cast<int>(t)];
}

Treatment treatmentFromKey(std::string_view key) {
    const auto at = std::ranges::find(kTreatments, key);
    return at == std::end(kTreatments) ? Treatment::Free
                                       : static_cast<Treatment>(at - std::begin(kTreatments));
}

std::string_view stateText(FitState s) {
    static constexpr std::string_view texts[] = {"converged", "on a limit", "undetermined", "not converged",
                                                 "stopped"};
    return texts[static_cast<int>(s)];
}

std::vector<double> FitReport::values() const {
    std::vector<double> v;
    for (const ParameterResult& p : parameters) v.push_back(p.value);
    return v;
}

namespace {

Result<void> check(const FitProblem& problem) {
    if (!problem.model) return failure("no-model", "Choose a model first.");
    const std::size_t n = problem.y.size();
    if (n == 0)
        return failure("no-points",
                       "There are no points to fit: all are missing, left out or outside the span.");
    if (problem.predictors.size() != problem.model->predictorCount())
        return failure(
            "predictors",
            fmt::format("The model needs {}, but {} given.",
                        counted(static_cast<long long>(problem.model->predictorCount()), "predictor"),
                        problem.predictors.size() == 1 ? "one is" : "several are"));
    const bool ragged = std::ranges::any_of(problem.predictors, [&](const auto& x) { return x.size() != n; });
    if (ragged || (!problem.sigma.empty() && problem.sigma.size() != n))
        return failure("sizes", "The columns of the fit have different lengths.");
    for (double s : problem.sigma)
        if (!(s > 0) || !std::isfinite(s))
            return failure("bad-uncertainty", "Each uncertainty used as a weight must be a positive number; "
                                              "leave out the points without one, or fit without weights.");
    return {};
}

// One spec for each parameter of the model, in its order: what was told, within where the model has meaning.
Result<std::vector<ParameterSpec>> completeSpecs(const FitProblem& problem) {
    std::vector<ParameterSpec> specs;
    std::vector<std::string> names;
    for (const models::ParameterInfo& info : problem.model->parameters()) {
        specs.push_back({.name = info.name, .lower = info.lowest, .upper = info.highest});
        names.push_back(info.name);
    }
    for (const ParameterSpec& given : problem.parameters) {
        const auto at = std::ranges::find(specs, given.name, &ParameterSpec::name);
        if (at == specs.end())
            return failure("unknown-parameter",
                           fmt::format("The model has no parameter called {}; it has {}.", given.name,
                                       joined(names, ", ")));
        if (given.lower > given.upper)
            return failure("limits",
                           fmt::format("The lower limit of {} is above its upper limit.", given.name));
        const ParameterSpec model = *at;
        *at = given;
        at->lower = std::max(given.lower, model.lower);
        at->upper = std::min(given.upper, model.upper);
    }
    return specs;
}

Curve asCurve(const FitProblem& problem) {
    Curve c;
    c.x = problem.predictors[0];
    c.y = problem.y;
    c.sigma = problem.sigma;
    return c;
}

// Other start values by rule: the first ones multiplied by random factors that grow with each attempt.
std::vector<double> perturbed(const std::vector<double>& first, const std::vector<ParameterSpec>& specs,
                              int attempt, std::mt19937_64& random) {
    std::vector<double> out = first;
    const double width = 0.5 + 0.15 * attempt;
    for (std::size_t k = 0; k < out.size(); ++k) {
        // Own normal numbers: the library's differ from one implementation to the next.
        const double u = (static_cast<double>(random() >> 11) + 0.5) * 0x1p-53,
                     v = (static_cast<double>(random() >> 11) + 0.5) * 0x1p-53;
        const double normal = std::sqrt(-2 * std::log(u)) * std::cos(2 * M_PI * v);
        const bool flip = attempt % 3 == 2 && (random() & 3) == 0;
        if (specs[k].treatment != Treatment::Free) continue;
        const bool boxed = std::isfinite(specs[k].lower) && std::isfinite(specs[k].upper);
        if (boxed && attempt % 2 == 1)
            out[k] = specs[k].lower + u * (specs[k].upper - specs[k].lower);
        else
            out[k] = (out[k] == 0 ? 0.1 : out[k]) * std::exp(width * normal) * (flip ? -1 : 1);
        out[k] = std::clamp(out[k], specs[k].lower, specs[k].upper);
    }
    return out;
}

constexpr int kMostRestarts = 40;

// Whether an attempt is good enough to be believed without trying others.
bool looksRight(const Attempt& a, double totalSquares) {
    return a.state == FitState::Converged && a.solved.rss <= 0.5 * totalSquares;
}

bool isBetter(const Attempt& a, const Attempt& b) {
    // A fit with all parameters determined is preferred to one that is lower by a hair only.
    const bool aGood = a.state == FitState::Converged, bGood = b.state == FitState::Converged;
    if (aGood != bGood &&
        std::abs(a.solved.rss - b.solved.rss) <= 1e-6 * std::max(a.solved.rss, b.solved.rss))
        return aGood;
    return a.solved.rss < b.solved.rss;
}

// Restarts by rule, with a fixed seed: the best attempt, and ends early once the best is found again.
Attempt withRestarts(const Fitter& fitter, Attempt best, const FitOptions& options, double totalSquares,
                     int& used, const Cancellation& stop) {
    std::mt19937_64 random(20310502);
    int same = 0;
    const double cost =
        static_cast<double>(fitter.observationCount()) * static_cast<double>(fitter.specs().size());
    const int most = static_cast<int>(std::clamp(4e6 / cost, 4.0, static_cast<double>(kMostRestarts)));
    const std::vector<double> first = best.start;
    for (int k = 0; k < most && same < 2 && !stop.stop_requested(); ++k, ++used) {
        Attempt next = fitter.attempt(fitter.withLinearSolved(perturbed(first, fitter.specs(), k, random)),
                                      options, stop);
        const bool again = std::abs(next.solved.rss - best.solved.rss) <= 1e-8 * best.solved.rss;
        if (isBetter(next, best)) {
            if (!again) same = 0;
            best = std::move(next);
        }
        if (again && looksRight(best, totalSquares)) ++same;
    }
    return best;
}

// How many signs and pairwise orders two sets of values have in common.
int likeness(const std::vector<double>& a, const std::vector<double>& b) {
    int alike = 0;
    for (std::size_t i = 0; i < a.size(); ++i) {
        alike += 4 * (std::signbit(a[i]) == std::signbit(b[i]));
        for (std::size_t k = 0; k < i; ++k) alike += (a[i] < a[k]) == (b[i] < b[k]);
    }
    return alike;
}

// Equal components may have changed places on a detour through other start values: of two solutions that are
// the same but for names, the one ordered like the start values is meant.
Attempt orderedLikeStart(const Fitter& fitter, Attempt best, const std::vector<double>& start,
                         const FitOptions& options, const Cancellation& stop) {
    const auto linear = fitter.linearParameters(best.values);
    std::vector<std::size_t> others;
    for (Index k = 0; k < fitter.map().freeCount(); ++k)
        if (std::ranges::find(linear, k) == linear.end())
            others.push_back(fitter.map().free()[static_cast<std::size_t>(k)]);
    for (std::size_t i = 0; i < others.size(); ++i)
        for (std::size_t k = 0; k < i && !stop.stop_requested(); ++k) {
            std::vector<double> swapped = best.values;
            std::swap(swapped[others[i]], swapped[others[k]]);
            swapped = fitter.withLinearSolved(std::move(swapped));
            if (likeness(swapped, start) <= likeness(best.values, start)) continue;
            Attempt other = fitter.attempt(std::move(swapped), options, stop);
            if (other.state == best.state &&
                std::abs(other.solved.rss - best.solved.rss) <= 1e-9 * best.solved.rss)
                best = std::move(other);
        }
    return best;
}

double weightedTotal(const FitProblem& problem, bool aboutZero) {
    double sw = 0, swy = 0, total = 0;
    auto weight = [&](std::size_t i) {
        return problem.sigma.empty() ? 1.0 : 1 / (problem.sigma[i] * problem.sigma[i]);
    };
    for (std::size_t i = 0; i < problem.y.size(); ++i) {
        sw += weight(i);
        swy += weight(i) * problem.y[i];
    }
    const double mean = aboutZero ? 0 : swy / sw;
    for (std::size_t i = 0; i < problem.y.size(); ++i)
        total += weight(i) * (problem.y[i] - mean) * (problem.y[i] - mean);
    return total;
}

void addQuality(FitReport& r, const FitProblem& problem, const Fitter& fitter, Index rankLacks) {
    const Index rank = fitter.map().freeCount() - rankLacks;
    const auto n = static_cast<double>(r.n), free = static_cast<double>(rank);
    r.dof = static_cast<long>(r.n) - rank;
    const double dof = static_cast<double>(r.dof);
    r.residualSd = r.dof > 0 ? std::sqrt(r.rss / dof) : std::nan("");
    r.absolute = problem.absolute && !problem.sigma.empty();
    if (r.absolute) {
        r.chi2 = r.rss;
        if (r.dof > 0) r.reducedChi2 = r.rss / dof;
    }
    r.r2AboutZero = problem.model->isLinear() && !fitter.spansConstant();
    const double total = weightedTotal(problem, r.r2AboutZero);
    r.r2 = total > 0 ? 1 - r.rss / total : std::nan("");
    r.adjustedR2 = r.dof > 0 ? 1 - (1 - r.r2) * (n - (r.r2AboutZero ? 0 : 1)) / dof : std::nan("");
    const double k = free + 1;
    r.aicc = n - k - 1 > 0 ? n * std::log(r.rss / n) + 2 * k + 2 * k * (k + 1) / (n - k - 1) : std::nan("");
    r.bic = n * std::log(r.rss / n) + k * std::log(n);
    r.runsP = runsProbability(r.residuals);
    double variance = 0;
    for (double s : problem.sigma) variance += s * s / n;
    r.typicalVariance = r.absolute              ? variance
                        : problem.sigma.empty() ? r.residualSd * r.residualSd
                                                : r.residualSd * r.residualSd * variance;
}

void addWarnings(FitReport& r, bool isLinear) {
    auto warn = [&](const char* code, std::string text) {
        r.warnings.push_back({code, std::move(text), {}});
    };
    std::vector<std::string> onLimit, undetermined;
    for (const ParameterResult& p : r.parameters) {
        if (p.atLimit) onLimit.push_back(p.name);
        if (!p.determined) undetermined.push_back(p.name);
    }
    if (r.state == FitState::NotConverged)
        warn("not-converged", "The fit did not converge: the numbers are only where it stood. Other start "
                              "values, limits or a simpler model may help.");
    if (!undetermined.empty())
        warn("undetermined", fmt::format("The data do not determine {}: other values fit as well. Fix one of "
                                         "them, or use a simpler model.",
                                         joined(undetermined, " and ")));
    if (!onLimit.empty())
        warn("on-limit",
             fmt::format(
                 "{} ended on a limit: {} error is not known, and the others hold only for that value.",
                 joined(onLimit, " and "), onLimit.size() == 1 ? "its" : "their"));
    if (r.dof <= 0 && undetermined.empty())
        warn("too-few-points", fmt::format("{} cannot fix {} with an error: more points are needed.",
                                           counted(static_cast<long long>(r.n), "point"),
                                           counted(static_cast<long long>(r.n) - r.dof, "free parameter")));
    if (r.runsP < 0.01 && r.n >= 12)
        warn("residuals-not-random",
             fmt::format("The residuals are not random (runs test p {}): the model may be too simple.",
                         r.runsP < 0.001 ? "< 0.001" : fmt::format("= {:.3f}", r.runsP)));
    if (r.r2AboutZero)
        warn("r2-about-zero", "The model has no constant, so R² is taken about zero and cannot be compared "
                              "with that of other models.");
    std::vector<std::string> free;
    for (const ParameterResult& p : r.parameters)
        if (p.treatment == Treatment::Free) free.push_back(p.name);
    // Correlation endangers only what it leaves without digits: both numbers drown in their errors.
    auto drowns = [&](Index k) {
        const auto p =
            std::ranges::find(r.parameters, free[static_cast<std::size_t>(k)], &ParameterResult::name);
        return p->se > 0.5 * std::abs(p->value);
    };
    for (Index i = 0; i < r.correlation.rows() && !isLinear; ++i)
        for (Index j = i + 1; j < r.correlation.cols(); ++j)
            if (std::abs(r.correlation(i, j)) > 0.99 && drowns(i) && drowns(j))
                warn("correlated",
                     fmt::format(
                         "{} and {} go {} each other ({}), so that neither is known: fix one of them, or "
                         "take a simpler model.",
                         free[static_cast<std::size_t>(i)], free[static_cast<std::size_t>(j)],
                         r.correlation(i, j) < 0 ? "against" : "with",
                         readableNumber(r.correlation(i, j), 4)));
}

} // namespace

Result<FitReport> fit(const FitProblem& problem, const FitOptions& options, const Cancellation& stop) {
    if (auto good = check(problem); !good) return std::unexpected(good.error());
    if (!(options.level > 0 && options.level < 1))
        return failure("level", "The level of intervals lies between 0 and 1, such as 0.95.");
    auto specs = completeSpecs(problem);
    if (!specs) return std::unexpected(specs.error());
    auto map = ParameterMap::make(*specs);
    if (!map) return std::unexpected(map.error());

    const auto rule = problem.model->guess(asCurve(problem));
    std::vector<double> start(specs->size());
    bool unknownStart = false;
    for (std::size_t k = 0; k < start.size(); ++k) {
        const ParameterSpec& s = (*specs)[k];
        unknownStart |= !s.start && !rule && s.treatment == Treatment::Free;
        start[k] = std::clamp(s.start ? *s.start : rule ? (*rule)[k] : 1.0, s.lower, s.upper);
    }

    const Fitter fitter(problem, std::move(*specs), std::move(*map));
    const bool held = options.maxIterations == 0; // the start values themselves are asked for
    Attempt best = held ? Attempt{} : fitter.linearAttempt(start);
    FitReport report;
    if (best.state != FitState::Converged) {
        best = fitter.attempt(unknownStart && !held ? fitter.withLinearSolved(start) : start, options, stop);
        const double total = weightedTotal(problem, false);
        const bool mend = options.restarts && !options.provisional && fitter.map().freeCount() > 0 &&
                          !problem.model->isLinear();
        if (mend && (unknownStart || !looksRight(best, total))) {
            best = withRestarts(fitter, std::move(best), options, total, report.restarts, stop);
            best = orderedLikeStart(fitter, std::move(best), start, options, stop);
        }
    }
    report.n = problem.y.size();
    report.iterations = best.solved.iterations;
    report.state = best.state;
    report.rss = best.solved.rss;
    report.starts = best.start;
    report.level = options.level;
    fitter.residuals(best, report.fitted, report.residuals);
    addQuality(report, problem, fitter, best.unseen.cols());
    report.provisional = options.provisional;
    if (options.provisional) {
        for (std::size_t k = 0; k < best.values.size(); ++k)
            report.parameters.push_back(
                {fitter.specs()[k].name, best.values[k], NAN, NAN, NAN, fitter.specs()[k].treatment});
        return report;
    }
    infer(fitter, best, report);
    addWarnings(report, problem.model->isLinear());
    return report;
}

} // namespace jointer::fit
