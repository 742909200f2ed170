// SPDX-License-Identifier: GPL-3.0-or-later
// What forms, command line and manual are made from: every setting of every kind in every catalogue.
#include "analyses/analysis.h"
#include "figure/kinds.h"
#include "io/reader.h"
#include "models/catalogue.h"
#include "steps/step.h"

#include <cmath>
#include <gmock/gmock.h>
#include <set>

using namespace jointer;

namespace {

std::vector<std::pair<std::string, KindInfo>> everyKind() {
    std::vector<std::pair<std::string, KindInfo>> all;
    for (const steps::StepKind& k : steps::catalogue()) all.emplace_back("step " + k.info.key, k.info);
    for (const models::ModelKind& k : models::catalogue()) all.emplace_back("model " + k.info.key, k.info);
    for (const analyses::AnalysisKind& k : analyses::catalogue())
        all.emplace_back("analysis " + k.info.key, k.info);
    for (const KindInfo& k : figure::elementKinds()) all.emplace_back("element " + k.key, k);
    return all;
}

bool isSentence(const std::string& text) {
    return !text.empty() &&
           (text.back() == '.' || text.back() == '?' || text.back() == ':' || text.ends_with("”"));
}

} // namespace

TEST(Descriptions, OfEveryKindAreWhole) {
    std::set<std::string> names;
    for (const auto& [where, kind] : everyKind()) {
        EXPECT_FALSE(kind.key.empty());
        EXPECT_FALSE(kind.name.empty()) << where;
        EXPECT_TRUE(names.insert(where).second) << where << " is there twice";
        std::set<std::string> keys;
        for (const Setting& s : kind.settings) {
            EXPECT_TRUE(keys.insert(s.key).second) << where << " has " << s.key << " twice";
            EXPECT_FALSE(s.label.empty()) << where << " " << s.key;
            EXPECT_EQ(s.key.find(' '), std::string::npos) << where << " " << s.key;
            if (!s.hidden && !s.help.empty()) {
                EXPECT_TRUE(isSentence(s.help)) << where << " " << s.key << ": " << s.help;
            }
        }
    }
}

// A default fits its own description, reads back as it is shown, and where there is none the form says what
// is taken.
TEST(Descriptions, DefaultsFit) {
    for (const auto& [where, kind] : everyKind())
        for (const Setting& s : kind.settings) {
            const double* number = std::get_if<double>(&s.fallback);
            if (std::holds_alternative<std::monostate>(s.fallback) || (number && std::isnan(*number))) {
                if (s.kind == SettingKind::Number || s.kind == SettingKind::WholeNumber) {
                    EXPECT_FALSE(s.whenEmpty.empty()) << where << " " << s.key;
                }
                continue;
            }
            if (!s.of.empty() && s.kind == SettingKind::Choice) continue; // of what the project offers
            Settings given;
            given.set(s.key, s.fallback);
            const auto good = validate(kind, given);
            EXPECT_TRUE(good) << where << " " << s.key << ": " << good.error().text;
            const std::string shown = valueText(s, s.fallback);
            if (s.kind == SettingKind::Text || s.kind == SettingKind::Formula ||
                s.kind == SettingKind::Rows || shown.empty())
                continue;
            const auto back = parseValue(s, shown);
            ASSERT_TRUE(back) << where << " " << s.key << ": “" << shown << "”";
            Settings again;
            again.set(s.key, *back);
            EXPECT_TRUE(again == given) << where << " " << s.key << ": “" << shown << "”";
        }
}

// What a form hides by others names settings and choices that there are.
TEST(Descriptions, ConditionsNameWhatThereIs) {
    for (const auto& [where, kind] : everyKind())
        for (const Setting& s : kind.settings) {
            std::string rest = s.shownIf;
            while (!rest.empty()) {
                const std::string one = rest.substr(0, rest.find(';'));
                rest = rest.find(';') == std::string::npos ? "" : rest.substr(rest.find(';') + 1);
                const Setting* other = kind.find(one.substr(0, one.find_first_of("=!")));
                EXPECT_TRUE(other) << where << " " << s.key << ": " << one;
                if (!other || other->kind != SettingKind::Choice || one.find('=') == std::string::npos)
                    continue;
                std::string choices = one.substr(one.find('=') + 1);
                while (!choices.empty()) {
                    const std::string key = choices.substr(0, choices.find('|'));
                    choices =
                        choices.find('|') == std::string::npos ? "" : choices.substr(choices.find('|') + 1);
                    EXPECT_TRUE(
                        std::ranges::any_of(other->choices, [&](const Choice& c) { return c.key == key; }))
                        << where << " " << s.key << ": “" << key << "”";
                }
            }
        }
}

TEST(Descriptions, SlidersLieWithinTheLimits) {
    for (const auto& [where, kind] : everyKind())
        for (const Setting& s : kind.settings) {
            if (!s.slider) continue;
            EXPECT_LT(s.slider->first, s.slider->second) << where << " " << s.key;
            EXPECT_GE(s.slider->first, s.lowest) << where << " " << s.key;
            EXPECT_LE(s.slider->second, s.highest) << where << " " << s.key;
            if (s.logSlider) {
                EXPECT_GT(s.slider->first, 0) << where << " " << s.key;
            }
        }
}
