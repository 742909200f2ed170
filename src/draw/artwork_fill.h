// SPDX-License-Identifier: GPL-3.0-or-later
// What areas of a drawing are filled with beside colours: gradients, as pictures of their own, and pictures
// that are seen through others.
#pragma once

#include "draw/artwork_svg.h"

namespace jointer::draw::svg {

struct Gradient {
    struct Stop {
        double at;
        Colour colour;
    };
    std::vector<Stop> stops;
    bool radial = false, reflects = false, repeats = false;
    Point from, to; // of a radial one: focus and middle
    double radius = 1;

    // How far along it a place of its own coordinates lies; nothing: outside of all its circles.
    std::optional<double> parameter(Point p) const;
    Colour colour(double t) const;
    bool hasSteps() const; // sharp ones
};

// The gradient over a part of the page; `back` leads from there to its own coordinates.
Picture pictureOf(const Gradient& gradient, const Rect& reach, const Matrix& back);

struct Mask {
    double opacity = 1;
    Picture picture{}; // its opacity is what is seen; without pixels the mask is the opacity
    Matrix matrix{};   // of the bounds of the picture
};

// How much is seen through a colour of a mask: by its opacity alone, or by its light too. Source:
// SVG 1.1, 14.4.
double seenThrough(Colour colour, bool byOpacity);
std::shared_ptr<const std::vector<std::uint8_t>> throughOf(const Picture& picture, bool byOpacity);

// Each pixel of a picture, or of one under a matrix, gets the opacity of the mask there. False: it is
// neither.
bool maskPicture(Item& item, const Mask& mask);

} // namespace jointer::draw::svg
