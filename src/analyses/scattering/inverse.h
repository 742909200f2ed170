// SPDX-License-Identifier: GPL-3.0-or-later
// Inside of analyses of scattering: answers of an inversion over lengths, as every place reads them.
#pragma once

#include "analyses/scattering/points.h"
#include "fit/positive_inversion.h"

namespace jointer::analyses {

// A curve with a band (95 %) through values at nodes, zero outside of them.
NamedCurve inverseCurve(const Task& task, const char* role, std::string label, const ScatteringPoints& points,
                        std::vector<double> lengths, std::vector<double> values, std::vector<double> errors,
                        AxisMeaning meaning);

// "fit" and "residuals" of the points, and numbers about how good it is.
void addInverseFit(const Task& task, const ScatteringPoints& points, const fit::PositiveResult& found,
                   AnalysisResult& out);

fit::Prior priorOf(const std::string& key);
Setting priorSetting();

} // namespace jointer::analyses
