// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/unit_text.h"
#include "draw/fonts.h"
#include "draw/markup.h"
#include "draw/svg.h"

#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::draw;
using testing::HasSubstr;

TEST(Fonts, AllFacesLoadAndMeasure) {
    for (const FontFile& f : fontFiles()) {
        EXPECT_GT(f.bytes.size(), 50000U) << f.face;
        EXPECT_GT(widthEm(f.face, "Hello"), 1.5) << f.face;
        EXPECT_GT(metricsOf(f.face).capHeight, 0.5) << f.face;
    }
    EXPECT_NEAR(widthEm("sans", "0"), 0.556, 1e-3); // digit width of the Helvetica metric
    EXPECT_TRUE(hasGlyph("math", U'√'));
    for (const char32_t c : U"塩分潮間帯海") {
        if (c) {
            EXPECT_EQ(faceWith("sans", c), "ideographs");
        }
    }
    for (const char32_t c : U"Tiefe Ωµ°") {
        if (c) {
            EXPECT_NE(faceWith("sans", c), "ideographs") << static_cast<unsigned>(c);
        }
    }
    const SetText mixed = setText("塩分 (g/kg)", {});
    ASSERT_EQ(mixed.runs.size(), 2U);
    EXPECT_EQ(mixed.runs[0].face, "ideographs");
    EXPECT_NEAR(mixed.runs[0].widthMm, 2 * mixed.runs[0].sizePt * kMmPerPt, 0.4) << "two wide characters";
    EXPECT_EQ(setText("潮間帯の海", {}).runs.size(), 1U) << "の, which the mathematical face has too, stays with them";
    EXPECT_EQ(faceOf("sans", true, false), "sans-bold");
    EXPECT_EQ(faceOf("math", true, false), "math");
}

TEST(Markup, SetsScriptsGreekAndSigns) {
    const SetText t = setText("x^{2}_{i} \\alpha \\pm 5\\,µm", {});
    std::string all;
    for (const TextRun& r : t.runs) all += r.text;
    EXPECT_EQ(all, "x2i α ± 5\u2009µm");
    EXPECT_LT(t.runs[1].origin.y, 0) << "a superscript stands above the baseline";
    EXPECT_GT(t.runs[2].origin.y, 0);
    EXPECT_NEAR(t.runs[1].origin.x, t.runs[2].origin.x, 0.1) << "both scripts begin together";
    EXPECT_NEAR(t.runs[1].sizePt, 8 * 0.7, 1e-9);
}

TEST(Markup, WidthsAddUpAndAlign) {
    const SetText t = setText("Intensity", {.sizePt = 10});
    EXPECT_NEAR(t.widthMm, widthEm("sans", "Intensity") * 10 * kMmPerPt, 1e-9);
    EXPECT_NEAR(std::get<TextRun>(placed(t, {50, 0}, HAlign::Right, VAlign::Baseline)[0].what).origin.x,
                50 - t.widthMm, 1e-9);
    const TextRun turned = std::get<TextRun>(placed(t, {50, 50}, HAlign::Left, VAlign::Baseline, 90)[0].what);
    EXPECT_EQ(turned.angleDeg, 90);
    EXPECT_NEAR(turned.origin.x, 50, 1e-9);
}

TEST(Markup, OddInputStandsForItself) {
    for (const char* text :
         {"", "^", "_", "{", "}", "a^", "\\", "\\unknown x", "{{{", "x^{y", "a_b^c_d", "\xff"})
        (void)setText(text, {});
    EXPECT_EQ(plainText("\\unknown"), "\\unknown");
    EXPECT_EQ(plainText("10^{−3} \\times"), "10−3 ×");
    for (const char* text : {"shell_28d", "a^b{c}\\d", "\\alpha"}) EXPECT_EQ(plainText(literal(text)), text);
    EXPECT_EQ(unitMarkup("cm-1"), "cm^{−1}");
    EXPECT_EQ(unitMarkup("mol/L"), "mol/L");
    EXPECT_EQ(unitMarkup("degC"), "°C");
    EXPECT_EQ(unitMarkup("mg/L/degC"), "mg/L/°C");
    EXPECT_EQ(unitMarkup("deg"), "deg");
}

TEST(Svg, HasExactSizeIdsClipsAndText) {
    DisplayList list{.widthMm = 85, .heightMm = 60.5};
    Group group{.clip = Rect{1, 2, 3, 4}, .opacity = 0.5, .items = {}};
    group.items.push_back(
        {ElementId{7},
         Path{.lines = {{{{0, 0}, {10, 5}}, false}}, .stroke = Stroke{.widthMm = 0.2}, .fill = {}}});
    list.items.push_back({ElementId{7}, group});
    for (Item& part : placed(setText("A < B & \"C\"", {}), {5, 5}, HAlign::Left, VAlign::Top)) {
        part.element = ElementId{8};
        list.items.push_back(std::move(part));
    }
    const std::string svg = toSvg(list, {.embedFonts = false});
    EXPECT_THAT(svg, HasSubstr("width=\"85mm\" height=\"60.5mm\" viewBox=\"0 0 85 60.5\""));
    EXPECT_THAT(svg, HasSubstr("<g id=\"e7\">"));
    EXPECT_THAT(svg, HasSubstr("clip-path=\"url(#clip1)\""));
    EXPECT_THAT(svg, HasSubstr("A &lt; B &amp; &quot;C&quot;"));
    EXPECT_THAT(svg, HasSubstr("opacity=\"0.5\""));
    EXPECT_THAT(toSvg(list), HasSubstr("@font-face"));
}
