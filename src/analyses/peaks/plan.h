// SPDX-License-Identifier: GPL-3.0-or-later
// From what is said of a set of peaks and the points to the problem of the solver: which peaks there are,
// where each begins, what it may do, and what it is tied to.
#pragma once

#include "analyses/peaks/peaks.h"

namespace jointer::analyses {

struct Planned {
    PeaksPlan plan;
    std::shared_ptr<FitTaken> taken;
    std::vector<Issue> issues{};
};

// The problem of the points, of all peaks or of all but one. `asTold`: heights as they are told, for pictures
// while a hand drags; else they follow by least squares. Errors: a shape that cannot be made, a tie to a peak
// that is not there.
Result<Planned> planned(const Task& task, const FitTaken& points, bool asTold, int without = 0);

} // namespace jointer::analyses
