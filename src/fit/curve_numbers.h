// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers that follow from a fit: formulas over the parameters and over what may be asked of the fitted
// curve, as `area(0, 5)/slope(x50)`, with gradients by the parameters. Immutable, thread-safe.
#pragma once

#include "formula/program.h"
#include "models/model.h"

namespace jointer::fit {

// A fitted curve over one predictor, and the range that its points span.
struct AskedCurve {
    const models::Model* model = nullptr;
    double low = 0, high = 0;
};

class FollowingFormula {
public:
    // Errors: "formula": it cannot be read, or names what is neither a parameter nor a function; it asks for
    // the curve of a model with several predictors.
    static Result<FollowingFormula> read(const std::string& text, const models::Model& model);

    // Shape: both have an entry for each parameter. NaN: the curve does not get there, or the formula is not
    // defined. Errors: areas relative 10⁻¹⁰, places and slopes about 10⁻⁸ of the range.
    double value(const AskedCurve& curve, std::span<const double> parameters,
                 std::span<double> gradient) const;

    // In terms of x and y, as DerivedInfo has it, where the formula is one number of the curve.
    const std::string& unit() const { return unit_; }

private:
    struct Call {
        std::string function;
        std::vector<formula::Program> arguments; // over the parameters and the calls before
    };
    class Reader;

    std::vector<Call> calls_;
    formula::Program whole_; // over the parameters and all calls
    std::string unit_;
};

} // namespace jointer::fit
