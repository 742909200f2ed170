// SPDX-License-Identifier: GPL-3.0-or-later
// A curve of scattering as a model: seen through an instrument, over a flat background.
#pragma once

#include "models/scattering/smearing.h"

namespace jointer::models::scattering {

// x is q: not negative, else NaN.
ModelPtr seenCurve(BarePtr bare, Resolution resolution, bool background);

// The curve without instrument and background, of a model made here; nothing: it is none.
BarePtr bareOf(const Model& model);

} // namespace jointer::models::scattering
