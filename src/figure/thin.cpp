// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/thin.h"

#include <cmath>
#include <cstdint>
#include <unordered_set>

namespace jointer::figure {

using draw::Point;

std::vector<Point> thinnedLine(std::vector<Point> points, double columnMm) {
    if (points.size() < 2000) return points;
    std::vector<Point> out;
    std::size_t i = 0;
    while (i < points.size()) {
        const auto column = std::floor(points[i].x / columnMm);
        const std::size_t first = i;
        std::size_t low = i, high = i;
        for (; i < points.size() && std::floor(points[i].x / columnMm) == column; ++i) {
            if (points[i].y < points[low].y) low = i;
            if (points[i].y > points[high].y) high = i;
        }
        const std::size_t last = i - 1;
        std::size_t previous = points.size();
        for (std::size_t k : {first, std::min(low, high), std::max(low, high), last}) {
            if (k != previous) out.push_back(points[k]);
            previous = k;
        }
    }
    return out;
}

std::vector<Point> thinnedCloud(std::vector<Point> points, double cellMm) {
    if (points.size() < 5000) return points;
    std::unordered_set<std::uint64_t> seen;
    seen.reserve(65536);
    std::vector<Point> out;
    for (const Point& p : points) {
        const auto cx = static_cast<std::uint32_t>(static_cast<std::int32_t>(std::floor(p.x / cellMm))),
                   cy = static_cast<std::uint32_t>(static_cast<std::int32_t>(std::floor(p.y / cellMm)));
        if (seen.insert(static_cast<std::uint64_t>(cx) << 32 | cy).second) out.push_back(p);
    }
    return out;
}

} // namespace jointer::figure
