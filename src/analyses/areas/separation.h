// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers of chromatograms after the pharmacopoeias (Ph. Eur. 2.2.46, USP 621), from places and widths of
// peaks. NaN in gives NaN out.
#pragma once

#include "analyses/areas/measured_peak.h"

namespace jointer::analyses {

// N = 5.54 (t/w)², w the width at half height.
Measured plateNumber(Measured place, Measured width);

// k = (t − t0)/t0, t0 the dead time.
Measured retentionFactor(Measured place, double deadTime);

// Rs = 1.18 (t2 − t1)/(w1 + w2), widths at half height.
Measured resolution(Measured place1, Measured width1, Measured place2, Measured width2);

// As = w/(2d): the whole width at 5 % of the height, and its part before the top.
double tailing(double widthAtTwentieth, double front);

// 2H/h: h is the range of the noise over a stretch without peaks.
Measured signalToNoise(Measured height, double range);

} // namespace jointer::analyses
