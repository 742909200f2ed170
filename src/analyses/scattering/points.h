// SPDX-License-Identifier: GPL-3.0-or-later
// Inside of analyses of scattering: the points of a dataset as q and I, and units of lengths.
#pragma once

#include "analyses/analysis.h"

namespace jointer::analyses {

struct ScatteringPoints {
    std::vector<double> q, intensity, sigma, resolution; // by ascending q; resolution may be empty
    bool sigmaIsKnown = false;                           // else they are in proportion to I
    std::string lengthUnit;                              // "Å", "nm"
    double lengthInA = 1;                                // one of them in Å
    std::shared_ptr<const Curve> curve;
    std::size_t size() const { return q.size(); }
};

// The counting points of q > 0 within the span of the first input. Errors: "no-input", "few-points".
Result<ScatteringPoints> scatteringPoints(const Task& task, std::size_t fewest);

// A quantity of the dataset of the first input.
Quantity scatteringQuantity(const Task& task, const char* key, const char* label, const char* meaning,
                            const std::string& unit, double value, double se = NAN);

// The settings "contrast", in Å⁻², of analyses that make absolute numbers of intensities.
Setting contrastSetting();

} // namespace jointer::analyses
