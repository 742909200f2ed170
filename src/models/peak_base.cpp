// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/peak_base.h"

#include "models/start_values.h"

#include <algorithm>
#include <cmath>

namespace jointer::models {

Setting baseSetting() {
    return {.key = "base",
            .label = "Base",
            .kind = SettingKind::Choice,
            .fallback = std::string("none"),
            .help = "What the peak stands on: nothing, a level or a sloping line, fitted together with it.",
            .choices = {{"none", "none"}, {"constant", "constant"}, {"line", "line"}}};
}

Base baseOf(const Settings& settings) {
    const std::string key = settings.text("base", "none");
    return key == "line" ? Base::Line : key == "constant" ? Base::Constant : Base::None;
}

std::vector<ParameterInfo> baseParameters(Base base) {
    if (base == Base::None) return {};
    std::vector<ParameterInfo> out = {
        {"offset", base == Base::Line ? "base at x = 0" : "level of the base", "y"}};
    if (base == Base::Line) out.push_back({"tilt", "slope of the base", "y/x"});
    return out;
}

std::string baseFormula(Base base) {
    return base == Base::None ? "" : base == Base::Constant ? " + offset" : " + offset + tilt*x";
}

// The base under the peak by the ends of the curve, then the point furthest from it and the width at half of
// it.
std::optional<std::vector<double>> guessPeak(const Curve& curve, Base base) {
    const SortedPoints p = sortedPoints(curve);
    if (p.size() < 3) return std::nullopt;
    const double first = base == Base::None ? 0 : endLevel(p.y, true),
                 last = base == Base::None ? 0 : endLevel(p.y, false);
    const double tilt = base == Base::Line ? (last - first) / (p.x.back() - p.x.front()) : 0;
    const double offset = base == Base::Line ? first - tilt * p.x.front() : 0.5 * (first + last);
    const std::vector<double> smooth = runningMedian(p.y, std::min<std::size_t>(3, p.size() / 20));
    std::vector<double> over(p.size());
    for (std::size_t i = 0; i < p.size(); ++i) over[i] = smooth[i] - offset - tilt * p.x[i];
    const auto top = static_cast<std::size_t>(
        std::ranges::max_element(over, {}, [](double v) { return std::abs(v); }) - over.begin());
    std::size_t left = top, right = top;
    while (left > 0 && over[left] / over[top] > 0.5) --left;
    while (right + 1 < over.size() && over[right] / over[top] > 0.5) ++right;
    // A side that never falls to half (a peak cut by the span) is taken to mirror the other.
    const double leftWidth = over[left] / over[top] > 0.5 ? 0 : p.x[top] - p.x[left];
    const double rightWidth = over[right] / over[top] > 0.5 ? 0 : p.x[right] - p.x[top];
    double width =
        leftWidth > 0 && rightWidth > 0 ? leftWidth + rightWidth : 2 * std::max(leftWidth, rightWidth);
    if (!(width > 0)) width = (p.x.back() - p.x.front()) / 4;
    std::vector<double> start = {p.x[top], over[top], width};
    if (base != Base::None) start.push_back(offset);
    if (base == Base::Line) start.push_back(tilt);
    return start;
}

} // namespace jointer::models
