// SPDX-License-Identifier: GPL-3.0-or-later
// Samples read on a standard curve: what the analysis of kind "unknowns" has found, for its own card and the
// command line.
#pragma once

#include "analyses/analysis.h"
#include "analyses/unknowns/serving_curves.h"
#include "fit/inversion.h"

namespace jointer::analyses {

// What a reading is of, as the second further list of a curve of samples holds it.
inline constexpr double kSampleReading = 1, kBlankReading = 2;

struct Sample {
    std::string name;
    double place = NAN; // on the axis of samples
    std::vector<double> readings;
    double meanReading = NAN, dilution = 1;
    fit::ReadState state = fit::ReadState::NoSolution;
    double x = NAN;                                      // on the curve; NaN unless in range
    double value = NAN, se = NAN, low = NAN, high = NAN; // times the dilution
    std::vector<double> solutions, each; // times the dilution; `each`: of every reading, NaN unless in range
    bool disagrees = false;              // its readings, beyond the scatter about the curve
};

struct StandardBack {
    double given = NAN, reading = NAN, computed = NAN;
    double recovery() const { return given != 0 ? 100 * computed / given : NAN; } // per cent
};

// The least amount that is told from none, and how that was found.
struct Limit {
    double value = NAN;
    std::string from;
};

struct UnknownsDetail : Detail {
    double low = NAN, high = NAN; // the first and last standard
    AxisMeaning xMeaning, yMeaning;
    std::vector<Sample> samples;
    std::vector<StandardBack> standards;
    Limit detection, quantification;
    std::vector<ServingCurve> serving; // only where asked for
};

const UnknownsDetail* unknownsDetail(const AnalysisResult& result); // nullptr: of another kind
const KindInfo& unknownsSettings();

} // namespace jointer::analyses
