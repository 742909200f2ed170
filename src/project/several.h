// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of several datasets at once: what corresponds to a step or an analysis of one in another, and one
// entry of the history for all of them.
#pragma once

#include "project/edit.h"

namespace jointer {

// The step of `in` that corresponds to a step of `of`: of the same kind, at the same place among those of its
// kind. None where there is no such step; the datasets do not agree then.
StepId counterpart(const Dataset& of, StepId step, const Dataset& in);

// The analysis of `in` that corresponds to one of another dataset: the same kind and model, the same place
// among those.
AnalysisId counterpart(const Project& project, AnalysisId analysis, DatasetId in);

// How the step of one dataset stands in another: the same settings and switch, others, or no such step.
enum class Agreement { Same, Differs, Missing };
Agreement agreement(const Dataset& of, StepId step, const Dataset& in);

// What must be set (monostate: taken away) to come from some settings to others.
std::vector<std::pair<std::string, Value>> difference(const Settings& from, const Settings& to);

namespace edits {

// The first edit, and the others as far as they can be made. Takes name and merge key of the first; the name
// tells how many there are. Errors: those of the first.
Edit onEach(std::vector<Edit> list);

} // namespace edits

} // namespace jointer
