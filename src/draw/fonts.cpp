// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/fonts.h"

#include <algorithm>
#include <ft2build.h>
#include FT_FREETYPE_H
#include FT_TRUETYPE_TABLES_H
#include <hb-ft.h>
#include <hb-subset.h>
#include <hb.h>
#include <map>
#include <memory>
#include <mutex>
#include <unordered_map>

// The font files become part of the program, so that pictures do not depend on the machine.
#define JOINTER_FONT(symbol, file)                                                                           \
    __asm__(".section .rodata\n.balign 16\n" #symbol ":\n.incbin \"" JOINTER_RESOURCES "/fonts/" file        \
            "\"\n" #symbol "_end:\n.byte 0\n.previous\n");                                                   \
    extern "C" const unsigned char symbol[];                                                                 \
    extern "C" const unsigned char symbol##_end[];

JOINTER_FONT(jointer_font_sans, "texgyreheros-regular.otf")
JOINTER_FONT(jointer_font_sans_bold, "texgyreheros-bold.otf")
JOINTER_FONT(jointer_font_sans_italic, "texgyreheros-italic.otf")
JOINTER_FONT(jointer_font_serif, "STIXTwoText-Regular.otf")
JOINTER_FONT(jointer_font_serif_bold, "STIXTwoText-Bold.otf")
JOINTER_FONT(jointer_font_serif_italic, "STIXTwoText-Italic.otf")
JOINTER_FONT(jointer_font_math, "STIXTwoMath-Regular.otf")
JOINTER_FONT(jointer_font_ideographs, "DroidSansFallbackFull.ttf")
JOINTER_FONT(jointer_font_window, "Inter-Regular.otf")
JOINTER_FONT(jointer_font_window_medium, "Inter-Medium.otf")
JOINTER_FONT(jointer_font_window_bold, "Inter-SemiBold.otf")

namespace jointer::draw {

namespace {

// One loaded face; HarfBuzz shapes in font units.
class Face {
public:
    explicit Face(std::span<const unsigned char> bytes) {
        static FT_Library library = [] {
            FT_Library l = nullptr;
            FT_Init_FreeType(&l);
            return l;
        }();
        FT_New_Memory_Face(library, bytes.data(), static_cast<FT_Long>(bytes.size()), 0, &face_);
        hb_face_t* hb = hb_ft_face_create_referenced(face_);
        font_ = hb_font_create(hb);
        hb_face_destroy(hb);
        buffer_ = hb_buffer_create();
        unitsPerEm_ = face_->units_per_EM;
    }
    Face(const Face&) = delete;
    ~Face() {
        hb_buffer_destroy(buffer_);
        hb_font_destroy(font_);
        FT_Done_Face(face_);
    }

    double width(std::string_view text) {
        hb_buffer_clear_contents(buffer_);
        hb_buffer_add_utf8(buffer_, text.data(), static_cast<int>(text.size()), 0,
                           static_cast<int>(text.size()));
        hb_buffer_guess_segment_properties(buffer_);
        const hb_feature_t noLigatures = {HB_TAG('l', 'i', 'g', 'a'), 0, 0, static_cast<unsigned>(-1)};
        hb_shape(font_, buffer_, &noLigatures, 1);
        unsigned count = 0;
        const hb_glyph_position_t* positions = hb_buffer_get_glyph_positions(buffer_, &count);
        double sum = 0;
        for (unsigned i = 0; i < count; ++i) sum += positions[i].x_advance;
        return sum / unitsPerEm_;
    }

    bool has(char32_t c) const { return FT_Get_Char_Index(face_, c) != 0; }

    FaceMetrics metrics() const {
        const auto* os2 = static_cast<const TT_OS2*>(FT_Get_Sfnt_Table(face_, FT_SFNT_OS2));
        FaceMetrics m{face_->ascender / unitsPerEm_, -face_->descender / unitsPerEm_, 0.7, 0.5};
        if (os2 && os2->version >= 2) {
            m.capHeight = os2->sCapHeight / unitsPerEm_;
            m.xHeight = os2->sxHeight / unitsPerEm_;
        }
        return m;
    }

private:
    FT_Face face_ = nullptr;
    hb_font_t* font_ = nullptr;
    hb_buffer_t* buffer_ = nullptr;
    double unitsPerEm_ = 1000;
};

struct Loaded {
    std::mutex mutex;
    std::map<std::string, std::unique_ptr<Face>, std::less<>> faces;
    std::unordered_map<std::string, double> widths;
};

Loaded& loaded() {
    static Loaded l;
    return l;
}

Face& faceFor(std::string_view key) { // with the mutex held
    auto& faces = loaded().faces;
    if (const auto at = faces.find(key); at != faces.end()) return *at->second;
    auto file = std::ranges::find(fontFiles(), key, &FontFile::face);
    if (file == fontFiles().end()) file = fontFiles().begin();
    return *faces.emplace(std::string(key), std::make_unique<Face>(file->bytes)).first->second;
}

} // namespace

const std::vector<FontFile>& fontFiles() {
#define JOINTER_BYTES(symbol) std::span<const unsigned char>(symbol, symbol##_end)
    static const std::vector<FontFile> files = {
        {"sans", "TeX Gyre Heros", JOINTER_BYTES(jointer_font_sans)},
        {"sans-bold", "TeX Gyre Heros", JOINTER_BYTES(jointer_font_sans_bold)},
        {"sans-italic", "TeX Gyre Heros", JOINTER_BYTES(jointer_font_sans_italic)},
        {"serif", "STIX Two Text", JOINTER_BYTES(jointer_font_serif)},
        {"serif-bold", "STIX Two Text", JOINTER_BYTES(jointer_font_serif_bold)},
        {"serif-italic", "STIX Two Text", JOINTER_BYTES(jointer_font_serif_italic)},
        {"math", "STIX Two Math", JOINTER_BYTES(jointer_font_math)},
        {"ideographs", "Droid Sans Fallback", JOINTER_BYTES(jointer_font_ideographs)},
        {"window", "Inter", JOINTER_BYTES(jointer_font_window)},
        {"window-medium", "Inter Medium", JOINTER_BYTES(jointer_font_window_medium)},
        {"window-bold", "Inter", JOINTER_BYTES(jointer_font_window_bold)},
    };
    return files;
}

FaceMetrics metricsOf(std::string_view face) {
    const std::lock_guard lock(loaded().mutex);
    return faceFor(face).metrics();
}

double widthEm(std::string_view face, std::string_view text) {
    const std::lock_guard lock(loaded().mutex);
    std::string key = std::string(face) + '\n' + std::string(text);
    auto& widths = loaded().widths;
    if (const auto at = widths.find(key); at != widths.end()) return at->second;
    if (widths.size() > 20000) widths.clear();
    return widths.emplace(std::move(key), faceFor(face).width(text)).first->second;
}

std::string subsetOf(std::string_view face, std::string_view text) {
    auto file = std::ranges::find(fontFiles(), face, &FontFile::face);
    if (file == fontFiles().end()) file = fontFiles().begin();
    const auto* bytes = reinterpret_cast<const char*>(file->bytes.data());
    using Blob = std::unique_ptr<hb_blob_t, decltype(&hb_blob_destroy)>;
    using HbFace = std::unique_ptr<hb_face_t, decltype(&hb_face_destroy)>;
    using Input = std::unique_ptr<hb_subset_input_t, decltype(&hb_subset_input_destroy)>;
    const Blob whole(hb_blob_create(bytes, static_cast<unsigned>(file->bytes.size()), HB_MEMORY_MODE_READONLY,
                                    nullptr, nullptr),
                     &hb_blob_destroy);
    const HbFace font(hb_face_create(whole.get(), 0), &hb_face_destroy);
    const Input input(hb_subset_input_create_or_fail(), &hb_subset_input_destroy);
    if (!input) return {bytes, file->bytes.size()};
    // The buffer decodes the text as the shaper does.
    const std::unique_ptr<hb_buffer_t, decltype(&hb_buffer_destroy)> buffer(hb_buffer_create(),
                                                                            &hb_buffer_destroy);
    hb_buffer_add_utf8(buffer.get(), text.data(), static_cast<int>(text.size()), 0,
                       static_cast<int>(text.size()));
    unsigned count = 0;
    const hb_glyph_info_t* codePoints = hb_buffer_get_glyph_infos(buffer.get(), &count);
    for (unsigned i = 0; i < count; ++i)
        hb_set_add(hb_subset_input_unicode_set(input.get()), codePoints[i].codepoint);
    const HbFace cut(hb_subset_or_fail(font.get(), input.get()), &hb_face_destroy);
    if (!cut) return {bytes, file->bytes.size()};
    const Blob out(hb_face_reference_blob(cut.get()), &hb_blob_destroy);
    unsigned size = 0;
    const char* data = hb_blob_get_data(out.get(), &size);
    return {data, size};
}

bool hasGlyph(std::string_view face, char32_t c) {
    const std::lock_guard lock(loaded().mutex);
    return faceFor(face).has(c);
}

std::string faceWith(std::string_view face, char32_t c) {
    for (const std::string_view other : {face, std::string_view("math"), std::string_view("ideographs")})
        if (hasGlyph(other, c)) return std::string(other);
    return std::string(face);
}

std::string faceOf(std::string_view family, bool bold, bool italic) {
    const std::string wanted = std::string(family) + (bold ? "-bold" : italic ? "-italic" : "");
    return std::ranges::find(fontFiles(), std::string_view(wanted), &FontFile::face) == fontFiles().end()
               ? std::string(family)
               : wanted;
}

} // namespace jointer::draw
