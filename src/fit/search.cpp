// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/search.h"

#include "fit/quality.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace jointer::fit {

using Eigen::Index, Eigen::VectorXd;

namespace {

// Other start values by rule: the first ones multiplied by random factors that grow with each attempt.
std::vector<double> perturbed(const std::vector<double>& first, const Fitter& fitter, int attempt,
                              std::mt19937_64& random) {
    VectorXd out = fitter.map().freeOf(first);
    const double width = 0.5 + 0.15 * attempt;
    for (Index k = 0; k < out.size(); ++k) {
        // Own normal numbers: the library's differ from one implementation to the next.
        const double u = (static_cast<double>(random() >> 11) + 0.5) * 0x1p-53,
                     v = (static_cast<double>(random() >> 11) + 0.5) * 0x1p-53;
        const double normal = std::sqrt(-2 * std::log(u)) * std::cos(2 * M_PI * v);
        const bool flip = attempt % 3 == 2 && (random() & 3) == 0;
        const ParameterSpec& spec = fitter.specOfFree(k);
        const bool boxed = std::isfinite(spec.lower) && std::isfinite(spec.upper);
        if (boxed && attempt % 2 == 1)
            out[k] = spec.lower + u * (spec.upper - spec.lower);
        else
            out[k] = (out[k] == 0 ? 0.1 : out[k]) * std::exp(width * normal) * (flip ? -1 : 1);
        out[k] = std::clamp(out[k], spec.lower, spec.upper);
    }
    return fitter.map().all(out, first);
}

constexpr int kMostRestarts = 40;
constexpr double kRestartBudget = 6e5;        // observations × parameters: of large problems fewer are tried
constexpr int kSameRight = 2, kSameAtAll = 5; // times the best is found again, then it is believed

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

// What is still worse than the best after so many iterations is given up.
constexpr int kTrial = 100;

Attempt triedFrom(const Fitter& fitter, std::vector<double> start, const Attempt& best,
                  const FitOptions& options, const Cancellation& stop) {
    FitOptions trial = options;
    trial.maxIterations = std::min(options.maxIterations, kTrial);
    Attempt next = fitter.attempt(std::move(start), trial, stop);
    if (next.state != FitState::NotConverged || options.maxIterations <= kTrial || !isBetter(next, best))
        return next;
    return fitter.attempt(next.values, options, stop);
}

// Restarts by rule, with a fixed seed: the best attempt, and ends early once the best is found again.
Attempt withRestarts(const Fitter& fitter, Attempt best, const FitOptions& options, double totalSquares,
                     int& used, const Cancellation& stop) {
    std::mt19937_64 random(20310502);
    int right = 0, same = 0;
    const double cost = static_cast<double>(fitter.observationCount() * fitter.map().parameters());
    const int most =
        static_cast<int>(std::clamp(kRestartBudget / cost, 4.0, static_cast<double>(kMostRestarts)));
    const std::vector<double> first = best.start;
    for (int k = 0; k < most && right < kSameRight && same < kSameAtAll && !stop.stop_requested();
         ++k, ++used) {
        Attempt next = triedFrom(fitter, fitter.withLinearSolved(perturbed(first, fitter, k, random)), best,
                                 options, stop);
        const bool again = std::abs(next.solved.rss - best.solved.rss) <= 1e-8 * best.solved.rss;
        if (isBetter(next, best)) {
            if (!again) right = same = 0;
            best = std::move(next);
        }
        same += again;
        right += again && looksRight(best, totalSquares);
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

Curve asCurve(const FitMember& member) {
    Curve c;
    c.x = member.predictors[0];
    c.y = member.y;
    c.sigma = member.sigma;
    c.more.assign(member.predictors.begin() + 1, member.predictors.end());
    return c;
}

struct Starts {
    std::vector<double> values;
    bool unknown = false; // some by no rule
};

// Of every member: what was told, else by the model's rule. A shared one starts in the middle of its members.
Starts startsOf(const Fitter& fitter) {
    const std::size_t count = fitter.map().parameters(), members = fitter.map().members();
    Starts out{.values = std::vector<double>(members * count)};
    for (std::size_t m = 0; m < members; ++m) {
        const FitMember& member = fitter.problem().members[m];
        const bool told = std::ranges::all_of(fitter.specs()[m], [](const ParameterSpec& s) {
            return s.start || s.treatment == Treatment::Tied;
        });
        const auto rule = told ? std::nullopt : member.model->guess(asCurve(member));
        for (std::size_t k = 0; k < count; ++k) {
            const ParameterSpec& s = fitter.specs()[m][k];
            out.unknown |= !s.start && !rule && s.treatment == Treatment::Free;
            out.values[m * count + k] = std::clamp(s.start ? *s.start
                                                   : rule  ? (*rule)[k]
                                                           : 1.0,
                                                   s.lower, s.upper);
        }
    }
    return out;
}

// The middle one of the values that the members have for each shared parameter, in all of them.
std::vector<double> withSharedInTheMiddle(const Fitter& fitter, std::vector<double> values) {
    const std::size_t count = fitter.map().parameters(), members = fitter.map().members();
    for (std::size_t k = 0; k < count; ++k) {
        std::vector<double> theirs;
        for (std::size_t m = 0; m < members; ++m) {
            const ParameterSpec& s = fitter.specs()[m][k];
            if (s.shared && s.treatment == Treatment::Free) theirs.push_back(values[m * count + k]);
        }
        if (theirs.empty()) continue;
        const auto middle = theirs.begin() + std::ssize(theirs) / 2;
        std::ranges::nth_element(theirs, middle);
        for (std::size_t m = 0; m < members; ++m)
            if (fitter.specs()[m][k].shared && fitter.specs()[m][k].treatment == Treatment::Free)
                values[m * count + k] = *middle;
    }
    return values;
}

Search soughtFrom(const Fitter& fitter, const Starts& starts, const FitOptions& options,
                  const Cancellation& stop) {
    Search out;
    const bool held = options.maxIterations == 0; // the start values themselves are asked for
    if (!held) out.best = fitter.linearAttempt(starts.values);
    if (out.best.state == FitState::Converged) return out;
    out.best = fitter.attempt(
        starts.unknown && !held ? fitter.withLinearSolved(starts.values) : starts.values, options, stop);
    const double total = weightedTotal(fitter.problem(), false);
    const bool mend = options.restarts && !options.provisional && !held && fitter.map().freeCount() > 0 &&
                      !fitter.isLinear();
    if (mend && (starts.unknown || !looksRight(out.best, total))) {
        out.best = withRestarts(fitter, std::move(out.best), options, total, out.restarts, stop);
        out.best = orderedLikeStart(fitter, std::move(out.best), starts.values, options, stop);
    }
    return out;
}

// Each member by itself, as if nothing were shared.
std::vector<Search> apart(const Fitter& fitter, const FitOptions& options, const Cancellation& stop) {
    const std::size_t members = fitter.map().members();
    std::vector<Search> out(members);
    parallelRanges(members, 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t m = begin; m < end; ++m) {
            const FitProblem alone{.members = {fitter.problem().members[m]},
                                   .absolute = fitter.problem().absolute};
            const Fitter one(alone, {fitter.specs()[m]}, *ParameterMap::make({fitter.specs()[m]}));
            out[m] = soughtFrom(one, startsOf(one), options, stop);
        }
    });
    return out;
}

// What the members found each for itself, as one attempt at the whole where nothing is shared.
Attempt putTogether(const Fitter& fitter, const std::vector<Search>& found) {
    Attempt a;
    for (const Search& one : found) {
        a.start.insert(a.start.end(), one.best.start.begin(), one.best.start.end());
        a.values.insert(a.values.end(), one.best.values.begin(), one.best.values.end());
        a.solved.rss += one.best.solved.rss;
        a.solved.iterations = std::max(a.solved.iterations, one.best.solved.iterations);
    }
    const auto worst = std::ranges::max_element(
        found, {}, [](const Search& s) { return s.best.solved.end == SolverEnd::Converged ? 0 : 1; });
    a.solved.end = worst->best.solved.end;
    a.solved.p = fitter.map().freeOf(a.values);
    a.state = fitter.judged(a);
    return a;
}

// The free parameters that a step does not let free are kept where they stand.
Result<Fitter> heldBut(const Fitter& fitter, const std::vector<std::string>& released,
                       const std::vector<double>& values) {
    std::vector<Specs> specs = fitter.specs();
    for (std::size_t m = 0; m < specs.size(); ++m)
        for (std::size_t k = 0; k < specs[m].size(); ++k) {
            ParameterSpec& s = specs[m][k];
            if (s.treatment != Treatment::Free || std::ranges::find(released, s.name) != released.end())
                continue;
            s.treatment = Treatment::Fixed;
            s.start = values[m * specs[m].size() + k];
        }
    auto map = ParameterMap::make(specs);
    if (!map) return std::unexpected(map.error());
    return Fitter(fitter.problem(), std::move(specs), std::move(*map));
}

// Steps of release: where the last of them has come to.
std::vector<double> afterSchedule(const Fitter& fitter, std::vector<double> values, const FitOptions& options,
                                  std::vector<Stage>& stages, const Cancellation& stop) {
    std::vector<std::string> released;
    for (const std::vector<std::string>& step : fitter.problem().schedule) {
        if (stop.stop_requested()) break;
        released.insert(released.end(), step.begin(), step.end());
        const auto held = heldBut(fitter, released, values);
        if (!held || held->map().freeCount() == 0) continue;
        Attempt a = held->attempt(held->withLinearSolved(values), options, stop);
        values = a.values;
        stages.push_back({step, a.state, a.solved.rss, a.solved.iterations});
    }
    return values;
}

Search soughtBySchedule(const Fitter& fitter, const FitOptions& options, const Cancellation& stop) {
    Starts starts = startsOf(fitter);
    starts.values = withSharedInTheMiddle(fitter, std::move(starts.values));
    std::vector<Stage> stages;
    starts.values = afterSchedule(fitter, std::move(starts.values), options, stages, stop);
    starts.unknown = false;
    Search out = soughtFrom(fitter, starts, options, stop);
    out.stages = std::move(stages);
    return out;
}

bool isSameEnd(const Attempt& a, const End& end) {
    return a.state == end.state &&
           std::abs(a.solved.rss - end.rss) <= 1e-6 * std::max(a.solved.rss, end.rss) + 1e-300;
}

// Further starts about the first; the ends are listed, the best of all is taken.
void tryManyStarts(const Fitter& fitter, Search& search, const FitOptions& options,
                   const Cancellation& stop) {
    std::mt19937_64 random(options.seed);
    std::vector<std::vector<double>> starts;
    for (int k = 1; k < options.starts; ++k)
        starts.push_back(perturbed(search.best.start, fitter, (k - 1) % kMostRestarts, random));
    std::vector<Attempt> attempts(starts.size());
    parallelRanges(starts.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t k = begin; k < end && !stop.stop_requested(); ++k)
            attempts[k] = fitter.attempt(fitter.withLinearSolved(std::move(starts[k])), options, stop);
    });
    attempts.insert(attempts.begin(), search.best);
    std::erase_if(attempts,
                  [](const Attempt& a) { return a.values.empty() || !std::isfinite(a.solved.rss); });
    for (const Attempt& a : attempts) {
        const auto at = std::ranges::find_if(search.ends, [&](const End& end) { return isSameEnd(a, end); });
        if (at != search.ends.end())
            ++at->count;
        else
            search.ends.push_back({a.state, a.solved.rss, 1, a.values});
        if (isBetter(a, search.best)) search.best = a;
    }
    std::ranges::stable_sort(search.ends, {}, &End::rss);
}

Search soughtTogether(const Fitter& fitter, const FitOptions& options, const Cancellation& stop) {
    const bool quick = options.provisional || options.maxIterations <= 1;
    if (quick) {
        Starts starts = startsOf(fitter);
        starts.values = withSharedInTheMiddle(fitter, std::move(starts.values));
        return soughtFrom(fitter, starts, options, stop);
    }
    const auto found = apart(fitter, options, stop);
    Search out{.best = putTogether(fitter, found)};
    for (const Search& one : found) out.restarts += one.restarts;
    if (fitter.map().layout().shared() == 0) return out;
    out.separate = Separate{out.best.solved.rss, 0, out.best.values};
    for (const Search& one : found)
        out.separate->parameters += one.best.solved.p.size() - one.best.unseen.cols();
    Starts starts{.values = withSharedInTheMiddle(fitter, out.best.values)};
    for (std::size_t i = 0; i < starts.values.size(); ++i) { // what was told begins as told
        const ParameterSpec& s = fitter.specs()[i / fitter.map().parameters()][i % fitter.map().parameters()];
        if (s.start && s.shared) starts.values[i] = std::clamp(*s.start, s.lower, s.upper);
    }
    starts.values = fitter.withLinearSolved(std::move(starts.values));
    Search joint = soughtFrom(fitter, starts, options, stop);
    joint.restarts += out.restarts;
    joint.separate = out.separate;
    return joint;
}

} // namespace

Search sought(const Fitter& fitter, const FitOptions& options, const Cancellation& stop) {
    const bool whole = !options.provisional && options.maxIterations > 1;
    Search out = whole && !fitter.problem().schedule.empty() ? soughtBySchedule(fitter, options, stop)
                 : fitter.map().members() > 1                ? soughtTogether(fitter, options, stop)
                                              : soughtFrom(fitter, startsOf(fitter), options, stop);
    if (whole && options.starts > 1 && fitter.map().freeCount() > 0 && !fitter.isLinear())
        tryManyStarts(fitter, out, options, stop);
    return out;
}

} // namespace jointer::fit
