// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/page/note_parts.h"

#include "base/text.h"

#include <algorithm>
#include <numbers>

namespace jointer::figure {

using namespace draw;

namespace {

constexpr double kLine = 1.35; // of the text size, from line to line

} // namespace

TextBlock::TextBlock(std::string_view content, const TextStyle& style) {
    const double lineHeight = kLine * style.sizePt * kMmPerPt;
    for (const std::string_view line : split(content, '\n')) {
        lines.push_back(setText(line, style));
        tops.push_back(height);
        width = std::max(width, lines.back().widthMm);
        height += std::max(lineHeight, lines.back().heightMm() + 0.25 * style.sizePt * kMmPerPt);
    }
}

Polyline roundedBox(const Rect& r, double radius, const std::function<Point(double, double)>& turned) {
    radius = std::min({radius, r.width / 2, r.height / 2});
    Polyline out{{}, true};
    const Point middles[] = {{r.x + radius, r.y + radius},
                             {r.right() - radius, r.y + radius},
                             {r.right() - radius, r.bottom() - radius},
                             {r.x + radius, r.bottom() - radius}};
    for (int corner = 0; corner < 4; ++corner)
        for (int k = 0; k <= 8; ++k) {
            const double angle = std::numbers::pi * (1 + corner * 0.5 + k / 16.0);
            out.points.push_back(turned(middles[corner].x + radius * std::cos(angle),
                                        middles[corner].y + radius * std::sin(angle)));
        }
    return out;
}

void shorten(std::vector<Point>& points, double start, double end) {
    const auto cut = [](std::vector<Point>& from, double by) { // from its end
        while (by > 0 && from.size() > 1) {
            const Point last = from.back(), before = from[from.size() - 2];
            const Vector v = between(before, last);
            if (v.length() > by) {
                from.back() = along(last, {v.x / v.length(), v.y / v.length()}, -by);
                return;
            }
            by -= v.length();
            from.pop_back();
        }
    };
    cut(points, end);
    std::ranges::reverse(points);
    cut(points, start);
    std::ranges::reverse(points);
}

std::vector<Point> smoothThrough(const std::vector<Point>& points) {
    constexpr int kPieces = 24;
    if (points.size() < 3) return points;
    const auto at = [&](std::ptrdiff_t k) {
        return points[static_cast<std::size_t>(std::clamp<std::ptrdiff_t>(k, 0, std::ssize(points) - 1))];
    };
    std::vector<Point> out = {points.front()};
    for (std::ptrdiff_t k = 0; k + 1 < std::ssize(points); ++k)
        for (int piece = 1; piece <= kPieces; ++piece) {
            const double t = static_cast<double>(piece) / kPieces;
            const auto mix = [t](double p, double a, double b, double n) {
                return 0.5 * (2 * a + (b - p) * t + (2 * p - 5 * a + 4 * b - n) * t * t +
                              (3 * a - p - 3 * b + n) * t * t * t);
            };
            const Point p = at(k - 1), a = at(k), b = at(k + 1), n = at(k + 2);
            out.push_back({mix(p.x, a.x, b.x, n.x), mix(p.y, a.y, b.y, n.y)});
        }
    return out;
}

std::vector<Point> regularPolygon(const Rect& r, int corners) {
    std::vector<Point> out;
    for (int k = 0; k < corners; ++k) {
        const double angle = 2 * std::numbers::pi * k / corners;
        out.push_back(
            {r.x + r.width / 2 * (1 + std::sin(angle)), r.y + r.height / 2 * (1 - std::cos(angle))});
    }
    return out;
}

std::vector<Point> curlyBracket(double length, double deep, const std::function<Point(double, double)>& at) {
    std::vector<Point> out;
    const double r = std::min(deep / length, 0.25); // of a quarter turn, along
    const auto quarter = [&](double t0, double t1, double h0, double h1, bool risesFirst) {
        for (int k = 0; k <= 12; ++k) {
            const double angle = std::numbers::pi / 2 * k / 12, c = 1 - std::cos(angle), s = std::sin(angle);
            out.push_back(at(t0 + (t1 - t0) * (risesFirst ? c : s), h0 + (h1 - h0) * (risesFirst ? s : c)));
        }
    };
    quarter(0, r, 0, deep, true);
    quarter(0.5 - r, 0.5, deep, 2 * deep, false);
    quarter(0.5, 0.5 + r, 2 * deep, deep, true);
    quarter(1 - r, 1, deep, 0, false);
    return out;
}

} // namespace jointer::figure
