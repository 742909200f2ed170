// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/unit_text.h"
#include "draw/fonts.h"
#include "draw/markup.h"
#include "draw/svg.h"

#include <gmock/gmock.h>
#include <harfbuzz/hb.h>
#include <memory>

using namespace jointer::draw;

namespace {

constexpr std::u32string_view kLetters = U"Raman shift (cm−1) 0123456789 µν";
constexpr std::string_view kText = "Raman shift (cm−1) 0123456789 µν";

// Whether font data can show a letter.
bool holds(const std::string& font, char32_t letter) {
    const std::unique_ptr<hb_blob_t, decltype(&hb_blob_destroy)> blob(
        hb_blob_create(font.data(), static_cast<unsigned>(font.size()), HB_MEMORY_MODE_READONLY, nullptr,
                       nullptr),
        &hb_blob_destroy);
    const std::unique_ptr<hb_face_t, decltype(&hb_face_destroy)> face(hb_face_create(blob.get(), 0),
                                                                      &hb_face_destroy);
    const std::unique_ptr<hb_font_t, decltype(&hb_font_destroy)> made(hb_font_create(face.get()),
                                                                      &hb_font_destroy);
    hb_codepoint_t glyph = 0;
    return hb_font_get_nominal_glyph(made.get(), letter, &glyph) != 0;
}

} // namespace

TEST(Fonts, ASubsetIsSmallAndHoldsItsLetters) {
    ASSERT_GE(fontFiles().size(), 8U) << "the fonts that ship";
    for (const FontFile& font : fontFiles()) {
        if (font.face == "ideographs") continue; // holds no letters
        const std::string cut = subsetOf(font.face, kText);
        EXPECT_LT(cut.size(), font.bytes.size() / 3) << font.face;
        EXPECT_TRUE(cut.starts_with("OTTO") || cut.starts_with(std::string("\0\1\0\0", 4))) << font.face;
        EXPECT_EQ(cut, subsetOf(font.face, kText)) << "the same bytes each time";
        int held = 0;
        for (char32_t letter : kLetters) {
            if (!hasGlyph(font.face, letter)) continue;
            ++held;
            EXPECT_TRUE(holds(cut, letter)) << font.face << " lost " << static_cast<unsigned>(letter);
        }
        EXPECT_GT(held, 20) << font.face;
        EXPECT_FALSE(holds(cut, U'Q')) << font.face << " holds what was not asked for";
    }
}

TEST(Fonts, ASubsetOfIdeographsHoldsThem) {
    const std::string cut = subsetOf("ideographs", "塩分");
    EXPECT_LT(cut.size(), 60000U);
    EXPECT_TRUE(holds(cut, U'塩') && holds(cut, U'分'));
    EXPECT_FALSE(holds(cut, U'海'));
}

TEST(Svg, CarriesOnlyTheLettersItShows) {
    DisplayList list{.widthMm = 50, .heightMm = 20};
    for (TextRun run : setText("Depth (cm)", {}).runs) list.items.push_back({{}, run});
    const std::string svg = toSvg(list);
    EXPECT_LT(svg.size(), 40000U);
    EXPECT_THAT(svg, testing::HasSubstr("@font-face"));
    EXPECT_THAT(toSvg(list, {.embedFonts = false}), testing::Not(testing::HasSubstr("@font-face")));
}

TEST(Markup, TableOfWhatPeopleType) {
    const struct {
        const char *markup, *plain;
    } all[] = {{"x^{2}", "x2"},
               {"cm^{−1}", "cm−1"},
               {"\\alpha_{i}", "αi"},
               {"a \\times b", "a × b"},
               {"5 \\pm 1", "5 ± 1"},
               {"\\textit{T} (\\degree{}C)", "T (°C)"},
               {"\\textbf{bold} and plain", "bold and plain"},
               {"100 %", "100 %"},
               {"", ""},
               {"\\unknown", "\\unknown"},
               {"a{}b", "ab"}};
    for (const auto& c : all) EXPECT_EQ(plainText(c.markup), c.plain) << c.markup;
    for (const char* name : {"a_b", "50 % {raw}", "x^2", "\\alpha", "shell_28d.csv", "{}"})
        EXPECT_EQ(plainText(literal(name)), name) << "a literal stands for itself";
    EXPECT_EQ(jointer::unitMarkup("cm-1"), "cm^{−1}");
    for (const char* typed : {"cm^-1", "cm**-1", "cm^−1", "cm−1"}) EXPECT_EQ(jointer::unitMarkup(typed), "cm^{−1}") << typed;
    EXPECT_EQ(jointer::unitMarkup("W m^-2"), "W m^{−2}");
    EXPECT_EQ(jointer::unitMarkup("mg/m^3"), "mg/m^{3}");
    EXPECT_EQ(jointer::unitMarkup("ln(y^n)"), "ln(y^n)");
    EXPECT_EQ(jointer::unitMarkup("cm^{-1}"), "cm^{-1}");
    EXPECT_EQ(jointer::unitMarkup("mol/L"), "mol/L");
    for (const auto& [unit, shown] : {std::pair("cm-1", "cm⁻¹"),
                                      {"cm^{-1}", "cm⁻¹"},
                                      {"m^2", "m²"},
                                      {"mol/L", "mol/L"},
                                      {"W m-2 K-1", "W m⁻² K⁻¹"},
                                      {"x^{n}", "xn"},
                                      {"", ""},
                                      {"^", "^"},
                                      {"a^{", "a"}})
        EXPECT_EQ(unitPlain(unit), shown) << unit;
}

// Whatever is typed, the width is finite and the runs hold valid text.
TEST(Markup, SurvivesAnyBytes) {
    unsigned state = 1;
    const std::string letters = "ab^_{}\\ 0−\xCE\xB1\x80,alph";
    for (int k = 0; k < 3000; ++k) {
        std::string text;
        for (int i = 0; i < 12; ++i) text += letters[(state = state * 1664525u + 1013904223u) >> 24 & 15];
        const SetText set = setText(text, {});
        ASSERT_TRUE(set.widthMm >= 0 && set.widthMm < 1000) << text;
        ASSERT_FALSE(toSvg({.widthMm = 10, .heightMm = 10, .items = {}, .regions = {}}).empty());
    }
}
