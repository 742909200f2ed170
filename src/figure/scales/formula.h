// SPDX-License-Identifier: GPL-3.0-or-later
// A monotone function typed as an expression in x, with its inverse typed too or found by bisection: for
// scales and for second axes. Immutable, thread-safe.
#pragma once

#include "base/issue.h"

#include <memory>
#include <string>

namespace jointer::figure {

class MonotoneFormula {
public:
    // Errors: what cannot be read, or uses other names than x. An empty inverse is found by bisection.
    static Result<std::shared_ptr<const MonotoneFormula>> make(const std::string& formula,
                                                               const std::string& inverse);
    virtual ~MonotoneFormula() = default;
    virtual double forward(double x) const = 0;
    // NaN where nothing between the bounds has this value. Requires: the function is monotone between them.
    virtual double back(double y, double low, double high) const = 0;
};

} // namespace jointer::figure
