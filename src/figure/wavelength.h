// SPDX-License-Identifier: GPL-3.0-or-later
// The colour of light of one wavelength.
#pragma once

#include "draw/geometry.h"

namespace jointer::figure {

// As a screen can show it: darker towards the ends of what one sees, black outside of 380 to 780 nm. Source:
// fits to the colour matching functions of 1931 by Wyman, Sloan and Shirley, J. Comput. Graph. Tech. 2
// (2013) 1.
draw::Colour colourOfLight(double nm);

} // namespace jointer::figure
