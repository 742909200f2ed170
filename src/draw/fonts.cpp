// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/fonts.h"

#include <algorithm>
#include <cmath>
#include <ft2build.h>
#include FT_FREETYPE_H
#include FT_OUTLINE_H
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
JOINTER_FONT(jointer_font_sans_bold_italic, "texgyreheros-bolditalic.otf")
JOINTER_FONT(jointer_font_serif, "STIXTwoText-Regular.otf")
JOINTER_FONT(jointer_font_serif_bold, "STIXTwoText-Bold.otf")
JOINTER_FONT(jointer_font_serif_italic, "STIXTwoText-Italic.otf")
JOINTER_FONT(jointer_font_serif_bold_italic, "STIXTwoText-BoldItalic.otf")
JOINTER_FONT(jointer_font_math, "STIXTwoMath-Regular.otf")
JOINTER_FONT(jointer_font_ideographs, "DroidSansFallbackFull.ttf")
JOINTER_FONT(jointer_font_window, "Inter-Regular.otf")
JOINTER_FONT(jointer_font_window_medium, "Inter-Medium.otf")
JOINTER_FONT(jointer_font_window_bold, "Inter-SemiBold.otf")

namespace jointer::draw {

namespace {

// Curves as lines that are nowhere further from them than a thousandth of the size, in em, y downwards.
struct Flattener {
    std::vector<Polyline>& lines;
    double pen, unitsPerEm;
    Point last{};

    static constexpr int kPieces = 12;
    static Flattener& of(void* user) { return *static_cast<Flattener*>(user); }
    Point at(const FT_Vector& v) const {
        return {(pen + static_cast<double>(v.x)) / unitsPerEm, -static_cast<double>(v.y) / unitsPerEm};
    }
    void add(Point p) {
        lines.back().points.push_back(p);
        last = p;
    }
    static int move(const FT_Vector* to, void* user) {
        of(user).lines.push_back({{}, true});
        of(user).add(of(user).at(*to));
        return 0;
    }
    static int line(const FT_Vector* to, void* user) {
        of(user).add(of(user).at(*to));
        return 0;
    }
    static int conic(const FT_Vector* by, const FT_Vector* to, void* user) {
        const Flattener& f = of(user);
        const Point a = f.last, b = f.at(*by), c = f.at(*to);
        const auto third = [](Point p, Point q) {
            return Point{p.x + (q.x - p.x) * 2 / 3, p.y + (q.y - p.y) * 2 / 3};
        };
        of(user).curve(third(a, b), third(c, b), c);
        return 0;
    }
    static int cubic(const FT_Vector* b, const FT_Vector* c, const FT_Vector* d, void* user) {
        of(user).curve(of(user).at(*b), of(user).at(*c), of(user).at(*d));
        return 0;
    }
    void curve(Point b, Point c, Point d) {
        const Point a = last;
        for (int k = 1; k <= kPieces; ++k) {
            const double t = static_cast<double>(k) / kPieces, u = 1 - t;
            const double wa = u * u * u, wb = 3 * u * u * t, wc = 3 * u * t * t, wd = t * t * t;
            add({wa * a.x + wb * b.x + wc * c.x + wd * d.x, wa * a.y + wb * b.y + wc * c.y + wd * d.y});
        }
    }
};

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

    // Each glyph of a shaped text with where its pen stands, in font units.
    void eachGlyph(std::string_view text, const auto& visit) {
        width(text);
        unsigned count = 0;
        const hb_glyph_info_t* infos = hb_buffer_get_glyph_infos(buffer_, &count);
        const hb_glyph_position_t* positions = hb_buffer_get_glyph_positions(buffer_, &count);
        double pen = 0;
        for (unsigned i = 0; i < count; ++i) {
            if (FT_Load_Glyph(face_, infos[i].codepoint, FT_LOAD_NO_SCALE | FT_LOAD_NO_HINTING) == 0)
                visit(face_->glyph->outline, pen + positions[i].x_offset);
            pen += positions[i].x_advance;
        }
    }

    Rect ink(std::string_view text) {
        double left = INFINITY, right = -INFINITY, low = INFINITY, high = -INFINITY;
        eachGlyph(text, [&](FT_Outline& outline, double pen) {
            if (outline.n_points == 0) return;
            FT_BBox box;
            FT_Outline_Get_CBox(&outline, &box);
            left = std::min(left, pen + static_cast<double>(box.xMin));
            right = std::max(right, pen + static_cast<double>(box.xMax));
            low = std::min(low, static_cast<double>(box.yMin));
            high = std::max(high, static_cast<double>(box.yMax));
        });
        if (!(left <= right)) return {};
        return {left / unitsPerEm_, -high / unitsPerEm_, (right - left) / unitsPerEm_,
                (high - low) / unitsPerEm_};
    }

    std::vector<Polyline> outlines(std::string_view text) {
        std::vector<Polyline> out;
        eachGlyph(text, [&](FT_Outline& outline, double pen) {
            Flattener to{.lines = out, .pen = pen, .unitsPerEm = unitsPerEm_};
            const FT_Outline_Funcs steps{
                Flattener::move, Flattener::line, Flattener::conic, Flattener::cubic, 0, 0};
            FT_Outline_Decompose(&outline, &steps, &to);
        });
        return out;
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
        {"sans-bold-italic", "TeX Gyre Heros", JOINTER_BYTES(jointer_font_sans_bold_italic)},
        {"serif", "STIX Two Text", JOINTER_BYTES(jointer_font_serif)},
        {"serif-bold", "STIX Two Text", JOINTER_BYTES(jointer_font_serif_bold)},
        {"serif-italic", "STIX Two Text", JOINTER_BYTES(jointer_font_serif_italic)},
        {"serif-bold-italic", "STIX Two Text", JOINTER_BYTES(jointer_font_serif_bold_italic)},
        {"math", "STIX Two Math", JOINTER_BYTES(jointer_font_math)},
        {"ideographs", "Droid Sans Fallback", JOINTER_BYTES(jointer_font_ideographs)},
        {"window", "Inter", JOINTER_BYTES(jointer_font_window)},
        {"window-medium", "Inter Medium", JOINTER_BYTES(jointer_font_window_medium)},
        {"window-bold", "Inter", JOINTER_BYTES(jointer_font_window_bold)},
    };
    return files;
}

const FontFile* fontFile(std::string_view face) {
    const auto at = std::ranges::find(fontFiles(), face, &FontFile::face);
    return at == fontFiles().end() ? nullptr : &*at;
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

Rect inkOf(std::string_view face, std::string_view text) {
    const std::lock_guard lock(loaded().mutex);
    return faceFor(face).ink(text);
}

std::vector<Polyline> glyphOutlines(std::string_view face, std::string_view text) {
    const std::lock_guard lock(loaded().mutex);
    return faceFor(face).outlines(text);
}

bool hasGlyph(std::string_view face, char32_t c) {
    const std::lock_guard lock(loaded().mutex);
    return faceFor(face).has(c);
}

std::string faceWith(std::string_view face, char32_t c) {
    const std::string_view bold = face.find("-bold") != face.npos ? "serif-bold" : face,
                           slanted = face.ends_with("-bold-italic") ? "serif-bold-italic"
                                     : face.ends_with("-italic")    ? "serif-italic"
                                                                    : bold;
    for (const std::string_view other :
         {face, slanted, bold, std::string_view("math"), std::string_view("ideographs")})
        if (hasGlyph(other, c)) return std::string(other);
    return std::string(face);
}

std::string faceOf(std::string_view family, bool bold, bool italic) {
    const std::string one = std::string(family) + (bold ? "-bold" : italic ? "-italic" : "");
    for (const std::string& wanted : {bold && italic ? one + "-italic" : one, one})
        if (fontFile(wanted)) return wanted;
    return std::string(family);
}

} // namespace jointer::draw
