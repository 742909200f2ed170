// SPDX-License-Identifier: GPL-3.0-or-later
// Functions that look at whole columns: sums from the top, differences, means, random numbers; and the parts
// of dates. Only computed columns know them. Example: `evaluateOverRows(*Expression::parse("cumulative(a)",
// Vocabulary::Columns), …)`.
#pragma once

#include "formula/expression.h"

#include <span>

namespace jointer::formula {

struct ColumnFunction {
    std::string_view name;
    int fewest, most; // arguments
    std::string_view meaning;
    // Arguments and result have one entry for each row. NaN is missing: passed over by sums and means.
    // None: what knows fits computes it.
    void (*compute)(std::span<const std::vector<double>> arguments, std::span<double> out);
};

// All of them, for completion and the manual.
const std::vector<ColumnFunction>& columnFunctions();
const ColumnFunction* findColumnFunction(std::string_view name);

// The expression for each row. Shape: inputs[k] has `rows` entries and goes by names[k]. Errors: a name that
// is not given. Cost: linear in rows, n·log n for median. Random numbers depend on seed and row only.
Result<std::vector<double>> evaluateOverRows(const Expression& expression, std::vector<std::string> names,
                                             std::vector<std::span<const double>> inputs, std::size_t rows);

} // namespace jointer::formula
