// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/fonts.h"
#include "draw/markup.h"
#include "draw/svg.h"

#include <gmock/gmock.h>

using namespace jointer::draw;

TEST(Fonts, ASubsetIsSmallAndHoldsItsLetters) {
    for (const FontFile& font : fontFiles()) {
        const std::string cut = subsetOf(font.face, "Raman shift (cm−1) 0123456789 µν");
        EXPECT_LT(cut.size(), font.bytes.size() / 3) << font.face;
        EXPECT_GT(cut.size(), 1000U) << font.face;
        EXPECT_TRUE(cut.starts_with("OTTO") || cut.starts_with(std::string("\0\1\0\0", 4))) << font.face;
        EXPECT_EQ(cut, subsetOf(font.face, "Raman shift (cm−1) 0123456789 µν")) << "the same bytes each time";
    }
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
    EXPECT_EQ(unitMarkup("cm-1"), "cm^{−1}");
    EXPECT_EQ(unitMarkup("mol/L"), "mol/L");
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
