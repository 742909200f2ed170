// SPDX-License-Identifier: GPL-3.0-or-later
// Groups compared each with each, or each with a control, all of them considered together.
#include "stats/range_distributions.h"
#include "stats/test_tools.h"

#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace jointer::stats {

namespace {

// Every pair of groups that have values.
template <class F> std::vector<PairResult> eachPair(const OneWay& w, F compare) {
    std::vector<PairResult> out;
    for (std::size_t a = 0; a < w.groups.size(); ++a)
        for (std::size_t b = a + 1; b < w.groups.size(); ++b) {
            if (w.groups[a].n == 0 || w.groups[b].n == 0) continue;
            PairResult p{.a = a, .b = b, .difference = w.groups[a].mean - w.groups[b].mean};
            compare(w.groups[a], w.groups[b], p);
            out.push_back(p);
        }
    return out;
}

double leastP(const std::vector<PairResult>& pairs) {
    double p = NAN;
    for (const PairResult& pair : pairs) p = std::fmin(p, pair.p);
    return p;
}

void tell(PairResult& pair, double half, double p) {
    pair.low = pair.difference - half, pair.high = pair.difference + half;
    pair.p = p;
}

} // namespace

Result<TestResult> tukeyTest(const Design& d) {
    const auto w = wholeOneWay(d);
    if (!w) return std::unexpected(w.error());
    const std::size_t k = static_cast<std::size_t>(w->dofBetween) + 1;
    const StudentisedRange range(k);
    const double most = range.quantile(1 - d.level, w->dofWithin);
    TestResult r{
        .test = "tukey", .statisticName = "q", .statistic = 0, .dof = {static_cast<double>(k), w->dofWithin}};
    r.pairs = eachPair(*w, [&](const Moments& a, const Moments& b, PairResult& p) {
        const double error = std::sqrt(w->meanSquare() / 2 * (1 / a.n + 1 / b.n)),
                     q = std::abs(p.difference) / error;
        tell(p, most * error, range.tail(q, w->dofWithin));
        r.statistic = std::max(r.statistic, q);
    });
    r.p = leastP(r.pairs);
    r.notes.push_back("Intervals and p hold for all pairs together.");
    return r;
}

Result<TestResult> gamesHowellTest(const Design& d) {
    const auto w = wholeOneWay(d);
    if (!w) return std::unexpected(w.error());
    const std::size_t k = static_cast<std::size_t>(w->dofBetween) + 1;
    constexpr std::size_t kMost = 40; // each pair has a quantile of its own
    if (k > kMost)
        return cannotTest(
            fmt::format("These are {} groups: of more than {} each is not compared with each.", k, kMost));
    for (const Moments& m : w->groups)
        if (m.n == 1) return cannotTest("Each group needs two values at least.");
    const StudentisedRange range(k);
    TestResult r{
        .test = "games-howell", .statisticName = "q", .statistic = 0, .dof = {static_cast<double>(k)}};
    r.pairs = eachPair(*w, [&](const Moments& a, const Moments& b, PairResult& p) {
        const auto [whole, dof] = welchOf(a, b);
        if (!(whole > 0)) return;
        const double error = whole / std::numbers::sqrt2, q = std::abs(p.difference) / error;
        tell(p, range.quantile(1 - d.level, dof) * error, range.tail(q, dof));
        r.statistic = std::max(r.statistic, q);
    });
    r.p = leastP(r.pairs);
    r.notes.push_back("Each pair by its own variances; intervals and p hold for all pairs together.");
    return r;
}

Result<TestResult> holmTest(const Design& d) {
    const auto w = wholeOneWay(d);
    if (!w) return std::unexpected(w.error());
    const double most = quantileOfT(d.level, w->dofWithin);
    TestResult r{.test = "holm", .statisticName = "t", .statistic = 0, .dof = {w->dofWithin}};
    r.pairs = eachPair(*w, [&](const Moments& a, const Moments& b, PairResult& p) {
        const double error = std::sqrt(w->meanSquare() * (1 / a.n + 1 / b.n)), t = p.difference / error;
        tell(p, most * error, tailOfT(t, w->dofWithin));
        r.statistic = std::max(r.statistic, std::abs(t));
    });
    adjustByHolm(r.pairs);
    r.p = leastP(r.pairs);
    r.notes.push_back("By the common standard deviation; p holds for all pairs together, each interval for "
                      "its pair alone.");
    return r;
}

Result<TestResult> dunnettTest(const Design& d) {
    const auto w = wholeOneWay(d);
    if (!w) return std::unexpected(w.error());
    const std::size_t control = d.control.value_or(0);
    const Moments& c = w->groups[control];
    if (c.n == 0) return cannotTest("The control has no values.");
    std::vector<double> counts;
    for (std::size_t k = 0; k < w->groups.size(); ++k)
        if (k != control && w->groups[k].n > 0) counts.push_back(w->groups[k].n);
    if (counts.empty()) return cannotTest("There is no group beside the control.");
    const LargestFromControl largest(counts, c.n);
    const double most = largest.quantile(1 - d.level, w->dofWithin);
    TestResult r{.test = "dunnett", .statisticName = "t", .statistic = 0, .dof = {w->dofWithin}};
    for (std::size_t k = 0; k < w->groups.size(); ++k) {
        const Moments& g = w->groups[k];
        if (k == control || g.n == 0) continue;
        PairResult p{.a = k, .b = control, .difference = g.mean - c.mean};
        const double error = std::sqrt(w->meanSquare() * (1 / g.n + 1 / c.n)), t = p.difference / error;
        tell(p, most * error, largest.tail(std::abs(t), w->dofWithin));
        r.pairs.push_back(p);
        r.statistic = std::max(r.statistic, std::abs(t));
    }
    r.p = leastP(r.pairs);
    r.notes.push_back("Each group against “" + d.groups[control].name +
                      "”; intervals and p hold for all of them together.");
    return r;
}

} // namespace jointer::stats
