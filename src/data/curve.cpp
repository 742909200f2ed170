// SPDX-License-Identifier: GPL-3.0-or-later
#include "data/curve.h"

#include <algorithm>
#include <cmath>
#include <string_view>

namespace jointer {

namespace {

// The memory of a list of plain values.
std::string_view bytesOf(const auto& values) {
    return {reinterpret_cast<const char*>(values.data()), values.size() * sizeof(values[0])};
}

template <class T> void keepOnly(std::vector<T>& values, const std::vector<std::uint8_t>& keep) {
    if (values.empty()) return;
    std::size_t to = 0;
    for (std::size_t i = 0; i < keep.size(); ++i)
        if (keep[i]) values[to++] = values[i];
    values.resize(to);
}

} // namespace

Digest digestOf(const Curve& c) {
    Hasher h;
    h.add(std::span<const double>(c.x)).add(std::span<const double>(c.y)).add(c.replicates.size());
    for (const auto& r : c.replicates) h.add(std::span<const double>(r));
    for (const auto& m : c.more) h.add(std::span<const double>(m));
    h.add(std::span<const double>(c.sigma)).add(std::span<const double>(c.sigmaX));
    h.add(bytesOf(c.excluded)).add(bytesOf(c.rowIds));
    h.add(c.xMeaning.name)
        .add(c.xMeaning.unit)
        .add(c.xMeaning.isTime)
        .add(c.yMeaning.name)
        .add(c.yMeaning.unit);
    h.add(c.sigmaSource).add(c.sigmaCarried);
    return h.digest();
}

Curve selected(const Curve& curve, const std::vector<std::uint8_t>& keep) {
    Curve out = curve;
    keepOnly(out.x, keep);
    keepOnly(out.y, keep);
    for (auto& r : out.replicates) keepOnly(r, keep);
    for (auto& m : out.more) keepOnly(m, keep);
    keepOnly(out.sigma, keep);
    keepOnly(out.sigmaX, keep);
    keepOnly(out.excluded, keep);
    keepOnly(out.rowIds, keep);
    return out;
}

SpanNumbers numbersOfSpan(const Curve& c, double low, double high) {
    SpanNumbers out{.maximum = -INFINITY};
    std::size_t before = c.size();
    for (std::size_t i = 0; i < c.size(); ++i) {
        if (!c.counts(i) || c.x[i] < low || c.x[i] > high) continue;
        if (before < c.size()) out.area += 0.5 * (c.y[i] + c.y[before]) * (c.x[i] - c.x[before]);
        if (c.y[i] > out.maximum) out.maximum = c.y[i], out.at = c.x[i];
        before = i;
        ++out.n;
    }
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
