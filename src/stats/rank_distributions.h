// SPDX-License-Identifier: GPL-3.0-or-later
// Exact distributions of rank statistics where no values are equal.
#pragma once

#include <cstddef>
#include <vector>

namespace jointer::stats {

// The probabilities of 0, 1, 2… of a statistic that takes whole numbers, and what is asked of them.
class CountDistribution {
public:
    explicit CountDistribution(std::vector<double> probabilities);
    double below(std::size_t k) const;     // P(T ≤ k)
    double above(std::size_t k) const;     // P(T ≥ k)
    double bothSides(std::size_t k) const; // twice the smaller of both, at most 1
    std::size_t quantile(double p) const;  // the smallest k with P(T ≤ k) ≥ p
    std::size_t largest() const { return probability_.size() - 1; }

private:
    std::vector<double> probability_, sum_;
};

// How many of the pairs of one of m and one of n values have the former above. Cost: m²·n².
CountDistribution rankSumDistribution(std::size_t m, std::size_t n);
// The sum of the ranks of positive differences out of n. Cost: n³.
CountDistribution signedRankDistribution(std::size_t n);
// Pairs that are in order in a random permutation of n. Cost: n³.
CountDistribution concordanceDistribution(std::size_t n);

// The share of all permutations of n whose Σ (rank − place)² is at most, and at least, so much. Requires: n
// ≤ 10.
struct SpearmanTails {
    double atMost, atLeast;
};
SpearmanTails spearmanTails(std::size_t n, double squares);

} // namespace jointer::stats
