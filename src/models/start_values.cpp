// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/start_values.h"

#include <algorithm>
#include <numeric>

namespace jointer::models {

SortedPoints sortedPoints(const Curve& curve) {
    std::vector<std::size_t> order;
    for (std::size_t i = 0; i < curve.size(); ++i)
        if (curve.counts(i)) order.push_back(i);
    std::ranges::stable_sort(order, {}, [&](std::size_t i) { return curve.x[i]; });
    SortedPoints out;
    for (std::size_t i = 0; i < order.size();) {
        double sum = 0;
        std::size_t j = i;
        for (; j < order.size() && curve.x[order[j]] == curve.x[order[i]]; ++j) sum += curve.y[order[j]];
        out.x.push_back(curve.x[order[i]]);
        out.y.push_back(sum / static_cast<double>(j - i));
        i = j;
    }
    return out;
}

StraightLine straightLine(const std::vector<double>& x, const std::vector<double>& y) {
    const auto n = static_cast<double>(x.size());
    const double mx = std::accumulate(x.begin(), x.end(), 0.0) / n,
                 my = std::accumulate(y.begin(), y.end(), 0.0) / n;
    double sxx = 0, sxy = 0;
    for (std::size_t i = 0; i < x.size(); ++i) {
        sxx += (x[i] - mx) * (x[i] - mx);
        sxy += (x[i] - mx) * (y[i] - my);
    }
    const double slope = sxx > 0 ? sxy / sxx : 0;
    return {my - slope * mx, slope};
}

double endLevel(const std::vector<double>& y, bool first) {
    const std::size_t k = std::clamp<std::size_t>(y.size() / 10, 1, 9);
    std::vector<double> some(first ? y.begin() : y.end() - static_cast<std::ptrdiff_t>(k),
                             first ? y.begin() + static_cast<std::ptrdiff_t>(k) : y.end());
    std::ranges::nth_element(some, some.begin() + static_cast<std::ptrdiff_t>(k / 2));
    return some[k / 2];
}

std::vector<double> runningMedian(const std::vector<double>& y, std::size_t half) {
    std::vector<double> out(y.size()), window;
    for (std::size_t i = 0; i < y.size(); ++i) {
        const std::size_t reach = std::min({half, i, y.size() - 1 - i});
        window.assign(y.begin() + static_cast<std::ptrdiff_t>(i - reach),
                      y.begin() + static_cast<std::ptrdiff_t>(i + reach + 1));
        std::ranges::nth_element(window, window.begin() + static_cast<std::ptrdiff_t>(reach));
        out[i] = window[reach];
    }
    return out;
}

} // namespace jointer::models
