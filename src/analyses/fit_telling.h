// SPDX-License-Identifier: GPL-3.0-or-later
// Inside of fits as analyses: a report as every place reads it.
#pragma once

#include "analyses/fit_analysis.h"

namespace jointer::analyses {

// `held`: start values as they stand, without errors.
AnalysisResult toldOf(std::shared_ptr<const FitDetail> detail, const Task& task, bool held);

} // namespace jointer::analyses
