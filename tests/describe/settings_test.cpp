// SPDX-License-Identifier: GPL-3.0-or-later
#include "describe/catalogue.h"

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

TEST(Settings, ReferencesRowsTextsAndWhatIsNotKnownAreKept) {
    Settings row;
    row.set("name", "k");
    row.set("curve", Value(Reference{"d3"}));
    Settings s;
    s.set("words", Value(Texts{"inf", "nan"}));
    s.set("none", Value(Texts{}));
    s.set("to", Value(Reference{"d1"}));
    s.set("several", Value(References{{"d1"}, {"d2"}}));
    s.set("parameters", Value(std::make_shared<const RowList>(RowList{row, row})));
    EXPECT_EQ(settingsFromJson(nlohmann::ordered_json::parse(toJson(s).dump())), s);
    const auto newer = nlohmann::ordered_json::parse(
        R"({"map": {"a": 1, "b": [2]}, "mixed": [1, "two"], "number": {"number": "inf"}, "one": {"later": true}})");
    const Settings kept = settingsFromJson(newer);
    EXPECT_EQ(toJson(kept), newer);
    EXPECT_EQ(kept.number("number"), INFINITY);
}

TEST(Settings, EachReferenceIsFoundAndAnEmptiedOneGoes) {
    Settings row;
    row.set("curve", Value(Reference{"d3"}));
    Settings s;
    s.set("to", Value(Reference{"d1"}));
    s.set("several", Value(References{{"d1"}, {"d2"}}));
    s.set("rows", Value(std::make_shared<const RowList>(RowList{row})));
    std::vector<std::string> seen;
    s.eachReference([&](Reference& r) { seen.push_back(r.to); });
    EXPECT_THAT(seen, testing::UnorderedElementsAre("d1", "d1", "d2", "d3"));
    s.eachReference([](Reference& r) { r.to = r.to == "d1" ? "" : "d9"; });
    EXPECT_FALSE(s.has("to"));
    EXPECT_EQ(std::get<References>(*s.find("several")), (References{{"d9"}}));
    EXPECT_EQ(s.rows("rows")[0].reference("curve"), "d9");
}

TEST(Kind, WhatDoesNotFitIsDroppedAndSaid) {
    Settings s;
    s.set("window", 1000);
    s.set("method", "poly");
    s.set("of-a-newer-version", 3);
    const auto issues = dropUnfit(kind, s);
    ASSERT_EQ(issues.size(), 1U);
    EXPECT_THAT(issues[0].text, HasSubstr("not “1000”"));
    EXPECT_FALSE(s.has("window"));
    EXPECT_EQ(s.text("method"), "poly");
    EXPECT_TRUE(s.has("of-a-newer-version"));
}

// A line that may be "none", a separator that may be any one sign, a setting that no form shows.
TEST(Kind, NoughtOtherTextsAndHiddenSettings) {
    const KindInfo reader{
        .key = "text",
        .name = "Text",
        .purpose = "",
        .settings = {{.key = "heading",
                      .label = "Headings",
                      .kind = SettingKind::WholeNumber,
                      .lowest = 0,
                      .zero = "none"},
                     {.key = "separator",
                      .label = "Separator",
                      .kind = SettingKind::Choice,
                      .choices = {{"tab", "tab"}, {",", "comma"}},
                      .others = 1},
                     {.key = "rows", .label = "Rows", .kind = SettingKind::List, .hidden = true}}};
    const Setting &heading = reader.settings[0], &separator = reader.settings[1];
    EXPECT_EQ(std::get<double>(*parseValue(heading, "none")), 0);
    EXPECT_EQ(std::get<double>(*parseValue(heading, " 7 ")), 7);
    EXPECT_EQ(valueText(heading, Value(0.0)), "none");
    EXPECT_EQ(valueText(heading, Value(7.0)), "7");
    EXPECT_FALSE(parseValue(heading, "first"));
    EXPECT_FALSE(parseValue(heading, "-1"));
    for (const char* good : {"tab", ",", "comma", "#", "µ"}) EXPECT_TRUE(parseValue(separator, good)) << good;
    EXPECT_EQ(std::get<std::string>(*parseValue(separator, "comma")), ",");
    for (const char* bad : {"", "##", "blank"}) EXPECT_FALSE(parseValue(separator, bad)) << bad;
    EXPECT_FALSE(isShown(reader, reader.settings[2], {}));
    Settings given;
    given.set("separator", "µ");
    EXPECT_TRUE(validate(reader, given));
    given.set("separator", "two");
    EXPECT_FALSE(validate(reader, given));
}

TEST(Catalogue, FindsKindsByKeyInTheirOrder) {
    struct Made {
        KindInfo info;
        int number;
    };
    const Catalogue<Made> all(std::vector<Made>{{{.key = "b", .name = "B", .purpose = ""}, 1},
                                                {{.key = "a", .name = "A", .purpose = ""}, 2}});
    EXPECT_EQ(all.size(), 2U);
    EXPECT_EQ(all.find("a")->number, 2);
    EXPECT_EQ(all.find("c"), nullptr);
    EXPECT_EQ(all.indexOf(*all.find("a")), 1U);
    EXPECT_THAT(all.keys(), testing::ElementsAre("b", "a"));
    const Catalogue<KindInfo> plain(std::vector<KindInfo>{kind});
    EXPECT_EQ(plain.find("smooth")->name, "Smooth") << "a kind may be its description";
}
