// SPDX-License-Identifier: GPL-3.0-or-later
#include "data/curve.h"

#include "base/text.h"
#include "base/unit_text.h"
#include "data/column.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>
#include <string_view>

namespace jointer {

namespace {

// The memory of a list of plain values.
std::string_view bytesOf(const auto& values) {
    return {reinterpret_cast<const char*>(values.data()), values.size() * sizeof(values[0])};
}

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();

// Where the straight line between two points reaches a height.
double crossing(double x0, double y0, double x1, double y1, double level) {
    return y0 == y1 ? x0 : std::lerp(x0, x1, (level - y0) / (y1 - y0));
}

// The width of the heights above half of the highest, on the lines between points. NaN: an end is not
// reached.
double widthAtHalf(const std::vector<double>& x, const std::vector<double>& heights) {
    const auto top = static_cast<std::size_t>(std::ranges::max_element(heights) - heights.begin());
    const double half = heights[top] / 2;
    std::size_t low = top, high = top;
    while (low > 0 && heights[low] > half) --low;
    while (high + 1 < heights.size() && heights[high] > half) ++high;
    if (heights[low] > half || heights[high] > half || low == high) return kNaN;
    return crossing(x[high - 1], heights[high - 1], x[high], heights[high], half) -
           crossing(x[low], heights[low], x[low + 1], heights[low + 1], half);
}

void add(Hasher& h, const AxisMeaning& m) {
    h.add(m.name).add(m.unit).add(m.isTime).add(m.descending);
    for (const std::string& name : m.categories) h.add(name);
}

} // namespace

std::string placeText(const AxisMeaning& meaning, double x) {
    if (meaning.isTime) {
        std::string text = isoDateTime(x);
        std::ranges::replace(text, 'T', ' ');
        for (std::string_view idle : {":00", " 00:00"}) // only what tells something
            if (text.size() == (idle.size() == 3 ? 19U : 16U) && text.ends_with(idle))
                text.resize(text.size() - idle.size());
        return text;
    }
    return readableNumber(x) + (meaning.unit.empty() ? "" : " " + readableUnit(meaning.unit));
}

Digest digestOf(const Curve& c) {
    Hasher h;
    h.add(c.size()).add(c.replicates.size()).add(c.more.size()).add(c.common.size());
    for (const bool there :
         {!c.sigma.empty(), !c.sigmaX.empty(), !c.excluded.empty(), !c.made.empty(), !c.rowIds.empty()})
        h.add(there);
    if (!c.resolution.empty()) h.add("resolution");
    c.eachList([&](const auto& list) { h.add(bytesOf(list)); });
    for (const CommonError& common : c.common) h.add(common.source);
    add(h, c.xMeaning);
    add(h, c.yMeaning);
    for (const AxisMeaning& m : c.moreMeanings) add(h, m);
    h.add(c.sigmaSource).add(c.sigmaCarried).add(c.correlatedBy);
    return h.digest();
}

Curve selected(const Curve& curve, const std::vector<std::uint8_t>& keep) {
    Curve out = curve;
    out.eachList([&](auto& list) {
        std::size_t to = 0;
        for (std::size_t i = 0; i < keep.size(); ++i)
            if (keep[i]) list[to++] = list[i];
        list.resize(to);
    });
    return out;
}

Curve arranged(const Curve& curve, const std::vector<std::size_t>& order) {
    Curve out = curve;
    out.eachList([&](auto& list) {
        auto sorted = list;
        sorted.resize(order.size());
        for (std::size_t k = 0; k < order.size(); ++k) sorted[k] = list[order[k]];
        list = std::move(sorted);
    });
    return out;
}

void sortByX(Curve& curve) {
    if (std::ranges::is_sorted(curve.x)) return;
    std::vector<std::size_t> order(curve.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::ranges::stable_sort(order, {}, [&](std::size_t i) { return curve.x[i]; });
    curve = arranged(curve, order);
}

SpanNumbers numbersOfSpan(const Curve& c, double low, double high) {
    SpanNumbers out{0, kNaN, kNaN, kNaN, kNaN, kNaN, kNaN, kNaN, kNaN};
    std::vector<double> x, y;
    x.reserve(c.size());
    y.reserve(c.size());
    for (std::size_t i = 0; i < c.size(); ++i) {
        if (!c.counts(i) || c.x[i] < low || c.x[i] > high) continue;
        x.push_back(c.x[i]);
        y.push_back(c.y[i]);
    }
    out.n = x.size();
    if (x.empty()) return out;
    const auto n = static_cast<double>(x.size());
    double sum = 0, squares = 0;
    for (double v : y) sum += v;
    out.mean = sum / n;
    for (double v : y) squares += (v - out.mean) * (v - out.mean);
    if (x.size() > 1) out.sd = std::sqrt(squares / (n - 1));
    const auto top = static_cast<std::size_t>(std::ranges::max_element(y) - y.begin());
    out.maximum = y[top];
    out.at = x[top];
    const double width = x.back() - x.front();
    std::vector<double> heights(x.size());
    for (std::size_t i = 0; i < x.size(); ++i)
        heights[i] = y[i] - (width > 0 ? std::lerp(y.front(), y.back(), (x[i] - x.front()) / width) : y[0]);
    double moment = 0;
    out.area = out.areaAboveChord = 0;
    for (std::size_t i = 1; i < x.size(); ++i) {
        const double step = x[i] - x[i - 1], a = heights[i - 1], b = heights[i];
        out.area += 0.5 * (y[i] + y[i - 1]) * step;
        out.areaAboveChord += 0.5 * (a + b) * step;
        // ∫ x·h over a straight piece.
        moment += step * (x[i - 1] * (a + b) / 2 + step * (a + 2 * b) / 6);
    }
    if (out.areaAboveChord != 0) out.centroid = moment / out.areaAboveChord;
    if (x.size() > 2) out.fwhm = widthAtHalf(x, heights);
    return out;
}

std::size_t nearestPoint(const std::vector<double>& xs, double x) {
    const auto at = std::lower_bound(xs.begin(), xs.end(), x);
    if (at == xs.begin()) return 0;
    if (at == xs.end()) return xs.size() - 1;
    const auto i = static_cast<std::size_t>(at - xs.begin());
    return x - xs[i - 1] <= xs[i] - x ? i - 1 : i;
}

} // namespace jointer
