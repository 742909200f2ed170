// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/scale.h"

#include "base/text.h"
#include "figure/time_ticks.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

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

int decimalsFor(double step) {
    int decimals = 0;
    while (decimals < 12 && std::abs(step - std::round(step)) > 1e-6 * std::abs(step)) step *= 10, ++decimals;
    return decimals;
}

std::string powerOfTen(int exponent) {
    return exponent == 0 ? "1"
           : exponent == 1
               ? "10"
               : "10^{" + std::string(exponent < 0 ? "−" : "") + std::to_string(std::abs(exponent)) + "}";
}

std::string fixedLabel(double v, int decimals) {
    std::string text = fmt::format("{:.{}f}", v, decimals);
    if (text.find_first_not_of("-0.") == std::string::npos) text = fmt::format("{:.{}f}", 0.0, decimals);
    const bool negative = text.starts_with('-');
    std::string body = negative ? text.substr(1) : text, out;
    const std::size_t whole = std::min(body.find('.'), body.size());
    for (std::size_t i = 0; i < body.size(); ++i) {
        if (whole >= 5 && i > 0 && i < whole && (whole - i) % 3 == 0) out += "\u2009";
        out += body[i];
    }
    return (negative ? "−" : "") + out;
}

std::string scientificLabel(double v, int decimals, bool barePowers = false) {
    if (v == 0) return "0";
    const int exponent = static_cast<int>(std::floor(std::log10(std::abs(v)) + 1e-12));
    const double mantissa = v / std::pow(10.0, exponent);
    if (mantissa == 1 && barePowers && decimals <= 0) return powerOfTen(exponent);
    return fixedLabel(mantissa, std::max(decimals, 0)) + "×" + powerOfTen(exponent);
}

std::vector<Tick> linearTicks(const Scale& s, const TickWish& wish) {
    const double span = s.high - s.low;
    double step = wish.every > 0 ? wish.every : roundStep(span, wish.about);
    if (span / step > kMostTicks)
        step = roundStep(span, wish.about); // a typed distance that would draw a black bar
    const int digit = leadingDigit(step);
    const int minor = wish.minor >= 0 ? std::min(wish.minor, 50) : digit == 2 ? 1 : digit == 5 ? 4 : 1;
    const double largest = std::max(std::abs(s.low), std::abs(s.high));
    const bool scientific =
        wish.format == "scientific" || (wish.format == "automatic" && (largest >= 1e6 || largest < 1e-3));
    const int decimals =
        wish.decimals >= 0 ? wish.decimals
        : scientific ? std::max(0, decimalsFor(step / std::pow(10.0, std::floor(std::log10(largest) + 1e-9))))
                     : decimalsFor(step);

    std::vector<Tick> ticks;
    const double small = step / (minor + 1), tolerance = 1e-9 * span;
    const auto first = static_cast<long long>(std::ceil((s.low - tolerance) / small)),
               last = static_cast<long long>(std::floor((s.high + tolerance) / small));
    for (long long k = first; k <= last && ticks.size() < 20 * kMostTicks; ++k) {
        const double value = static_cast<double>(k) * small;
        const bool major = k % (minor + 1) == 0;
        ticks.push_back({value,
                         !major       ? ""
                         : scientific ? scientificLabel(value, decimals)
                                      : fixedLabel(value, decimals),
                         major});
    }
    return ticks;
}

std::vector<Tick> logTicks(const Scale& s, const TickWish& wish) {
    std::vector<Tick> ticks;
    const double decades = std::log10(s.high / s.low);
    // Less than a decade and a half has too few powers: numbers in between are labelled, or linear ticks
    // taken.
    if (decades < 0.7) return linearTicks(s, wish);
    const int first = static_cast<int>(std::floor(std::log10(s.low) + 1e-12)),
              last = static_cast<int>(std::ceil(std::log10(s.high) - 1e-12));
    const int stride =
        std::max(1, static_cast<int>(std::ceil((last - first) / std::max(2.0, 1.3 * wish.about))));
    const bool plain = wish.format == "fixed" || (wish.format == "automatic" && first >= -2 && last <= 4);
    const bool more = decades < 1.6;
    for (int e = first; e <= last; ++e) {
        for (int digit = 1; digit <= 9; ++digit) {
            const double value = digit * std::pow(10.0, e);
            if (value < s.low * (1 - 1e-12) || value > s.high * (1 + 1e-12)) continue;
            const bool major = digit == 1 ? (e - first) % stride == 0 : false;
            const bool labelled = major || (more && (digit == 2 || digit == 5));
            if (digit > 1 && (stride > 1 || wish.minor == 0) && !labelled) continue;
            std::string label;
            if (labelled)
                label = plain ? fixedLabel(value, wish.decimals >= 0 ? wish.decimals : std::max(0, -e))
                              : scientificLabel(value, wish.decimals, true);
            ticks.push_back({value, label, major});
        }
    }
    return ticks;
}

} // namespace

double Scale::value(double p) const {
    const double t = (p - start) / (end - start);
    return log ? low * std::pow(high / low, t) : low + t * (high - low);
}

std::vector<Tick> ticksOf(const Scale& scale, const TickWish& wish) {
    if (!(scale.high > scale.low) || !std::isfinite(scale.high - scale.low)) return {};
    if (scale.log) return logTicks(scale, wish);
    if (!wish.time) return linearTicks(scale, wish);
    const auto ticks = timeTicks(scale, wish.about);
    return ticks.empty() ? linearTicks(scale, wish) : ticks; // beyond any calendar, or between two instants
}

Range padded(Range data, bool log, double margin) {
    if (log) {
        if (data.low == data.high) return {data.low / 2, data.high * 2};
        const double by = std::pow(data.high / data.low, margin);
        return {data.low / by, data.high * by};
    }
    const double span = data.high - data.low;
    if (span <= 1e-12 * std::abs(data.high)) {
        const double by = data.high == 0 ? 1 : 0.1 * std::abs(data.high);
        return {data.low - by, data.high + by};
    }
    return {data.low - margin * span, data.high + margin * span};
}

} // namespace jointer::figure
