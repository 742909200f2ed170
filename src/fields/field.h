// SPDX-License-Identifier: GPL-3.0-or-later
// A field: heights z over a plane, at the nodes of a grid that need not be even. A plain value.
#pragma once

#include "data/curve.h"

#include <cstddef>
#include <memory>
#include <optional>
#include <utility>
#include <vector>

namespace jointer::fields {

struct Place {
    double x = 0, y = 0;
    bool operator==(const Place&) const = default;
};

struct Field {
    std::vector<double> x, y; // of the nodes, ascending; at least two each where anything can be drawn
    std::vector<double> z;    // x.size() × y.size(), row by row along x: z[j · x.size() + i]; NaN: missing
    AxisMeaning xMeaning, yMeaning, zMeaning;
    std::vector<Place> outline;  // of what was measured, where that is less than the grid; empty: all of it
    std::vector<Place> points{}; // where it was measured, of scattered ones
    std::vector<double> pointsZ{};

    std::optional<std::pair<double, double>> known{}; // the extent, where it was looked up

    std::size_t columns() const { return x.size(); }
    std::size_t rows() const { return y.size(); }
    bool isEmpty() const { return x.size() < 2 || y.size() < 2 || z.size() != x.size() * y.size(); }
    double at(std::size_t column, std::size_t row) const { return z[row * x.size() + column]; }
    // The lowest and highest that is finite; nothing where there is none.
    std::optional<std::pair<double, double>> extent() const;
    bool isEven() const; // nodes are equally far apart in both directions, to 10⁻⁶ of a step
};
using FieldPtr = std::shared_ptr<const Field>;

// Between the nodes, linear along both directions; NaN outside and beside missing nodes. At a node exactly
// its value.
double valueAt(const Field& field, double x, double y);

// Where a mixture of three parts (they need not sum to one) stands in a triangle of edge 1 on the second and
// the third corner; the first is at the top. NaN where the sum is not above zero.
Place inTriangle(double a, double b, double c);

// Along the straight line between two places: distance from the first (or x or y, where the line runs along
// one of them), and z. Requires: count ≥ 2.
struct Cut {
    std::vector<double> along, z;
};
Cut cutThrough(const Field& field, Place from, Place to, std::size_t count);

// Means weighted by a Gaussian whose standard deviation is so many nodes, along both directions; missing
// nodes have no weight and stay missing. Cost: linear in nodes and width.
Field smoothed(const Field& field, double nodes);

// With so many times as many nodes, on cubic curves through the old ones (Catmull and Rom), which are met
// exactly; straight beside missing nodes.
Field refined(const Field& field, int times);

// Without the plane (degree 1) or the surface of second degree that fits all nodes best by least squares.
Field withoutTrend(const Field& field, int degree);

} // namespace jointer::fields
