// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/wavelength.h"

#include <cmath>

namespace jointer::figure {

namespace {

// A Gaussian with a width to the left and one to the right, as parts of one.
double lobe(double nm, double middle, double left, double right) {
    const double t = (nm - middle) * (nm < middle ? left : right);
    return std::exp(-0.5 * t * t);
}

} // namespace

draw::Colour colourOfLight(double nm) {
    if (!(nm >= 380 && nm <= 780)) return {};
    const double x = 0.362 * lobe(nm, 442.0, 0.0624, 0.0374) + 1.056 * lobe(nm, 599.8, 0.0264, 0.0323) -
                     0.065 * lobe(nm, 501.1, 0.0490, 0.0382),
                 y = 0.821 * lobe(nm, 568.8, 0.0213, 0.0247) + 0.286 * lobe(nm, 530.9, 0.0613, 0.0322),
                 z = 1.217 * lobe(nm, 437.0, 0.0845, 0.0278) + 0.681 * lobe(nm, 459.0, 0.0385, 0.0725);
    double r = 3.2406 * x - 1.5372 * y - 0.4986 * z, g = -0.9689 * x + 1.8758 * y + 0.0415 * z,
           b = 0.0557 * x - 0.2040 * y + 1.0570 * z;
    r = std::max(0.0, r), g = std::max(0.0, g), b = std::max(0.0, b);
    const double largest = std::max({r, g, b});
    if (!(largest > 0)) return {};
    // Full strength in the middle of the spectrum, less towards its ends.
    const double strength = nm < 420   ? 0.3 + 0.7 * (nm - 380) / 40
                            : nm > 700 ? 0.3 + 0.7 * (780 - nm) / 80
                                       : 1;
    return {draw::codeOf(strength * r / largest), draw::codeOf(strength * g / largest),
            draw::codeOf(strength * b / largest)};
}

} // namespace jointer::figure
