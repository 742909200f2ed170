// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/peak_finding.h"

#include "base/kernel.h"
#include "fit/even_points.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace jointer::fit {

namespace {

using List = std::vector<double>;

constexpr double kWidthOverScale = 2.3548200450309493; // FWHM of a Gaussian
constexpr double kScaleStep = 1.4;                     // from one smoothing to the next
constexpr double kFinestScale = 1.0;                   // in points
constexpr double kFollowed = 2.5;  // in scales: how far a peak may move from one smoothing to the next
constexpr double kHardly = 2;      // times the least significance
constexpr double kFarMore = 8;     // times that of a needle
constexpr double kMuchCoarser = 4; // times the smoothing under which it was seen
constexpr std::size_t kProminenceReach = 20; // in margins
constexpr double kFlank = 0.5;               // of the significance of the peak: what its flanks reach at most
constexpr double kMargin = 1.2;              // in scales: how near to an end nothing is seen
constexpr double kLargestKernel = 3;         // scale in points beyond which points are averaged first

// −(second derivative) of a Gaussian of scale s, so weighted that a constant and a line give nothing and that
// unit noise gives unit noise. The factor turns an answer into y per point².
struct BendKernel {
    List weights;     // 2·half + 1
    double noise = 1; // of the bend itself, for unit noise

    explicit BendKernel(double s) {
        const int half = static_cast<int>(std::ceil(5 * s));
        double mass = 0, squared = 0, fourth = 0;
        for (int k = -half; k <= half; ++k) {
            const double u = k / s, g = std::exp(-u * u / 2);
            mass += g, squared += g * u * u, fourth += g * u * u * u * u;
        }
        // A constant gives nothing, a parabola −c·x²/2 the bend c.
        const double level = squared / mass, scale = 2 / (s * s * (fourth - level * squared));
        double squares = 0;
        for (int k = -half; k <= half; ++k) {
            const double u = k / s;
            weights.push_back((level - u * u) * std::exp(-u * u / 2) * scale);
            squares += weights.back() * weights.back();
        }
        noise = std::sqrt(squares);
    }
};

// Σ weights[k]·y[i + k] for each i, sixteen at once. Shape: y has n + taps − 1 values.
JOINTER_KERNEL void convolve(const double* y, std::size_t n, const double* weights, std::size_t taps,
                             double* out) {
    std::size_t i = 0;
    for (; i + 16 <= n; i += 16) {
        Four sum[4] = {};
        for (std::size_t k = 0; k < taps; ++k)
#pragma GCC unroll 4
            for (int j = 0; j < 4; ++j)
                sum[j] +=
                    weights[k] * *reinterpret_cast<const Four*>(y + i + k + 4 * static_cast<std::size_t>(j));
        for (int j = 0; j < 4; ++j)
            for (int l = 0; l < 4; ++l) out[i + static_cast<std::size_t>(4 * j + l)] = sum[j][l];
    }
    for (; i < n; ++i) {
        out[i] = 0;
        for (std::size_t k = 0; k < taps; ++k) out[i] += weights[k] * y[i + k];
    }
}

// Mirrored at the ends: what bends the curve inside makes no other peak there, and the kink of a slope is
// highest at the end itself, where nothing is taken.
List padded(const List& y, std::size_t half) {
    List out(y.size() + 2 * half);
    std::ranges::copy(y, out.begin() + static_cast<std::ptrdiff_t>(half));
    for (std::size_t k = 1; k <= half; ++k) {
        out[half - k] = y[k];
        out[half + y.size() - 1 + k] = y[y.size() - 1 - k];
    }
    return out;
}

struct Candidate {
    double place = 0; // in points of the even curve
    double scale = 0; // of the smoothing under which it was seen best, in points
    double width = 0; // full width at half maximum, in points
    double significance = 0;
    double bend = 0;                // there, by point²
    double unit = 0;                // its standard deviation
    double height = 0, ownBend = 0; // beside its neighbours
};

// How far the bend falls on both sides before it rises above the place again, within `reach`.
double prominenceAt(const List& bend, std::size_t top, std::size_t reach) {
    double left = bend[top], right = bend[top];
    for (std::size_t i = top; i-- > 0 && top - i <= reach && bend[i] <= bend[top];)
        left = std::min(left, bend[i]);
    for (std::size_t i = top + 1; i < bend.size() && i - top <= reach && bend[i] <= bend[top]; ++i)
        right = std::min(right, bend[i]);
    return bend[top] - std::max(left, right);
}

// The distance from the top at which the bend is nought, or turns.
double reachOf(const List& bend, std::size_t top, int direction) {
    auto i = static_cast<std::ptrdiff_t>(top);
    for (;;) {
        const std::ptrdiff_t next = i + direction;
        if (next < 0 || next >= std::ssize(bend))
            return std::abs(static_cast<double>(i) - static_cast<double>(top));
        const double here = bend[static_cast<std::size_t>(i)], there = bend[static_cast<std::size_t>(next)];
        if (there <= 0 && here > 0)
            return std::abs(static_cast<double>(i) - static_cast<double>(top)) + here / (here - there);
        if (there > here) return -1; // it turns before: a neighbour stands there
        i = next;
    }
}

// What is seen under one smoothing.
std::vector<Candidate> seenAt(const List& y, double scale, std::size_t together, double noise, double least) {
    const double s = scale / static_cast<double>(together);
    List few;
    if (together == 1) {
        few = y;
    } else {
        few.resize(y.size() / together);
        for (std::size_t i = 0; i < few.size(); ++i) {
            double sum = 0;
            for (std::size_t k = 0; k < together; ++k) sum += y[i * together + k];
            few[i] = sum / static_cast<double>(together);
        }
    }
    const BendKernel kernel(s);
    const std::size_t half = kernel.weights.size() / 2;
    if (few.size() < 5 || few.size() <= half) return {};
    const List wide = padded(few, half);
    List bend(few.size());
    convolve(wide.data(), few.size(), kernel.weights.data(), kernel.weights.size(), bend.data());
    const double unit = noise / std::sqrt(static_cast<double>(together)) * kernel.noise;
    std::vector<Candidate> out;
    const auto margin = std::max<std::size_t>(1, static_cast<std::size_t>(kMargin * s));
    for (std::size_t i = margin; i + margin < bend.size(); ++i) {
        if (!(bend[i] > bend[i - 1] && bend[i] >= bend[i + 1])) continue;
        const double rise = prominenceAt(bend, i, margin * kProminenceReach);
        const double significance = unit > 0 ? rise / unit / std::numbers::sqrt2 : rise > 0 ? INFINITY : 0;
        if (!(significance > least)) continue;
        const double a = bend[i - 1], b = bend[i], c = bend[i + 1], turn = a - 2 * b + c;
        const double shift = turn < 0 ? 0.5 * (a - c) / turn : 0;
        double left = reachOf(bend, i, -1), right = reachOf(bend, i, 1);
        if (left < 0 && right < 0) left = right = s;
        if (left < 0) left = right;
        if (right < 0) right = left;
        // A Gaussian smoothed so has its bend nought at √(σ² + s²).
        const double total = std::min(left, right);
        const double own = std::sqrt(std::max(total * total - s * s, 0.2 * s * s));
        const double offset = 0.5 * static_cast<double>(together - 1);
        out.push_back({.place = (static_cast<double>(i) + std::clamp(shift, -0.5, 0.5)) *
                                    static_cast<double>(together) +
                                offset,
                       .scale = scale,
                       .width = kWidthOverScale * own * static_cast<double>(together),
                       .significance = significance,
                       .bend = b / static_cast<double>(together * together),
                       .unit = unit / static_cast<double>(together * together)});
    }
    return out;
}

// Noise on the top of a wide peak looks like needles there, as long as the smoothing is fine. What hardly
// stood out gives way to what stands out far more under a much coarser one.
void dropNeedles(std::vector<Candidate>& known, const std::vector<Candidate>& seen, double least) {
    std::erase_if(known, [&](const Candidate& k) {
        if (k.significance > kHardly * least) return false;
        auto s = std::ranges::lower_bound(seen, k.place, {}, &Candidate::place);
        const auto within = [&](const Candidate& c) {
            return c.significance > kFarMore * k.significance && c.scale > kMuchCoarser * k.scale &&
                   std::abs(c.place - k.place) < 0.5 * c.width;
        };
        return (s != seen.end() && within(*s)) || (s != seen.begin() && within(*std::prev(s)));
    });
}

// What is seen under one smoothing is what was seen under the finer one before, each the nearest of the
// other, or comes in anew. Where one stands alone it is taken as it is seen best; of several that have become
// one, each stays as it was.
void follow(std::vector<Candidate>& known, const std::vector<Candidate>& seen, double scale) {
    struct Pair {
        std::size_t known, seen;
        double distance;
    };
    const auto reachOf = [scale](const Candidate& c) { return std::max(kFollowed * scale, 0.5 * c.width); };
    double farthest = 0;
    for (const Candidate& k : known) farthest = std::max(farthest, reachOf(k));
    const auto within = [&](double place) { // places in `known` that may be near
        const auto first = std::ranges::lower_bound(known, place - farthest, {}, &Candidate::place);
        const auto last = std::ranges::upper_bound(known, place + farthest, {}, &Candidate::place);
        return std::pair(static_cast<std::size_t>(first - known.begin()),
                         static_cast<std::size_t>(last - known.begin()));
    };
    std::vector<Pair> pairs;
    for (std::size_t i = 0; i < seen.size(); ++i) {
        const auto [first, last] = within(seen[i].place);
        for (std::size_t k = first; k < last; ++k)
            if (const double d = std::abs(known[k].place - seen[i].place); d < reachOf(known[k]))
                pairs.push_back({k, i, d});
    }
    std::ranges::sort(pairs, {}, &Pair::distance);
    std::vector<std::uint8_t> knownTaken(known.size(), 0), seenTaken(seen.size(), 0);
    const auto standsAlone = [&](const Candidate& c) {
        const auto [first, last] = within(c.place);
        std::size_t near = 0;
        for (std::size_t k = first; k < last; ++k)
            near += std::abs(known[k].place - c.place) < reachOf(known[k]);
        return near == 1;
    };
    std::vector<std::pair<std::size_t, std::size_t>> better;
    for (const Pair& p : pairs) {
        seenTaken[p.seen] |= 2; // near something known
        if (knownTaken[p.known] || (seenTaken[p.seen] & 1)) continue;
        knownTaken[p.known] = 1;
        seenTaken[p.seen] |= 1;
        if (seen[p.seen].significance > known[p.known].significance && standsAlone(seen[p.seen]))
            better.emplace_back(p.known, p.seen);
    }
    for (const auto& [k, i] : better) known[k] = seen[i];
    for (std::size_t i = 0; i < seen.size(); ++i)
        if (!seenTaken[i]) known.push_back(seen[i]);
    std::ranges::sort(known, {}, &Candidate::place);
}

std::vector<Candidate> candidates(const List& y, double noise, double least, double narrowest, double widest,
                                  const Cancellation& stop) {
    std::vector<Candidate> all;
    const double finest = std::max(kFinestScale, 0.4 * narrowest / kWidthOverScale),
                 coarsest = 0.8 * widest / kWidthOverScale;
    for (double scale = finest; scale <= std::max(coarsest, finest) && !stop.stop_requested();
         scale *= kScaleStep) {
        const auto together = static_cast<std::size_t>(std::max(1.0, std::floor(scale / kLargestKernel)));
        const std::vector<Candidate> seen = seenAt(y, scale, together, noise, least);
        dropNeedles(all, seen, least);
        follow(all, seen, scale);
    }
    return all;
}

// Heights of Gaussians whose bends together are those that were seen, none below nought: a peak bends its
// neighbours the other way. By Gauss and Seidel, each over what lies near.
void giveHeights(std::vector<Candidate>& peaks) {
    constexpr int kRounds = 30;
    const auto bendOf = [&](const Candidate& of, const Candidate& at) { // of a peak of height one
        const double sigma = of.width / kWidthOverScale, total = sigma * sigma + at.scale * at.scale;
        const double d = (at.place - of.place) * (at.place - of.place) / total;
        return sigma / std::pow(total, 1.5) * (1 - d) * std::exp(-d / 2);
    };
    std::vector<std::vector<std::pair<std::size_t, double>>> near(peaks.size());
    const auto reaches = [&](std::size_t of, std::size_t at) {
        return std::abs(peaks[at].place - peaks[of].place) < 3 * (peaks[of].width + 2 * peaks[at].scale);
    };
    for (std::size_t k = 0; k < peaks.size(); ++k) { // in order of place
        for (std::size_t i = k; i < peaks.size() && reaches(k, i); ++i)
            near[i].emplace_back(k, bendOf(peaks[k], peaks[i]));
        for (std::size_t i = k; i-- > 0 && reaches(k, i);)
            near[i].emplace_back(k, bendOf(peaks[k], peaks[i]));
    }
    for (int round = 0; round < kRounds; ++round)
        for (std::size_t i = 0; i < peaks.size(); ++i) {
            double rest = peaks[i].bend, own = 1;
            for (const auto& [k, bend] : near[i]) {
                if (k == i)
                    own = bend;
                else
                    rest -= bend * peaks[k].height;
            }
            peaks[i].height = std::max(rest / own, 0.0);
            peaks[i].ownBend = rest;
        }
}

// Both flanks of a peak bend the other way and look like two weaker peaks that point so.
void dropFlanks(std::vector<FoundPeak>& peaks) {
    const auto isFlank = [&](const FoundPeak& p) {
        return std::ranges::any_of(peaks, [&](const FoundPeak& q) {
            return p.height * q.height < 0 && p.significance < kFlank * q.significance &&
                   std::abs(p.place - q.place) < 1.5 * q.width + p.width;
        });
    };
    std::vector<FoundPeak> kept;
    for (const FoundPeak& p : peaks)
        if (!isFlank(p)) kept.push_back(p);
    peaks = std::move(kept);
}

void dropLow(std::vector<FoundPeak>& peaks, double share) {
    double largest = 0;
    for (const FoundPeak& p : peaks) largest = std::max(largest, std::abs(p.height));
    std::erase_if(peaks, [&](const FoundPeak& p) { return std::abs(p.height) < share * largest; });
}

} // namespace

void keepHighest(std::vector<FoundPeak>& peaks, std::size_t most) {
    if (peaks.size() > most) {
        std::ranges::sort(peaks, std::greater(), [](const FoundPeak& p) { return std::abs(p.height); });
        peaks.resize(most);
    }
    std::ranges::sort(peaks, {}, &FoundPeak::place);
}

std::vector<FoundPeak> findPeaks(std::span<const double> x, std::span<const double> y,
                                 const PeakSearch& search, const Cancellation& stop) {
    const Even even = evenOf(x, y);
    if (even.y.size() < 5) return {};
    const double noise = even.noise;
    const auto count = static_cast<double>(even.y.size());
    const double narrowest = search.narrowest > 0 ? search.narrowest / even.step : 3,
                 widest = search.widest > 0 ? search.widest / even.step : count / 3;
    std::vector<FoundPeak> out;
    for (const double sign : {1.0, -1.0}) {
        List turned = even.y;
        for (double& v : turned) v *= sign;
        std::vector<Candidate> found =
            candidates(turned, noise, search.significance, narrowest, widest, stop);
        giveHeights(found);
        std::erase_if(found, [&](const Candidate& c) {
            return !(c.ownBend > std::numbers::sqrt2 * search.significance * c.unit);
        });
        giveHeights(found);
        for (const Candidate& c : found)
            out.push_back({.place = even.at(c.place),
                           .height = sign * c.height,
                           .width = c.width * even.step,
                           .significance = c.significance,
                           .signalToNoise = noise > 0 ? c.height / noise : INFINITY});
        if (sign > 0 && search.direction == Direction::Up) break;
    }
    dropFlanks(out);
    if (search.direction == Direction::Down)
        std::erase_if(out, [](const FoundPeak& p) { return p.height > 0; });
    dropLow(out, search.prominence);
    keepHighest(out, search.most > 0 ? search.most : out.size());
    return out;
}

} // namespace jointer::fit
