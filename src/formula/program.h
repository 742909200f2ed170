// SPDX-License-Identifier: GPL-3.0-or-later
// An expression compiled for whole columns: equal subexpressions are shared, what does not depend on a column
// is computed once, the rest in blocks of rows that stay in the cache, with exact forward-mode derivatives.
// Immutable once compiled; evaluate() may run in several threads at once.
// Example: `auto p = Program::compile(*e, {"x"}, {"a", "b"}); p->evaluate({xs}, {1, 2}, ys, gradient);`
#pragma once

#include "formula/expression.h"

#include <span>

namespace jointer::formula {

enum class Differentiate { Nothing, Scalars, Inputs };

class Program {
public:
    // `inputs` are names that vary by row, `scalars` names with one value. Errors: a name that is neither.
    static Result<Program> compile(const Expression& expression, const std::vector<std::string>& inputs,
                                   const std::vector<std::string>& scalars,
                                   Differentiate what = Differentiate::Scalars);

    // Shape: inputs[k] and values have n entries; gradient is empty or n × (number of differentiated names),
    // column after column. NaN: passes through; outside a function's domain the value is NaN.
    // Cost: linear in n.
    void evaluate(std::span<const std::span<const double>> inputs, std::span<const double> scalars,
                  std::span<double> values, std::span<double> gradient = {}) const;

    // One row, without derivatives.
    double evaluateOne(std::span<const double> inputs, std::span<const double> scalars) const;

    // Whether the value is linear in the scalars, whatever the inputs are.
    bool isLinearInScalars() const { return linear_; }

    struct Inner; // of an integral or a sum

private:
    struct Slot { // derivative of an instruction with respect to one variable
        int variable;
        int reg; // register, or -1 for the constant one
    };
    struct Instruction {
        Op op;
        int a = -1, b = -1, c = -1; // instructions of the arguments
        double constant = 0;
        int source = -1; // for names: input index, or scalar index
        bool isInput = false;
        bool uniform = true; // the same for all rows
        int degree = 0;      // in the scalars: 0, 1, or 2 for more
        int reg = -1;
        std::vector<Slot> slots;
        std::shared_ptr<const Inner> inner{};
    };
    class Compiler;
    class Run;

    std::vector<Instruction> code_; // in order of evaluation, uniform ones first
    int root_ = 0;
    int registers_ = 0;
    int variables_ = 0;
    bool linear_ = true;
};

} // namespace jointer::formula
