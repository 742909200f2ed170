// SPDX-License-Identifier: GPL-3.0-or-later
// The distributions of sizes that a fit of scattering has found.
#pragma once

#include "analyses/fit_analysis.h"

namespace jointer::analyses {

// Curves "distribution" of a member over the radius, by volume and by number, with bands, one pair for each
// population of distributed sizes.
void addSizes(const FitDetail& detail, const Task& task, std::size_t member, const NamedCurve& common,
              AnalysisResult& out);

} // namespace jointer::analyses
