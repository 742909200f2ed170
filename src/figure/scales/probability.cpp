// SPDX-License-Identifier: GPL-3.0-or-later
#include "describe/setting_makers.h"
#include "figure/scales/scale.h"

#include <algorithm>
#include <boost/math/special_functions/erf.hpp>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace jointer::figure {

namespace {

// Even in the quantiles of the normal distribution: a normal sample's cumulative shares lie on a line.
class Probability final : public Scale {
public:
    explicit Probability(double whole) : whole_(whole) {}

    double forward(double v) const override {
        const double p = v / whole_;
        if (!(p > 0 && p < 1)) return NAN;
        // From the nearer end, where small shares keep all their digits.
        return p < 0.5 ? -std::numbers::sqrt2 * boost::math::erfc_inv(2 * p)
                       : std::numbers::sqrt2 * boost::math::erfc_inv(2 * (1 - p));
    }
    double back(double place) const override {
        return whole_ * 0.5 * std::erfc(-place / std::numbers::sqrt2);
    }
    Range empty() const override { return {0.01 * whole_, 0.99 * whole_}; }
    double base() const override { return NAN; }
    std::string domain() const override { return whole_ == 1 ? "between 0 and 1" : "between 0 and 100 %"; }

    // The shares that tables of probabilities have, the plainer first where there is little room.
    std::vector<Tick> ticks(const Range& range, const TickWish& wish) const override {
        static constexpr double plainer[] = {50,   10,    90,   1,  99, 0.1, 99.9,  30,     70,
                                             0.01, 99.99, 5,    95, 20, 80,  0.001, 99.999, 2,
                                             98,   0.5,   99.5, 40, 60, 0.2, 99.8};
        const double from = forward(range.low), length = forward(range.high) - from;
        const double gap = 0.8 / std::max(2, wish.about);
        std::vector<double> taken;
        std::vector<Tick> ticks;
        for (double percent : plainer) {
            const double value = percent / 100 * whole_, at = (forward(value) - from) / length;
            if (!(value >= range.low && value <= range.high)) continue;
            const bool crowded =
                std::ranges::any_of(taken, [&](double other) { return std::abs(other - at) < gap; });
            if (crowded && wish.minor == 0) continue;
            if (!crowded) taken.push_back(at);
            ticks.push_back({value, crowded ? "" : fmt::format("{:g}", value), !crowded});
        }
        std::ranges::sort(ticks, {}, &Tick::value);
        return ticks;
    }

private:
    double whole_;
};

} // namespace

ScaleKind probabilityScale() {
    return {.info = {.key = "probability",
                     .name = "probability",
                     .purpose = "Even in the quantiles of the normal distribution",
                     .settings = {describe::choice("probabilities", "Values are",
                                                   {{"percent", "per cent"}, {"shares", "shares of one"}},
                                                   "Whether the data go from 0 to 100 or from 0 to 1.")}},
            .make = [](const ScaleTask& task) -> ScalePtr {
                const bool shares = task.settings.text("probabilities") == "shares";
                return std::make_shared<Probability>(shares ? 1 : 100);
            }};
}

} // namespace jointer::figure
