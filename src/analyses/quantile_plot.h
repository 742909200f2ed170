// SPDX-License-Identifier: GPL-3.0-or-later
// Inside of analyses: ordered values over the quantiles of the normal distribution at which they are to be
// expected.
#pragma once

#include "analyses/analysis.h"

namespace jointer::analyses {

// Adds a curve "quantiles" of points and "quantile-line" on which they would lie, were they normal: their
// mean and SD. Of many values every so many are shown, with both ends. Nothing for fewer than three, or where
// all are equal.
void addQuantilePlot(std::vector<double> values, const std::string& label, const AxisMeaning& meaning,
                     DatasetId member, AnalysisResult& out);

} // namespace jointer::analyses
