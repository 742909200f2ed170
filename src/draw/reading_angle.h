// SPDX-License-Identifier: GPL-3.0-or-later
// Which way text along a line is turned, so that it reads from the left; upwards where the line is upright.
#pragma once

#include "draw/geometry.h"

#include <cmath>
#include <numbers>

namespace jointer::draw {

// Degrees counter-clockwise, above −90 and up to 90.
inline double readingAngle(Point from, Point to) {
    const double angle = -std::atan2(to.y - from.y, to.x - from.x) * 180 / std::numbers::pi;
    if (angle > 90.001) return angle - 180;
    return angle < -89.999 ? angle + 180 : angle;
}

} // namespace jointer::draw
