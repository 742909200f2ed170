// SPDX-License-Identifier: GPL-3.0-or-later
#include "paint/bitmap_files.h"

#include <algorithm>
#include <cmath>
#include <csetjmp>
#include <cstdio>
#include <cstdlib>
#include <jpeglib.h>

namespace jointer::paint {

namespace {

class JpegFile final : public BitmapFile {
public:
    explicit JpegFile(const BitmapFacts& facts) : facts_(facts) {
        jpeg_.err = jpeg_std_error(&errors_.base);
        errors_.base.error_exit = [](j_common_ptr info) {
            std::longjmp(reinterpret_cast<Errors*>(info->err)->back, 1);
        };
        errors_.base.output_message = [](j_common_ptr) {};
        good_ = begin();
    }
    ~JpegFile() override {
        jpeg_destroy_compress(&jpeg_);
        std::free(bytes_);
    }

    bool row(const std::uint8_t* pixels) override {
        if (!good_ || setjmp(errors_.back)) return good_ = false;
        JSAMPROW line = const_cast<JSAMPROW>(pixels);
        jpeg_write_scanlines(&jpeg_, &line, 1);
        return true;
    }
    Result<std::string> end() override {
        if (!good_ || setjmp(errors_.back))
            return failure("picture",
                           "The JPEG could not be written: a side may have 65 500 pixels at most.");
        jpeg_finish_compress(&jpeg_);
        return std::string(reinterpret_cast<const char*>(bytes_), size_);
    }

private:
    struct Errors {
        jpeg_error_mgr base;
        std::jmp_buf back;
    };

    bool begin() {
        if (setjmp(errors_.back)) return false;
        jpeg_create_compress(&jpeg_);
        jpeg_mem_dest(&jpeg_, &bytes_, &size_);
        jpeg_.image_width = static_cast<JDIMENSION>(facts_.columns);
        jpeg_.image_height = static_cast<JDIMENSION>(facts_.rows);
        jpeg_.input_components = facts_.grey ? 1 : 3;
        jpeg_.in_color_space = facts_.grey ? JCS_GRAYSCALE : JCS_RGB;
        jpeg_set_defaults(&jpeg_);
        jpeg_set_quality(&jpeg_, std::clamp(facts_.quality, 1, 100), TRUE);
        jpeg_.comp_info[0].h_samp_factor = jpeg_.comp_info[0].v_samp_factor =
            1; // thin coloured lines stay sharp
        jpeg_.optimize_coding = FALSE;
        jpeg_.density_unit = 1;
        jpeg_.X_density = jpeg_.Y_density = static_cast<UINT16>(std::lround(facts_.dpi));
        jpeg_start_compress(&jpeg_, TRUE);
        std::string told = facts_.credits.title;
        if (!facts_.credits.author.empty()) told += "\n" + facts_.credits.author;
        told += "\n" + facts_.credits.remark() + "\nJointer";
        told.resize(std::min<std::size_t>(told.size(), 60000));
        jpeg_write_marker(&jpeg_, JPEG_COM, reinterpret_cast<const JOCTET*>(told.data()),
                          static_cast<unsigned>(told.size()));
        return true;
    }

    BitmapFacts facts_;
    jpeg_compress_struct jpeg_{};
    Errors errors_{};
    unsigned char* bytes_ = nullptr;
    unsigned long size_ = 0;
    bool good_ = false;
};

} // namespace

std::unique_ptr<BitmapFile> jpegFile(const BitmapFacts& facts) {
    return std::make_unique<JpegFile>(facts);
}

} // namespace jointer::paint
