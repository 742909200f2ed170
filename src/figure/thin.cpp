// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/thin.h"

#include <algorithm>
#include <cmath>

namespace jointer::figure {

using draw::Point;

namespace {

constexpr std::size_t kMostCells = 400000000; // of a page, one bit each
constexpr std::size_t kFew = 2000;            // points that stay where there are columns enough
constexpr double kStraight = 0.2;            // of a column, by which a point may lie off its line

// Leaves out points that lie on the straight line between their neighbours: from each that is kept as far as
// all those passed are within the tolerance. Cost: linear.
std::vector<Point> straightened(const std::vector<Point>& points, double tolerance) {
    std::vector<Point> out = {points.front()};
    double low = -INFINITY, high = INFINITY; // of the directions that pass all points close enough
    for (std::size_t i = 1; i < points.size(); ++i) {
        const Point& from = out.back();
        const double dx = points[i].x - from.x;
        const double a = dx > 0 ? (points[i].y - tolerance - from.y) / dx : INFINITY,
                     b = dx > 0 ? (points[i].y + tolerance - from.y) / dx : -INFINITY;
        const double slope = dx > 0 ? (points[i].y - from.y) / dx : INFINITY;
        if (slope >= low && slope <= high && dx > 0) {
            low = std::max(low, a);
            high = std::min(high, b);
            continue;
        }
        if (i > 1 && !(out.back() == points[i - 1])) out.push_back(points[i - 1]);
        const Point& anchor = out.back();
        const double step = points[i].x - anchor.x;
        low = step > 0 ? (points[i].y - tolerance - anchor.y) / step : -INFINITY;
        high = step > 0 ? (points[i].y + tolerance - anchor.y) / step : INFINITY;
        if (!(step > 0)) out.push_back(points[i]);
    }
    if (!(out.back() == points.back())) out.push_back(points.back());
    return out;
}
} // namespace

std::vector<Point> thinnedLine(std::vector<Point> points, double columnMm) {
    if (points.size() < 3) return points;
    const double columns = std::abs(points.back().x - points.front().x) / columnMm;
    if (points.size() < kFew && static_cast<double>(points.size()) < 2 * columns) return points;
    std::vector<Point> out;
    const double perColumn = 1 / columnMm;
    std::size_t i = 0;
    auto columnOf = [&](std::size_t k) { return std::floor(points[k].x * perColumn); };
    for (double next = columnOf(0); i < points.size();) {
        const double column = next;
        const std::size_t first = i;
        std::size_t low = i, high = i;
        do {
            if (points[i].y < points[low].y) low = i;
            if (points[i].y > points[high].y) high = i;
            if (++i < points.size()) next = columnOf(i);
        } while (i < points.size() && next == column);
        const std::size_t last = i - 1;
        std::size_t previous = points.size();
        for (std::size_t k : {first, std::min(low, high), std::max(low, high), last}) {
            if (k != previous) out.push_back(points[k]);
            previous = k;
        }
    }
    const bool rightwards = out.front().x <= out.back().x;
    return rightwards ? straightened(out, kStraight * columnMm) : out;
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
