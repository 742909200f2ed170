// SPDX-License-Identifier: GPL-3.0-or-later
// Points, rectangles and colours on a page. Lengths are millimetres, y grows downwards, angles are degrees
// counter-clockwise.
#pragma once

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <initializer_list>
#include <span>
#include <string>
#include <string_view>

namespace jointer::draw {

inline constexpr double kMmPerPt = 25.4 / 72.0;

struct Point {
    double x = 0, y = 0;
    bool operator==(const Point&) const = default;
};

struct Rect {
    double x = 0, y = 0, width = 0, height = 0;
    double right() const { return x + width; }
    double bottom() const { return y + height; }
    bool contains(Point p) const { return p.x >= x && p.x <= right() && p.y >= y && p.y <= bottom(); }
    Rect grown(double by) const { return {x - by, y - by, width + 2 * by, height + 2 * by}; }
    bool operator==(const Rect&) const = default;
};

Rect boundsOf(std::span<const Point> points); // of at least one
inline Rect boundsOf(std::initializer_list<Point> points) {
    return boundsOf(std::span(points.begin(), points.size()));
}

// A length for a file: three decimals of a millimetre are finer than any printer.
std::string mmText(double mm);

// Light of one channel, 0 … 1, of its code, and back, cut to that. Source: IEC 61966-2-1.
double lightOf(std::uint8_t code);
std::uint8_t codeOf(double light);

struct Colour {
    std::uint8_t r = 0, g = 0, b = 0, a = 255;
    static Colour fromText(std::string_view text, Colour fallback); // "#rrggbb" or "#rrggbbaa"
    static Colour fromText(std::string_view text);                  // black where it cannot be read
    std::string text() const;                                       // "#rrggbb"
    Colour withAlpha(double alpha) const {
        return {r, g, b, static_cast<std::uint8_t>(std::lround(std::clamp(alpha, 0.0, 1.0) * 255))};
    }
    bool operator==(const Colour&) const = default;
};

} // namespace jointer::draw
