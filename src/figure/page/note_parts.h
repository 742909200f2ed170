// SPDX-License-Identifier: GPL-3.0-or-later
// Geometry of notes: blocks of text, rounded boxes, regular polygons, curly brackets.
#pragma once

#include "draw/markup.h"

#include <cmath>
#include <functional>

namespace jointer::figure {

struct Vector {
    double x, y;
    double length() const { return std::hypot(x, y); }
};
inline Vector between(draw::Point a, draw::Point b) {
    return {b.x - a.x, b.y - a.y};
}
inline draw::Point along(draw::Point p, Vector v, double by) {
    return {p.x + by * v.x, p.y + by * v.y};
}

// Lines of text set below each other; tall ones take the room that they need.
struct TextBlock {
    std::vector<draw::SetText> lines;
    std::vector<double> tops; // of each line
    double width = 0, height = 0;

    TextBlock(std::string_view content, const draw::TextStyle& style);
};

// Its corners moved to where the page has them.
draw::Polyline roundedBox(const draw::Rect& r, double radius,
                          const std::function<draw::Point(double, double)>& turned);
// A smooth curve through all points, in their order. Source: Catmull and Rom 1974, of uniform parameter.
std::vector<draw::Point> smoothThrough(const std::vector<draw::Point>& points);
std::vector<draw::Point> regularPolygon(const draw::Rect& r, int corners); // one corner points up

// `at`: the place of a part of the length and a height above it.
std::vector<draw::Point> curlyBracket(double length, double deep,
                                      const std::function<draw::Point(double, double)>& at);

// So much off the beginning and the end, along the line.
void shorten(std::vector<draw::Point>& points, double start, double end);

} // namespace jointer::figure
