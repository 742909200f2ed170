// SPDX-License-Identifier: GPL-3.0-or-later
// Inside of the parser: functions by their names.
#pragma once

#include "formula/expression.h"

namespace jointer::formula {

const FunctionInfo* findFunction(std::string_view name); // also by an alias; nullptr: there is none
const CurveFunctionInfo* findCurveFunction(std::string_view name);

} // namespace jointer::formula
