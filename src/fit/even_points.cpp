// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/even_points.h"

#include "fit/peak_finding.h"

#include <algorithm>
#include <cmath>

namespace jointer::fit {

namespace {

using List = std::vector<double>;

double median(List values) {
    if (values.empty()) return 0;
    const auto middle = values.begin() + std::ssize(values) / 2;
    std::ranges::nth_element(values, middle);
    return *middle;
}

} // namespace

Even evenOf(std::span<const double> x, std::span<const double> y) {
    List xs, ys;
    for (std::size_t i = 0; i < x.size(); ++i) {
        if (!std::isfinite(x[i]) || !std::isfinite(y[i])) continue;
        if (!xs.empty() && x[i] <= xs.back()) continue; // of equal places the first
        xs.push_back(x[i]);
        ys.push_back(y[i]);
    }
    if (xs.size() < 2) return {};
    List steps(xs.size() - 1);
    for (std::size_t i = 0; i + 1 < xs.size(); ++i) steps[i] = xs[i + 1] - xs[i];
    const double mean = (xs.back() - xs.front()) / static_cast<double>(steps.size());
    const auto [least, largest] = std::ranges::minmax(steps);
    const double noise = noiseOf(ys);
    if (largest - least < 0.02 * mean) return {xs.front(), mean, std::move(ys), noise};
    Even out{xs.front(), std::max(median(steps), mean / 8), {}, noise};
    const auto count = static_cast<std::size_t>((xs.back() - xs.front()) / out.step) + 1;
    out.y.resize(count);
    std::size_t k = 0;
    for (std::size_t i = 0; i < count; ++i) {
        const double place = out.at(static_cast<double>(i));
        while (k + 2 < xs.size() && xs[k + 1] < place) ++k;
        out.y[i] = std::lerp(ys[k], ys[k + 1], (place - xs[k]) / (xs[k + 1] - xs[k]));
    }
    return out;
}

double noiseOf(std::span<const double> y) {
    double least = INFINITY;
    List d(y.begin(), y.end());
    double power = 1; // sum of squares of the binomial weights
    for (int order = 1; order <= 6 && d.size() > 2; ++order) {
        for (std::size_t i = 0; i + 1 < d.size(); ++i) d[i] = d[i + 1] - d[i];
        d.pop_back();
        power *= (4.0 * order - 2) / order; // C(2k, k) from C(2k−2, k−1)
        if (order < 2) continue;
        List size = d;
        for (double& v : size) v = std::abs(v);
        least = std::min(least, 1.4826 * median(std::move(size)) / std::sqrt(power));
    }
    return std::isfinite(least) ? least : 0;
}

} // namespace jointer::fit
