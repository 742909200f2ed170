// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures of pixels from elsewhere: PNG, JPEG and TIFF, as eight bits of red, green, blue and opacity.
#pragma once

#include "base/issue.h"
#include "draw/display_list.h"

namespace jointer::draw {

struct Bitmap {
    std::size_t columns = 0, rows = 0;
    std::shared_ptr<const std::vector<std::uint8_t>> pixels; // from the top left
    double dpi = 0;                                          // 0: the file does not tell
};

inline constexpr std::size_t kMostPixels = 64u << 20;

enum class FileKind { Unknown, Png, Jpeg, Tiff, Svg, Pdf, Eps };
FileKind kindOfFile(std::string_view bytes); // by how it begins

// Turned upright where the file tells how it lies. Errors: "picture": none of these, damaged, of more than
// kMostPixels. Of a TIFF the first page.
Result<Bitmap> bitmapOf(std::string_view bytes);

// Whether a JPEG tells that it lies on a side. Source: EXIF 2.3, tag 0x0112; 1: upright.
int orientationOf(std::string_view jpeg);

} // namespace jointer::draw
