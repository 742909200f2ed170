// SPDX-License-Identifier: GPL-3.0-or-later
// What is read from a peak whatever its parameters are: where it is highest, how high, how wide at half of
// that. Each with its gradient over the parameters, by the condition that defines it.
#pragma once

#include "models/model.h"

namespace jointer::models {

enum class Feature { Place, Height, Width };

// The maximum is looked for within `reach` of `near`; the half-height places up to many times that away.
// Shape: gradient has one entry for each parameter. NaN: there is no such place.
double peakFeature(const Model& model, std::span<const double> parameters, Feature feature, double near,
                   double reach, std::span<double> gradient);

} // namespace jointer::models
