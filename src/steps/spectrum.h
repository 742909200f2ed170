// SPDX-License-Identifier: GPL-3.0-or-later
// The frequencies that a curve holds: what a smoothing takes away is seen there.
#pragma once

#include "data/curve.h"

namespace jointer::steps {

// Amplitude over frequency of the counting points: in cycles per unit of x where they are evenly spaced, else
// in cycles per point. Of the longest piece without a gap. Empty: fewer than eight points. Cost: n·log n.
Curve spectrumCurve(const Curve& curve);

// By how much frequencies of that curve must be divided to be cycles per point: the usual step, or one.
double stepOfSpectrum(const Curve& curve);

} // namespace jointer::steps
