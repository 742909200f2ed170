// SPDX-License-Identifier: GPL-3.0-or-later
// Colours as they are perceived: how far two are apart, how they look without one kind of cones or in grey,
// and how well one stands out from another.
#pragma once

#include "draw/display_list.h"

namespace jointer::draw {

enum class Sight { Usual, Protan, Deutan, Tritan, Grey };
Sight sightFromKey(std::string_view key); // "protan", "deutan", "tritan", "grey"; anything else is usual

// Without red, green or blue cones. Source: Machado, Oliveira, Fernandes, IEEE Trans. Vis. Comput. Graph. 15
// (2009) 1291, severity 1, in linear light.
Colour seenBy(Colour colour, Sight sight);
DisplayList seenBy(const DisplayList& list, Sight sight);

// Lightness (0 … 1), green–red and blue–yellow. Source: B. Ottosson, "A perceptual color space for image
// processing" (2020).
struct Perceived {
    double lightness, a, b;
};
Perceived perceived(Colour colour);
Colour shown(const Perceived& colour); // cut to what a screen has

// In that space; 0.02 is just seen side by side, 0.08 is told apart in a legend.
double difference(Colour a, Colour b);

// From 1 to 21. Source: W3C, Web Content Accessibility Guidelines 2.1, contrast ratio.
double contrast(Colour a, Colour b);

} // namespace jointer::draw
