// SPDX-License-Identifier: GPL-3.0-or-later
// What all models of a single peak share: the base under it, and where the fit of a peak begins.
#pragma once

#include "describe/kind.h"
#include "models/model.h"

namespace jointer::models {

enum class Base { None, Constant, Line };

Setting baseSetting();
Base baseOf(const Settings& settings);

// The parameters of the base, which follow those of the peak, and what it adds to the formula.
std::vector<ParameterInfo> baseParameters(Base base);
std::string baseFormula(Base base);

// Position, height above the base and full width at half maximum of the largest peak, upwards or downwards,
// then the parameters of the base. Nothing: fewer than three points.
std::optional<std::vector<double>> guessPeak(const Curve& curve, Base base);

} // namespace jointer::models
