// SPDX-License-Identifier: GPL-3.0-or-later
// Inside of sets of peaks: the numbers of each peak, what is doubtful of them, and the result as every place
// reads it.
#pragma once

#include "analyses/peaks/peaks.h"

namespace jointer::analyses {

// Reads the peaks off the fitted parameters; needs plan, taken and report of the detail.
void readPeaks(PeaksDetail& detail);

// Issues by name: peaks that have run away, that share one hump, or whose evidence is weak.
std::vector<Issue> doubtsOf(const PeaksDetail& detail);

// The numbers of the peaks that are weak enough to ask what the fit would be without them.
std::vector<int> weakPeaks(const PeaksDetail& detail);

AnalysisResult toldOf(std::shared_ptr<const PeaksDetail> detail, const Task& task, bool held);

} // namespace jointer::analyses
