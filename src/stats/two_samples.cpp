// SPDX-License-Identifier: GPL-3.0-or-later
#include "stats/two_samples.h"

#include "stats/test_tools.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace jointer::stats {

namespace {

std::vector<double> finite(std::span<const double> values) {
    std::vector<double> out;
    std::ranges::copy_if(values, std::back_inserter(out), [](double v) { return std::isfinite(v); });
    return out;
}

Difference byT(double difference, double error, double dof) {
    if (!(error > 0)) return {difference, NAN, NAN, NAN};
    return {difference, difference / error, dof, tailOfT(difference / error, dof)};
}

} // namespace

Difference differenceOfMeans(std::span<const double> a, std::span<const double> b) {
    const Moments x = momentsOf(finite(a)), y = momentsOf(finite(b));
    const double difference = x.n > 0 && y.n > 0 ? x.mean - y.mean : NAN;
    if (x.n < 2 || y.n < 2) return {difference, NAN, NAN, NAN};
    const Welch w = welchOf(x, y);
    return byT(difference, w.error, w.dof);
}

Difference differenceOfPairs(std::span<const double> a, std::span<const double> b) {
    std::vector<double> differences;
    for (std::size_t i = 0; i < std::min(a.size(), b.size()); ++i)
        if (std::isfinite(a[i]) && std::isfinite(b[i])) differences.push_back(a[i] - b[i]);
    const Moments m = momentsOf(differences);
    if (m.n < 2) return {m.n > 0 ? m.mean : NAN, NAN, NAN, NAN};
    return byT(m.mean, std::sqrt(m.variance() / m.n), m.n - 1);
}

} // namespace jointer::stats
