// SPDX-License-Identifier: GPL-3.0-or-later
// What is told of the parameters of a problem, changed before it is fitted again.
#pragma once

#include "fit/fit.h"

namespace jointer::fit {

// Of one member; made from what is told of all where it has none of its own.
ParameterSpec& specOf(FitProblem& problem, std::size_t member, const std::string& name);

// Free parameters begin where another fit of the same members ended, within their limits.
void beginAt(const FitReport& ended, FitProblem& problem);

} // namespace jointer::fit
