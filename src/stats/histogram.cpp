// SPDX-License-Identifier: GPL-3.0-or-later
#include "stats/histogram.h"

#include "stats/summary.h"

#include <algorithm>
#include <cmath>

namespace jointer::stats {

namespace {

constexpr double kMostBins = 60;

std::size_t binsFor(const std::vector<double>& ascending) {
    const auto n = static_cast<double>(ascending.size());
    const double width = 2 * (quantile(ascending, 0.75) - quantile(ascending, 0.25)) / std::cbrt(n);
    const double bins = width > 0 ? (ascending.back() - ascending.front()) / width : std::log2(n) + 1;
    return static_cast<std::size_t>(std::clamp(std::ceil(bins), 1.0, kMostBins));
}

} // namespace

Histogram histogramOf(std::span<const double> values, std::size_t bins) {
    std::vector<double> v;
    std::ranges::copy_if(values, std::back_inserter(v), [](double x) { return std::isfinite(x); });
    Histogram h;
    if (v.empty()) return h;
    std::ranges::sort(v);
    h.low = v.front();
    const double range = v.back() - v.front();
    if (range <= 0 || !std::isfinite(range)) {
        h.counts = {v.size()};
        return h;
    }
    if (bins == 0) bins = binsFor(v);
    h.width = range / static_cast<double>(bins);
    h.counts.resize(bins);
    for (double x : v) ++h.counts[std::min(static_cast<std::size_t>((x - h.low) / h.width), bins - 1)];
    return h;
}

} // namespace jointer::stats
