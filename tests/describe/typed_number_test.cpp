// SPDX-License-Identifier: GPL-3.0-or-later
#include "describe/typed_number.h"

#include "describe/kind.h"

#include <cmath>
#include <gmock/gmock.h>
#include <numbers>

using namespace jointer;

TEST(TypedNumber, TakesPowersProductsAndPi) {
    const std::pair<const char*, double> good[] = {{" 2.5 ", 2.5},
                                                   {"−3", -3},
                                                   {"10^-6", 1e-6},
                                                   {"10^−6", 1e-6},
                                                   {"3×10^4", 3e4},
                                                   {"1.2·10^2", 120},
                                                   {"2 pi", 2 * std::numbers::pi},
                                                   {"2pi", 2 * std::numbers::pi},
                                                   {"π/2", std::numbers::pi / 2},
                                                   {"-pi", -std::numbers::pi},
                                                   {"1/3", 1.0 / 3},
                                                   {"1e-3", 1e-3}};
    for (const auto& [text, value] : good) {
        const auto n = typedNumber(text);
        ASSERT_TRUE(n) << text;
        EXPECT_NEAR(*n, value, 1e-15 * std::abs(value)) << text;
    }
    for (const char* bad : {"", "x", "2 +", "1/0", "*3", "3*", "pie", "10^", "^2", "1..2", "ip"})
        EXPECT_FALSE(typedNumber(bad)) << bad;
}

TEST(TypedNumber, InTheEndsOfARange) {
    const Setting range{.key = "range", .label = "Range", .kind = SettingKind::Interval, .openEnds = true};
    const auto value = parseValue(range, "10^-6 … 2 pi");
    ASSERT_TRUE(value);
    EXPECT_NEAR(std::get<Numbers>(*value)[0], 1e-6, 1e-20);
    EXPECT_NEAR(std::get<Numbers>(*value)[1], 2 * std::numbers::pi, 1e-14);
}
