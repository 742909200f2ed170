// SPDX-License-Identifier: GPL-3.0-or-later
// Colours of data hold what they promise: told apart by everyone, seen on their ground, even from step to
// step.
#include "draw/colour_sight.h"
#include "draw/revise.h"
#include "figure/kinds.h"
#include "figure/look.h"

#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::figure;
using draw::Colour;
using draw::Sight;

TEST(Palettes, ColoursAreToldApartByEveryone) {
    for (const Choice& p : palettes()) {
        const auto& colours = palette(p.key);
        EXPECT_EQ(colours.size(), palette().size()) << "so that one can stand for another";
        for (const Sight sight : {Sight::Usual, Sight::Protan, Sight::Deutan, Sight::Tritan})
            for (std::size_t a = 0; a < colours.size(); ++a)
                for (std::size_t b = 0; b < a; ++b) { // most of all the first four, which many panels have
                    const Colour one = seenBy(Colour::fromText(colours[a]), sight),
                                 two = seenBy(Colour::fromText(colours[b]), sight);
                    EXPECT_GT(difference(one, two), p.key == "ink" ? 0.05
                                                    : a < 4        ? 0.1
                                                                   : 0.055)
                        << p.key << " " << colours[a] << " " << colours[b] << " " << static_cast<int>(sight);
                }
    }
}

TEST(Palettes, StandOutFromTheGroundOfTheirStyle) {
    for (const HouseStyle& style : shippedStyles()) {
        const Look look(kindOf("figure"), {}, &style);
        const Colour ground = look.colour("ground", {255, 255, 255});
        EXPECT_GT(contrast(look.colour("colour", {}), ground), 7) << style.name;
        for (const std::string& colour : palette(look.text("palette")))
            EXPECT_GT(contrast(Colour::fromText(colour), ground), 1.7) << style.name << colour;
    }
    EXPECT_EQ(shippedStyles().size(), 6U);
}

TEST(Palettes, GreysDifferInLightness) {
    const auto& greys = palette("ink");
    for (std::size_t k = 1; k < greys.size(); ++k)
        EXPECT_GT(std::abs(draw::perceived(Colour::fromText(greys[k])).lightness -
                           draw::perceived(Colour::fromText(greys[k - 1])).lightness),
                  0.08);
}

// From step to step one sees as much, and the way never turns back in grey.
TEST(ColourMaps, AreEvenToTheEye) {
    for (const Choice& map : colourMaps()) {
        constexpr int steps = 64;
        double smallest = INFINITY, largest = 0;
        for (int k = 0; k < steps; ++k) {
            const double d = difference(mapped(map.key, k / 64.0), mapped(map.key, (k + 1) / 64.0));
            smallest = std::min(smallest, d);
            largest = std::max(largest, d);
        }
        EXPECT_LT(largest, 3 * smallest) << map.key;
        if (map.key == "shore" || map.key == "tidal") continue;
        for (int k = 0; k < steps; ++k)
            EXPECT_LT(greyOf(mapped(map.key, k / 64.0)).r, greyOf(mapped(map.key, (k + 1) / 64.0)).r + 1)
                << map.key;
    }
    EXPECT_LT(difference(mapped("tidal", 0), mapped("tidal", 1)), 0.01) << "it closes";
    EXPECT_LT(std::abs(draw::perceived(mapped("shore", 0.2)).lightness -
                       draw::perceived(mapped("shore", 0.8)).lightness),
              0.02)
        << "both sides are as dark";
}

TEST(Palettes, OneStandsForAnother) {
    EXPECT_EQ(inPalette(palette()[2], "dusk"), palette("dusk")[2]);
    EXPECT_EQ(inPalette("#123456", "dusk"), "#123456") << "a colour of one's own stays";
}
