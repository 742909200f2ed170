// SPDX-License-Identifier: GPL-3.0-or-later
// Settings of every sort by seed: what is shown reads back as it was, what a hand has spoilt is dropped and
// nothing else, files keep every bit, and hashes tell apart what differs.
#include "describe/kind.h"
#include "describe/setting_makers.h"
#include "support/random.h"

#include <cmath>
#include <gmock/gmock.h>
#include <nlohmann/json.hpp>

using namespace jointer;
using namespace jointer::describe;
using test::Random;

namespace {

const KindInfo& allSorts() {
    static const KindInfo kind{
        .key = "all",
        .name = "All",
        .purpose = "One setting of each sort",
        .settings = {number("number", "Number", 1.5, "A number.", {.lowest = -100, .highest = 100}),
                     openNumber("open", "Open", "Or none.", {.lowest = 0, .whenEmpty = "automatic"}),
                     wholeNumber("whole", "Whole", 3, "A whole one.", {.lowest = 1, .highest = 99}),
                     choice("choice", "Choice",
                            {{"one", "the one"}, {"two", "the other"}, {"three", "a third"}},
                            "One of three."),
                     flag("flag", "Flag", false, "Yes or no."), word("word", "Word", "Any text."),
                     list("list", "List", "Numbers."), points("points", "Points", "Pairs."),
                     interval("interval", "Interval", "From … to."),
                     number("inner", "Inner", 0, "Only with the second.", {.shownIf = "choice=two|three"}),
                     number("deeper", "Deeper", 0, "Only with the second or the flag.",
                            {.shownIf = "choice=two;flag=yes"})}};
    return kind;
}

// Rounded, so that it is what a person would type.
double typed(Random& random, double low, double high) {
    return std::round(100 * random.between(low, high)) / 100;
}

Settings randomSettings(Random& random) {
    Settings s;
    const auto maybe = [&] { return random.below(3) > 0; };
    if (maybe()) s.set("number", Value(typed(random, -100, 100)));
    if (maybe()) s.set("open", Value(typed(random, 0, 1e6)));
    if (maybe()) s.set("whole", Value(static_cast<double>(1 + random.below(99))));
    if (maybe()) s.set("choice", Value(std::string(std::array{"one", "two", "three"}[random.below(3)])));
    if (maybe()) s.set("flag", Value(random.below(2) == 1));
    if (maybe())
        s.set("word", Value(std::string(std::array{"", "a b", "5 %", "µ, “x”: y", "—"}[random.below(5)])));
    const auto numbers = [&](std::size_t n) {
        Numbers out;
        for (std::size_t k = 0; k < n; ++k) out.push_back(typed(random, -50, 50));
        return out;
    };
    if (maybe()) s.set("list", Value(numbers(1 + random.below(5))));
    if (maybe()) s.set("points", Value(numbers(2 + 2 * random.below(4))));
    if (maybe()) {
        const double low = typed(random, -50, 50);
        s.set("interval", Value(Numbers{low, low + typed(random, 0.01, 50)}));
    }
    return s;
}

// A value of any sort at all.
Value spoilt(Random& random) {
    switch (random.below(8)) {
    case 0:
        return Value(true);
    case 1:
        return Value(std::array<double, 6>{NAN, INFINITY, -INFINITY, 1e300, -1.0, 0.5}[random.below(6)]);
    case 2:
        return Value(std::string("no such"));
    case 3:
        return Value(Numbers{NAN});
    case 4:
        return Value(Numbers{5, 1, 2});
    case 5:
        return Value(Texts{"a", "b"});
    case 6:
        return Value(Reference{"d1"});
    default:
        return Value(std::make_shared<const RowList>(RowList{Settings()}));
    }
}

} // namespace

TEST(RandomSettings, WhatIsShownReadsBack) {
    Random random(1);
    for (int round = 0; round < 2000; ++round) {
        const Settings s = randomSettings(random);
        for (const Setting& setting : allSorts().settings) {
            const Value* value = s.find(setting.key);
            if (!value || setting.kind == SettingKind::Text) continue;
            const std::string text = valueText(setting, *value);
            const auto back = parseValue(setting, text);
            ASSERT_TRUE(back) << setting.key << ": “" << text << "”: " << back.error().text;
            Settings one, two;
            one.set("v", *value);
            two.set("v", *back);
            EXPECT_TRUE(one == two) << setting.key << ": “" << text << "”";
        }
    }
}

TEST(RandomSettings, WhatFitsIsTakenAndKept) {
    Random random(2);
    for (int round = 0; round < 2000; ++round) {
        Settings s = randomSettings(random);
        const auto good = validate(allSorts(), s);
        EXPECT_TRUE(good) << good.error().text;
        const Settings before = s;
        EXPECT_TRUE(dropUnfit(allSorts(), s).empty());
        EXPECT_TRUE(s == before);
    }
}

// After dropping what does not fit the rest is as it was, and all of it fits; each drop is said with its
// setting.
TEST(RandomSettings, WhatAHandHasSpoiltIsDropped) {
    Random random(3);
    for (int round = 0; round < 4000; ++round) {
        Settings s = randomSettings(random);
        const Setting& victim = allSorts().settings[random.below(allSorts().settings.size())];
        s.set(victim.key, spoilt(random));
        s.set("unknown", Value(7.0)); // of a newer version
        const Settings before = s;
        const auto issues = dropUnfit(allSorts(), s);
        EXPECT_TRUE(validate(allSorts(), s));
        EXPECT_TRUE(s.has("unknown"));
        for (const auto& [key, value] : before.entries()) {
            if (key != victim.key) {
                EXPECT_TRUE(s.has(key)) << key;
            }
        }
        if (validate(allSorts(), before)) {
            EXPECT_TRUE(issues.empty());
            EXPECT_TRUE(s == before);
        } else {
            ASSERT_EQ(issues.size(), 1U) << victim.key;
            EXPECT_FALSE(issues[0].text.empty());
            EXPECT_FALSE(s.has(victim.key));
        }
    }
}

TEST(RandomSettings, FilesKeepThemAndHashesTellThemApart) {
    Random random(4);
    std::map<std::string, Settings> byHash;
    for (int round = 0; round < 1500; ++round) {
        const Settings s = randomSettings(random);
        const Settings back = settingsFromJson(nlohmann::ordered_json::parse(toJson(s).dump()));
        EXPECT_TRUE(back == s);
        Hasher one, two;
        s.addTo(one);
        back.addTo(two);
        EXPECT_EQ(one.digest(), two.digest());
        Hasher hash;
        s.addTo(hash);
        const auto [at, fresh] = byHash.emplace(hash.digest().hex(), s);
        if (!fresh) {
            EXPECT_TRUE(at->second == s) << "of one hash";
        }
    }
    EXPECT_GT(byHash.size(), 1000U);
}

TEST(RandomSettings, FormsShowWhatTheOthersAllow) {
    Random random(5);
    for (int round = 0; round < 500; ++round) {
        const Settings s = randomSettings(random);
        const std::string chosen = allSorts().text(s, "choice");
        EXPECT_EQ(isShown(allSorts(), *allSorts().find("inner"), s), chosen != "one");
        EXPECT_EQ(isShown(allSorts(), *allSorts().find("deeper"), s),
                  chosen == "two" || allSorts().flag(s, "flag"));
        EXPECT_TRUE(isShown(allSorts(), *allSorts().find("number"), s));
        EXPECT_EQ(allSorts().number(s, "number"), s.has("number") ? s.number("number") : 1.5);
        EXPECT_EQ(allSorts().integer(s, "whole"), s.has("whole") ? s.integer("whole") : 3);
    }
}

// Whatever is typed, there is a value that fits or a sentence that says what is expected.
TEST(RandomSettings, AnythingTypedIsTakenOrExplained) {
    Random random(6);
    const std::string letters = "0123456789.,:;-+e …xyz%\u2212";
    for (int round = 0; round < 20000; ++round) {
        std::string text;
        for (std::size_t k = random.below(9); k > 0; --k) text += letters[random.below(letters.size())];
        for (const Setting& setting : allSorts().settings) {
            const auto value = parseValue(setting, text);
            if (!value) {
                EXPECT_FALSE(value.error().text.empty()) << setting.key << ": “" << text << "”";
                continue;
            }
            Settings s;
            s.set(setting.key, *value);
            const auto fits = validate(allSorts(), s);
            if (!fits) {
                EXPECT_FALSE(fits.error().text.empty());
            }
        }
    }
}
