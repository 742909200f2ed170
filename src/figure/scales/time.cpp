// SPDX-License-Identifier: GPL-3.0-or-later
#include "data/time_pattern.h"
#include "describe/setting_makers.h"
#include "figure/scales/linear.h"
#include "figure/scales/time_ticks.h"

namespace jointer::figure {

namespace {

class Time final : public Scale {
public:
    double forward(double v) const override { return v; }
    double back(double place) const override { return place; }
    bool isEven() const override { return true; }

    std::vector<Tick> ticks(const Range& range, const TickWish& wish) const override {
        std::vector<Tick> ticks = timeTicks(range, wish);
        if (ticks.empty()) return evenTicks(range, wish); // beyond any calendar, or between two instants
        if (wish.numbers.pattern.empty()) return ticks;
        for (Tick& t : ticks) {
            t.label = t.major ? timeText(t.value, wish.numbers.pattern) : "";
            t.below.clear();
        }
        return ticks;
    }
    Range padded(const Range& data, double share) const override {
        const double span = data.high - data.low, by = span > 0 ? share * span : 43200;
        return {data.low - by, data.high + by};
    }
};

} // namespace

ScaleKind timeScale() {
    return {.info = {.key = "time",
                     .name = "time",
                     .purpose = "Dates and times; ticks follow the calendar",
                     .settings = {describe::word("pattern", "Pattern",
                                                 "How dates and times are written: YYYY-MM-DD, D MMM, hh:mm; "
                                                 "empty tells what changes and what is common.",
                                                 {.whenEmpty = "automatic"})}},
            .make = [](const ScaleTask&) -> ScalePtr { return std::make_shared<Time>(); }};
}

} // namespace jointer::figure
