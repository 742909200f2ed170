// SPDX-License-Identifier: GPL-3.0-or-later
// Readings corrected for the drift of an instrument by the standards before and after them, in the order of
// the rows.
#pragma once

#include "analyses/unknowns/standard_curve.h"

namespace jointer::analyses {

// Each reading divided by what the standards about it read of what the curve has for them, on a straight line
// between those before and after; beyond the first and last by that alone.
// Errors: "drift" (no rows, or fewer than two standards that tell).
Result<Curve> driftTakenOff(const StandardCurve& curve, Curve samples);

} // namespace jointer::analyses
