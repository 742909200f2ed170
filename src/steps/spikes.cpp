// SPDX-License-Identifier: GPL-3.0-or-later
#include "steps/spikes.h"

#include "numerics/local_polynomial.h"

#include <algorithm>
#include <cmath>

namespace jointer::steps {

namespace {

constexpr int kDegree = 3;
constexpr std::size_t kBlock = 128; // points over which noise is local
constexpr int kRounds = 6;

// The noise around each point: by blocks, at least the lower of a block and its neighbours' mean, so that a
// block full of structure does not hide spikes beside it, and one that reads constant does not make them.
List localNoise(Values y) {
    const std::size_t blocks = std::max<std::size_t>(1, y.size() / kBlock);
    List byBlock(blocks);
    const double all = noiseOf(y);
    for (std::size_t b = 0; b < blocks; ++b) {
        const std::size_t from = b * y.size() / blocks, to = (b + 1) * y.size() / blocks;
        const double own = noiseOf(y.subspan(from, to - from));
        byBlock[b] = own > 0 ? own : all;
    }
    return byBlock;
}

// The points around a group of so many, and what they say of it: fixed weights, since points are counted.
struct Neighbourhood {
    std::size_t count = 0, side = 0; // of the group; on each side of it
    std::vector<List> predict;       // for each of the group: weights of the points around
    List spread;                     // √(1 + Σ weights²) for each of the group
    std::vector<List> fitted;        // for each of the points around: weights of their own cubic
    double freedom = 1;

    Neighbourhood(std::size_t group, std::size_t points) : count(group), side(points) {
        List places;
        for (std::size_t k = 0; k < side; ++k) places.push_back(static_cast<double>(k));
        for (std::size_t k = 0; k < side; ++k) places.push_back(static_cast<double>(side + count + k));
        auto weightsAt = [&](double at) {
            List w(places.size());
            numerics::localPolynomialWeights(places, {}, at, kDegree, 0, w);
            return w;
        };
        for (std::size_t g = 0; g < count; ++g) {
            predict.push_back(weightsAt(static_cast<double>(side + g)));
            double squares = 1;
            for (double w : predict.back()) squares += w * w;
            spread.push_back(std::sqrt(squares));
        }
        for (double at : places) fitted.push_back(weightsAt(at));
        freedom = static_cast<double>(places.size()) - kDegree - 1;
    }
};

class Search {
public:
    Search(Values y, const SpikeOrder& order)
        : y_(y.begin(), y.end()), order_(order), noise_(localNoise(y)), found_(y.size()) {
        const auto side = static_cast<std::size_t>(std::max(order.narrowest, 4));
        for (std::size_t group = 1; group <= static_cast<std::size_t>(std::max(1, order.narrowest / 2));
             ++group)
            around_.emplace_back(group, side);
    }

    std::vector<Spike> run() {
        std::vector<Spike> all;
        for (int round = 0; round < kRounds; ++round) {
            std::vector<Spike> now = strongest();
            if (now.empty()) break;
            for (Spike& s : now) {
                for (std::size_t k = 0; k < s.count; ++k) {
                    y_[s.first + k] = s.filled[k];
                    found_[s.first + k] = 1;
                }
                all.push_back(std::move(s));
            }
        }
        std::ranges::sort(all, {}, &Spike::first);
        return all;
    }

private:
    // The value at a place; beyond the ends the curve goes on as its point mirror.
    double at(std::ptrdiff_t i) const {
        const auto n = static_cast<std::ptrdiff_t>(y_.size());
        if (i < 0) return 2 * y_.front() - y_[static_cast<std::size_t>(std::min(-i, n - 1))];
        if (i >= n)
            return 2 * y_.back() - y_[static_cast<std::size_t>(std::max<std::ptrdiff_t>(2 * n - 2 - i, 0))];
        return y_[static_cast<std::size_t>(i)];
    }

    std::optional<Spike> spikeAt(std::size_t first, const Neighbourhood& a) const {
        const std::size_t n = y_.size();
        const double noise = noise_[std::min(noise_.size() - 1, first * noise_.size() / n)];
        const bool inside = first >= a.side && first + a.count + a.side <= n;
        double values[64];
        const double* around = values;
        auto fill = [&] {
            for (std::size_t k = 0; k < a.side; ++k) {
                const auto before =
                    static_cast<std::ptrdiff_t>(first + k) - static_cast<std::ptrdiff_t>(a.side);
                values[k] = at(before);
                values[a.side + k] = at(static_cast<std::ptrdiff_t>(first + a.count + k));
            }
        };
        // A group that hardly sticks out from its two neighbours is none: most places end here.
        if (inside) {
            const double rough = y_[first] - 0.5 * (y_[first - 1] + y_[first + a.count]);
            if (std::abs(rough) < order_.threshold * noise * 0.5) return std::nullopt;
        }
        fill();
        Spike s{first, a.count, first, INFINITY, List(a.count)};
        List excess(a.count);
        for (std::size_t g = 0; g < a.count; ++g) {
            double predicted = 0;
            for (std::size_t k = 0; k < 2 * a.side; ++k) predicted += a.predict[g][k] * around[k];
            s.filled[g] = predicted;
            excess[g] = y_[first + g] - predicted;
            if (excess[g] * excess[0] <= 0) return std::nullopt; // on both sides: no spike
            if (std::abs(excess[g]) < order_.threshold * noise * a.spread[g]) return std::nullopt;
        }
        if (excess[0] > 0 ? !order_.up : !order_.down) return std::nullopt;
        double squares = 0;
        for (std::size_t i = 0; i < 2 * a.side; ++i) {
            double fitted = 0;
            for (std::size_t k = 0; k < 2 * a.side; ++k) fitted += a.fitted[i][k] * around[k];
            squares += (around[i] - fitted) * (around[i] - fitted);
        }
        const double scatter = std::max(noise, std::sqrt(squares / a.freedom));
        double farthest = 0;
        for (std::size_t g = 0; g < a.count; ++g) {
            const double strength = std::abs(excess[g]) / (scatter * a.spread[g]);
            s.strength = std::min(s.strength, strength);
            if (std::abs(excess[g]) > farthest) farthest = std::abs(excess[g]), s.top = first + g;
        }
        if (!(s.strength > order_.threshold)) return std::nullopt;
        return s;
    }

    // Those of this round that do not overlap, the stronger before the weaker.
    std::vector<Spike> strongest() const {
        std::vector<Spike> all;
        for (const Neighbourhood& a : around_)
            for (std::size_t i = 0; i + a.count <= y_.size(); ++i)
                if (auto s = spikeAt(i, a)) all.push_back(std::move(*s));
        std::ranges::stable_sort(all, std::greater<>(), &Spike::strength);
        std::vector<std::uint8_t> covered = found_;
        std::vector<Spike> chosen;
        for (Spike& s : all) {
            const auto from = covered.begin() + static_cast<std::ptrdiff_t>(s.first),
                       to = from + static_cast<std::ptrdiff_t>(s.count);
            if (std::find(from, to, 1) != to) continue;
            std::fill(from, to, std::uint8_t{1});
            chosen.push_back(std::move(s));
        }
        return chosen;
    }

    List y_;
    SpikeOrder order_;
    List noise_;
    std::vector<std::uint8_t> found_;
    std::vector<Neighbourhood> around_;
};

} // namespace

std::vector<Spike> findSpikes(Values y, const SpikeOrder& order) {
    const auto side = static_cast<std::size_t>(std::max(order.narrowest, 4));
    if (y.size() < 2 * side + 2 || !std::isfinite(noiseOf(y))) return {};
    return Search(y, order).run();
}

} // namespace jointer::steps
