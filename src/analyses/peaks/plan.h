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

fit::Direction directionOf(const Settings& settings);

// The observations of a member in order of x, with values that belong to them.
struct Ordered {
    std::vector<double> x, y;
};
Ordered inOrder(const fit::FitMember& member, const std::vector<double>& values);

// The problem of the points. `asTold`: heights as they are told, for pictures
// while a hand drags; else they follow by least squares. Errors: a shape that cannot be made, a tie to a peak
// that is not there.
Result<Planned> planned(const Task& task, const FitTaken& points, bool asTold);

} // namespace jointer::analyses
