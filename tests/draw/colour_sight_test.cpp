// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/colour_sight.h"

#include <gmock/gmock.h>

using namespace jointer::draw;

TEST(Sight, GreysStayGreysForAll) {
    for (int v = 0; v < 256; v += 15)
        for (const Sight sight : {Sight::Usual, Sight::Protan, Sight::Deutan, Sight::Tritan, Sight::Grey}) {
            const auto c = static_cast<std::uint8_t>(v);
            const Colour seen = seenBy({c, c, c}, sight);
            EXPECT_NEAR(seen.r, v, 2);
            EXPECT_NEAR(seen.g, v, 2);
            EXPECT_NEAR(seen.b, v, 2);
        }
}

// Red and green of one lightness are told apart by most, and hardly without red or green cones.
TEST(Sight, RedAndGreenAreConfused) {
    const Colour red{190, 70, 60}, green{95, 125, 40};
    EXPECT_GT(difference(red, green), 0.15);
    EXPECT_LT(difference(seenBy(red, Sight::Deutan), seenBy(green, Sight::Deutan)),
              0.5 * difference(red, green));
}

TEST(Sight, PerceptionGoesThereAndBack) {
    for (int k = 0; k < 4096; k += 7) {
        const Colour c{static_cast<std::uint8_t>(17 * (k & 15)),
                       static_cast<std::uint8_t>(17 * (k >> 4 & 15)),
                       static_cast<std::uint8_t>(17 * (k >> 8))};
        const Colour back = shown(perceived(c));
        EXPECT_NEAR(back.r, c.r, 1);
        EXPECT_NEAR(back.g, c.g, 1);
        EXPECT_NEAR(back.b, c.b, 1);
    }
    EXPECT_NEAR(perceived({255, 255, 255}).lightness, 1, 1e-6);
    EXPECT_NEAR(contrast({0, 0, 0}, {255, 255, 255}), 21, 1e-9);
}
