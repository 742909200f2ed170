// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "analyses/fit_analysis.h"

namespace jointer::analyses {

// A FitTaken. Issues: what is said of the points; alone where they cannot be taken.
Taken takeFit(const Task& task);

} // namespace jointer::analyses
