// SPDX-License-Identifier: GPL-3.0-or-later
// The lowest and highest values of a curve by blocks of points, so that a picture of millions of points looks
// at thousands. Made once for a curve, immutable, thread-safe.
#pragma once

#include "data/curve.h"

#include <algorithm>
#include <limits>

namespace jointer {

// Of the points that count (Curve::counts) within a part of a curve.
struct Extent {
    double low = std::numeric_limits<double>::infinity(), high = -std::numeric_limits<double>::infinity();
    double lowestPositive = std::numeric_limits<double>::infinity(); // for logarithmic scales
    std::size_t first = 0, last = 0;                                 // the outermost points that count
    bool any = false;

    void take(double y, std::size_t point) {
        low = std::min(low, y);
        high = std::max(high, y);
        if (y > 0) lowestPositive = std::min(lowestPositive, y);
        if (!any) first = point;
        last = point;
        any = true;
    }
};

class CurveOverview {
public:
    explicit CurveOverview(const Curve& curve);

    // Of the points [from, to) of the same curve. Cost: the number of blocks in between.
    Extent over(const Curve& curve, std::size_t from, std::size_t to) const;
    std::size_t bytes() const { return blocks_.size() * sizeof(Extent); }

private:
    static constexpr std::size_t kBlock = 256;
    std::vector<Extent> blocks_;
};

} // namespace jointer
