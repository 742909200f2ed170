// SPDX-License-Identifier: GPL-3.0-or-later
// Fit reports as JSON text, as project files store them beside the specifications.
#pragma once

#include "fit/fit.h"

#include <string>

namespace jointer::evaluate {

std::string reportText(const fit::FitReport& report);

// Fitted values and residuals are computed again from the problem. Errors: damaged or not of this problem.
Result<fit::FitReport> reportFromText(const std::string& text, const fit::FitProblem& problem);

} // namespace jointer::evaluate
