// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/thin.h"

#include <algorithm>
#include <cmath>

namespace jointer::figure {

using draw::Point;

namespace {
constexpr std::size_t kMostCells = 400000000; // of a page, one bit each
}

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
    const auto [left, right] = std::ranges::minmax(points, {}, &Point::x);
    const auto [top, bottom] = std::ranges::minmax(points, {}, &Point::y);
    const double x0 = left.x, y0 = top.y;
    const auto columns = static_cast<std::size_t>((right.x - x0) / cellMm) + 1,
               rows = static_cast<std::size_t>((bottom.y - y0) / cellMm) + 1;
    if (columns > kMostCells / rows) return points; // a cloud this wide cannot be on a page
    std::vector<bool> taken(columns * rows);
    std::erase_if(points, [&](const Point& p) {
        const std::size_t cell = static_cast<std::size_t>((p.y - y0) / cellMm) * columns +
                                 static_cast<std::size_t>((p.x - x0) / cellMm);
        if (taken[cell]) return true;
        taken[cell] = true;
        return false;
    });
    return points;
}

} // namespace jointer::figure
