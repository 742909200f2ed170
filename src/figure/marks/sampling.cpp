// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/marks/sampling.h"

#include <algorithm>
#include <cmath>

namespace jointer::figure {

namespace {

constexpr std::size_t kMostSeeds = 20000;
constexpr int kRounds = 6;             // of halving
constexpr double kOfRange = 5e-4;      // how far a straight piece may miss the curve
constexpr double kOfValue = 1e-2;      // or by how much of its value, for logarithmic axes
constexpr double kSmallest = 1e-4;     // of the largest: below it only the range counts
constexpr std::size_t kMostPlaces = 60000;

class Sampler {
public:
    Sampler(const AskedAt& curve, std::vector<double> xs) : curve_(curve) {
        s_.xs = std::move(xs);
        s_.ys = curve_(s_.xs);
        measure(s_.ys);
    }

    void seed(std::span<const double> seeds) {
        const auto begin = std::ranges::upper_bound(seeds, s_.xs.front()),
                   end = std::ranges::lower_bound(seeds, s_.xs.back());
        if (!(begin < end)) return;
        const auto stride = static_cast<std::ptrdiff_t>(
            (static_cast<std::size_t>(end - begin) + kMostSeeds - 1) / kMostSeeds);
        Sampling some;
        for (auto at = begin; at < end; at += std::min(stride, end - at)) some.xs.push_back(*at);
        some.ys = curve_(some.xs);
        measure(some.ys);
        // All seeds of an interval, or none.
        Sampling kept;
        std::size_t k = 0;
        for (std::size_t i = 0; i + 1 < s_.xs.size(); ++i) {
            const std::size_t first = k;
            bool misses = false;
            for (; k < some.xs.size() && some.xs[k] < s_.xs[i + 1]; ++k)
                misses |= some.xs[k] > s_.xs[i] && missesAt(i, some.xs[k], some.ys[k]);
            for (std::size_t j = first; misses && j < k; ++j)
                if (some.xs[j] > s_.xs[i]) put(kept, some.xs[j], some.ys[j]);
        }
        take(kept);
        taken_ = std::move(kept.xs);
    }

    void refine() {
        std::vector<std::uint8_t> look = bent();
        lookBesideTaken(look);
        for (int round = 0; round < kRounds && s_.xs.size() < kMostPlaces; ++round) {
            std::vector<std::size_t> where;
            Sampling middle;
            for (std::size_t i = 0; i < look.size(); ++i) {
                const double x = std::midpoint(s_.xs[i], s_.xs[i + 1]);
                if (!look[i] || !(x > s_.xs[i] && x < s_.xs[i + 1])) continue;
                where.push_back(i);
                middle.xs.push_back(x);
            }
            if (where.empty()) return;
            middle.ys = curve_(middle.xs);
            Sampling kept;
            std::vector<std::uint8_t> next;
            for (std::size_t i = 0, k = 0; i < look.size(); ++i) {
                const bool asked = k < where.size() && where[k] == i;
                const bool misses = asked && missesAt(i, middle.xs[k], middle.ys[k]);
                if (misses) put(kept, middle.xs[k], middle.ys[k]);
                next.insert(next.end(), misses ? 2 : 1, misses);
                k += asked;
            }
            measure(kept.ys);
            take(kept);
            look = std::move(next);
        }
    }

    Sampling done() && { return std::move(s_); }

private:
    static void put(Sampling& s, double x, double y) {
        s.xs.push_back(x);
        s.ys.push_back(y);
    }
    void take(const Sampling& further) {
        Sampling all;
        all.xs.reserve(s_.xs.size() + further.xs.size());
        all.ys.reserve(s_.xs.size() + further.xs.size());
        std::size_t k = 0;
        for (std::size_t i = 0; i < s_.xs.size(); ++i) {
            for (; k < further.xs.size() && further.xs[k] < s_.xs[i]; ++k) put(all, further.xs[k], further.ys[k]);
            put(all, s_.xs[i], s_.ys[i]);
        }
        s_ = std::move(all);
    }
    void measure(const std::vector<double>& ys) {
        for (double y : ys) {
            if (!std::isfinite(y)) continue;
            low_ = std::min(low_, y);
            high_ = std::max(high_, y);
        }
    }
    bool isMuch(double miss, double y) const {
        const double size = std::abs(y), largest = std::max(std::abs(low_), std::abs(high_));
        return miss > kOfRange * (high_ - low_) || (miss > kOfValue * size && size > kSmallest * largest);
    }
    // Whether the straight piece from place i to the next misses this point of the curve.
    bool missesAt(std::size_t i, double x, double y) const {
        const double share = (x - s_.xs[i]) / (s_.xs[i + 1] - s_.xs[i]);
        return isMuch(std::abs(std::lerp(s_.ys[i], s_.ys[i + 1], share) - y), y);
    }
    // The pieces at whose ends the curve bends so much that they may miss it.
    std::vector<std::uint8_t> bent() const {
        std::vector<std::uint8_t> out(s_.xs.size() - 1);
        for (std::size_t i = 1; i + 1 < s_.xs.size(); ++i) {
            const double share = (s_.xs[i] - s_.xs[i - 1]) / (s_.xs[i + 1] - s_.xs[i - 1]);
            const double miss = std::abs(std::lerp(s_.ys[i - 1], s_.ys[i + 1], share) - s_.ys[i]) / 4;
            if (isMuch(miss, s_.ys[i])) out[i - 1] = out[i] = 1;
        }
        return out;
    }

    void lookBesideTaken(std::vector<std::uint8_t>& look) const {
        for (std::size_t i = 0, k = 0; i < s_.xs.size() && k < taken_.size(); ++i) {
            if (s_.xs[i] != taken_[k]) continue;
            ++k;
            if (i > 0) look[i - 1] = 1;
            if (i < look.size()) look[i] = 1;
        }
    }

    const AskedAt& curve_;
    Sampling s_;
    std::vector<double> taken_; // of the seeds
    double low_ = INFINITY, high_ = -INFINITY;
};

} // namespace

Sampling sampledWell(const AskedAt& curve, std::vector<double> even, std::span<const double> seeds) {
    even.erase(std::ranges::unique(even).begin(), even.end()); // of ends that lie next to each other
    if (even.size() < 2) return {};
    Sampler s(curve, std::move(even));
    s.seed(seeds);
    s.refine();
    return std::move(s).done();
}

std::vector<double> unitedPlaces(const std::vector<double>& a, const std::vector<double>& b) {
    std::vector<double> all;
    std::ranges::set_union(a, b, std::back_inserter(all));
    return all;
}

} // namespace jointer::figure
