// SPDX-License-Identifier: GPL-3.0-or-later
#include "data/logarithm_name.h"
#include "describe/setting_makers.h"
#include "figure/scales/linear.h"
#include "figure/scales/number_labels.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace jointer::figure {

namespace {

constexpr double kFewDecades = 0.7; // below it there are too few powers: ticks at equal distances

// "2^{5}", "e^{−1}": powers of a base other than ten.
std::string powerLabel(double base, int exponent) {
    const std::string name = std::abs(base - std::numbers::e) < 1e-3 ? "e" : fmt::format("{:g}", base);
    return name + "^{" + (exponent < 0 ? "−" : "") + std::to_string(std::abs(exponent)) + "}";
}

class Logarithmic final : public Scale {
public:
    // `ofData` is the base of the logarithms that the data are, where they are on the scale already.
    Logarithmic(double base, double ofData) : base_(base), perUnit_(1 / std::log(ofData)) {}

    double forward(double v) const override { return std::log(v) * perUnit_; } // NaN below zero
    double back(double place) const override { return std::exp(place / perUnit_); }
    Range empty() const override { return {0.1, 10}; }
    double shifted(double v, double by) const override { return v * std::pow(base_, by); }
    double base() const override { return NAN; } // there is no zero
    std::string domain() const override { return "above zero"; }
    std::string remedy() const override { return "“Linear to” of the axis makes one."; }

    Range padded(const Range& data, double share) const override {
        if (data.low == data.high) return {data.low / 2, data.high * 2};
        const double by = std::pow(data.high / data.low, share);
        return {data.low / by, data.high * by};
    }

    std::vector<Tick> ticks(const Range& range, const TickWish& wish) const override {
        if (!(range.low > 0) || !std::isfinite(range.high)) return {};
        const double powers = exponentOf(range.high) - exponentOf(range.low);
        if (base_ == 10 && powers < kFewDecades) return evenTicks(range, wish);
        if (base_ != 10 && powers < 2) return evenTicks(range, wish);
        return base_ == 10 ? decades(range, wish) : powersOf(range, wish);
    }

private:
    double exponentOf(double v) const { return std::log(v) / std::log(base_); } // of the powers at ticks

    static int strideFor(int first, int last, const TickWish& wish) {
        if (wish.every >= 1) return static_cast<int>(std::min(wish.every, 1e6));
        return std::max(1, static_cast<int>(std::ceil((last - first) / std::max(2.0, 1.3 * wish.about))));
    }

    std::vector<Tick> decades(const Range& range, const TickWish& wish) const {
        std::vector<Tick> ticks;
        const int first = static_cast<int>(std::floor(std::log10(range.low) + 1e-12)),
                  last = static_cast<int>(std::ceil(std::log10(range.high) - 1e-12));
        const int stride = strideFor(first, last, wish);
        const NumberWish& n = wish.numbers;
        const bool plain = n.format == "fixed" || n.format == "percent" ||
                           (n.format == "automatic" && first + n.factor >= -2 && last + n.factor <= 4);
        const bool more = exponentOf(range.high) - exponentOf(range.low) < 1.6; // 2 and 5 have numbers too
        for (int e = first; e <= last; ++e) {
            for (int digit = 1; digit <= 9; ++digit) {
                const double value = digit * std::pow(10.0, e);
                if (value < range.low * (1 - 1e-12) || value > range.high * (1 + 1e-12)) continue;
                const bool major = digit == 1 && (e - first) % stride == 0;
                const bool labelled = major || (more && (digit == 2 || digit == 5));
                if (digit > 1 && (stride > 1 || wish.minor == 0) && !labelled) continue;
                ticks.push_back({value, labelled ? label(value, e, plain, n) : "", major});
            }
        }
        return ticks;
    }

    static std::string label(double value, int exponent, bool plain, const NumberWish& n) {
        if (n.format == "engineering") return NumberLabels(n, value, 0)(value);
        if (n.format == "percent") return NumberLabels(n, value, 0)(value);
        const double shown = value * std::pow(10.0, -n.factor);
        if (plain) return fixedLabel(shown, n.decimals >= 0 ? n.decimals : std::max(0, n.factor - exponent));
        return scientificLabel(shown, n.decimals, true);
    }

    std::vector<Tick> powersOf(const Range& range, const TickWish& wish) const {
        std::vector<Tick> ticks;
        const int first = static_cast<int>(std::ceil(exponentOf(range.low) - 1e-9)),
                  last = static_cast<int>(std::floor(exponentOf(range.high) + 1e-9));
        const int stride = strideFor(first, last, wish);
        const bool whole = base_ == std::floor(base_);
        const bool plain = whole && (wish.numbers.format == "fixed" ||
                                     (wish.numbers.format == "automatic" && first >= 0 && std::pow(base_, last) < 1e5));
        for (int e = first; e <= last; ++e) {
            const bool major = (e - first) % stride == 0;
            if (!major && stride > 20) continue;
            ticks.push_back({std::pow(base_, e),
                             !major  ? ""
                             : plain ? fixedLabel(std::round(std::pow(base_, e)), 0)
                                     : powerLabel(base_, e),
                             major});
        }
        return ticks;
    }

    double base_, perUnit_;
};

// Logarithmic far from zero at both sides, linear about it: the inverse hyperbolic sine.
class LinearAboutZero final : public Scale {
public:
    LinearAboutZero(double base, double linear)
        : base_(base), half_(2 * linear), perUnit_(1 / std::log(base)) {}

    double forward(double v) const override { return std::asinh(v / half_) * perUnit_; }
    double back(double place) const override { return half_ * std::sinh(place / perUnit_); }

    std::vector<Tick> ticks(const Range& range, const TickWish& wish) const override {
        const double from = forward(range.low), to = forward(range.high);
        if (to - from < 1.5) return evenTicks(range, wish);
        std::vector<Tick> ticks;
        const double largest = std::max(std::abs(range.low), std::abs(range.high));
        const int first = static_cast<int>(std::ceil(std::log(half_ / 2) / std::log(base_) - 1e-9)),
                  last = static_cast<int>(std::floor(std::log(largest) / std::log(base_) + 1e-9));
        const int stride = std::max(1, static_cast<int>(std::ceil((to - from) / std::max(2, wish.about))));
        const int each = stride > 20 ? stride : 1; // of so many there are no small ones
        const bool plain = base_ == 10 && wish.numbers.format == "automatic" && first >= -2 && last <= 4;
        auto add = [&](double value, int exponent, bool major) {
            if (value < range.low || value > range.high) return;
            const std::string label = value == 0 ? "0"
                                      : plain    ? fixedLabel(value, std::max(0, -exponent))
                                                 : scientificLabel(value, wish.numbers.decimals, true);
            ticks.push_back({value, major ? label : "", major});
        };
        for (int e = first + (last - first) / each * each; e >= first; e -= each)
            add(-std::pow(base_, e), e, (e - first) % stride == 0);
        add(0, 0, true);
        for (int e = first; e <= last; e += each) add(std::pow(base_, e), e, (e - first) % stride == 0);
        if (base_ == 10 && stride == 1 && wish.minor != 0) addBetween(ticks, range, largest);
        return ticks;
    }

private:
    // The multiples between powers of ten, where the axis is logarithmic already.
    void addBetween(std::vector<Tick>& ticks, const Range& range, double largest) const {
        for (int e = static_cast<int>(std::floor(std::log10(half_))); std::pow(10.0, e) <= largest; ++e)
            for (int digit = 2; digit <= 9; ++digit)
                for (const double value : {-digit * std::pow(10.0, e), digit * std::pow(10.0, e)})
                    if (std::abs(value) > half_ && value >= range.low && value <= range.high)
                        ticks.push_back({value, "", false});
        std::ranges::sort(ticks, {}, &Tick::value);
    }

    double base_, half_, perUnit_;
};

ScalePtr make(const ScaleTask& task) {
    const KindInfo& info = scaleCatalogue().find("log")->info;
    const double base = info.number(task.settings, "log-base"),
                 linear = info.number(task.settings, "linear-to");
    if (linear > 0) return std::make_shared<LinearAboutZero>(base, linear);
    const auto original = task.settings.flag("applied") ? logarithmOf(task.meaning.name) : std::nullopt;
    return std::make_shared<Logarithmic>(base, original ? original->base : base);
}

} // namespace

ScaleKind logarithmicScale() {
    using namespace describe;
    Setting linear = openNumber("linear-to", "Linear to",
                                "Up to about this distance from zero the axis is linear, so that zero and "
                                "negative values have a place; empty: nowhere.",
                                {.unit = "x", .lowest = 1e-300, .whenEmpty = "nowhere"});
    return {.info = {.key = "log",
                     .name = "logarithmic",
                     .purpose = "Equal distances for equal ratios",
                     .settings = {number("log-base", "Base", 10,
                                         "Base of the powers at which ticks stand: 10, 2, 2.718281828.",
                                         {.lowest = 1.001, .highest = 1e6}),
                                  std::move(linear)}},
            .make = make};
}

} // namespace jointer::figure
