// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/png.h"

#include <cmath>
#include <zlib.h>

namespace jointer::draw {

namespace {

std::string bigEndian(std::uint32_t v) {
    return {static_cast<char>(v >> 24), static_cast<char>(v >> 16), static_cast<char>(v >> 8),
            static_cast<char>(v)};
}

const Bytef* bytesOf(const std::string& text) {
    return reinterpret_cast<const Bytef*>(text.data());
}

std::string chunk(const std::string& name, const std::string& data) {
    const std::string body = name + data;
    const auto sum = crc32(0, bytesOf(body), static_cast<uInt>(body.size()));
    return bigEndian(static_cast<std::uint32_t>(data.size())) + body +
           bigEndian(static_cast<std::uint32_t>(sum));
}

std::string compressed(const std::string& raw) {
    uLongf size = compressBound(static_cast<uLong>(raw.size()));
    std::string out(size, '\0');
    compress(reinterpret_cast<Bytef*>(out.data()), &size, bytesOf(raw), static_cast<uLong>(raw.size()));
    out.resize(size);
    return out;
}

} // namespace

std::string pngOf(const Picture& p, double dpi) {
    std::string raw;
    for (std::size_t row = 0; row < p.rows; ++row) {
        raw += '\0'; // no filter
        const auto from = p.pixels->begin() + static_cast<std::ptrdiff_t>(4 * p.columns * row);
        raw.append(from, from + static_cast<std::ptrdiff_t>(4 * p.columns));
    }
    const std::string head = bigEndian(static_cast<std::uint32_t>(p.columns)) +
                             bigEndian(static_cast<std::uint32_t>(p.rows)) + std::string("\x08\x06\0\0\0", 5);
    std::string size;
    if (dpi > 0) {
        const std::string perMetre = bigEndian(static_cast<std::uint32_t>(std::lround(dpi / 0.0254)));
        size = chunk("pHYs", perMetre + perMetre + '\x01');
    }
    return "\x89PNG\r\n\x1a\n" + chunk("IHDR", head) + size + chunk("IDAT", compressed(raw)) +
           chunk("IEND", {});
}

} // namespace jointer::draw
