// SPDX-License-Identifier: GPL-3.0-or-later
#include "data/curve_overview.h"

#include "base/parallel.h"

#include <algorithm>

namespace jointer {

namespace {

void takeEach(const Curve& curve, std::size_t from, std::size_t to, Extent& into) {
    Extent e = into; // in registers
    for (std::size_t i = from; i < to; ++i)
        if (curve.counts(i)) e.take(curve.y[i], i);
    into = e;
}

} // namespace

CurveOverview::CurveOverview(const Curve& curve) : blocks_((curve.size() + kBlock - 1) / kBlock) {
    parallelRanges(blocks_.size(), 256, [&](std::size_t from, std::size_t to) {
        for (std::size_t b = from; b < to; ++b)
            takeEach(curve, b * kBlock, std::min(curve.size(), (b + 1) * kBlock), blocks_[b]);
    });
}

Extent CurveOverview::over(const Curve& curve, std::size_t from, std::size_t to) const {
    Extent out;
    to = std::min(to, curve.size());
    const std::size_t firstWhole = (from + kBlock - 1) / kBlock, endWhole = to / kBlock;
    if (firstWhole >= endWhole) {
        takeEach(curve, from, to, out);
        return out;
    }
    takeEach(curve, from, firstWhole * kBlock, out);
    for (std::size_t b = firstWhole; b < endWhole; ++b) {
        const Extent& block = blocks_[b];
        if (!block.any) continue;
        out.low = std::min(out.low, block.low);
        out.high = std::max(out.high, block.high);
        out.lowestPositive = std::min(out.lowestPositive, block.lowestPositive);
        if (!out.any) out.first = block.first;
        out.last = block.last;
        out.any = true;
    }
    takeEach(curve, endWhole * kBlock, to, out);
    return out;
}

} // namespace jointer
