// SPDX-License-Identifier: GPL-3.0-or-later
// Means of one or two groups, and of each pair among several.
#include "numerics/compensated_sum.h"
#include "stats/summary.h"
#include "stats/test_tools.h"

#include <algorithm>
#include <boost/math/distributions/non_central_f.hpp>
#include <boost/math/distributions/non_central_t.hpp>
#include <boost/math/special_functions/gamma.hpp>
#include <boost/math/tools/toms748_solve.hpp>

namespace jointer::stats {

Moments momentsOf(std::span<const double> values) {
    Moments m;
    m.n = static_cast<double>(values.size());
    if (values.empty()) return m;
    const double origin = values[values.size() / 2];
    numerics::CompensatedSum sum, squares, rest;
    for (double v : values) sum.add(v - origin);
    const double mean = sum.value() / m.n;
    for (double v : values) {
        const double d = v - origin - mean;
        squares.add(d * d);
        rest.add(d);
    }
    m.mean = origin + mean + rest.value() / m.n;
    m.squares = std::max(0.0, squares.value() - rest.value() * rest.value() / m.n);
    return m;
}

std::unexpected<Issue> cannotTest(std::string why) {
    return failure("cannot-test", std::move(why));
}

namespace {

// Where a falling function of the noncentrality takes a value, from nought on.
template <class F> double noncentrality(double wanted, double start, F tail) {
    try {
        double low = 0, high = std::max(1.0, start);
        if (tail(low) < wanted) return 0;
        while (tail(high) > wanted && high < 1e6) high *= 2;
        std::uintmax_t most = 100;
        const auto ends =
            boost::math::tools::toms748_solve([&](double nc) { return tail(nc) - wanted; }, low, high,
                                              boost::math::tools::eps_tolerance<double>(40), most);
        return 0.5 * (ends.first + ends.second);
    } catch (const std::exception&) { // beyond what can be reckoned
        return NAN;
    }
}

} // namespace

EffectSize etaSquared(double f, double dofA, double dofB, double level) {
    EffectSize e{.name = "eta squared", .value = f * dofA / (f * dofA + dofB)};
    const double n = dofA + dofB + 1;
    if (!std::isfinite(f) || dofB > 1e5) return e;
    const auto end = [&](double tail) {
        const double nc = noncentrality(tail, f * dofA, [&](double at) {
            return at == 0 ? 1 - tailOfF(f, dofA, dofB)
                           : boost::math::cdf(boost::math::non_central_f(dofA, dofB, at), f);
        });
        return nc / (nc + n);
    };
    e.low = end((1 + level) / 2);
    e.high = end((1 - level) / 2);
    return e;
}

EffectSize hedgesG(double d, double nA, double nB, double dof, double level) {
    const double factor = std::exp(std::lgamma(dof / 2) - std::lgamma((dof - 1) / 2)) / std::sqrt(dof / 2);
    const double unit = std::sqrt(1 / nA + 1 / nB), t = d / unit;
    EffectSize e{.name = "Hedges’ g", .value = factor * d};
    if (!std::isfinite(d)) return e;
    if (dof > 1000 || std::abs(t) > 30) { // normal, then
        const double half = quantileOfNormal(level) * std::sqrt(unit * unit + d * d / (2 * (nA + nB)));
        e.low = factor * (d - half), e.high = factor * (d + half);
        return e;
    }
    const auto end = [&](double tail) { // the δ at which t has this lower tail
        const auto at = [&](double nc) {
            return nc == 0 ? boost::math::cdf(boost::math::students_t(dof), t)
                           : boost::math::cdf(boost::math::non_central_t(dof, nc), t);
        };
        try {
            std::uintmax_t most = 100;
            const auto ends = boost::math::tools::toms748_solve(
                [&](double nc) { return at(nc) - tail; }, t - 12 - std::abs(t), t + 12 + std::abs(t),
                boost::math::tools::eps_tolerance<double>(40), most);
            return factor * unit * 0.5 * (ends.first + ends.second);
        } catch (const std::exception&) {
            return static_cast<double>(NAN);
        }
    };
    e.low = end((1 + level) / 2);
    e.high = end((1 - level) / 2);
    return e;
}

void adjustByHolm(std::vector<PairResult>& pairs) {
    std::vector<PairResult*> order;
    for (PairResult& p : pairs)
        if (!std::isnan(p.p)) order.push_back(&p);
    std::ranges::sort(order, {}, [](const PairResult* p) { return p->p; });
    double least = 0;
    for (std::size_t k = 0; k < order.size(); ++k)
        least = order[k]->p =
            std::min(1.0, std::max(least, static_cast<double>(order.size() - k) * order[k]->p));
}

Welch welchOf(const Moments& a, const Moments& b) {
    const double va = a.variance() / a.n, vb = b.variance() / b.n, v = va + vb;
    return {std::sqrt(v), v * v / (va * va / (a.n - 1) + vb * vb / (b.n - 1))};
}

OneWay oneWayOf(const std::vector<Group>& groups) {
    OneWay out;
    double origin = NAN;
    for (const Group& g : groups) {
        out.groups.push_back(momentsOf(g.values));
        if (std::isnan(origin)) origin = out.groups.back().mean;
        out.n += out.groups.back().n;
    }
    numerics::CompensatedSum sum, within;
    for (const Moments& m : out.groups)
        if (m.n > 0) sum.add(m.n * (m.mean - origin)), within.add(m.squares);
    const double mean = sum.value() / out.n;
    numerics::CompensatedSum between;
    for (const Moments& m : out.groups)
        if (m.n > 0) between.add(m.n * (m.mean - origin - mean) * (m.mean - origin - mean));
    out.between = between.value();
    out.within = within.value();
    const auto filled =
        static_cast<double>(std::ranges::count_if(out.groups, [](const Moments& m) { return m.n > 0; }));
    out.dofBetween = filled - 1;
    out.dofWithin = out.n - filled;
    return out;
}

namespace {

Result<std::pair<Moments, Moments>> twoMoments(const Design& d) {
    const Moments a = momentsOf(d.groups[0].values), b = momentsOf(d.groups[1].values);
    if (a.n < 2 || b.n < 2) return cannotTest("Each of the two groups needs two values at least.");
    if (!(a.squares + b.squares > 0))
        return cannotTest("The values within the groups are all alike: nothing scatters.");
    return std::pair(a, b);
}

// A difference of means with its t, p and interval.
TestResult byT(const char* test, double difference, double error, double dof, double level) {
    TestResult r{.test = test, .statisticName = "t", .statistic = difference / error, .dof = {dof}};
    r.p = tailOfT(r.statistic, dof);
    r.differenceOf = "means";
    r.difference = difference;
    const double half = quantileOfT(level, dof) * error;
    r.low = difference - half, r.high = difference + half;
    return r;
}

EffectSize standardised(const Moments& a, const Moments& b, double level) {
    const double dof = a.n + b.n - 2, pooled = std::sqrt((a.squares + b.squares) / dof);
    return hedgesG((a.mean - b.mean) / pooled, a.n, b.n, dof, level);
}

} // namespace

Result<TestResult> oneSampleTest(const Design& d) {
    const Moments m = momentsOf(d.groups[0].values);
    if (m.n < 2 || !(m.squares > 0)) return cannotTest("One sample needs two different values at least.");
    const double sd = std::sqrt(m.variance());
    TestResult r = byT("one-sample", m.mean - d.against, sd / std::sqrt(m.n), m.n - 1, d.level);
    r.effect = {.name = "Cohen’s d", .value = (m.mean - d.against) / sd};
    return r;
}

Result<TestResult> welchTest(const Design& d) {
    const auto both = twoMoments(d);
    if (!both) return std::unexpected(both.error());
    const auto& [a, b] = *both;
    const Welch w = welchOf(a, b);
    TestResult r = byT("welch", a.mean - b.mean, w.error, w.dof, d.level);
    r.effect = standardised(a, b, d.level);
    return r;
}

Result<TestResult> studentTest(const Design& d) {
    const auto both = twoMoments(d);
    if (!both) return std::unexpected(both.error());
    const auto& [a, b] = *both;
    const double dof = a.n + b.n - 2, pooled = (a.squares + b.squares) / dof;
    TestResult r = byT("student", a.mean - b.mean, std::sqrt(pooled * (1 / a.n + 1 / b.n)), dof, d.level);
    r.effect = standardised(a, b, d.level);
    return r;
}

Result<TestResult> pairedTest(const Design& d) {
    std::vector<double> differences;
    for (const auto& s : d.subjects) differences.push_back(s[0] - s[1]);
    const Moments m = momentsOf(differences);
    if (m.n < 2 || !(m.squares > 0)) return cannotTest("The pairs need two different differences at least.");
    const double sd = std::sqrt(m.variance());
    TestResult r = byT("paired", m.mean, sd / std::sqrt(m.n), m.n - 1, d.level);
    r.effect = {.name = "Cohen’s d of the differences", .value = m.mean / sd};
    return r;
}

Result<OneWay> wholeOneWay(const Design& d) {
    OneWay w = oneWayOf(d.groups);
    if (w.dofBetween < 1) return cannotTest("Two groups with values are needed at least.");
    if (w.dofWithin < 1)
        return cannotTest("No group has two values: the scatter within groups is not known.");
    if (!(w.within > 0)) return cannotTest("The values within the groups are all alike: nothing scatters.");
    return w;
}

Result<TestResult> anovaTest(const Design& d) {
    const auto w = wholeOneWay(d);
    if (!w) return std::unexpected(w.error());
    TestResult r{.test = "anova", .statisticName = "F", .dof = {w->dofBetween, w->dofWithin}};
    r.statistic = w->between / w->dofBetween / w->meanSquare();
    r.p = tailOfF(r.statistic, w->dofBetween, w->dofWithin);
    r.effect = etaSquared(r.statistic, w->dofBetween, w->dofWithin, d.level);
    r.terms = {{"between groups", w->between, w->dofBetween, r.statistic, r.p, r.effect.value},
               {"within groups", w->within, w->dofWithin}};
    return r;
}

Result<TestResult> welchAnovaTest(const Design& d) {
    const OneWay w = oneWayOf(d.groups);
    double weights = 0, weighted = 0;
    const double k = static_cast<double>(w.groups.size());
    for (const Moments& m : w.groups) {
        if (m.n < 2 || !(m.squares > 0)) return cannotTest("Each group needs two different values at least.");
        weights += m.n / m.variance();
        weighted += m.n / m.variance() * (m.mean - w.groups[0].mean);
    }
    if (k < 2) return cannotTest("Two groups with values are needed at least.");
    const double mean = weighted / weights;
    double between = 0, lambda = 0;
    for (const Moments& m : w.groups) {
        const double share = m.n / m.variance(), off = m.mean - w.groups[0].mean - mean;
        between += share * off * off;
        lambda += (1 - share / weights) * (1 - share / weights) / (m.n - 1);
    }
    TestResult r{.test = "welch-anova", .statisticName = "F", .dof = {k - 1, (k * k - 1) / (3 * lambda)}};
    r.statistic = between / (k - 1) / (1 + 2 * (k - 2) / (k * k - 1) * lambda);
    r.p = tailOfF(r.statistic, r.dof[0], r.dof[1]);
    r.effect = {.name = "eta squared", .value = w.between / (w.between + w.within)};
    return r;
}

Result<TestResult> bartlettTest(const Design& d) {
    const auto w = wholeOneWay(d);
    if (!w) return std::unexpected(w.error());
    double logs = 0, inverse = 0, k = 0;
    for (const Moments& m : w->groups) {
        if (m.n < 2 || !(m.squares > 0)) return cannotTest("Each group needs two different values at least.");
        logs += (m.n - 1) * std::log(m.variance());
        inverse += 1 / (m.n - 1);
        ++k;
    }
    TestResult r{.test = "bartlett", .statisticName = "K²", .dof = {k - 1}};
    r.statistic = (w->dofWithin * std::log(w->meanSquare()) - logs) /
                  (1 + (inverse - 1 / w->dofWithin) / (3 * (k - 1)));
    r.p = tailOfChi(r.statistic, k - 1);
    return r;
}

Result<TestResult> leveneTest(const Design& d) {
    Design off{.groups = d.groups, .level = d.level};
    for (Group& g : off.groups) {
        if (g.values.empty()) continue;
        std::vector<double> sorted = g.values;
        std::ranges::sort(sorted);
        const double median = quantile(sorted, 0.5);
        for (double& v : g.values) v = std::abs(v - median);
    }
    auto r = anovaTest(off);
    if (!r) return r;
    r->test = "levene";
    r->effect = {};
    r->terms.clear();
    r->notes = {"By the distances from the medians of the groups."};
    return r;
}

} // namespace jointer::stats
