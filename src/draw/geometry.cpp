// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/display_list.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace jointer::draw {

Rect boundsOf(std::span<const Point> points) {
    double left = points[0].x, right = left, top = points[0].y, bottom = top;
    for (const Point& p : points) {
        left = std::min(left, p.x);
        right = std::max(right, p.x);
        top = std::min(top, p.y);
        bottom = std::max(bottom, p.y);
    }
    return {left, top, right - left, bottom - top};
}

std::string mmText(double mm) {
    std::string s = fmt::format("{:.3f}", mm);
    s.erase(s.find_last_not_of('0') + 1);
    if (s.ends_with('.')) s.pop_back();
    return s == "-0" ? "0" : s;
}

double lightOf(std::uint8_t code) {
    const double u = code / 255.0;
    return u <= 0.04045 ? u / 12.92 : std::pow((u + 0.055) / 1.055, 2.4);
}

std::uint8_t codeOf(double light) {
    const double u = light <= 0.0031308 ? 12.92 * light : 1.055 * std::pow(light, 1 / 2.4) - 0.055;
    return static_cast<std::uint8_t>(std::lround(255 * std::clamp(u, 0.0, 1.0)));
}

Colour Colour::fromText(std::string_view text, Colour fallback) {
    if ((text.size() != 7 && text.size() != 9) || text[0] != '#') return fallback;
    unsigned value = 0;
    const auto [end, error] = std::from_chars(text.data() + 1, text.data() + text.size(), value, 16);
    if (error != std::errc{} || end != text.data() + text.size()) return fallback;
    if (text.size() == 7) value = value << 8 | 0xFF;
    return {static_cast<std::uint8_t>(value >> 24), static_cast<std::uint8_t>(value >> 16),
            static_cast<std::uint8_t>(value >> 8), static_cast<std::uint8_t>(value)};
}

Colour Colour::fromText(std::string_view text) {
    return fromText(text, Colour{});
}

std::string Colour::text() const {
    return fmt::format("#{:02x}{:02x}{:02x}", r, g, b);
}

namespace {

// A regular polygon with a corner at the top; a star where the inner radius is given.
Polyline regular(int corners, double radius, double inner = 0) {
    Polyline line{{}, true};
    const int n = inner > 0 ? 2 * corners : corners;
    for (int k = 0; k < n; ++k) {
        const double r = inner > 0 && k % 2 == 1 ? inner : radius;
        const double angle = 2 * std::numbers::pi * k / n;
        line.points.push_back({r * std::sin(angle), -r * std::cos(angle)});
    }
    return line;
}

Polyline turned(Polyline line, int quarters) {
    for (Point& p : line.points)
        for (int k = 0; k < quarters; ++k) p = {-p.y, p.x};
    return line;
}

Polyline triangle(double s) {
    return {{{0, -s}, {s * 0.866, s * 0.5}, {-s * 0.866, s * 0.5}}, true};
}

// Spokes through the centre, the first one upright.
std::vector<Polyline> spokes(int count, double radius) {
    std::vector<Polyline> out;
    for (int k = 0; k < count; ++k) {
        const double angle = std::numbers::pi * k / count, x = radius * std::sin(angle),
                     y = radius * std::cos(angle);
        out.push_back({{{-x, y}, {x, -y}}, false});
    }
    return out;
}

} // namespace

constexpr double kTriangle = 1.4; // its corners, in radii of the circle

// Sizes are chosen so that closed symbols of one size cover about the same area.
std::vector<Polyline> symbolOutline(SymbolShape shape, double size) {
    const double h = size / 2;
    switch (shape) {
    case SymbolShape::Circle:
        return {};
    case SymbolShape::Square: {
        const double s = h * 0.886; // the area of the circle
        return {{{{-s, -s}, {s, -s}, {s, s}, {-s, s}}, true}};
    }
    case SymbolShape::Diamond: {
        const double s = h * 1.2;
        return {{{{0, -s}, {s, 0}, {0, s}, {-s, 0}}, true}};
    }
    case SymbolShape::TriangleUp:
        return {triangle(h * kTriangle)};
    case SymbolShape::TriangleDown:
        return {turned(triangle(h * kTriangle), 2)};
    case SymbolShape::TriangleLeft:
        return {turned(triangle(h * kTriangle), 3)};
    case SymbolShape::TriangleRight:
        return {turned(triangle(h * kTriangle), 1)};
    case SymbolShape::Pentagon:
        return {regular(5, h * 1.1)};
    case SymbolShape::Hexagon:
        return {regular(6, h * 1.08)};
    case SymbolShape::Star:
        return {regular(5, h * 1.3, h * 0.58)};
    case SymbolShape::Plus:
        return {{{{-h, 0}, {h, 0}}, false}, {{{0, -h}, {0, h}}, false}};
    case SymbolShape::Cross: {
        const double s = h * 0.8;
        return {{{{-s, -s}, {s, s}}, false}, {{{-s, s}, {s, -s}}, false}};
    }
    case SymbolShape::Asterisk:
        return spokes(3, h);
    case SymbolShape::Dash:
        return {{{{-h, 0}, {h, 0}}, false}};
    case SymbolShape::Tick:
        return {{{{0, -h}, {0, h}}, false}};
    }
    return {};
}

Polyline symbolHalf(SymbolShape shape, double size, Half half) {
    const auto outline = symbolOutline(shape, size);
    const Polyline whole = outline.empty() ? regular(72, size / 2) : outline.front();
    // How far a point lies inside the half.
    auto inside = [half](const Point& p) {
        return half == Half::Left ? -p.x : half == Half::Right ? p.x : half == Half::Upper ? -p.y : p.y;
    };
    Polyline out{{}, true};
    for (std::size_t i = 0; i < whole.points.size(); ++i) {
        const Point a = whole.points[i], b = whole.points[(i + 1) % whole.points.size()];
        const double da = inside(a), db = inside(b);
        if (da >= 0) out.points.push_back(a);
        if ((da < 0) == (db < 0)) continue;
        const double t = da / (da - db);
        out.points.push_back({a.x + t * (b.x - a.x), a.y + t * (b.y - a.y)});
    }
    return out;
}

Polyline rectangle(const Rect& r) {
    return {{{r.x, r.y}, {r.right(), r.y}, {r.right(), r.bottom()}, {r.x, r.bottom()}}, true};
}

void eachTriangle(const Mesh& mesh, const std::function<void(const Polyline&, Colour)>& visit) {
    const auto mean = [](unsigned sum) { return static_cast<std::uint8_t>(sum / 3); };
    for (std::size_t t = 0; t + 2 < mesh.triangles.size(); t += 3) {
        Polyline corners{{}, true};
        unsigned r = 0, g = 0, b = 0, a = 0;
        for (std::size_t k = t; k < t + 3; ++k) {
            const Colour& c = mesh.colours[mesh.triangles[k]];
            corners.points.push_back(mesh.corners[mesh.triangles[k]]);
            r += c.r, g += c.g, b += c.b, a += c.a;
        }
        visit(corners, {mean(r), mean(g), mean(b), mean(a)});
    }
}

std::size_t pointCount(const std::vector<Polyline>& lines) {
    std::size_t n = 0;
    for (const Polyline& line : lines) n += line.points.size();
    return n;
}

bool Picture::operator==(const Picture& o) const {
    return bounds == o.bounds && columns == o.columns && rows == o.rows && smooth == o.smooth &&
           (pixels == o.pixels || (pixels && o.pixels && *pixels == *o.pixels));
}

namespace {

constexpr double kEnd = 1e9; // times what is far: beyond it slopes do not matter, but their rounding would

bool isFarFrom(const Point& p, double far) {
    return !(std::abs(p.x) <= far && std::abs(p.y) <= far);
}

// The piece of a line that lies in the square; none: it passes by. Source: Y.-D. Liang, B. A. Barsky, ACM Trans.
// Graph. 3 (1984) 1.
std::optional<std::pair<Point, Point>> pieceWithin(const Point& a, const Point& b, double far) {
    double from = 0, to = 1;
    const double dx = b.x - a.x, dy = b.y - a.y;
    for (const auto& [by, room] : {std::pair(-dx, a.x + far), {dx, far - a.x}, {-dy, a.y + far}, {dy, far - a.y}}) {
        if (by == 0 && room < 0) return {};
        if (by < 0) from = std::max(from, room / by);
        if (by > 0) to = std::min(to, room / by);
    }
    if (from > to) return {};
    auto at = [&](double t) { return t == 0 ? a : t == 1 ? b : Point{a.x + t * dx, a.y + t * dy}; };
    return std::pair(at(from), at(to));
}

std::vector<Polyline> piecesWithin(const Polyline& line, double far) {
    std::vector<Polyline> pieces;
    for (std::size_t k = 0; k + 1 < line.points.size(); ++k) {
        const auto piece = pieceWithin(line.points[k], line.points[k + 1], far);
        if (!piece) continue;
        if (pieces.empty() || pieces.back().points.back() != piece->first) pieces.push_back({{piece->first}, false});
        pieces.back().points.push_back(piece->second);
    }
    return pieces;
}

// Side after side. Source: I. E. Sutherland, G. W. Hodgman, Commun. ACM 17 (1974) 32.
std::vector<Point> areaWithin(std::vector<Point> area, double far) {
    const auto insideOf = [far](int side, const Point& p) {
        return far - (side == 0 ? p.x : side == 1 ? -p.x : side == 2 ? p.y : -p.y);
    };
    for (int side = 0; side < 4; ++side) {
        std::vector<Point> cut;
        for (std::size_t k = 0; k < area.size(); ++k) {
            const Point &a = area[k], &b = area[(k + 1) % area.size()];
            const double da = insideOf(side, a), db = insideOf(side, b);
            if (da >= 0) cut.push_back(a);
            if ((da < 0) != (db < 0)) cut.push_back({std::lerp(a.x, b.x, da / (da - db)), std::lerp(a.y, b.y, da / (da - db))});
        }
        area = std::move(cut);
    }
    return area;
}

void keepNear(Path& path, double far) {
    std::vector<Polyline> near;
    for (Polyline& line : path.lines) {
        std::erase_if(line.points, [](const Point& p) { return !std::isfinite(p.x) || !std::isfinite(p.y); });
        const double end = kEnd * far;
        for (Point& p : line.points) p = {std::clamp(p.x, -end, end), std::clamp(p.y, -end, end)};
        if (std::ranges::none_of(line.points, [far](const Point& p) { return isFarFrom(p, far); }))
            near.push_back(std::move(line));
        else if (line.closed || path.fill)
            near.push_back({areaWithin(line.points, far), line.closed});
        else
            for (Polyline& piece : piecesWithin(line, far)) near.push_back(std::move(piece));
    }
    std::erase_if(near, [](const Polyline& line) { return line.points.empty(); });
    path.lines = std::move(near);
}

} // namespace

void keepNear(std::vector<Item>& items, double far) {
    auto isFar = [far](const Point& p) { return isFarFrom(p, far); };
    std::erase_if(items, [&](Item& item) {
        if (auto* group = std::get_if<Group>(&item.what)) keepNear(group->items, far);
        if (auto* symbols = std::get_if<Symbols>(&item.what)) std::erase_if(symbols->places, isFar);
        if (auto* path = std::get_if<Path>(&item.what)) keepNear(*path, far);
        const auto* text = std::get_if<TextRun>(&item.what);
        return text && isFar(text->origin);
    });
}

} // namespace jointer::draw
