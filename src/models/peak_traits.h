// SPDX-License-Identifier: GPL-3.0-or-later
// What a set of peaks must know of a shape beyond its values: where a fit of it begins, which parameters are
// widths and which one is its size, and what may be taken for granted. A shape is a model without base.
#pragma once

#include "describe/settings.h"
#include "models/model.h"

#include <functional>

namespace jointer::models {

struct PeakTraits {
    // Parameters from the place of the maximum, the height there and the full width at half of it.
    std::function<std::vector<double>(double place, double height, double width)> begin;
    std::size_t centre = 0;
    std::vector<std::size_t> widths{2}; // parameters that scale with the width
    std::size_t size = 1;               // the parameter that it is proportional to
    bool topAtCentre = true;            // the maximum; “height” and “fwhm” then are what they say
    bool symmetric = true;              // left and right of it
    bool moves = true;                  // it depends on x − centre only
    bool hasArea = true;                // a finite one, by its parameter or derived number “area”
};
using TraitsPtr = std::shared_ptr<const PeakTraits>;

struct PeakShape {
    std::string key, name;
    ModelPtr model;
    TraitsPtr traits;
};

// The shape of a model kind with its settings: one of the library, or an equation of one’s own with a
// parameter called centre. Errors: those of makeModel(); "no-shape": the model is no peak.
Result<PeakShape> peakShape(std::string_view key, const Settings& settings);

// The keys of the library's shapes, in its order.
std::vector<std::string> peakShapeKeys();

} // namespace jointer::models
