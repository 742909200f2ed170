// SPDX-License-Identifier: GPL-3.0-or-later
// Values and slopes of the functions and operators that formulas know, one number at a time.
#pragma once

#include "formula/expression.h"

namespace jointer::formula {

bool isUnary(Op op);      // a function of one argument, or the minus sign
bool isComparison(Op op); // gives 1 or 0

// NaN outside the domain.
double unaryValue(Op op, double x);

// The derivative at x, given the value v there. Zero for functions that go in steps.
double unarySlope(Op op, double x, double v);

// x to the power p; small whole powers by multiplication.
double powerValue(double x, double p);

// 1 where the comparison holds, else 0.
double compare(Op op, double a, double b);

} // namespace jointer::formula
