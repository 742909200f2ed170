// SPDX-License-Identifier: GPL-3.0-or-later
// The faces that ship with Jointer, and text measured on them: unhinted and at one size, so that a layout is
// the same on every device. Thread-safe.
#pragma once

#include "draw/display_list.h"

#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace jointer::draw {

struct FontFile {
    std::string_view face;   // key: "sans", "sans-bold", "sans-italic", "serif", …, "math", "window", …
    std::string_view family; // as the font names itself
    std::span<const unsigned char> bytes;
};

const std::vector<FontFile>& fontFiles();
const FontFile* fontFile(std::string_view face); // nullptr: there is no such face

struct FaceMetrics {
    double ascent, descent, capHeight, xHeight; // in em, positive
};
FaceMetrics metricsOf(std::string_view face);

// Advance width of a text in em, with kerning.
double widthEm(std::string_view face, std::string_view text);

// What a text blackens, in em, with the start of its baseline at the origin and y downwards; all zero:
// nothing.
Rect inkOf(std::string_view face, std::string_view text);

// The outlines of its letters as closed lines, in the same measures; to be filled as they wind.
std::vector<Polyline> glyphOutlines(std::string_view face, std::string_view text);

// The font file of a face with only the glyphs that a text needs. The whole file when it cannot be cut down.
std::string subsetOf(std::string_view face, std::string_view text);

bool hasGlyph(std::string_view face, char32_t codePoint);

// The face itself, or the one that has the character in its place: of bold and slanted ones the serif one
// that is so, then the mathematical one, then the one with the scripts of East Asia and others. The face
// itself where none has it.
std::string faceWith(std::string_view face, char32_t codePoint);

// "sans" + bold/italic → the key of that face; the family's regular face where there is none.
std::string faceOf(std::string_view family, bool bold, bool italic);

} // namespace jointer::draw
