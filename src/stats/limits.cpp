// SPDX-License-Identifier: GPL-3.0-or-later
#include "stats/limits.h"

#include "numerics/compensated_sum.h"

#include <algorithm>
#include <boost/math/distributions/students_t.hpp>

namespace jointer::stats {

namespace {

using numerics::CompensatedSum;

// A place where the distribution steps: its measured values, and how many are known to lie there or below.
struct Step {
    double at, measured, atRisk;
    double share = 0; // of the distribution
};

// Steps from the highest to the lowest; what is left below them.
struct Distribution {
    std::vector<Step> steps;
    double rest = 1;
};

Distribution distributionOf(std::vector<double> values, std::vector<double> limits) {
    std::ranges::sort(values, std::greater());
    std::ranges::sort(limits, std::greater());
    Distribution d;
    const std::size_t all = values.size() + limits.size();
    std::size_t above =
        0; // limits above the step: those values may lie anywhere below them, so they are not at risk
    for (std::size_t i = 0, j; i < values.size(); i = j) {
        for (j = i; j < values.size() && values[j] == values[i];) ++j;
        while (above < limits.size() && limits[above] > values[i]) ++above;
        Step s{values[i], static_cast<double>(j - i), static_cast<double>(all - i - above)};
        s.share = d.rest * s.measured / s.atRisk;
        d.rest *= (s.atRisk - s.measured) / s.atRisk;
        d.steps.push_back(s);
    }
    return d;
}

// The least place at which so much of the distribution lies there or below.
double quantileOf(const Distribution& d, double p) {
    constexpr double kSlack = 1e-12;
    double held = d.rest;
    if (held >= p - kSlack) return NAN; // below the lowest limit
    for (std::size_t k = d.steps.size(); k-- > 0;) {
        held += d.steps[k].share;
        if (held > p + kSlack) return d.steps[k].at;
        if (held >= p - kSlack)
            return k > 0 ? std::midpoint(d.steps[k].at, d.steps[k - 1].at) : d.steps[k].at;
    }
    return d.steps.front().at;
}

} // namespace

LimitedSummary summariseWithLimits(std::span<const double> values, std::span<const double> limits) {
    LimitedSummary out{.n = values.size() + limits.size(), .below = limits.size()};
    if (values.empty()) {
        out.unknownShare = limits.empty() ? 0 : 1;
        return out;
    }
    Distribution d = distributionOf({values.begin(), values.end()}, {limits.begin(), limits.end()});
    const bool remains = !limits.empty() && std::ranges::min(limits) <= d.steps.back().at;
    const double lowest = remains ? std::ranges::min(limits) : d.steps.back().at;
    out.unknownShare = remains ? d.rest : 0;
    CompensatedSum mean, squares;
    for (const Step& s : d.steps) mean.add(s.share * (s.at - lowest));
    out.mean = lowest + mean.value();
    if (out.unknownShare > 0 && lowest > 0) out.meanAtLeast = out.mean - out.unknownShare * lowest;
    for (const Step& s : d.steps) squares.add(s.share * (s.at - out.mean) * (s.at - out.mean));
    squares.add(out.unknownShare * (lowest - out.mean) * (lowest - out.mean));
    const auto n = static_cast<double>(out.n), measured = static_cast<double>(values.size());
    if (out.n > 1) out.sd = std::sqrt(squares.value() * n / (n - 1));
    out.q1 = quantileOf(d, 0.25), out.median = quantileOf(d, 0.5), out.q3 = quantileOf(d, 0.75);
    if (values.size() < 2) return out;
    out.dof = measured - 1;
    // Each step moves what lies below it, by the area of the distribution from there down to the lowest
    // place.
    CompensatedSum variance;
    double area = 0, held = out.unknownShare, from = lowest;
    for (std::size_t k = d.steps.size(); k-- > 0;) {
        const Step& s = d.steps[k];
        area += held * (s.at - from);
        held += s.share, from = s.at;
        if (s.atRisk > s.measured)
            variance.add(area * area * s.measured / (s.atRisk * (s.atRisk - s.measured)));
    }
    out.sem = std::sqrt(variance.value() * measured / (measured - 1));
    return out;
}

double meanHalfWidth(const LimitedSummary& s, double level) {
    if (!(s.dof >= 1)) return NAN;
    return boost::math::quantile(boost::math::students_t(s.dof), 0.5 + level / 2) * s.sem;
}

bool hasLimits(const Design& design) {
    return std::ranges::any_of(design.groups, [](const Group& g) { return !g.limits.empty(); });
}

Design withTiedLimits(const Design& design) {
    double highest = -INFINITY;
    for (const Group& g : design.groups)
        for (const double limit : g.limits) highest = std::max(highest, limit);
    Design out = design;
    const double below = std::nextafter(highest, -INFINITY);
    for (Group& g : out.groups) {
        for (double& v : g.values)
            if (v < highest) v = below;
        g.values.insert(g.values.end(), g.limits.size(), below);
        g.limits.clear();
    }
    return out;
}

} // namespace jointer::stats
