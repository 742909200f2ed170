// SPDX-License-Identifier: GPL-3.0-or-later
#include "paint/bitmap_files.h"

#include <cmath>
#include <csetjmp>
#include <png.h>
#include <vector>

namespace jointer::paint {

namespace {

class PngFile final : public BitmapFile {
public:
    explicit PngFile(const BitmapFacts& facts) : facts_(facts) {
        png_ = png_create_write_struct(PNG_LIBPNG_VER_STRING, nullptr, nullptr, silence);
        info_ = png_ ? png_create_info_struct(png_) : nullptr;
        good_ = info_ && begin();
    }
    ~PngFile() override { png_destroy_write_struct(&png_, &info_); }

    bool row(const std::uint8_t* pixels) override {
        if (!good_ || setjmp(png_jmpbuf(png_))) return good_ = false;
        png_write_row(png_, pixels);
        return true;
    }
    Result<std::string> end() override {
        if (good_ && !finish()) good_ = false;
        if (!good_) return failure("picture", "The PNG could not be written.");
        return std::move(bytes_);
    }

private:
    static void silence(png_structp, png_const_charp) {}
    static void take(png_structp png, png_bytep data, std::size_t size) {
        static_cast<PngFile*>(png_get_io_ptr(png))->bytes_.append(reinterpret_cast<const char*>(data), size);
    }

    bool begin() {
        if (setjmp(png_jmpbuf(png_))) return false;
        png_set_write_fn(png_, this, take, nullptr);
        const int kind = facts_.transparent ? PNG_COLOR_TYPE_RGBA
                         : facts_.grey      ? PNG_COLOR_TYPE_GRAY
                                            : PNG_COLOR_TYPE_RGB;
        png_set_IHDR(png_, info_, static_cast<png_uint_32>(facts_.columns),
                     static_cast<png_uint_32>(facts_.rows), 8, kind, PNG_INTERLACE_NONE,
                     PNG_COMPRESSION_TYPE_DEFAULT, PNG_FILTER_TYPE_DEFAULT);
        png_set_compression_level(png_, 6);
        png_set_filter(png_, PNG_FILTER_TYPE_BASE, PNG_FILTER_SUB);
        const auto perMetre = static_cast<png_uint_32>(std::lround(facts_.dpi / 0.0254));
        png_set_pHYs(png_, info_, perMetre, perMetre, PNG_RESOLUTION_METER);
        png_set_sRGB(png_, info_, PNG_sRGB_INTENT_RELATIVE);
        addTexts();
        png_write_info(png_, info_);
        return true;
    }
    void addTexts() {
        const auto add = [this](const char* key, const std::string& value) {
            if (value.empty()) return;
            png_text text{};
            text.compression = PNG_ITXT_COMPRESSION_NONE;
            text.key = const_cast<char*>(key);
            text.text = const_cast<char*>(value.c_str());
            text.lang = const_cast<char*>("");
            text.lang_key = const_cast<char*>("");
            png_set_text(png_, info_, &text, 1);
        };
        add("Title", facts_.credits.title);
        add("Author", facts_.credits.author);
        add("Description", facts_.credits.remark());
        add("Software", "Jointer");
    }
    bool finish() {
        if (setjmp(png_jmpbuf(png_))) return false;
        png_write_end(png_, info_);
        return true;
    }

    BitmapFacts facts_;
    png_structp png_ = nullptr;
    png_infop info_ = nullptr;
    std::string bytes_;
    bool good_ = false;
};

} // namespace

std::unique_ptr<BitmapFile> pngFile(const BitmapFacts& facts) {
    return std::make_unique<PngFile>(facts);
}

} // namespace jointer::paint
