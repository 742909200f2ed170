// SPDX-License-Identifier: GPL-3.0-or-later
#include "stats/local_scatter.h"

#include <algorithm>
#include <cmath>

namespace jointer::stats {

namespace {

// The squared distance of a value from the line between two others, as the variance of one of them.
double squaredOff(double share, double before, double at, double after) {
    const double off = at - std::lerp(before, after, share);
    return off * off / (1 + share * share + (1 - share) * (1 - share));
}

} // namespace

std::vector<double> localScatter(std::span<const double> x, std::span<const double> y, std::size_t window) {
    std::vector<std::size_t> places;
    for (std::size_t i = 0; i < x.size(); ++i)
        if (std::isfinite(x[i]) && std::isfinite(y[i])) places.push_back(i);
    const std::size_t n = places.size();
    if (n < 5) return {};
    std::vector<double> plain(n, std::nan("")), byRatio(n, std::nan(""));
    for (std::size_t k = 1; k + 1 < n; ++k) {
        const std::size_t a = places[k - 1], b = places[k], c = places[k + 1];
        if (!(x[c] > x[a])) continue;
        const double share = (x[b] - x[a]) / (x[c] - x[a]);
        plain[k] = squaredOff(share, y[a], y[b], y[c]);
        if (y[a] > 0 && y[b] > 0 && y[c] > 0)
            byRatio[k] = squaredOff(share, std::log(y[a]), std::log(y[b]), std::log(y[c]));
    }
    std::vector<double> out(x.size(), std::nan(""));
    const std::size_t half = std::max<std::size_t>(window / 2, 1);
    for (std::size_t k = 0; k < n; ++k) {
        const std::size_t from = k > half ? k - half : 0, to = std::min(n - 1, k + half);
        double sum = 0, ratios = 0, count = 0;
        bool positive = y[places[k]] > 0;
        for (std::size_t j = std::max<std::size_t>(from, 1); j <= std::min(to, n - 2); ++j) {
            if (!std::isfinite(plain[j])) continue;
            sum += plain[j], ++count;
            positive &= std::isfinite(byRatio[j]);
            ratios += byRatio[j];
        }
        if (count > 0)
            out[places[k]] = positive ? y[places[k]] * std::sqrt(ratios / count) : std::sqrt(sum / count);
    }
    return out;
}

} // namespace jointer::stats
