// SPDX-License-Identifier: GPL-3.0-or-later
// Scales by a power of the value: 1/x and the square root.
#include "figure/scales/scale.h"

#include <cmath>

namespace jointer::figure {

namespace {

class Reciprocal final : public Scale {
public:
    double forward(double v) const override { return v > 0 ? -1 / v : NAN; } // ascending
    double back(double place) const override { return -1 / place; }
    Range empty() const override { return {1, 10}; }
    double base() const override { return NAN; }
    std::string domain() const override { return "above zero"; }

    std::vector<Tick> ticks(const Range& range, const TickWish& wish) const override {
        const double from = forward(range.low), length = forward(range.high) - from;
        return roundTicks(range, wish, [&](double v) { return (forward(v) - from) / length; });
    }
};

class SquareRoot final : public Scale {
public:
    double forward(double v) const override { return v >= 0 ? std::sqrt(v) : NAN; }
    double back(double place) const override { return place * place; }
    std::string domain() const override { return "not below zero"; }

    std::vector<Tick> ticks(const Range& range, const TickWish& wish) const override {
        const double from = forward(range.low), length = forward(range.high) - from;
        return roundTicks(range, wish, [&](double v) { return (forward(v) - from) / length; });
    }
    Range padded(const Range& data, double share) const override {
        Range range = Scale::padded(data, share);
        const double low = forward(data.low) - share * (forward(data.high) - forward(data.low));
        if (!(low > 0)) range.low = 0;
        return range;
    }
};

} // namespace

ScaleKind reciprocalScale() {
    return {.info = {.key = "reciprocal",
                     .name = "reciprocal",
                     .purpose = "Even in 1/x, as for temperatures in an Arrhenius plot"},
            .make = [](const ScaleTask&) -> ScalePtr { return std::make_shared<Reciprocal>(); }};
}

ScaleKind squareRootScale() {
    return {.info = {.key = "square-root",
                     .name = "square root",
                     .purpose = "Even in the square root, as for counts"},
            .make = [](const ScaleTask&) -> ScalePtr { return std::make_shared<SquareRoot>(); }};
}

} // namespace jointer::figure
