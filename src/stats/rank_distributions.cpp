// SPDX-License-Identifier: GPL-3.0-or-later
#include "stats/rank_distributions.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace jointer::stats {

CountDistribution::CountDistribution(std::vector<double> probabilities)
    : probability_(std::move(probabilities)), sum_(probability_.size()) {
    std::partial_sum(probability_.begin(), probability_.end(), sum_.begin());
}

double CountDistribution::below(std::size_t k) const {
    return k >= sum_.size() ? 1 : std::min(1.0, sum_[k]);
}

// All of these distributions are symmetric: the upper tail is summed as a lower one, without cancellation.
double CountDistribution::above(std::size_t k) const {
    return k > largest() ? 0 : below(largest() - k);
}

double CountDistribution::bothSides(std::size_t k) const {
    return std::min(1.0, 2 * std::min(below(k), above(k)));
}

std::size_t CountDistribution::quantile(double p) const {
    return static_cast<std::size_t>(std::ranges::lower_bound(sum_, p * (1 - 1e-12)) - sum_.begin());
}

// By whose value is the largest of all: p(m, n, u) = m/(m+n)·p(m−1, n, u−n) + n/(m+n)·p(m, n−1, u).
CountDistribution rankSumDistribution(std::size_t m, std::size_t n) {
    std::vector<std::vector<double>> row(n + 1, std::vector<double>{1}); // of m − 1, for each n; none: u is 0
    for (std::size_t i = 1; i <= m; ++i)
        for (std::size_t j = 0; j <= n; ++j) {
            std::vector<double> now(i * j + 1, 0.0);
            const double share = static_cast<double>(i) / static_cast<double>(i + j);
            for (std::size_t u = 0; u < row[j].size(); ++u) now[u + j] += share * row[j][u];
            if (j > 0)
                for (std::size_t u = 0; u < row[j - 1].size(); ++u) now[u] += (1 - share) * row[j - 1][u];
            row[j] = std::move(now);
        }
    return CountDistribution(std::move(row[n]));
}

namespace {

// Each of 0 … k is added with the same chance, or either 0 or k alone.
std::vector<double> added(const std::vector<double>& before, std::size_t k, bool endsOnly) {
    std::vector<double> now(before.size() + k, 0.0);
    const double share = 1 / (endsOnly ? 2.0 : static_cast<double>(k + 1));
    for (std::size_t s = 0; s < before.size(); ++s)
        for (std::size_t by = 0; by <= k; by += endsOnly ? k : 1) now[s + by] += share * before[s];
    return now;
}

} // namespace

CountDistribution signedRankDistribution(std::size_t n) {
    std::vector<double> p{1};
    for (std::size_t rank = 1; rank <= n; ++rank) p = added(p, rank, true);
    return CountDistribution(std::move(p));
}

CountDistribution concordanceDistribution(std::size_t n) {
    std::vector<double> p{1};
    for (std::size_t k = 1; k < n; ++k) p = added(p, k, false);
    return CountDistribution(std::move(p));
}

SpearmanTails spearmanTails(std::size_t n, double squares) {
    std::vector<int> order(n);
    std::iota(order.begin(), order.end(), 0);
    const double slack = 1e-9 * (1 + squares);
    double below = 0, above = 0, all = 0;
    do {
        double sum = 0;
        for (std::size_t i = 0; i < n; ++i) {
            const double d = order[i] - static_cast<double>(i);
            sum += d * d;
        }
        below += sum <= squares + slack;
        above += sum >= squares - slack;
        ++all;
    } while (std::ranges::next_permutation(order).found);
    return {below / all, above / all};
}

} // namespace jointer::stats
