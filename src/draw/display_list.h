// SPDX-License-Identifier: GPL-3.0-or-later
// A figure as plain drawing items, in order from back to front, each with the id of the element it came from.
// Screen, PDF, SVG and bitmaps draw this list; a click is looked up in it; tests compare it. A plain value.
#pragma once

#include "base/ids.h"
#include "draw/geometry.h"

#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <variant>
#include <vector>

namespace jointer::draw {

enum class Cap { Butt, Square, Round };
enum class Join { Miter, Round };

struct Stroke {
    double widthMm = 0.1;
    Colour colour;
    std::vector<double> dashMm; // empty: solid
    Cap cap = Cap::Butt;
    Join join = Join::Miter;
    bool operator==(const Stroke&) const = default;
};

struct Polyline {
    std::vector<Point> points;
    bool closed = false;
    bool operator==(const Polyline&) const = default;
};

struct Path {
    std::vector<Polyline> lines;
    std::optional<Stroke> stroke;
    std::optional<Colour> fill;
    bool evenOdd =
        false; // what is filled: where lines are crossed an odd number of times, not where they wind
    bool operator==(const Path&) const = default;
};

enum class SymbolShape {
    Circle,
    Square,
    Diamond,
    TriangleUp,
    TriangleDown,
    Plus,
    Cross,
    TriangleLeft,
    TriangleRight,
    Pentagon,
    Hexagon,
    Star,
    Asterisk,
    Dash,
    Tick
};
enum class Half { None, Left, Right, Upper, Lower };

struct Symbols {
    SymbolShape shape = SymbolShape::Circle;
    double sizeMm = 1; // diameter or side
    std::vector<Point> places;
    std::optional<Stroke> stroke;
    std::optional<Colour> fill;
    Half half = Half::None; // the fill covers only this half
    bool operator==(const Symbols&) const = default;
};

// One run of text in one face at its own baseline position; already measured.
struct TextRun {
    std::string text; // UTF-8
    std::string face; // key of draw/fonts.h
    double sizePt = 8;
    Point origin; // start of the baseline
    double angleDeg = 0;
    Colour colour;
    double widthMm = 0;
    bool operator==(const TextRun&) const = default;
};

// Pixels from the top left, four bytes for each (red, green, blue, opacity).
struct Picture {
    Rect bounds;
    std::size_t columns = 0, rows = 0;
    std::shared_ptr<const std::vector<std::uint8_t>> pixels;
    bool smooth = false; // blended between the pixels
    bool operator==(const Picture& other) const;
};

// Triangles with a colour at each corner.
struct Mesh {
    std::vector<Point> corners;
    std::vector<Colour> colours;          // of the corners
    std::vector<std::uint32_t> triangles; // three corners each
    bool operator==(const Mesh&) const = default;
};

// x' = a·x + c·y + e, y' = b·x + d·y + f
struct Matrix {
    double a = 1, b = 0, c = 0, d = 1, e = 0, f = 0;
    Point operator()(Point p) const { return {a * p.x + c * p.y + e, b * p.x + d * p.y + f}; }
    // First the inner one.
    Matrix operator*(const Matrix& inner) const {
        const Point o = (*this)({inner.e, inner.f});
        return {a * inner.a + c * inner.b,
                b * inner.a + d * inner.b,
                a * inner.c + c * inner.d,
                b * inner.c + d * inner.d,
                o.x,
                o.y};
    }
    double scale() const { return std::sqrt(std::abs(a * d - b * c)); }
    bool operator==(const Matrix&) const = default;
};

struct Item;

// Items moved by a matrix, cut to a clip, composited as a whole with one opacity.
struct Group {
    std::optional<Rect> clip;
    double opacity = 1;
    std::vector<Item> items;
    std::vector<Rect> parts{}; // the clip is all of these together instead
    std::optional<Matrix> matrix{};
    std::vector<Polyline> outline{}; // a clip of another form, besides the rectangles
    bool evenOdd = false;            // how the outline is filled, as in a path
    bool operator==(const Group&) const = default;
};

// The line of text that items are parts of, for targets that set it themselves.
struct TextLine {
    std::string markup;
    std::string family;
    bool bold = false, italic = false;
    double sizePt = 8;
    Colour colour;
    Point at;           // on the baseline
    double aligned = 0; // the part of its width that lies before `at`: 0, 0.5 or 1
    double angleDeg = 0;
};

struct Item {
    ElementId element;
    std::variant<Path, Symbols, TextRun, Group, Picture, Mesh> what;
    DatasetId of{}; // which of several datasets that the element shows
    std::shared_ptr<const TextLine> line{};
    bool operator==(const Item& o) const { return element == o.element && what == o.what && of == o.of; }
};

// Where an element lies on the page, for clicks, selection frames and handles.
struct Region {
    ElementId element;
    Rect bounds;
    DatasetId of{};
    bool operator==(const Region&) const = default;
};

struct DisplayList {
    double widthMm = 0, heightMm = 0;
    std::vector<Item> items;
    std::vector<Region> regions; // later ones lie on top
    bool operator==(const DisplayList&) const = default;
};

// Takes out places that are no numbers, symbols and texts far from the page, and cuts lines there, so that no
// backend overflows.
void keepNear(std::vector<Item>& items, double farMm = 1e4);

Polyline rectangle(const Rect& r);
std::size_t pointCount(const std::vector<Polyline>& lines);

// Each triangle of a mesh in the mean of its corners' colours, for targets that know no others.
void eachTriangle(const Mesh& mesh, const std::function<void(const Polyline& corners, Colour colour)>& visit);

// The outline of one symbol about the origin; empty for circles.
std::vector<Polyline> symbolOutline(SymbolShape shape, double sizeMm);

// The half of it that is filled, circles too.
Polyline symbolHalf(SymbolShape shape, double sizeMm, Half half);

// Symbols of strokes, which have nothing to fill.
constexpr bool isOfStrokes(SymbolShape shape) {
    return shape == SymbolShape::Plus || shape == SymbolShape::Cross || shape == SymbolShape::Asterisk ||
           shape == SymbolShape::Dash || shape == SymbolShape::Tick;
}

} // namespace jointer::draw
