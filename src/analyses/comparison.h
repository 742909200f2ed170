// SPDX-License-Identifier: GPL-3.0-or-later
// Several fits of the same points beside each other: which the points speak for.
#pragma once

#include "analyses/analysis.h"
#include "fit/compare.h"

namespace jointer::analyses {

struct ComparisonDetail final : Detail {
    fit::ModelComparison comparison;
    fit::Verdict verdict;
};

// Of a result of a comparison; nullptr: of another kind.
const ComparisonDetail* comparisonDetail(const AnalysisResult& result);

// Of a fit, or of a curve without a formula through one dataset; none: of anything else.
std::optional<fit::Candidate> candidateOf(const AnalysisResult& result, std::string name);
// Such a curve of the points of a candidate. Errors: those of freeCurve.
Result<fit::FreeForm> freeFormOf(const Settings& settings, const fit::FitMember& points, const Cancellation& stop = {});

const KindInfo& comparisonSettings();

} // namespace jointer::analyses
