// SPDX-License-Identifier: GPL-3.0-or-later
// What an analysis has to draw over one predictor: its curve, its peaks and what stands below them, and where its
// points stand; the settings that marks of an analysis have in common.
#pragma once

#include "figure/marks/mark.h"
#include "figure/marks/sampling.h"
#include "figure/marks/sources.h"

#include <cmath>

namespace jointer::figure {

struct CurvePart {
    const analyses::NamedCurve* curve;
    std::vector<double> seeds{}; // ascending: where it may turn within little; empty: wherever there are points
    double place = NAN;          // of the top of a peak, where that is known

    // Between these places and more closely where it turns.
    Sampling sampled(std::vector<double> even, std::span<const double> points) const;
};

struct CurveParts {
    std::vector<CurvePart> peaks, grounds;
    std::vector<double> points; // ascending: curves may turn between them as narrowly as they are

    // How many even places are enough: fewer where it is known where the narrow ones stand.
    int evenPlaces() const;
    // Where the sum of all has to be asked.
    std::vector<double> places(const std::vector<double>& even) const;
    std::vector<double> placesOfGrounds(const std::vector<double>& even) const;
};

// Requires: there is a result, which outlives what is returned.
CurveParts partsOf(const FoundAnalysis& found);

std::vector<Setting> analysisSettings();

} // namespace jointer::figure
