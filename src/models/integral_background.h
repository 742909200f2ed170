// SPDX-License-Identifier: GPL-3.0-or-later
// The integral background of step-like spectra as part of a model: it rises in proportion to the area of the
// peaks that lie before x.
#pragma once

#include "models/model.h"

namespace jointer::models {

// peaks(x) + offset + step·∫peaks from `low` to x. Parameters: those of the peaks, "offset", "step"; a step
// below zero is a background that falls. Outside of the range the integral stays as at its end.
// Source: the active approach of A. Herrera-Gomez et al., Surf. Interface Anal. 46 (2014) 897, after D. A.
// Shirley, Phys. Rev. B 5 (1972) 4709. Errors: of the integral, of fourth order in the distance of `nodes`.
ModelPtr onIntegral(ModelPtr peaks, double low, double high, std::size_t nodes);

} // namespace jointer::models
