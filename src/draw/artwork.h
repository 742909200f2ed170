// SPDX-License-Identifier: GPL-3.0-or-later
// Drawings and pictures from elsewhere as drawing items, so that every target draws them as it draws all
// else: lines stay lines. What is read is what another program has made of the original: a drawing whose
// letters are outlines, or a picture.
#pragma once

#include "draw/bitmap.h"
#include "draw/geometry.h"

namespace jointer::draw {

struct Artwork {
    double widthMm = 0, heightMm = 0; // its own size
    std::vector<Item> items;          // in mm from its upper left corner
    bool isPicture = false;           // nothing but one picture
    double dpi = 0;                   // the coarsest of its pictures at its own size; 0: it has none
    std::string lost;                 // what the drawing asks for that items cannot say; empty: nothing
};

// Bytes of a PNG, a JPEG, a TIFF, or an SVG as the graphics library cairo writes it: paths, clips, letters
// that are used again, pictures, gradients, patterns and masks, each by its own matrix. Errors: "picture",
// "drawing".
Result<Artwork> artworkOf(std::string_view bytes);

} // namespace jointer::draw
