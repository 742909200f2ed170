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

const KindInfo& comparisonSettings();

} // namespace jointer::analyses
