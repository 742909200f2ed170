// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/scales/linear.h"

#include "figure/scales/number_labels.h"

#include <algorithm>
#include <cmath>

namespace jointer::figure {

namespace {

constexpr std::size_t kMostTicks = 400;

// The round step (1, 2 or 5 times a power of ten) that gives about so many intervals.
double roundStep(double span, int about) {
    const double raw = span / std::max(about, 1), power = std::pow(10.0, std::floor(std::log10(raw)));
    const double mantissa = raw / power;
    return power * (mantissa < 1.5 ? 1 : mantissa < 3.5 ? 2 : mantissa < 7.5 ? 5 : 10);
}

int leadingDigit(double step) {
    return static_cast<int>(std::lround(step / std::pow(10.0, std::floor(std::log10(step) + 1e-9))));
}

class Linear final : public Scale {
public:
    double forward(double v) const override { return v; }
    double back(double place) const override { return place; }
    bool isEven() const override { return true; }
    std::vector<Tick> ticks(const Range& range, const TickWish& wish) const override {
        return evenTicks(range, wish);
    }
    Range padded(const Range& data, double share) const override {
        const double span = data.high - data.low;
        if (span > 1e-12 * std::abs(data.high)) return {data.low - share * span, data.high + share * span};
        const double by = data.high == 0 ? 1 : 0.1 * std::abs(data.high);
        return {data.low - by, data.high + by};
    }
};

} // namespace

std::vector<Tick> evenTicks(const Range& range, const TickWish& wish) {
    const double span = range.high - range.low;
    if (!(span > 0) || !std::isfinite(span)) return {};
    double step = wish.every > 0 ? wish.every : roundStep(span, wish.about);
    if (span / step > kMostTicks)
        step = roundStep(span, wish.about); // a typed distance that would draw a black bar
    const int digit = leadingDigit(step);
    const int minor = wish.minor >= 0 ? std::min(wish.minor, 50) : digit == 2 ? 1 : digit == 5 ? 4 : 1;
    const double largest = std::max(std::abs(range.low), std::abs(range.high));
    const NumberLabels label(wish.numbers, largest, step);

    std::vector<Tick> ticks;
    const double origin = std::isfinite(wish.from) ? wish.from : 0;
    const double small = step / (minor + 1), tolerance = 1e-9 * span;
    const double first = std::ceil((range.low - origin - tolerance) / small),
                 last = std::floor((range.high - origin + tolerance) / small);
    if (!(std::abs(first) < 1e15 && std::abs(last) < 1e15)) return {}; // steps below what numbers resolve
    for (double k = first; k <= last && ticks.size() < 20 * kMostTicks; ++k) {
        const double value = origin + k * small;
        const bool major = std::fmod(k, minor + 1) == 0;
        ticks.push_back({value, major ? label(value) : "", major});
    }
    return ticks;
}

ScaleKind linearScale() {
    return {.info = {.key = "linear", .name = "linear", .purpose = "Equal distances for equal differences"},
            .make = [](const ScaleTask&) -> ScalePtr { return std::make_shared<Linear>(); }};
}

} // namespace jointer::figure
