// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures written row by row, so that none is in memory as a whole: PNG, TIFF, JPEG with their resolution
// and what they tell about themselves.
#pragma once

#include "base/issue.h"
#include "draw/credits.h"

#include <cstdint>
#include <memory>
#include <string>

namespace jointer::paint {

struct BitmapFacts {
    std::size_t columns = 0, rows = 0;
    double dpi = 300;
    bool grey = false, transparent = false; // 1, 3 or 4 bytes for each pixel
    int quality = 100;                      // of JPEG
    draw::Credits credits{};

    std::size_t channels() const { return transparent ? 4 : grey ? 1 : 3; }
};

class BitmapFile {
public:
    virtual ~BitmapFile() = default;
    // Shape: columns × channels bytes, from the top row on; opacity is not multiplied in.
    virtual bool row(const std::uint8_t* pixels) = 0;
    virtual Result<std::string> end() = 0; // all bytes of the file
};

std::unique_ptr<BitmapFile> pngFile(const BitmapFacts& facts);
std::unique_ptr<BitmapFile> tiffFile(const BitmapFacts& facts); // LZW
std::unique_ptr<BitmapFile> jpegFile(const BitmapFacts& facts); // colour as fine as brightness

} // namespace jointer::paint
