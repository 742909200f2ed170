// SPDX-License-Identifier: GPL-3.0-or-later
// Another curve at the x of this one: for subtracting, aligning, averaging. Not part of the interface of the
// folder.
#pragma once

#include "steps/columns.h"

namespace jointer::steps {

// The points of a curve that count, with points of the same x averaged.
struct Knots {
    List x, y, variance; // variance is empty where uncertainties are not known
};
Knots knotsOf(const Curve& curve);
Knots knotsOf(const Curve& curve, const List& column); // of another list over its points; no variances

// Values on straight lines between the knots; NaN outside them. Variances of them, for independent knots.
struct Between {
    double y = std::numeric_limits<double>::quiet_NaN(), variance = 0;
};
Between between(const Knots& knots, double x);

// The place of the highest (or lowest) point of a span, refined by the parabola through it and its
// neighbours. None: no points, or it lies at an end of the span.
std::optional<double> extremeWithin(const Curve& curve, double low, double high, bool highest = true);

} // namespace jointer::steps
