// SPDX-License-Identifier: GPL-3.0-or-later
// The peak at a place that a hand points to.
#include "fit/even_points.h"
#include "fit/peak_finding.h"

#include <algorithm>
#include <cmath>

namespace jointer::fit {

namespace {

constexpr double kPointedAt = 3; // significance that is enough where a hand points

// By how far the curve falls on both sides of a place, over the line through the lowest points near by.
FoundPeak fallenFrom(const Even& even, double place, double sign) {
    const auto n = std::ssize(even.y);
    const auto top = std::clamp<std::ptrdiff_t>(std::lround((place - even.first) / even.step), 0, n - 1);
    const auto at = [&](std::ptrdiff_t i) { return sign * even.y[static_cast<std::size_t>(i)]; };
    const std::ptrdiff_t reach = std::max<std::ptrdiff_t>(3, n / 20);
    double left = at(top), right = at(top);
    for (auto i = top; i >= std::max<std::ptrdiff_t>(0, top - reach); --i) left = std::min(left, at(i));
    for (auto i = top; i <= std::min(n - 1, top + reach); ++i) right = std::min(right, at(i));
    const double base = std::min(std::max(left, right), at(top)), half = 0.5 * (at(top) + base);
    auto from = top, to = top;
    while (from > 0 && top - from < reach && at(from) > half) --from;
    while (to < n - 1 && to - top < reach && at(to) > half) ++to;
    const auto points =
        std::max<std::ptrdiff_t>(2 * std::max<std::ptrdiff_t>(1, std::min(top - from, to - top)), 2);
    return {.place = place,
            .height = sign * std::max(at(top) - base, 0.0),
            .width = static_cast<double>(points) * even.step};
}

} // namespace

FoundPeak peakAt(std::span<const double> x, std::span<const double> y, double place, bool snaps,
                 Direction direction) {
    const Even even = evenOf(x, y);
    if (even.y.size() < 5)
        return {.place = place, .height = direction == Direction::Down ? -1.0 : 1.0, .width = 1};
    const FoundPeak* best = nullptr;
    const auto found = findPeaks(x, y, {.direction = direction, .significance = kPointedAt});
    for (const FoundPeak& f : found) {
        const double away = std::abs(f.place - place);
        if (away < 0.75 * f.width && (!best || away < std::abs(best->place - place))) best = &f;
    }
    FoundPeak out = best ? *best : fallenFrom(even, place, direction == Direction::Down ? -1 : 1);
    if (!best || !snaps) out.place = place;
    if (out.height == 0) out.height = direction == Direction::Down ? -1e-3 : 1e-3;
    return out;
}

} // namespace jointer::fit
