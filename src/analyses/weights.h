// SPDX-License-Identifier: GPL-3.0-or-later
// How the points of a fit count where nothing else is told.
#pragma once

#include "project/project.h"

#include <string>

namespace jointer::analyses {

// Whether the values of the model go over decades: without uncertainties each point then counts by its ratio
// to the curve, and the axes that show it are logarithmic.
bool goesOverDecades(const ModelNode& model);

// The key of the weights in force: those given, else by the uncertainties, else as the model wants it.
std::string weightsInForce(const Settings& given, bool hasSigma, const ModelNode& model);

} // namespace jointer::analyses
