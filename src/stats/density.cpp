// SPDX-License-Identifier: GPL-3.0-or-later
#include "stats/density.h"

#include "stats/summary.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace jointer::stats {

double kernelWidth(std::span<const double> values) {
    const Summary s = summarise(values);
    if (s.n < 2 || !(s.sd > 0)) return 0;
    const double iqr = s.q3 - s.q1;
    const double spread = iqr > 0 ? std::min(s.sd, iqr / 1.34) : s.sd;
    return 0.9 * spread * std::pow(static_cast<double>(s.n), -0.2);
}

std::vector<double> densityAt(std::span<const double> places, std::span<const double> values, double width) {
    constexpr double kReach = 8.5; // beyond so many widths a kernel adds less than 1e-16 of its height
    std::vector<double> sorted;
    for (double v : values)
        if (std::isfinite(v)) sorted.push_back(v);
    std::ranges::sort(sorted);
    std::vector<double> out(places.size(), 0);
    if (sorted.empty()) return out;
    const double scale = 1 / (width * std::sqrt(2 * std::numbers::pi) * static_cast<double>(sorted.size()));
    for (std::size_t k = 0; k < places.size(); ++k) {
        const auto from = std::ranges::lower_bound(sorted, places[k] - kReach * width),
                   to = std::ranges::upper_bound(sorted, places[k] + kReach * width);
        for (auto v = from; v < to; ++v) {
            const double z = (places[k] - *v) / width;
            out[k] += std::exp(-0.5 * z * z);
        }
        out[k] *= scale;
    }
    return out;
}

} // namespace jointer::stats
