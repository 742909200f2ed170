// SPDX-License-Identifier: GPL-3.0-or-later
// House styles: taken from figures, changed for all of them, kept as files.
#include "session/house_styles.h"

#include "figure/kinds.h"
#include "figure/layout.h"
#include "figures.h"
#include "project/figure_edits.h"
#include "session/validation.h"
#include "tern_sands.h"

#include <gmock/gmock.h>

using namespace jointer;
using testing::HasSubstr;

namespace {

draw::DisplayList drawn(const Project& p, FigureId id) {
    evaluate::Evaluator e;
    return figure::layOut(p, *p.figures.find(id), e).list;
}

} // namespace

// The figure looks as it did; others take the style and look like it.
TEST(HouseStyles, AreTakenFromAFigureThatDoesNotChange) {
    for (const Project& p : {demo::figureDemo(), demo::ternSands()})
        for (const auto& f : p.figures) {
            const auto after = edits::styleFromFigure(f->id, "Field station").apply(p);
            ASSERT_TRUE(after) << f->name;
            EXPECT_EQ(drawn(*after, f->id), drawn(p, f->id)) << f->name;
            EXPECT_EQ(after->styles.find(after->figures.find(f->id)->style)->name, "Field station");
        }
}

TEST(HouseStyles, AChangeIsSeenInEveryFigure) {
    const Project p = demo::figureDemo();
    const StyleId style = p.figures[0].style;
    const auto after = edits::setStyle(style, "figure", "text-size", Value(11.0)).apply(p);
    ASSERT_TRUE(after);
    int followed = 0;
    for (const auto& f : p.figures)
        followed +=
            f->style == style && !f->settings.has("text-size") && !(drawn(*after, f->id) == drawn(p, f->id));
    EXPECT_GT(followed, 5);
    EXPECT_EQ(*edits::setStyle(style, "figure", "text-size", Value()).apply(*after)->styles.find(style), [&] {
        HouseStyle s = *p.styles.find(style);
        s.looks["figure"].remove("text-size");
        return s;
    }());
}

TEST(HouseStyles, GoToAFileAndBack) {
    for (const HouseStyle& style : figure::shippedStyles()) {
        const auto back = styleFromText(styleText(style));
        ASSERT_TRUE(back.value) << back.value.error().text;
        EXPECT_TRUE(back.issues.empty());
        EXPECT_EQ(back.value->looks, style.looks);
        EXPECT_EQ(styleText(*back.value), styleText(style));
    }
    EXPECT_THAT(styleFromText("{}").value.error().text, HasSubstr("no house style"));
    EXPECT_THAT(styleFromText("{\"format\":\"jointer-style\"").value.error().text, HasSubstr("no JSON"));
    const auto odd = styleFromText(
        R"({"format":"jointer-style","name":"X","looks":{"axis":{"tick-length":"long","nothing":1},"what":{},"figure":{"text-size":9}}})");
    ASSERT_TRUE(odd.value);
    EXPECT_EQ(odd.issues.size(), 3U);
    EXPECT_EQ(odd.value->looks.at("figure").number("text-size"), 9);
    EXPECT_FALSE(odd.value->looks.contains("axis"));
}

TEST(HouseStyles, AreRenamedAndRemoved) {
    Project p = demo::ternSands();
    const StyleId first = p.styles[0].id;
    EXPECT_FALSE(edits::renameStyle(first, p.styles[1].name).apply(p)) << "a name is borne once";
    p = *edits::renameStyle(first, "Ours").apply(p);
    EXPECT_EQ(p.styles.find(first)->name, "Ours");
    const std::size_t styles = p.styles.size();
    const auto after = edits::removeStyle(p.figures[0].style).apply(p);
    ASSERT_TRUE(after);
    EXPECT_EQ(after->styles.size(), styles - 1);
    EXPECT_TRUE(after->styles.find(after->figures[0].style));
    Project one = *after;
    while (one.styles.size() > 1) one = *edits::removeStyle(one.styles[0].id).apply(one);
    EXPECT_EQ(edits::removeStyle(one.styles[0].id).apply(one).error().code, "last-style");
}
