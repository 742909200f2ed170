// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/text_box.h"

#include "draw/fonts.h"

#include <cmath>
#include <numbers>

namespace jointer::draw {

void addLine(Box& to, std::vector<Point> points, const Stroke& stroke) {
    to.strokes.push_back({.lines = {{std::move(points)}}, .stroke = stroke, .fill = {}});
}

double inkBelow(const Box& box) {
    double low = box.plain ? 0 : box.descent;
    for (const TextRun& run : box.runs) {
        const Rect ink = inkOf(run.face, run.text);
        low = std::max(low, run.origin.y + ink.bottom() * run.sizePt * kMmPerPt);
    }
    return low;
}

double inkAbove(const Box& box) {
    double high = box.plain ? 0 : box.ascent;
    for (const TextRun& run : box.runs)
        high = std::max(high, -run.origin.y - inkOf(run.face, run.text).y * run.sizePt * kMmPerPt);
    return high;
}

std::vector<Point> wave(double from, double to, double y, double height) {
    std::vector<Point> out;
    constexpr int pieces = 24;
    for (int k = 0; k <= pieces; ++k) {
        const double t = static_cast<double>(k) / pieces;
        out.push_back({std::lerp(from, to, t), y - height * std::sin(2 * std::numbers::pi * t)});
    }
    return out;
}

void addDot(Box& to, Point middle, double radius, Colour colour) {
    Polyline circle{{}, true};
    for (int k = 0; k < 32; ++k) {
        const double angle = 2 * std::numbers::pi * k / 32;
        circle.points.push_back({middle.x + radius * std::cos(angle), middle.y + radius * std::sin(angle)});
    }
    to.strokes.push_back({.lines = {std::move(circle)}, .stroke = {}, .fill = colour});
}

} // namespace jointer::draw
