// SPDX-License-Identifier: GPL-3.0-or-later
// The values that an analysis has reached become its start values, or those of one like it.
#pragma once

#include "analyses/analysis.h"

namespace jointer::analyses {

// What was fixed or tied stays. An analysis without start values stays as it is.
void beginAt(Analysis& analysis, const AnalysisResult& reached);

} // namespace jointer::analyses
