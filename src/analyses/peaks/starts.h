// SPDX-License-Identifier: GPL-3.0-or-later
// Where a fit of peaks begins: heights and baseline together by least squares, the places and widths as they
// are.
#pragma once

#include "analyses/peaks/peaks.h"

namespace jointer::analyses {

// Fills `begin` of peaks and baseline. Peaks keep the sign of their height; `asTold`: their height too.
// Shape: weights are empty or one root weight for each point.
void giveStarts(PeaksPlan& plan, const std::vector<double>& x, const std::vector<double>& y, bool asTold);

} // namespace jointer::analyses
