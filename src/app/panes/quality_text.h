// SPDX-License-Identifier: GPL-3.0-or-later
// How good a fit is, as the analysis card shows it.
#pragma once

#include "fit/fit.h"

#include <QString>

namespace jointer::app {

// Rich text: state, χ² or SD, R², criteria, and how the points were weighted.
QString qualityText(const fit::FitReport& report, const std::string& weightsNote, const std::string& notShown);

} // namespace jointer::app
