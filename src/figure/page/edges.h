// SPDX-License-Identifier: GPL-3.0-or-later
// Straight edges with a scale of their own, at any angle: of triangles and diamonds. Each tick lies along the grid
// line that it belongs to, and its number at its end, so that one sees which way to read.
#pragma once

#include "figure/page/page.h"

namespace jointer::figure {

struct Edge {
    draw::Point from, to;     // on the page, in mm
    double low = 0, high = 1; // values there; low may be above high
    draw::Point out;          // of length 1: outwards along the grid lines that begin here
    draw::Point away;         // of length 1: outwards, across the edge
    // The grid line of a value ends at the same share of this other edge, taken from its `gridFrom`.
    draw::Point gridFrom, gridTo;
    std::string title{}; // markup
    bool numbers = true;
};

// What all edges of a panel have in common; read from its look.
struct EdgeLook {
    // Shares of one, written as the panel wishes; or values, with numbers at the ends of edges too.
    EdgeLook(const Page& page, const Look& panel, bool shares);

    double every = 0; // 0: chosen
    bool in = false, out = true;
    double tickMm = 1.4, widthMm = 0.2, lineMm = 0.2;
    bool showsNumbers = true, level = false, perCent = true, grid = true, ends = false;
    draw::TextStyle text; // of numbers and titles
};

class EdgeDrawing {
public:
    EdgeDrawing(Page& page, const Element& element, EdgeLook look)
        : page_(page), element_(element), look_(std::move(look)) {}

    void grid(const Edge& edge);
    void draw(const Edge& edge); // ticks, numbers and title, not the line itself
    const EdgeLook& look() const { return look_; }

    std::vector<draw::Rect> textBoxes(const std::vector<Edge>& edges) const; // about each number and title
    // The box about ticks, numbers and titles of edges.
    draw::Rect boundsOf(const std::vector<Edge>& edges) const;

private:
    struct Placed {
        draw::SetText text;
        draw::Point at; // its centre
        double angleDeg = 0;
    };
    struct Stop {
        double value, share; // share of the way
        bool numbered;
        std::string label{};
    };
    std::vector<Stop> stopsOf(const Edge& edge) const;
    std::vector<Stop> stopsFor(const Edge& edge, int about) const;
    bool areFree(const Edge& edge, const std::vector<Stop>& stops) const;
    std::vector<Placed> textsOf(const Edge& edge) const;
    draw::Point at(const Edge& e, double share) const {
        return {e.from.x + share * (e.to.x - e.from.x), e.from.y + share * (e.to.y - e.from.y)};
    }
    double tickOut() const { return look_.out ? look_.tickMm : 0; }

    Page& page_;
    const Element& element_;
    EdgeLook look_;
};

} // namespace jointer::figure
