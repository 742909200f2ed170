// SPDX-License-Identifier: GPL-3.0-or-later
// What a logarithm is called tells what it is of: written and read back for any name and unit.
#include "data/logarithm_name.h"

#include <gmock/gmock.h>
#include <numbers>
#include <random>

using namespace jointer;

TEST(LogarithmName, IsReadBack) {
    EXPECT_EQ(nameOfLogarithm("ln", "activity", "Bq"), "ln(activity/Bq)");
    EXPECT_EQ(nameOfLogarithm("log10", "mass", "g/L"), "log10(mass/(g/L))");
    EXPECT_EQ(nameOfLogarithm("ln", "n", ""), "ln(n)");
    const auto found = logarithmOf("ln(activity/Bq)");
    ASSERT_TRUE(found.has_value());
    EXPECT_EQ(found->base, std::numbers::e);
    EXPECT_EQ(found->name, "activity");
    EXPECT_EQ(found->unit, "Bq");
    EXPECT_EQ(logarithmOf("log10(x)")->base, 10);
}

TEST(LogarithmName, OtherNamesAreNone) {
    for (const char* name : {"", "ln", "ln()", "ln( )", "log(x)", "ln(a) + ln(b)", "length (mm)", "ln(x",
                             "2·ln(x)", "ln(a)·(b)"})
        EXPECT_FALSE(logarithmOf(name).has_value()) << name;
}

TEST(LogarithmName, AnyNameAndUnitComeBack) {
    std::mt19937 random(7);
    const std::vector<std::string> parts = {"A", "b", "/", "(x)", " ", "µ", "2", "·", "count", "°C", "m^2"};
    const auto words = [&](std::size_t most) {
        std::string out = "n";
        for (std::size_t k = random() % most; k > 0; --k) out += parts[random() % parts.size()];
        return out + "e";
    };
    for (int trial = 0; trial < 3000; ++trial) {
        const std::string name = words(6), unit = trial % 3 == 0 ? std::string() : words(4);
        const char* function = trial % 2 == 0 ? "ln" : "log10";
        const std::string made = nameOfLogarithm(function, name, unit);
        const auto found = logarithmOf(made);
        ASSERT_TRUE(found.has_value()) << made;
        EXPECT_EQ(found->name, name) << made;
        EXPECT_EQ(found->unit, unit) << made;
    }
}
