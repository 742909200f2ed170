// SPDX-License-Identifier: GPL-3.0-or-later
#include "paint/bitmap_files.h"

#include <algorithm>
#include <cstring>
#include <tiffio.h>
#include <vector>

namespace jointer::paint {

namespace {

// A file in memory, as the library sees files.
struct Memory {
    std::string bytes;
    std::size_t at = 0;

    static Memory& of(thandle_t handle) { return *static_cast<Memory*>(handle); }
    static tmsize_t read(thandle_t handle, void* to, tmsize_t size) {
        Memory& m = of(handle);
        const std::size_t n =
            std::min(static_cast<std::size_t>(size), m.bytes.size() - std::min(m.at, m.bytes.size()));
        std::memcpy(to, m.bytes.data() + m.at, n);
        m.at += n;
        return static_cast<tmsize_t>(n);
    }
    static tmsize_t write(thandle_t handle, void* from, tmsize_t size) {
        Memory& m = of(handle);
        const auto n = static_cast<std::size_t>(size);
        if (m.bytes.size() < m.at + n) m.bytes.resize(m.at + n);
        std::memcpy(m.bytes.data() + m.at, from, n);
        m.at += n;
        return size;
    }
    static toff_t seek(thandle_t handle, toff_t offset, int whence) {
        Memory& m = of(handle);
        const std::size_t base = whence == SEEK_SET ? 0 : whence == SEEK_CUR ? m.at : m.bytes.size();
        m.at = base + static_cast<std::size_t>(offset);
        return m.at;
    }
    static int close(thandle_t) { return 0; }
    static toff_t size(thandle_t handle) { return of(handle).bytes.size(); }
};

class TiffFile final : public BitmapFile {
public:
    explicit TiffFile(const BitmapFacts& facts) : columns_(facts.columns * facts.channels()) {
        TIFFSetErrorHandler(nullptr);
        TIFFSetWarningHandler(nullptr);
        tiff_ = TIFFClientOpen("figure", "w", &memory_, Memory::read, Memory::write, Memory::seek,
                               Memory::close, Memory::size, nullptr, nullptr);
        if (tiff_) describe(facts);
    }
    ~TiffFile() override {
        if (tiff_) TIFFClose(tiff_);
    }

    bool row(const std::uint8_t* pixels) override {
        if (!tiff_) return false;
        line_.assign(pixels, pixels + columns_); // the predictor works in place
        return good_ = good_ && TIFFWriteScanline(tiff_, line_.data(), row_++, 0) == 1;
    }
    Result<std::string> end() override {
        if (!tiff_ || !good_) return failure("picture", "The TIFF could not be written.");
        TIFFClose(tiff_);
        tiff_ = nullptr;
        return std::move(memory_.bytes);
    }

private:
    void describe(const BitmapFacts& f) {
        TIFFSetField(tiff_, TIFFTAG_IMAGEWIDTH, static_cast<std::uint32_t>(f.columns));
        TIFFSetField(tiff_, TIFFTAG_IMAGELENGTH, static_cast<std::uint32_t>(f.rows));
        TIFFSetField(tiff_, TIFFTAG_BITSPERSAMPLE, 8);
        TIFFSetField(tiff_, TIFFTAG_SAMPLESPERPIXEL, static_cast<int>(f.channels()));
        TIFFSetField(tiff_, TIFFTAG_PHOTOMETRIC,
                     f.channels() == 1 ? PHOTOMETRIC_MINISBLACK : PHOTOMETRIC_RGB);
        TIFFSetField(tiff_, TIFFTAG_PLANARCONFIG, PLANARCONFIG_CONTIG);
        TIFFSetField(tiff_, TIFFTAG_ORIENTATION, ORIENTATION_TOPLEFT);
        TIFFSetField(tiff_, TIFFTAG_COMPRESSION, COMPRESSION_LZW);
        TIFFSetField(tiff_, TIFFTAG_PREDICTOR, PREDICTOR_HORIZONTAL);
        TIFFSetField(tiff_, TIFFTAG_ROWSPERSTRIP, TIFFDefaultStripSize(tiff_, 0));
        TIFFSetField(tiff_, TIFFTAG_RESOLUTIONUNIT, RESUNIT_INCH);
        TIFFSetField(tiff_, TIFFTAG_XRESOLUTION, f.dpi);
        TIFFSetField(tiff_, TIFFTAG_YRESOLUTION, f.dpi);
        if (f.transparent) {
            const std::uint16_t apart = EXTRASAMPLE_UNASSALPHA;
            TIFFSetField(tiff_, TIFFTAG_EXTRASAMPLES, 1, &apart);
        }
        const auto say = [this](std::uint32_t tag, const std::string& value) {
            if (!value.empty()) TIFFSetField(tiff_, tag, value.c_str());
        };
        say(TIFFTAG_DOCUMENTNAME, f.credits.title);
        say(TIFFTAG_ARTIST, f.credits.author);
        say(TIFFTAG_IMAGEDESCRIPTION, f.credits.remark());
        say(TIFFTAG_SOFTWARE, "Jointer");
    }

    Memory memory_;
    TIFF* tiff_ = nullptr;
    std::size_t columns_;
    std::vector<std::uint8_t> line_;
    std::uint32_t row_ = 0;
    bool good_ = true;
};

} // namespace

std::unique_ptr<BitmapFile> tiffFile(const BitmapFacts& facts) {
    return std::make_unique<TiffFile>(facts);
}

} // namespace jointer::paint
