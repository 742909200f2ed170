// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/bitmap.h"

#include <algorithm>
#include <cmath>
#include <csetjmp>
#include <cstdio>
#include <cstring>
#include <fmt/format.h>
#include <jpeglib.h>
#include <png.h>
#include <tiffio.h>

namespace jointer::draw {

namespace {

using Bytes = std::vector<std::uint8_t>;

std::unexpected<Issue> wrong(const std::string& sentence) {
    return failure("picture", sentence);
}
std::unexpected<Issue> tooLarge(std::size_t columns, std::size_t rows) {
    return wrong(fmt::format("The picture has {} × {} pixels; at most {} million can be placed. Make it "
                             "smaller: 600 for each inch on the page are enough for print.",
                             columns, rows, kMostPixels >> 20));
}
bool isTooLarge(std::size_t columns, std::size_t rows) {
    return columns == 0 || rows == 0 || columns > kMostPixels / rows;
}

// --- PNG ---

// Pixels per metre in the chunk pHYs, before the data. Source: ISO/IEC 15948, 11.3.5.3.
double dpiOfPng(std::string_view bytes) {
    const auto number = [&](std::size_t at) {
        std::uint32_t v = 0;
        for (std::size_t k = 0; k < 4; ++k) v = v << 8 | static_cast<unsigned char>(bytes[at + k]);
        return v;
    };
    for (std::size_t at = 8; at + 12 <= bytes.size();) {
        const std::size_t length = number(at);
        const std::string_view name = bytes.substr(at + 4, 4);
        if (name == "IDAT" || length > bytes.size()) break;
        if (name == "pHYs" && length == 9 && at + 21 <= bytes.size() && bytes[at + 16] == 1)
            return number(at + 8) * 0.0254;
        at += length + 12;
    }
    return 0;
}

Result<Bitmap> pngOf(std::string_view bytes) {
    png_image image{};
    image.version = PNG_IMAGE_VERSION;
    if (!png_image_begin_read_from_memory(&image, bytes.data(), bytes.size()))
        return wrong(fmt::format("The PNG picture is damaged ({}).", image.message));
    if (isTooLarge(image.width, image.height)) {
        png_image_free(&image);
        return tooLarge(image.width, image.height);
    }
    image.format = PNG_FORMAT_RGBA;
    Bytes pixels(PNG_IMAGE_SIZE(image));
    if (!png_image_finish_read(&image, nullptr, pixels.data(), 0, nullptr))
        return wrong(fmt::format("The PNG picture is damaged ({}).", image.message));
    return Bitmap{image.width, image.height, std::make_shared<const Bytes>(std::move(pixels)),
                  dpiOfPng(bytes)};
}

// --- JPEG ---

struct JpegErrors {
    jpeg_error_mgr base;
    std::jmp_buf out;
    char words[JMSG_LENGTH_MAX];
};

// Everything that the way out by a jump could leave behind lives with the caller.
bool readJpeg(std::string_view bytes, JpegErrors& errors, jpeg_decompress_struct& jpeg, Bytes& pixels,
              Bytes& row, bool& large) {
    jpeg.err = jpeg_std_error(&errors.base);
    errors.base.error_exit = [](j_common_ptr c) {
        auto* e = reinterpret_cast<JpegErrors*>(c->err);
        c->err->format_message(c, e->words);
        std::longjmp(e->out, 1);
    };
    errors.base.emit_message = [](j_common_ptr, int) {};
    if (setjmp(errors.out)) return false;
    jpeg_create_decompress(&jpeg);
    jpeg_mem_src(&jpeg, reinterpret_cast<const unsigned char*>(bytes.data()), bytes.size());
    jpeg_read_header(&jpeg, TRUE);
    large = isTooLarge(jpeg.image_width, jpeg.image_height);
    if (large) return false;
    const bool ink = jpeg.jpeg_color_space == JCS_CMYK || jpeg.jpeg_color_space == JCS_YCCK;
    jpeg.out_color_space = ink ? JCS_CMYK : JCS_RGB;
    jpeg_start_decompress(&jpeg);
    const std::size_t columns = jpeg.output_width, parts = ink ? 4 : 3;
    pixels.resize(columns * jpeg.output_height * 4);
    row.resize(columns * parts);
    const bool inverted = jpeg.saw_Adobe_marker;
    while (jpeg.output_scanline < jpeg.output_height) {
        std::uint8_t* to = &pixels[jpeg.output_scanline * columns * 4];
        JSAMPROW line = row.data();
        jpeg_read_scanlines(&jpeg, &line, 1);
        for (std::size_t k = 0; k < columns; ++k, to += 4) {
            const std::uint8_t* from = &row[k * parts];
            for (std::size_t c = 0; c < 3; ++c)
                to[c] = !ink ? from[c]
                             : static_cast<std::uint8_t>(inverted ? from[c] * from[3] / 255
                                                                  : (255 - from[c]) * (255 - from[3]) / 255);
            to[3] = 255;
        }
    }
    jpeg_finish_decompress(&jpeg);
    return true;
}

Bitmap upright(Bitmap picture, int orientation) {
    if (orientation <= 1 || orientation > 8) return picture;
    const bool turns = orientation >= 5;
    const std::size_t w = picture.columns, h = picture.rows, columns = turns ? h : w, rows = turns ? w : h;
    Bytes out(picture.pixels->size());
    for (std::size_t y = 0; y < rows; ++y)
        for (std::size_t x = 0; x < columns; ++x) {
            std::size_t fx = turns ? y : x, fy = turns ? x : y;
            if (orientation == 2 || orientation == 3 || orientation == 7 || orientation == 8) fx = w - 1 - fx;
            if (orientation == 3 || orientation == 4 || orientation == 6 || orientation == 7) fy = h - 1 - fy;
            std::memcpy(&out[4 * (y * columns + x)], &(*picture.pixels)[4 * (fy * w + fx)], 4);
        }
    return {columns, rows, std::make_shared<const Bytes>(std::move(out)), picture.dpi};
}

Result<Bitmap> jpegOf(std::string_view bytes) {
    JpegErrors errors{};
    jpeg_decompress_struct jpeg{};
    Bytes pixels, row;
    bool large = false;
    const bool read = readJpeg(bytes, errors, jpeg, pixels, row, large);
    const std::size_t columns = jpeg.image_width, rows = jpeg.image_height;
    const double dpi = jpeg.density_unit == 1   ? jpeg.X_density
                       : jpeg.density_unit == 2 ? jpeg.X_density * 2.54
                                                : 0;
    jpeg_destroy_decompress(&jpeg);
    if (large) return tooLarge(columns, rows);
    if (!read) return wrong(fmt::format("The JPEG picture is damaged ({}).", errors.words));
    return upright({columns, rows, std::make_shared<const Bytes>(std::move(pixels)), dpi},
                   orientationOf(bytes));
}

// --- TIFF ---

struct MemoryFile {
    std::string_view bytes;
    std::size_t at = 0;
};

TIFF* openTiff(MemoryFile& file) {
    return TIFFClientOpen(
        "picture", "rm", &file,
        [](thandle_t h, void* to, tmsize_t n) -> tmsize_t {
            auto* f = static_cast<MemoryFile*>(h);
            const std::size_t take = std::min(static_cast<std::size_t>(std::max<tmsize_t>(n, 0)),
                                              f->bytes.size() - std::min(f->at, f->bytes.size()));
            if (take > 0) std::memcpy(to, f->bytes.data() + f->at, take);
            f->at += take;
            return static_cast<tmsize_t>(take);
        },
        [](thandle_t, void*, tmsize_t) -> tmsize_t { return 0; },
        [](thandle_t h, toff_t to, int whence) -> toff_t {
            auto* f = static_cast<MemoryFile*>(h);
            f->at = whence == SEEK_SET ? to : whence == SEEK_CUR ? f->at + to : f->bytes.size() + to;
            return f->at;
        },
        [](thandle_t) { return 0; },
        [](thandle_t h) -> toff_t { return static_cast<MemoryFile*>(h)->bytes.size(); },
        [](thandle_t, void**, toff_t*) { return 0; }, [](thandle_t, void*, toff_t) {});
}

Result<Bitmap> tiffOf(std::string_view bytes) {
    TIFFSetErrorHandler(nullptr);
    TIFFSetWarningHandler(nullptr);
    MemoryFile file{bytes};
    TIFF* tiff = openTiff(file);
    if (!tiff) return wrong("The TIFF picture is damaged.");
    std::uint32_t columns = 0, rows = 0;
    std::uint16_t unit = RESUNIT_INCH, samples = 1;
    float resolution = 0;
    TIFFGetField(tiff, TIFFTAG_IMAGEWIDTH, &columns);
    TIFFGetField(tiff, TIFFTAG_IMAGELENGTH, &rows);
    TIFFGetField(tiff, TIFFTAG_XRESOLUTION, &resolution);
    TIFFGetFieldDefaulted(tiff, TIFFTAG_RESOLUTIONUNIT, &unit);
    TIFFGetFieldDefaulted(tiff, TIFFTAG_SAMPLESPERPIXEL, &samples);
    char why[1024] = "";
    Bytes pixels;
    bool read = false;
    const bool large = isTooLarge(columns, rows);
    if (!large && TIFFRGBAImageOK(tiff, why)) {
        pixels.resize(std::size_t{columns} * rows * 4);
        read = TIFFReadRGBAImageOriented(tiff, columns, rows, reinterpret_cast<std::uint32_t*>(pixels.data()),
                                         ORIENTATION_TOPLEFT, 1) != 0;
    }
    TIFFClose(tiff);
    if (large) return tooLarge(columns, rows);
    if (!read)
        return wrong(fmt::format("The TIFF picture cannot be read{}. Save it with 8 or 16 bits for each "
                                 "colour, or as PNG.",
                                 *why ? fmt::format(" ({})", why) : ""));
    // Colours come multiplied by their opacity.
    if (samples == 2 || samples == 4)
        for (std::size_t k = 0; k + 3 < pixels.size(); k += 4)
            if (const unsigned a = pixels[k + 3]; a > 0 && a < 255)
                for (std::size_t c = 0; c < 3; ++c)
                    pixels[k + c] =
                        static_cast<std::uint8_t>(std::min(255u, (pixels[k + c] * 255u + a / 2) / a));
    const double dpi = unit == RESUNIT_CENTIMETER ? resolution * 2.54 : unit == RESUNIT_INCH ? resolution : 0;
    return Bitmap{columns, rows, std::make_shared<const Bytes>(std::move(pixels)),
                  std::isfinite(dpi) && dpi > 1 ? dpi : 0};
}

} // namespace

FileKind kindOfFile(std::string_view bytes) {
    using enum FileKind;
    if (bytes.starts_with("\x89PNG\r\n\x1a\n")) return Png;
    if (bytes.starts_with("\xff\xd8\xff")) return Jpeg;
    for (const std::string_view mark : {std::string_view("II*\0", 4), std::string_view("MM\0*", 4),
                                        std::string_view("II+\0", 4), std::string_view("MM\0+", 4)})
        if (bytes.starts_with(mark)) return Tiff;
    const std::string_view head = bytes.substr(0, 4096);
    if (head.substr(0, 1024).find("%PDF-") != head.npos) return Pdf;
    if (head.starts_with("%!PS") || head.starts_with("\xc5\xd0\xd3\xc6")) return Eps;
    if (head.find("<svg") != head.npos || head.find(":svg") != head.npos) return Svg;
    if (head.starts_with("\x1f\x8b")) return Svg; // packed; others of this packing fail later
    return Unknown;
}

int orientationOf(std::string_view jpeg) {
    const auto byte = [&](std::size_t at) -> unsigned {
        return at < jpeg.size() ? static_cast<unsigned char>(jpeg[at]) : 0u;
    };
    for (std::size_t at = 2; at + 4 < jpeg.size() && byte(at) == 0xff;) {
        const unsigned marker = byte(at + 1);
        const std::size_t length = byte(at + 2) << 8 | byte(at + 3);
        if (marker == 0xda || length < 2) break;
        if (marker == 0xe1 && jpeg.substr(at + 4, 6) == std::string_view("Exif\0\0", 6)) {
            const std::size_t tiff = at + 10;
            const bool little = byte(tiff) == 'I';
            const auto number = [&](std::size_t where, std::size_t count) {
                std::size_t v = 0;
                for (std::size_t k = 0; k < count; ++k)
                    v = v << 8 | byte(tiff + where + (little ? count - 1 - k : k));
                return v;
            };
            const std::size_t directory = number(4, 4),
                              entries = std::min<std::size_t>(number(directory, 2), 256);
            for (std::size_t k = 0; k < entries; ++k)
                if (number(directory + 2 + 12 * k, 2) == 0x0112) {
                    const auto value = static_cast<int>(number(directory + 10 + 12 * k, 2));
                    return value >= 1 && value <= 8 ? value : 1;
                }
            return 1;
        }
        at += 2 + length;
    }
    return 1;
}

Result<Bitmap> bitmapOf(std::string_view bytes) {
    switch (kindOfFile(bytes)) {
    case FileKind::Png:
        return pngOf(bytes);
    case FileKind::Jpeg:
        return jpegOf(bytes);
    case FileKind::Tiff:
        return tiffOf(bytes);
    default:
        return wrong("This is no PNG, JPEG or TIFF picture.");
    }
}

} // namespace jointer::draw
