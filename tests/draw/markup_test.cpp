// SPDX-License-Identifier: GPL-3.0-or-later
// Markup: what is set where, what TeX is given, and that random texts keep their promises.
#include "base/text.h"
#include "draw/fonts.h"
#include "draw/markup.h"
#include "draw/markup_tree.h"
#include "draw/revise.h"
#include "draw/signs.h"
#include "support/random_markup.h"

#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::draw;

namespace {

const TextRun* runOf(const SetText& t, std::string_view text) {
    for (const TextRun& r : t.runs)
        if (r.text == text) return &r;
    return nullptr;
}

std::string tex(std::string_view markup) {
    return texOf(parsedMarkup(markup), 10).value_or("unknown");
}

} // namespace

TEST(Signs, HaveAGlyphInSomeFaceThatShips) {
    for (const Sign& sign : signs()) {
        const SetText set = setText(sign.character, {});
        for (const TextRun& run : set.runs)
            if (sign.name != "quad" && sign.name != ",") {
                EXPECT_TRUE(inkOf(run.face, run.text).width > 0 || run.text == " ") << sign.name;
            }
        for (const char32_t c : std::u32string(U"∑∏∫∮√")) EXPECT_TRUE(hasGlyph("math", c));
        EXPECT_EQ(signNamed(sign.name), &sign) << "two signs are called " << sign.name;
    }
}

TEST(Signs, AreFoundByTheirBeginningByWordsAndByThemselves) {
    ASSERT_FALSE(signsLike("wavel").empty());
    EXPECT_EQ(signsLike("wavel").front()->name, "lambda");
    EXPECT_EQ(signsLike("per m").front()->name, "permil");
    EXPECT_EQ(signsLike("±").front()->name, "pm");
    EXPECT_GT(signsLike("").size(), 80U);
    EXPECT_TRUE(signsLike("no such sign").empty());
}

TEST(Markup, FractionsStandAboutTheAxisOfTheLine) {
    const SetText t = setText("\\frac{a}{b}", {.sizePt = 10});
    ASSERT_EQ(t.runs.size(), 2U);
    ASSERT_EQ(t.strokes.size(), 1U);
    const double rule = t.strokes[0].lines[0].points[0].y, em = 10 * kMmPerPt;
    EXPECT_NEAR(rule, -0.25 * em, 1e-9);
    const Rect below = inkOf("sans", "b");
    EXPECT_LT(t.runs[0].origin.y, rule) << "the numerator stands on the rule";
    EXPECT_GT(t.runs[1].origin.y + below.y * t.runs[1].sizePt * kMmPerPt, rule + 0.1 * em)
        << "the denominator hangs below";
    EXPECT_NEAR(t.runs[0].sizePt, 7.5, 1e-9);
    const double left = t.strokes[0].lines[0].points[0].x, right = t.strokes[0].lines[0].points[1].x;
    for (const TextRun& r : t.runs) EXPECT_NEAR(r.origin.x + r.widthMm / 2, (left + right) / 2, 1e-9);
}

TEST(Markup, ARootCoversItsBodyAndNoMore) {
    for (const char* body : {"x", "x^{2}+y^{2}", "\\frac{a}{b}", "gjpq"}) {
        const SetText inner = setText(body, {}), t = setText(std::string("\\sqrt{") + body + "}", {});
        double top = 0, end = 0;
        for (const Polyline& l : t.strokes[inner.strokes.empty() ? 0 : 0].lines)
            for (const Point& p : l.points) {
                top = std::min(top, p.y);
                end = std::max(end, p.x);
            }
        for (const TextRun& r : t.runs) {
            EXPECT_LE(r.origin.x + r.widthMm, end + 0.1) << body;
            EXPECT_GT(r.origin.y + inkOf(r.face, r.text).y * r.sizePt * kMmPerPt, top) << body;
        }
        EXPECT_GT(t.widthMm, inner.widthMm);
    }
}

TEST(Markup, LimitsStandAboveAndBelowSums) {
    const SetText t = setText("\\sum_{i=1}^{n} x", {});
    const TextRun *sign = runOf(t, "∑"), *below = runOf(t, "i=1"), *above = runOf(t, "n");
    ASSERT_TRUE(sign && below && above);
    EXPECT_LT(above->origin.y, -1);
    EXPECT_GT(below->origin.y, 1);
    for (const TextRun* limit : {below, above})
        EXPECT_NEAR(limit->origin.x + limit->widthMm / 2, sign->origin.x + sign->widthMm / 2, 0.2);
}

TEST(Markup, FencesGrowWithWhatTheyHold) {
    const SetText small = setText("\\left(x\\right)", {}), tall = setText("\\left(\\frac{a}{b}\\right)", {});
    EXPECT_NEAR(small.runs.front().sizePt, 8, 1e-9);
    EXPECT_GT(tall.runs.front().sizePt, 10);
    EXPECT_EQ(plainText("\\left\\{a\\right."), "{a");
    EXPECT_EQ(plainText("\\left x"), "\\left x") << "no mark: it stands for itself";
    EXPECT_EQ(plainText("\\left(x"), "\\left(x") << "never closed";
}

TEST(Markup, BoldAndItalicTogetherHaveAFaceOfTheirOwn) {
    EXPECT_EQ(setText("\\textbf{\\textit{x}}", {}).runs[0].face, "sans-bold-italic");
    EXPECT_TRUE(setText("\\textit{\\alpha}", {}).runs[0].face.ends_with("-italic"));
    EXPECT_EQ(setText("\\textrm{x}", {.bold = true}).runs[0].face, "sans");
    EXPECT_EQ(setText("\\unit{umol L-1}", {.italic = true}).runs[0].face, "sans");
}

TEST(Markup, PlainTextReadsAsOneWouldSayIt) {
    EXPECT_EQ(plainText("\\frac{dN}{dt}"), "dN/dt");
    EXPECT_EQ(plainText("\\frac{a\\textit{b}}{1+x^{2}}"), "(ab)/(1+x2)");
    EXPECT_EQ(plainText("\\sqrt{x}"), "√x");
    EXPECT_EQ(plainText("\\hat{x}"), "x");
    EXPECT_EQ(plainText("-5\\celsius"), "−5°C");
    EXPECT_EQ(plainText("10^{-3}"), "10−3");
}

TEST(Tex, IsWhatTheMarkupMeans) {
    EXPECT_EQ(tex("x^{2}"), "x\\textsuperscript{2}");
    EXPECT_EQ(tex("50% & #1_"), "50\\% \\& \\#1\\_");
    EXPECT_EQ(tex("\\alpha"), "\\ensuremath{\\alpha}");
    EXPECT_EQ(tex("10^{-3}"), "10\\textsuperscript{\\ensuremath{-}3}");
    EXPECT_EQ(tex("\\textit{p} < 0.05"), "\\textit{p} \\ensuremath{<} 0.05");
    EXPECT_EQ(tex("塩"), "unknown") << "which TeX has no font for";
    EXPECT_EQ(tex("~"), "\\textasciitilde{}");
    EXPECT_EQ(tex("\""), "''") << "the usual text fonts lack the upright one";
}

// What is set lies within the box that is told, and the words can be read again.
TEST(Markup, RandomTextsLieWithinTheirBox) {
    test::Random random(17);
    for (int round = 0; round < 600; ++round) {
        const std::string markup = test::randomMarkup(random);
        const TextStyle style{.family = round % 2 ? "serif" : "sans", .sizePt = random.between(5, 20)};
        const SetText t = setText(markup, style);
        const double slack = 0.35 * style.sizePt * kMmPerPt; // letters reach beyond the height of capitals
        DisplayList list{.widthMm = 4000, .heightMm = 4000};
        list.items = placed(t, {2000, 2000}, HAlign::Left, VAlign::Baseline);
        const Rect ink = inkOf(list);
        EXPECT_GE(ink.x, 2000 - slack) << markup;
        EXPECT_LE(ink.right(), 2000 + t.widthMm + slack) << markup;
        EXPECT_GE(ink.y, 2000 - t.ascentMm - slack) << markup;
        EXPECT_LE(ink.bottom(), 2000 + t.descentMm + slack) << markup;
        std::string said;
        for (const TextRun& r : t.runs) said += r.text;
        std::string plain = plainText(markup);
        for (const char32_t c : decodeUtf8(said)) {
            std::string one;
            appendUtf8(one, c);
            EXPECT_NE(plain.find(one), plain.npos) << markup << " lost " << one;
        }
        EXPECT_EQ(parsedMarkup(markup), parsedMarkup(markup));
    }
}

// Bytes in any order never fail, and braces in any number neither.
TEST(Markup, AnythingCanBeSet) {
    test::Random random(5);
    static const std::vector<std::string> pieces = {
        "{",      "}",       "^", "_", "\\",    "\\frac", "\\sqrt", "[",       "]", "\\left(",  "\\right)",
        "\\left", "\\right", "x", " ", "\\hat", "\\sum",  "\xff",   "\\unit{", "−", "\\textbf{"};
    for (int round = 0; round < 4000; ++round) {
        std::string text;
        for (std::size_t k = 0, n = random.below(14); k < n; ++k) text += pieces[random.below(pieces.size())];
        const SetText t = setText(text, {});
        EXPECT_TRUE(std::isfinite(t.widthMm) && t.widthMm >= 0) << text;
        (void)tex(text);
        (void)plainText(text);
    }
    const SetText deep = setText(std::string(5000, '{') + "x" + std::string(5000, '}'), {});
    EXPECT_GT(deep.widthMm, 0);
    EXPECT_GT(setText(
                  [] {
                      std::string s;
                      for (int k = 0; k < 3000; ++k) s += "x^{";
                      return s;
                  }(),
                  {})
                  .widthMm,
              0);
}
