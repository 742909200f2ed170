// SPDX-License-Identifier: GPL-3.0-or-later
#include "describe/kind.h"

#include <cmath>
#include <gmock/gmock.h>
#include <nlohmann/json.hpp>

using namespace jointer;
using testing::HasSubstr;

namespace {
const KindInfo kind{.key = "smooth",
                    .name = "Smooth",
                    .purpose = "",
                    .settings = {{.key = "window",
                                  .label = "Window",
                                  .kind = SettingKind::WholeNumber,
                                  .fallback = 5.0,
                                  .lowest = 1,
                                  .highest = 99},
                                 {.key = "method",
                                  .label = "Method",
                                  .kind = SettingKind::Choice,
                                  .fallback = std::string("mean"),
                                  .choices = {{"mean", "moving average"}, {"poly", "polynomial"}}},
                                 {.key = "order",
                                  .label = "Order",
                                  .kind = SettingKind::WholeNumber,
                                  .fallback = 2.0,
                                  .shownIf = "method=poly"},
                                 {.key = "span", .label = "Span", .kind = SettingKind::Interval}}};
}

TEST(Settings, JsonKeepsEveryBit) {
    Settings s;
    s.set("flag", Value(true));
    s.set("number", Value(0.1));
    s.set("nothing", Value());
    s.set("text", "µ");
    s.set("infinite", Value(INFINITY));
    s.set("numbers", Value(Numbers{1, NAN, -INFINITY}));
    EXPECT_EQ(settingsFromJson(nlohmann::ordered_json::parse(toJson(s).dump())), s);
}

TEST(Settings, HashFollowsContent) {
    const auto digest = [](const Settings& s) {
        Hasher h;
        s.addTo(h);
        return h.digest();
    };
    Settings a, b;
    a.set("x", 1);
    a.set("y", 2);
    b.set("y", 2);
    b.set("x", 1);
    EXPECT_EQ(digest(a), digest(b));
    b.set("x", 3);
    EXPECT_NE(digest(a), digest(b));
}

TEST(Kind, ValuesFallBackToDefaults) {
    Settings s;
    EXPECT_EQ(kind.integer(s, "window"), 5);
    s.set("window", 1000); // out of range: as if it were not given
    EXPECT_EQ(kind.integer(s, "window"), 5);
    EXPECT_THAT(validate(kind, s).error().text, HasSubstr("a whole number from 1 to 99"));
    s.set("window", 7);
    EXPECT_TRUE(validate(kind, s));
    EXPECT_EQ(kind.integer(s, "window"), 7);
}

TEST(Kind, TypedValuesAreChecked) {
    EXPECT_EQ(std::get<double>(*parseValue(kind.settings[0], " 9 ")), 9);
    EXPECT_FALSE(parseValue(kind.settings[0], "9.5"));
    EXPECT_EQ(std::get<std::string>(*parseValue(kind.settings[1], "polynomial")), "poly");
    EXPECT_THAT(parseValue(kind.settings[1], "x").error().text, HasSubstr("moving average"));
    EXPECT_EQ(std::get<Numbers>(*parseValue(kind.settings[3], "1 2")), (Numbers{1, 2}));
    EXPECT_FALSE(parseValue(kind.settings[3], "2 1"));
}

TEST(Kind, FormsShowWhatMatters) {
    Settings s;
    EXPECT_FALSE(isShown(kind, kind.settings[2], s));
    s.set("method", "poly");
    EXPECT_TRUE(isShown(kind, kind.settings[2], s));
}
