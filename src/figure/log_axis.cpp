// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/log_axis.h"

#include <algorithm>
#include <cmath>

namespace jointer::figure {

double linearPart(std::span<const double> ascending) {
    if (ascending.empty() || ascending.front() != 0) return NAN;
    const auto first = std::ranges::upper_bound(ascending, 0.0);
    return first == ascending.end() || !std::isfinite(*first) ? NAN : *first / 4;
}

void makeLogarithmic(Settings& axis, double linear) {
    axis.set("scale", "log");
    if (linear > 0) axis.set("linear-to", Value(linear));
}

} // namespace jointer::figure
