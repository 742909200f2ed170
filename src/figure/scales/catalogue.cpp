// SPDX-License-Identifier: GPL-3.0-or-later
// All scales in the order in which lists show them, and what they have in common.
#include "figure/scales/linear.h"
#include "figure/scales/number_labels.h"

#include <algorithm>
#include <cmath>

namespace jointer::figure {

namespace {

Catalogue<ScaleKind>& all() {
    static Catalogue<ScaleKind> kinds({linearScale(), logarithmicScale(), reciprocalScale(),
                                       squareRootScale(), probabilityScale(), timeScale(), categoryScale(),
                                       formulaScale()});
    return kinds;
}

// The data are already on the scale (a column of logarithms): even in them, numbers show the originals.
class Applied final : public Scale {
public:
    explicit Applied(ScalePtr inner) : inner_(std::move(inner)) {}
    double forward(double v) const override { return v; }
    double back(double place) const override { return place; }
    bool isEven() const override { return true; }
    std::vector<Tick> ticks(const Range& range, const TickWish& wish) const override {
        std::vector<Tick> ticks = inner_->ticks({inner_->back(range.low), inner_->back(range.high)}, wish);
        for (Tick& t : ticks) t.value = inner_->forward(t.value);
        return ticks;
    }
    Range padded(const Range& data, double share) const override {
        return all().front().make({{}, {}})->padded(data, share);
    }

private:
    ScalePtr inner_;
};

// The distances of round values from coarse to fine.
std::vector<double> roundSteps(double span) {
    std::vector<double> steps;
    const int top = static_cast<int>(std::floor(std::log10(span)));
    for (int e = top; e > top - 5; --e)
        for (double digit : {5.0, 2.0, 1.0}) steps.push_back(digit * std::pow(10.0, e));
    return steps;
}

// The power of ten of the last digit that is not zero.
int lastPlace(double value) {
    int place = -decimalsFor(value);
    while (place >= 0 &&
           std::abs(std::remainder(value, std::pow(10.0, place + 1))) < 1e-6 * std::pow(10.0, place))
        ++place;
    return place;
}

} // namespace

const Catalogue<ScaleKind>& scaleCatalogue() {
    return all();
}

void addScaleKind(ScaleKind kind) {
    all().add(std::move(kind));
}

ScalePtr scaleFor(const ScaleTask& task) {
    std::string key = task.settings.text("scale");
    if (key.empty() || key == "automatic")
        key = !task.meaning.categories.empty() ? "category" : task.meaning.isTime ? "time" : "linear";
    const ScaleKind* kind = all().find(key);
    ScalePtr scale = (kind ? *kind : all().front()).make(task);
    if (task.settings.flag("applied") && !scale->isEven()) return std::make_shared<Applied>(std::move(scale));
    return scale;
}

Range Scale::padded(const Range& data, double share) const {
    const double low = forward(data.low), high = forward(data.high);
    const double by = high > low ? share * (high - low) : 0.1 * std::max(std::abs(low), 1e-3);
    Range out{back(low - by), back(high + by)};
    if (!takes(out.low) || out.low > data.low) out.low = data.low;
    if (!takes(out.high) || out.high < data.high) out.high = data.high;
    if (out.low < out.high) return out;
    return {0.9 * data.low, 1.1 * data.high};
}

std::vector<Tick> roundTicks(const Range& range, const TickWish& wish,
                             const std::function<double(double)>& place) {
    const double span = range.high - range.low;
    if (!(span > 0) || !std::isfinite(span)) return {};
    if (wish.every > 0 && span / wish.every < 400) return evenTicks(range, wish);
    const double gap = 0.75 / std::max(2, wish.about), near = gap / 4;
    std::vector<std::pair<double, double>> taken, minor; // value, place
    auto isFree = [](const auto& held, double at, double distance) {
        return std::ranges::none_of(held, [&](const auto& t) { return std::abs(t.second - at) < distance; });
    };
    const double largest = std::max(std::abs(range.low), std::abs(range.high));
    double decade = 0;
    int finer = 0; // steps since there were enough: they only give small ticks
    for (double step : roundSteps(std::max(span, largest))) {
        const double first = std::ceil(range.low / step - 1e-9), last = std::floor(range.high / step + 1e-9);
        if (last - first > 1500 || finer > 1) break;
        const auto count = static_cast<int>(taken.size());
        const bool enough = count >= std::max(4, 2 * wish.about / 3) || (count >= 3 && step < 0.19 * decade);
        finer += enough;
        for (double k = first; k <= last; ++k) {
            const double value = k * step, at = place(value);
            if (!std::isfinite(at)) continue;
            if (!enough && isFree(taken, at, gap))
                taken.emplace_back(value, at);
            else if (wish.minor != 0 && isFree(taken, at, near) && isFree(minor, at, near))
                minor.emplace_back(value, at);
        }
        if (count == 0 && !taken.empty()) decade = std::pow(10.0, std::floor(std::log10(step) + 1e-9));
    }
    // Of values of one size all have the same decimals.
    int finest = 300;
    for (const auto& [value, at] : taken)
        if (value != 0) finest = std::min(finest, lastPlace(value));
    const bool alike = largest < 20 * std::max(std::min(std::abs(range.low), std::abs(range.high)), 1e-300);
    const NumberLabels label(wish.numbers, largest, alike && finest < 300 ? std::pow(10.0, finest) : 0);
    std::vector<Tick> ticks;
    for (const auto& [value, at] : taken) ticks.push_back({value, label(value), true});
    for (const auto& [value, at] : minor)
        if (isFree(taken, at, near)) ticks.push_back({value, "", false});
    std::ranges::sort(ticks, {}, &Tick::value);
    return ticks;
}

} // namespace jointer::figure
