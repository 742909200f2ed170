// SPDX-License-Identifier: GPL-3.0-or-later
#include "stats/two_samples.h"

#include "stats/summary.h"

#include <boost/math/distributions/students_t.hpp>
#include <cmath>
#include <vector>

namespace jointer::stats {

namespace {

double bothSides(double t, double freedom) {
    if (!std::isfinite(t) || !(freedom > 0)) return NAN;
    return 2 * boost::math::cdf(boost::math::complement(boost::math::students_t(freedom), std::abs(t)));
}

} // namespace

Difference differenceOfMeans(std::span<const double> a, std::span<const double> b) {
    const Summary x = summarise(a), y = summarise(b);
    Difference d{NAN, NAN, NAN, NAN};
    if (x.n > 0 && y.n > 0) d.difference = x.mean - y.mean;
    if (x.n < 2 || y.n < 2) return d;
    const double vx = x.sem * x.sem, vy = y.sem * y.sem;
    if (!(vx + vy > 0)) return d;
    d.t = d.difference / std::sqrt(vx + vy);
    d.freedom = (vx + vy) * (vx + vy) /
                (vx * vx / static_cast<double>(x.n - 1) + vy * vy / static_cast<double>(y.n - 1));
    d.p = bothSides(d.t, d.freedom);
    return d;
}

Difference differenceOfPairs(std::span<const double> a, std::span<const double> b) {
    std::vector<double> differences;
    for (std::size_t i = 0; i < std::min(a.size(), b.size()); ++i)
        if (std::isfinite(a[i]) && std::isfinite(b[i])) differences.push_back(a[i] - b[i]);
    const Summary s = summarise(differences);
    Difference d{NAN, NAN, NAN, NAN};
    if (s.n > 0) d.difference = s.mean;
    if (s.n < 2 || !(s.sem > 0)) return d;
    d.t = s.mean / s.sem;
    d.freedom = static_cast<double>(s.n - 1);
    d.p = bothSides(d.t, d.freedom);
    return d;
}

} // namespace jointer::stats
