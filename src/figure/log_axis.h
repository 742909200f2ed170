// SPDX-License-Identifier: GPL-3.0-or-later
// How an axis becomes logarithmic for the values along it.
#pragma once

#include "describe/settings.h"

#include <span>

namespace jointer::figure {

// A quarter of the smallest value above zero, where the ascending values begin at zero as doses do: so far the axis is
// linear and zero has a place on it. NaN: no need.
double linearPart(std::span<const double> ascending);

// Sets the scale of an axis; `linear` as above.
void makeLogarithmic(Settings& axis, double linear);

} // namespace jointer::figure
