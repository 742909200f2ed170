// SPDX-License-Identifier: GPL-3.0-or-later
// An equation over several lines: each but the last names an intermediate value, the last is the response.
// Lines end at a line break or a semicolon; what follows # is a remark.
// Example: `k = a*exp(-b/300); c*exp(-k*x)` is c*exp(-a*exp(-b/300)*x).
#pragma once

#include "formula/expression.h"

#include <map>

namespace jointer::formula {

// The place of the equals sign by which a line names its value; npos: it has none, or begins with a
// comparison.
std::size_t equalsIn(std::string_view line);

// One expression with the intermediates put in. Its names are those that are left, in order of appearance.
// Errors: "formula" with line and sign: a line that cannot be read, an intermediate without a name, one that
// is named twice or used before its line.
Result<Expression> parseLines(std::string_view text);

// The expression with some names replaced by what they stand for; its names are those that are left. A
// variable of an integral or a sum stays its own.
Expression withNames(const Expression& expression, const std::map<std::string, Expression>& known);

// The expression with some names replaced by numbers.
Expression withConstants(const Expression& expression, const std::map<std::string, double>& constants);

} // namespace jointer::formula
